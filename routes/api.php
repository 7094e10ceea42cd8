<?php

declare(strict_types=1);

use App\Http\Controllers\BatchController;
use App\Http\Controllers\BenchController;
use App\Http\Controllers\BuildController;
use App\Http\Controllers\CellController;
use App\Http\Controllers\CellFileController;
use App\Http\Controllers\ConsentController;
use App\Http\Controllers\CustomerController;
use App\Http\Controllers\DealController;
use App\Http\Controllers\DoorController;
use App\Http\Controllers\FleetController;
use App\Http\Controllers\GuidedController;
use App\Http\Controllers\HealthController;
use App\Http\Controllers\InstrumentController;
use App\Http\Controllers\JobController;
use App\Http\Controllers\JointController;
use App\Http\Controllers\LogController;
use App\Http\Controllers\LotController;
use App\Http\Controllers\MeController;
use App\Http\Controllers\MessageController;
use App\Http\Controllers\OutboxController;
use App\Http\Controllers\OwnerController;
use App\Http\Controllers\PackController;
use App\Http\Controllers\PartModelController;
use App\Http\Controllers\PeopleController;
use App\Http\Controllers\PhotoController;
use App\Http\Controllers\QuoteController;
use App\Http\Controllers\RecordController;
use App\Http\Controllers\RunController;
use App\Http\Controllers\SessionController;
use App\Http\Controllers\SettingsController;
use App\Http\Controllers\TeardownController;
use App\Http\Controllers\TrainingController;
use App\Http\Controllers\WatchController;
use Illuminate\Support\Facades\Route;

Route::get('health', [HealthController::class, 'show'])->withoutMiddleware('web');

// Before the door: each counts its tries (App\Security\Attempts).
Route::get('door', [DoorController::class, 'show']);
Route::post('session', [SessionController::class, 'store']);
Route::delete('session', [SessionController::class, 'destroy']);
Route::post('start', [DoorController::class, 'start']);
Route::post('join/look', [DoorController::class, 'look']);
Route::post('join', [DoorController::class, 'join']);

// A phone that holds a link to one job: known by the secret that it sends, and by no cookie.
Route::get('phone', [PhotoController::class, 'phone'])->withoutMiddleware('web');
Route::post('phone/photos', [PhotoController::class, 'fromPhone'])->withoutMiddleware('web');

// The owner of a pack, by the link on its label: one pack, plain words, its readings.
Route::get('owner', [OwnerController::class, 'show'])->withoutMiddleware('web');
Route::post('owner/readings', [OwnerController::class, 'read'])->withoutMiddleware('web');
Route::post('owner/photos', [OwnerController::class, 'photo'])->withoutMiddleware('web');

// What screens ask all the while, by the ticket that they were given (App\Watch\Ticket).
Route::get('watch/run', [WatchController::class, 'look'])
    ->defaults('what', 'run')
    ->withoutMiddleware('web');
Route::post('watch/meter', [WatchController::class, 'look'])
    ->defaults('what', 'meter')
    ->withoutMiddleware('web');

Route::middleware(['auth', 'live'])->group(function (): void {
    // One's own keys and sessions: whoever is signed in. Tries at a password are counted, so these keep no idempotency key.
    Route::get('session', [SessionController::class, 'show']);
    Route::get('sessions', [SessionController::class, 'own']);
    Route::delete('sessions/{signIn}', [SessionController::class, 'end'])->whereUuid('signIn');
    Route::get('colleagues', [SessionController::class, 'colleagues']);
    Route::post('session/prove', [SessionController::class, 'prove']);
    Route::post('session/hand-over', [SessionController::class, 'handOver']);
    Route::post('me/password', [MeController::class, 'password']);
    Route::middleware(['idempotent', 'proved'])->group(function (): void {
        Route::post('me/code', [MeController::class, 'code']);
        Route::post('me/second-factor', [MeController::class, 'beginFactor']);
        Route::post('me/second-factor/confirm', [MeController::class, 'confirmFactor']);
        Route::delete('me/second-factor', [MeController::class, 'endFactor']);
    });

    Route::get('people', [PeopleController::class, 'index'])->middleware('can:people');
    Route::get('security-log', [PeopleController::class, 'log'])->middleware('can:security');
    Route::middleware(['idempotent', 'can:people', 'proved'])->group(function (): void {
        Route::post('invitations', [PeopleController::class, 'invite']);
        Route::delete('invitations/{invitation}', [PeopleController::class, 'withdraw']);
        Route::patch('people/{colleague}', [PeopleController::class, 'update']);
        Route::post('people/{colleague}/reset', [PeopleController::class, 'reset']);
        Route::delete('people/{colleague}/sessions', [PeopleController::class, 'endSessions']);
        Route::delete('people/{colleague}/second-factor', [PeopleController::class, 'endFactor']);
    });

    Route::middleware('can:view')->group(function (): void {
        Route::get('bench', [BenchController::class, 'index']);
        Route::get('search', [BenchController::class, 'search']);
        Route::get('lookups', [BenchController::class, 'lookups']);
        Route::get('jobs/{job}', [JobController::class, 'show']);
        Route::get('jobs/{job}/check/{measurement}', [OutboxController::class, 'check'])->whereUuid('measurement');
        Route::get('jobs/{job}/report.pdf', [RecordController::class, 'pdf']);
        Route::get('jobs/{job}/plan', [QuoteController::class, 'plan']);
        Route::get('jobs/{job}/quote', [QuoteController::class, 'show']);
        Route::get('jobs/{job}/quote.pdf', [QuoteController::class, 'pdf']);
        Route::get('jobs/{job}/replay', [JobController::class, 'replay']);
        Route::get('cells', [CellController::class, 'index']);
        Route::get('lots', [LotController::class, 'index']);
        Route::post('jobs/{job}/join-check', [DealController::class, 'join']);
        Route::get('cells.csv', [CellFileController::class, 'export']);
        Route::get('cells/{cell}', [CellController::class, 'show']);
        Route::get('cells/{cell}/substitutes', [CellController::class, 'substitutes']);
        Route::post('logs/preview', [LogController::class, 'preview']);
        Route::get('jobs/{job}/capacity', [LogController::class, 'ofJob']);
        Route::get('jobs/{job}/consents', [ConsentController::class, 'index']);
        Route::get('packs', [PackController::class, 'index']);
        Route::get('packs/{pack}', [PackController::class, 'show']);
        Route::get('packs/{pack}/passport', [PackController::class, 'export'])->middleware('can:export');
        Route::get('packs/{pack}/displays/{servicePhoto}/{size}', [PackController::class, 'display'])->whereIn('size', ['small', 'whole']);
        Route::get('customers/{customer}/fleet', [FleetController::class, 'show']);
        Route::get('batches', [BatchController::class, 'index']);
        Route::get('batches/{batch}', [BatchController::class, 'show']);
        Route::get('batches/{batch}/labels', [BatchController::class, 'labels']);
        Route::get('messages', [MessageController::class, 'index'])->middleware('can:customers');
        Route::get('backup', [SettingsController::class, 'backup'])->middleware('can:settings');
        Route::get('mailbox', [MessageController::class, 'mailbox'])->middleware('can:settings');
        Route::get('known-pack', [BenchController::class, 'known']);
        Route::get('jobs/{job}/teardown', [TeardownController::class, 'show']);
        Route::get('jobs/{job}/photos', [PhotoController::class, 'index']);
        Route::get('photos/{photo}/{size}', [PhotoController::class, 'show'])->whereIn('size', ['whole', 'small']);
        Route::get('logs/{log}', [LogController::class, 'show']);
        Route::get('logs/{log}/series', [LogController::class, 'series']);
        Route::get('logs/{log}/export.csv', [LogController::class, 'export']);
        Route::post('jobs/{job}/deal', [DealController::class, 'show']);
        Route::get('jobs/{job}/build', [BuildController::class, 'show']);
        Route::get('jobs/{job}/build.pdf', [BuildController::class, 'pdf']);
        Route::post('jobs/{job}/pin-check', [BuildController::class, 'pins']);
        Route::get('jobs/{job}/joints', [JointController::class, 'index']);
        Route::get('jobs/{job}/guided', [GuidedController::class, 'index']);
        Route::get('guided/{guidedRun}', [GuidedController::class, 'show']);
        Route::get('guided/{guidedRun}/sheet.pdf', [GuidedController::class, 'pdf']);
        Route::post('jobs/{job}/board-swap', [BuildController::class, 'board']);
        Route::get('instruments', [InstrumentController::class, 'index']);
        Route::get('instruments/{instrument}/reading', [InstrumentController::class, 'reading'])->middleware('can:probe');
        Route::post('instruments/{instrument}/watch/{job}', [WatchController::class, 'meter'])->middleware('can:probe');
        Route::post('jobs/{job}/board-report', [InstrumentController::class, 'board'])->middleware('can:probe');
        Route::post('registers', [InstrumentController::class, 'registers']);
        Route::post('simulated-bench', [InstrumentController::class, 'hand'])->middleware('can:probe');
        Route::get('jobs/{job}/recovery', [RunController::class, 'overview']);
        Route::post('jobs/{job}/recovery-plan', [RunController::class, 'plan']);
        Route::get('runs/{run}', [RunController::class, 'show']);
        Route::post('label-check', [RecordController::class, 'labelCheck']);
    });
    // The trainer: beside the jobs, and in none of their figures.
    Route::middleware('can:train')->group(function (): void {
        Route::get('training', [TrainingController::class, 'home']);
        Route::get('training/choices', [TrainingController::class, 'choices']);
        Route::get('training/people', [TrainingController::class, 'people'])->middleware('can:people');
        Route::get('training/rounds/{trainingRound}', [TrainingController::class, 'show']);
        Route::post('training/paper', [TrainingController::class, 'paper']);
        Route::middleware('idempotent')->group(function (): void {
            Route::post('training/rounds', [TrainingController::class, 'store']);
            Route::post('training/rounds/{trainingRound}/acts', [TrainingController::class, 'act']);
            Route::post('training/rounds/{trainingRound}/answer', [TrainingController::class, 'answer']);
            Route::post('training/rounds/{trainingRound}/finish', [TrainingController::class, 'finish']);
            Route::post('training/rounds/{trainingRound}/leave', [TrainingController::class, 'leave']);
            Route::post('jobs/{job}/training-case', [TrainingController::class, 'makeCase'])->middleware('can:decide');
            Route::delete('jobs/{job}/training-case', [TrainingController::class, 'dropCase'])->middleware('can:decide');
        });
    });
    Route::get('jobs/{job}/record', [RecordController::class, 'export'])->middleware('can:export');

    // Entries of the outbox carry their own numbers: each is stored exactly once without a further key.
    Route::post('outbox', [OutboxController::class, 'store'])->middleware('can:probe');
    Route::post('outbox/missing', [OutboxController::class, 'missing'])->middleware('can:probe');

    Route::get('faults', [BenchController::class, 'faults'])->middleware('can:view');
    Route::get('priors', [BenchController::class, 'priors'])->middleware('can:view');
    Route::get('settings', [SettingsController::class, 'show'])->middleware('can:view');
    Route::get('prices', [SettingsController::class, 'prices'])->middleware('can:view');
    Route::get('customers', [CustomerController::class, 'index'])->middleware('can:view');
    Route::get('customers/{customer}', [CustomerController::class, 'show'])->middleware('can:view');
    Route::get('customers/{customer}/export', [CustomerController::class, 'export'])->middleware('can:customers');

    Route::middleware('idempotent')->group(function (): void {
        Route::patch('settings', [SettingsController::class, 'update'])->middleware(['can:settings', 'proved']);
        Route::patch('prices/cells/{cellModel}', [SettingsController::class, 'cellPrice'])->middleware(['can:settings', 'proved']);
        Route::post('cell-models', [SettingsController::class, 'addModel'])->middleware(['can:settings', 'proved']);
        Route::patch('cell-models/{cellModel}', [SettingsController::class, 'model'])->middleware(['can:settings', 'proved']);
        Route::patch('lots/{lot}', [LotController::class, 'update'])->middleware('can:decide');
        Route::patch('prices/packs/{packModel}', [SettingsController::class, 'packPrice'])->middleware(['can:settings', 'proved']);
        Route::post('priors/reset', [BenchController::class, 'resetPriors'])->middleware(['can:settings', 'proved']);
        Route::post('customers', [CustomerController::class, 'store'])->middleware('can:customers');
        Route::patch('customers/{customer}', [CustomerController::class, 'update'])->middleware('can:customers');
        Route::post('customers/{customer}/merge', [CustomerController::class, 'merge'])->middleware('can:merge');
        Route::post('customers/{customer}/forget', [CustomerController::class, 'forget'])->middleware(['can:forget', 'proved']);
        Route::post('packs', [PackController::class, 'import'])->middleware('can:import');
        Route::post('packs/{pack}/readings', [PackController::class, 'read'])->middleware('can:probe');
        Route::post('packs/{pack}/pasted', [PackController::class, 'pasted'])->middleware('can:probe');
        Route::post('customers/{customer}/wall/pasted', [FleetController::class, 'pasted'])->middleware('can:probe');
        Route::post('customers/{customer}/wall', [FleetController::class, 'keep'])->middleware('can:probe');
        Route::post('customers/{customer}/toppings', [FleetController::class, 'begin'])->middleware('can:recover');
        Route::post('toppings/{topping}/end', [FleetController::class, 'end'])->middleware('can:recover');
        Route::post('toppings/{topping}/join', [FleetController::class, 'join'])->middleware('can:recover');
        Route::post('batches/arrival', [BatchController::class, 'arrival'])->middleware('can:intake');
        Route::post('batches', [BatchController::class, 'store'])->middleware('can:intake');
        Route::patch('batches/{batch}', [BatchController::class, 'update'])->middleware('can:decide');
        Route::post('batches/{batch}/share', [BatchController::class, 'share'])->middleware('can:decide');
        Route::post('messages/{message}/send', [MessageController::class, 'send'])->middleware('can:customers');
        Route::post('messages/{message}/done', [MessageController::class, 'done'])->middleware('can:customers');
        Route::post('customers/{customer}/messages', [MessageController::class, 'agree'])->middleware('can:customers');
        Route::put('mail', [MessageController::class, 'password'])->middleware(['can:settings', 'proved']);
        Route::post('mail/test', [MessageController::class, 'test'])->middleware(['can:settings', 'proved']);
        Route::post('packs/{pack}/readings/{serviceReading}/back', [PackController::class, 'takeBack'])->middleware('can:probe');
        Route::patch('packs/{pack}', [PackController::class, 'owner'])->middleware('can:customers');
        Route::post('packs/{pack}/link', [PackController::class, 'open'])->middleware('can:return');
        Route::delete('packs/{pack}/link', [PackController::class, 'withdraw'])->middleware('can:return');
        Route::post('jobs/{job}/consents', [ConsentController::class, 'store'])->middleware('can:intake');
        Route::post('jobs/{job}/teardown', [TeardownController::class, 'store'])->middleware('can:work');
        Route::post('jobs/{job}/teardown/checks', [TeardownController::class, 'check'])->middleware('can:work');
        Route::patch('teardown-steps/{teardownStep}', [TeardownController::class, 'update'])->middleware('can:work');
        Route::post('teardown-steps/{teardownStep}/back', [TeardownController::class, 'back'])->middleware('can:work');
        Route::post('jobs/{job}/photos', [PhotoController::class, 'store'])->middleware('can:intake');
        Route::patch('photos/{photo}', [PhotoController::class, 'update'])->middleware('can:intake');
        Route::post('jobs/{job}/phone-link', [PhotoController::class, 'link'])->middleware('can:intake');
        Route::delete('jobs/{job}/phone-link', [PhotoController::class, 'endLink'])->middleware('can:intake');
        Route::post('part-models', [PartModelController::class, 'store'])->middleware('can:intake');
        Route::post('jobs', [JobController::class, 'store'])->middleware('can:intake');
        Route::patch('jobs/{job}', [JobController::class, 'update'])->middleware('can:intake');
        Route::post('jobs/{job}/triage', [JobController::class, 'triage'])->middleware('can:triage');
        Route::post('jobs/{job}/safety', [JobController::class, 'safety'])->middleware(['can:release', 'proved']);
        Route::post('jobs/{job}/stage', [JobController::class, 'stage'])->middleware('can:work');
        Route::post('jobs/{job}/wait', [JobController::class, 'wait'])->middleware('can:wait');
        Route::post('jobs/{job}/verdict', [JobController::class, 'verdict'])->middleware('can:verdict');
        Route::post('jobs/{job}/decision', [JobController::class, 'decide'])->middleware('can:decide');
        Route::post('jobs/{job}/steps/{step}', [JobController::class, 'step'])->middleware('can:work');
        Route::post('jobs/{job}/proof', [JobController::class, 'proof'])->middleware('can:work');
        Route::post('jobs/{job}/sign-off', [JobController::class, 'signOff'])->middleware('can:sign-off');
        Route::post('jobs/{job}/return', [JobController::class, 'giveBack'])->middleware('can:return');
        Route::post('jobs/{job}/take-back', [JobController::class, 'takeBack'])->middleware('can:return');
        Route::post('cells', [CellController::class, 'store'])->middleware('can:cells');
        Route::post('cells/import', [CellFileController::class, 'import'])->middleware('can:import');
        Route::post('cells/grade', [CellController::class, 'grade'])->middleware('can:decide');
        Route::post('cells/{cell}/hold', [CellController::class, 'hold'])->middleware('can:cells');
        Route::patch('cells/{cell}', [CellController::class, 'update'])->middleware('can:cells');
        Route::post('logs', [LogController::class, 'store'])->middleware('can:cells');
        Route::post('logs/{log}/full', [LogController::class, 'full'])->middleware('can:cells');
        Route::post('jobs/{job}/cells', [DealController::class, 'store'])->middleware('can:work');
        Route::post('jobs/{job}/joints', [JointController::class, 'store'])->middleware('can:work');
        Route::post('jobs/{job}/joints/{jointCheck}/again', [JointController::class, 'again'])->middleware('can:work');
        Route::post('jobs/{job}/guided', [GuidedController::class, 'store'])->middleware('can:probe');
        Route::post('guided/{guidedRun}/end', [GuidedController::class, 'end'])->middleware('can:probe');
        Route::post('jobs/{job}/sheets/{kind}', [BuildController::class, 'keep'])->middleware('can:work');
        Route::post('instruments', [InstrumentController::class, 'store'])->middleware('can:instruments');
        Route::post('instruments/{instrument}/identify', [InstrumentController::class, 'identify'])->middleware('can:instruments');
        Route::post('instruments/{instrument}/isolation', [InstrumentController::class, 'isolation'])->middleware('can:instruments');
        Route::post('instruments/{instrument}/retire', [InstrumentController::class, 'retire'])->middleware('can:instruments');
        Route::post('jobs/{job}/runs', [RunController::class, 'store'])->middleware('can:recover');
        Route::post('runs/{run}/say', [RunController::class, 'say'])->middleware('can:recover');
        Route::post('import', [RecordController::class, 'import'])->middleware('can:import');
    });
});
