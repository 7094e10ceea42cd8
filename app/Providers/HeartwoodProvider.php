<?php

declare(strict_types=1);

namespace App\Providers;

use App\Console\DemoCommand;
use App\Console\ExportCommand;
use App\Console\FoldCommand;
use App\Console\GrantCommand;
use App\Console\MessagesCommand;
use App\Console\PruneCommand;
use App\Console\RestoredCommand;
use App\Console\SetupCodeCommand;
use App\Console\SignInsCommand;
use App\Http\StrictValidator;
use App\Models\Batch;
use App\Models\Cell;
use App\Models\CellModel;
use App\Models\Customer;
use App\Models\GuidedRun;
use App\Models\Instrument;
use App\Models\Invitation;
use App\Models\Job;
use App\Models\JointCheck;
use App\Models\Lot;
use App\Models\Message;
use App\Models\Pack;
use App\Models\PackModel;
use App\Models\Person;
use App\Models\Photo;
use App\Models\Run;
use App\Models\ServicePhoto;
use App\Models\ServiceReading;
use App\Models\TeardownStep;
use App\Models\TestLog;
use App\Models\Topping;
use App\Models\TrainingRound;
use App\Models\WorkStep;
use App\Policies\Rights;
use App\Security\SessionRows;
use Illuminate\Contracts\Foundation\Application;
use Illuminate\Http\Middleware\TrustProxies;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Gate;
use Illuminate\Support\Facades\Route;
use Illuminate\Support\Facades\Session;
use Illuminate\Support\Facades\Validator as ValidatorFactory;
use Illuminate\Support\Facades\Vite;
use Illuminate\Support\ServiceProvider;

final class HeartwoodProvider extends ServiceProvider
{
    public function boot(): void
    {
        Session::extend(
            'database',
            fn(Application $app): SessionRows => new SessionRows(
                DB::connection(config('session.connection')),
                (string) config('session.table'),
                (int) config('session.lifetime'),
                $app,
            ),
        );
        foreach (array_keys(Rights::TABLE) as $right) {
            Gate::define($right, fn(Person $person): bool => Rights::allows($person, $right));
        }
        // What a proxy says of its callers counts where the operator has named it, and nowhere else.
        TrustProxies::at((array) config('heartwood.proxies'));
        ValidatorFactory::resolver(
            fn($translator, $data, $rules, $messages, $attributes): StrictValidator => new StrictValidator(
                $translator,
                $data,
                $rules,
                $messages,
                $attributes,
            ),
        );
        // One origin, whatever its name and port: assets by path.
        Vite::createAssetPathsUsing(fn(string $path): string => '/' . $path);
        // A job of another workshop does not exist for this person.
        Route::bind('job', fn(string $id): Job => Job::query()->where('workshop_id', self::person()->workshop_id)->findOrFail($id));
        Route::bind(
            'step',
            fn(string $id): WorkStep => WorkStep::query()->where('workshop_id', self::person()->workshop_id)->findOrFail($id),
        );
        Route::bind(
            'instrument',
            fn(string $id): Instrument => Instrument::query()
                ->where('workshop_id', self::person()->workshop_id)
                ->where('active', true)
                ->findOrFail($id),
        );
        Route::bind('cell', fn(string $id): Cell => Cell::query()->where('workshop_id', self::person()->workshop_id)->findOrFail($id));
        Route::bind('log', fn(string $id): TestLog => TestLog::query()->where('workshop_id', self::person()->workshop_id)->findOrFail($id));
        Route::bind('run', fn(string $id): Run => Run::query()->where('workshop_id', self::person()->workshop_id)->findOrFail($id));
        Route::bind('photo', fn(string $id): Photo => Photo::query()->where('workshop_id', self::person()->workshop_id)->findOrFail($id));
        foreach (
            [
                'teardownStep' => TeardownStep::class,
                'jointCheck' => JointCheck::class,
                'guidedRun' => GuidedRun::class,
                'customer' => Customer::class,
                'lot' => Lot::class,
                'topping' => Topping::class,
                'batch' => Batch::class,
                'cellModel' => CellModel::class,
                'packModel' => PackModel::class,
                'pack' => Pack::class,
                'serviceReading' => ServiceReading::class,
                'servicePhoto' => ServicePhoto::class,
                'message' => Message::class,
                'trainingRound' => TrainingRound::class,
            ]
            as $name => $model
        ) {
            Route::bind($name, fn(string $id) => $model::query()->where('workshop_id', self::person()->workshop_id)->findOrFail($id));
        }
        Route::bind(
            'colleague',
            fn(string $id): Person => Person::query()->where('workshop_id', self::person()->workshop_id)->findOrFail($id),
        );
        Route::bind(
            'invitation',
            fn(string $id): Invitation => Invitation::query()->where('workshop_id', self::person()->workshop_id)->findOrFail($id),
        );
        $this->commands([
            PruneCommand::class,
            SetupCodeCommand::class,
            GrantCommand::class,
            SignInsCommand::class,
            DemoCommand::class,
            FoldCommand::class,
            MessagesCommand::class,
            RestoredCommand::class,
            ExportCommand::class,
        ]);
    }

    private static function person(): Person
    {
        $person = request()->user();
        abort_unless($person instanceof Person, 401);

        return $person;
    }
}
