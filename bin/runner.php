<?php

declare(strict_types=1);

// The runner: drives every open run, needs no database. Supervised; when it dies the supplies switch themselves off.

use App\Instruments\RunFolder;
use App\Instruments\Runner;

require dirname(__DIR__).'/vendor/autoload.php';

@mkdir(RunFolder::root(), 0770, true);
$runners = [];
$stop = false;
if (function_exists('pcntl_signal')) {
    pcntl_async_signals(true);
    pcntl_signal(SIGTERM, function () use (&$stop): void {
        $stop = true;
    });
}
while (! $stop) {
    $began = microtime(true);
    foreach (RunFolder::open() as $folder) {
        $id = $folder->id();
        try {
            $runners[$id] ??= new Runner($folder, fn (): float => microtime(true));
            $runners[$id]->turn();
            if ($runners[$id]->isOver()) {
                $runners[$id]->finish();
                unset($runners[$id]);
            }
        } catch (Throwable $e) {
            fwrite(STDERR, date('c')." run $id: ".$e->getMessage()."\n");
            if (! isset($runners[$id])) {
                // A plan that cannot be read was never driven and never will be.
                $folder->close();
            }
            unset($runners[$id]);
        }
    }
    usleep((int) max(10_000, 1e6 * (($runners === [] ? 0.5 : 0.22) - (microtime(true) - $began))));
}
