<?php

declare(strict_types=1);

use App\Http\ErrorShape;
use App\Http\Middleware\Finite;
use App\Http\Middleware\Guarded;
use App\Http\Middleware\Idempotent;
use App\Http\Middleware\LiveSession;
use App\Http\Middleware\Proved;
use App\Http\Middleware\RequestName;
use Illuminate\Foundation\Application;
use Illuminate\Foundation\Configuration\Exceptions;
use Illuminate\Foundation\Configuration\Middleware;
use Illuminate\Http\Middleware\HandleCors;

// Everything an instance owns lies in var/INSTANCE: settings, caches, storage.
$root = dirname(__DIR__);
$home = (string) (getenv('HEARTWOOD_HOME') ?: $root);
$instance = preg_replace('/[^a-z0-9_-]/', '', (string) (getenv('HEARTWOOD_INSTANCE') ?: 'main'));
$var = "$home/var/$instance";
// Each release keeps its own: what is made for the next one is never read by the one that still runs.
$cache = $root === $home ? "$var/cache" : "$var/cache/" . basename($root);
is_dir($cache) || @mkdir($cache, 0700, true);

foreach (
    ['CONFIG' => 'config', 'ROUTES' => 'routes', 'EVENTS' => 'events', 'PACKAGES' => 'packages', 'SERVICES' => 'services']
    as $key => $file
) {
    $name = "APP_{$key}_CACHE";
    if (getenv($name) === false && !isset($_SERVER[$name])) {
        $_SERVER[$name] = $_ENV[$name] = "$cache/$file.php";
    }
}

$app = Application::configure(basePath: $root)
    ->withRouting(
        web: "$root/routes/web.php",
        apiPrefix: 'api',
        then: function (): void {
            Illuminate\Support\Facades\Route::middleware('web')
                ->prefix('api')
                ->group(dirname(__DIR__) . '/routes/api.php');
        },
    )
    ->withMiddleware(function (Middleware $middleware): void {
        $middleware->remove(HandleCors::class);
        $middleware->prepend([RequestName::class, Guarded::class, Finite::class]);
        $middleware->alias(['idempotent' => Idempotent::class, 'live' => LiveSession::class, 'proved' => Proved::class]);
        $middleware->redirectGuestsTo(fn() => null);
    })
    ->withExceptions(function (Exceptions $exceptions): void {
        ErrorShape::register($exceptions);
    })
    ->create();

$app->useEnvironmentPath($var);
$app->loadEnvironmentFrom('env');
$app->useStoragePath("$var/storage");

return $app;
