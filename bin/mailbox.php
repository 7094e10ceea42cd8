<?php

declare(strict_types=1);

// The simulated mailbox: a mail server on loopback that lays what it takes into a folder. Nothing goes anywhere.

require dirname(__DIR__) . '/vendor/autoload.php';

$port = (int) ($argv[1] ?? 0);
if ($port < 1024 || $port > 65535 || ($argv[2] ?? '') === '') {
    fwrite(STDERR, "Usage: mailbox.php PORT FOLDER\n");
    exit(2);
}
try {
    App\StandIn\Mailbox::run($port, $argv[2]);
} catch (RuntimeException $e) {
    fwrite(STDERR, 'heartwood: ' . $e->getMessage() . "\n");
    exit(1);
}
