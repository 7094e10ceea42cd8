<?php

declare(strict_types=1);

// The simulated bench: stand-ins on loopback, five ports in a row from the one given.

require dirname(__DIR__) . '/vendor/autoload.php';

$port = (int) ($argv[1] ?? 0);
if ($port < 1024 || $port > 65530) {
    fwrite(
        STDERR,
        "Usage: ./heartwood bench [PORT] [HABIT ...]  (1024 to 65530; five ports in a row are used)\n" .
            implode(
                "\n",
                array_map(
                    fn(string $h, string $t): string => sprintf('  %-15s %s', $h, $t),
                    array_keys(App\StandIn\Habits::ALL),
                    App\StandIn\Habits::ALL,
                ),
            ) .
            "\n",
    );
    exit(2);
}
try {
    App\StandIn\Server::run($port, array_slice($argv, 2));
} catch (RuntimeException $e) {
    fwrite(STDERR, 'heartwood: ' . $e->getMessage() . ": choose another port.\n");
    exit(1);
}
