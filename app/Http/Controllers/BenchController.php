<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\EventKind;
use App\Actions\EventLog;
use App\Actions\ShopPriors;
use App\Http\Requests\SearchBody;
use App\Http\Views\JobRow;
use App\Models\CellModel;
use App\Models\Customer;
use App\Models\Job;
use App\Models\PackModel;
use App\Read\JointChecks;
use App\Read\KnownPack;
use App\Read\PackWatch;
use App\Read\Search;
use Heartwood\Core\Diagnosis\Priors;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Trainer\Score;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** What needs hands now, what waits, what is held; and finding things again. */
final class BenchController extends Controller
{
    private const OPEN_SHOWN = 500;

    private const DONE_SHOWN = 12;

    private const FOUND = 12;

    public function index(): JsonResponse
    {
        $jobs = fn(): Builder => Job::query()->with('customer')->where('workshop_id', $this->person()->workshop_id);
        $open = $jobs()->where('status', 'open')->orderBy('number')->limit(self::OPEN_SHOWN)->get();
        $done = $jobs()->where('status', '!=', 'open')->orderByDesc('number')->limit(self::DONE_SHOWN)->get();

        // What went back and is to be looked at again stands on the bench on its day.
        $due = [...JointChecks::jobs($this->person()->workshop_id), ...PackWatch::due($this->person()->workshop_id)];
        $again = $jobs()->whereIn('id', $due)->where('status', 'returned')->get();

        return new JsonResponse([
            'jobs' => JobRow::many($open->concat($done)->concat($again)->unique('id')),
            'now' => now()->toIso8601ZuluString(),
        ]);
    }

    public function search(SearchBody $request): JsonResponse
    {
        $term = trim((string) $request->validated()['q']);
        $like = '%' . addcslashes($term, '%_\\') . '%';
        $workshop = $this->person()->workshop_id;
        $found = Search::of($workshop, $term, self::FOUND);
        $named = fn(string $model): array => $model
            ::query()
            ->where('workshop_id', $workshop)
            ->where('name', 'like', $like)
            ->orderBy('name')
            ->limit(self::FOUND)
            ->get(['id', 'name'])
            ->toArray();

        return new JsonResponse([
            'jobs' => JobRow::many($found['jobs']),
            'customers' => $found['customers']
                ->map(fn(Customer $c): array => ['id' => $c->id, 'name' => $c->name, 'phone' => $c->phone])
                ->values()
                ->all(),
            'pack_models' => $named(PackModel::class),
        ]);
    }

    /** How often packs fail in which way here, beside the handbook's shares. */
    public function priors(): JsonResponse
    {
        $priors = ShopPriors::of($this->person()->workshop_id);

        return new JsonResponse(['name' => $priors->name(), 'worth' => Priors::WORTH, 'shares' => $priors->table()]);
    }

    /** The vocabulary of the fault catalogue, out of the registry itself. */
    public function faults(): JsonResponse
    {
        return new JsonResponse(
            array_map(
                fn(string $code): array => [
                    'code' => $code,
                    'title' => Faults::of($code)->words()->anywhere(),
                    'plain' => Faults::of($code)->words()->plain,
                    'place' => Faults::of($code)->placeKind(),
                    'severity' => Faults::of($code)->severity()->value,
                    'describes' => Score::describes($code),
                ],
                Faults::codes(),
            ),
        );
    }

    public function resetPriors(): JsonResponse
    {
        ShopPriors::reset($this->person()->workshop_id);
        EventLog::add($this->person(), null, EventKind::PriorsReset);

        return $this->priors();
    }

    /** Whether a pack of this serial or mark was here before. */
    public function known(Request $request): JsonResponse
    {
        return new JsonResponse(KnownPack::bySerial($this->person()->workshop_id, mb_substr($request->string('serial')->value(), 0, 80)));
    }

    public function lookups(): JsonResponse
    {
        $workshop = $this->person()->workshop_id;

        return new JsonResponse([
            'pack_models' => PackModel::query()
                ->where('workshop_id', $workshop)
                ->orderBy('name')
                ->get(['id', 'name', 'spec'])
                ->toArray(),
            'part_models' => PartModelController::all($workshop),
            'customers' => Customer::of($workshop)
                ->whereNull('forgotten_at')
                ->orderBy('name')
                ->limit(500)
                ->get(['id', 'name', 'contact', 'phone', 'email'])
                ->toArray(),
            'cell_models' => CellModel::query()
                ->where('workshop_id', $workshop)
                ->orderBy('name')
                ->get(['id', 'name', 'chemistry', 'spec', 'price_cents'])
                ->map(
                    fn(CellModel $m): array => [
                        'id' => $m->id,
                        'name' => $m->name,
                        'chemistry' => $m->chemistry,
                        'spec' => (object) $m->forRecord(),
                        'price_cents' => $m->price_cents,
                    ],
                )
                ->all(),
        ]);
    }
}
