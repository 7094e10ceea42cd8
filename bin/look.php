<?php

declare(strict_types=1);

// What screens ask all the while, by ticket (App\Watch\Door): the server in front sends /api/watch/ here. Everything that these
// answers need is loaded from two folders; the framework is not started.

use App\Watch\Door;

/** Bytes of a question: no more is read of what anybody sends. */
const BODY = 4096;
/** How far a worker that answers looks stands back before others, as nice(2) counts it. */
const NICE = 5;
const HOMES = ['App\\' => '/app/', 'Heartwood\\Core\\' => '/core/'];

spl_autoload_register(function (string $class): void {
    foreach (HOMES as $prefix => $folder) {
        if (str_starts_with($class, $prefix)) {
            require dirname(__DIR__) . $folder . str_replace('\\', '/', substr($class, strlen($prefix))) . '.php';
        }
    }
});

// This worker stands back before those that keep what was read. It is told once: how far back it stands is the nineteenth word.
$nice = (int) (explode(' ', (string) @file_get_contents('/proc/self/stat'))[18] ?? NICE);
$nice < NICE && proc_nice(NICE - $nice);

$name = substr((string) preg_replace('/[^0-9a-f]/', '', (string) ($_SERVER['HEARTWOOD_REQUEST'] ?? '')), 0, 12);
try {
    $what = basename((string) parse_url((string) $_SERVER['REQUEST_URI'], PHP_URL_PATH));
    $in = $what === 'run' ? $_GET : json_decode((string) file_get_contents('php://input', length: BODY), true);
    [$status, $says] = Door::answer($what, (string) ($_SERVER['HTTP_X_HEARTWOOD_WATCH'] ?? ''), is_array($in) ? $in : [], microtime(true));
} catch (Throwable $e) {
    error_log("$name $e");
    [$status, $says] = [500, ['code' => 'fault', 'message' => 'Something broke on the server. Try again.', 'fields' => (object) []]];
}
http_response_code($status);
foreach (
    [
        'Content-Type' => 'application/json',
        'Cache-Control' => 'no-store, private',
        'Content-Security-Policy' => "default-src 'none'; frame-ancestors 'none'",
        'Cross-Origin-Resource-Policy' => 'same-origin',
        'X-Content-Type-Options' => 'nosniff',
        'X-Robots-Tag' => 'noindex',
        'X-Request-Id' => $name,
    ]
    as $header => $value
) {
    header("$header: $value");
}
echo json_encode($status === 200 ? $says : $says + ['request' => $name], JSON_PARTIAL_OUTPUT_ON_ERROR);
