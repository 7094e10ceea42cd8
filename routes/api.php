<?php

declare(strict_types=1);

use App\Http\Controllers\BenchController;
use App\Http\Controllers\BuildController;
use App\Http\Controllers\CellController;
use App\Http\Controllers\InstrumentController;
use App\Http\Controllers\JobController;
use App\Http\Controllers\OutboxController;
use App\Http\Controllers\RecordController;
use App\Http\Controllers\RunController;
use App\Http\Controllers\SessionController;
use Illuminate\Http\JsonResponse;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Route;

Route::get('health', fn () => new JsonResponse(['ok' => DB::select('select 1 as one')[0]->one === 1]))->withoutMiddleware('web');
Route::post('session', [SessionController::class, 'store'])->middleware('throttle:sign-in');

Route::middleware('auth')->group(function (): void {
    Route::get('session', [SessionController::class, 'show']);
    Route::delete('session', [SessionController::class, 'destroy']);
    Route::middleware('can:view')->group(function (): void {
        Route::get('bench', [BenchController::class, 'index']);
        Route::get('search', [BenchController::class, 'search']);
        Route::get('lookups', [BenchController::class, 'lookups']);
        Route::get('jobs/{job}', [JobController::class, 'show']);
        Route::get('jobs/{job}/check/{measurement}', [OutboxController::class, 'check'])->whereUuid('measurement');
        Route::get('jobs/{job}/report.pdf', [RecordController::class, 'pdf']);
        Route::get('jobs/{job}/replay', [JobController::class, 'replay']);
        Route::get('cells', [CellController::class, 'index']);
        Route::get('lots', [CellController::class, 'lots']);
        Route::post('jobs/{job}/join-check', [CellController::class, 'join']);
        Route::get('cells.csv', [CellController::class, 'export']);
        Route::get('cells/{cell}', [CellController::class, 'show']);
        Route::get('cells/{cell}/substitutes', [CellController::class, 'substitutes']);
        Route::post('logs/preview', [CellController::class, 'previewLog']);
        Route::get('logs/{log}', [CellController::class, 'log']);
        Route::get('logs/{log}/series', [CellController::class, 'series']);
        Route::get('logs/{log}/export.csv', [CellController::class, 'exportLog']);
        Route::post('jobs/{job}/deal', [CellController::class, 'deal']);
        Route::get('jobs/{job}/build', [BuildController::class, 'show']);
        Route::get('jobs/{job}/build.pdf', [BuildController::class, 'pdf']);
        Route::post('jobs/{job}/pin-check', [BuildController::class, 'pins']);
        Route::get('jobs/{job}/joints', [BuildController::class, 'joints']);
        Route::post('jobs/{job}/board-swap', [BuildController::class, 'board']);
        Route::get('instruments', [InstrumentController::class, 'index']);
        Route::get('instruments/{instrument}/reading', [InstrumentController::class, 'reading']);
        Route::post('instruments/{instrument}/steady/{job}', [InstrumentController::class, 'steady']);
        Route::post('jobs/{job}/board-report', [InstrumentController::class, 'board']);
        Route::post('registers', [InstrumentController::class, 'registers']);
        Route::post('simulated-bench', [InstrumentController::class, 'hand']);
        Route::get('jobs/{job}/recovery', [RunController::class, 'overview']);
        Route::post('jobs/{job}/recovery-plan', [RunController::class, 'plan']);
        Route::get('runs/{run}', [RunController::class, 'show']);
        Route::post('label-check', [RecordController::class, 'labelCheck']);
    });
    Route::get('jobs/{job}/record', [RecordController::class, 'export'])->middleware('can:export');

    // Entries of the outbox carry their own numbers: each is stored exactly once without a further key.
    Route::post('outbox', [OutboxController::class, 'store'])->middleware('can:probe');

    Route::get('faults', [BenchController::class, 'faults'])->middleware('can:view');
    Route::get('priors', [BenchController::class, 'priors'])->middleware('can:view');
    Route::get('workshop', [BenchController::class, 'workshop'])->middleware('can:view');

    Route::middleware('idempotent')->group(function (): void {
        Route::patch('workshop', [BenchController::class, 'settings'])->middleware('can:settings');
        Route::post('priors/reset', [BenchController::class, 'resetPriors'])->middleware('can:settings');
        Route::post('jobs', [JobController::class, 'store'])->middleware('can:intake');
        Route::patch('jobs/{job}', [JobController::class, 'update'])->middleware('can:intake');
        Route::post('jobs/{job}/triage', [JobController::class, 'triage'])->middleware('can:triage');
        Route::post('jobs/{job}/safety', [JobController::class, 'safety'])->middleware('can:release');
        Route::post('jobs/{job}/stage', [JobController::class, 'stage'])->middleware('can:work');
        Route::post('jobs/{job}/wait', [JobController::class, 'wait'])->middleware('can:wait');
        Route::post('jobs/{job}/verdict', [JobController::class, 'verdict'])->middleware('can:verdict');
        Route::post('jobs/{job}/decision', [JobController::class, 'decide'])->middleware('can:decide');
        Route::post('jobs/{job}/steps/{step}', [JobController::class, 'step'])->middleware('can:work');
        Route::post('jobs/{job}/proof', [JobController::class, 'proof'])->middleware('can:work');
        Route::post('jobs/{job}/sign-off', [JobController::class, 'signOff'])->middleware('can:sign-off');
        Route::post('jobs/{job}/return', [JobController::class, 'giveBack'])->middleware('can:return');
        Route::post('cells', [CellController::class, 'store'])->middleware('can:cells');
        Route::post('cells/import', [CellController::class, 'import'])->middleware('can:import');
        Route::post('cells/grade', [CellController::class, 'grade'])->middleware('can:decide');
        Route::post('cells/{cell}/hold', [CellController::class, 'hold'])->middleware('can:cells');
        Route::patch('cells/{cell}', [CellController::class, 'update'])->middleware('can:cells');
        Route::post('logs', [CellController::class, 'importLog'])->middleware('can:cells');
        Route::post('jobs/{job}/cells', [CellController::class, 'build'])->middleware('can:work');
        Route::post('jobs/{job}/joints', [BuildController::class, 'joint'])->middleware('can:work');
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
