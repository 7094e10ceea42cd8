<?php

declare(strict_types=1);

use App\Http\Controllers\HealthController;
use Illuminate\Support\Facades\Route;

// Only where the operator switched it on, and to this machine alone (bin/lib.sh).
Route::get('/metrics', [HealthController::class, 'metrics'])->withoutMiddleware('web');

// The worker that keeps the owner's page on a phone: never kept itself, so that a new one is known at once.
Route::get(
    '/pack-worker.js',
    fn() => response()->file(public_path('build/packWorker.js'), [
        'Content-Type' => 'text/javascript',
        'Cache-Control' => 'no-cache',
    ]),
)->withoutMiddleware('web');

// Every address that is not the API is a screen of the one page.
Route::view('/{path?}', 'app')->where('path', '(?!api/).*');
