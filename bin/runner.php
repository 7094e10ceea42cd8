<?php

declare(strict_types=1);

// The runner: a process for every open run, so that no instrument holds another run. Needs no database. When one dies,
// its supply switches itself off; this one starts it again. `runner.php RUN` is one such process, `runner.php desk ID`
// reads an instrument that pages ask for.

use App\Instruments\Desk;
use App\Instruments\Lines;
use App\Instruments\Locks;
use App\Instruments\RunFolder;
use App\Instruments\Runner;
use App\Support\Beat;

require dirname(__DIR__) . '/vendor/autoload.php';

@mkdir(RunFolder::root(), 0770, true);
$stop = false;
pcntl_async_signals(true);
foreach ([SIGTERM, SIGINT] as $signal) {
    pcntl_signal($signal, function () use (&$stop): void {
        $stop = true;
    });
}

if (($argv[1] ?? '') === 'desk') {
    // What pages look at stands back before a run, and before what they want to be kept.
    proc_nice(5);
    Desk::serve((string) ($argv[2] ?? ''), fn(): bool => $stop || posix_getppid() === 1);
    exit(0);
}
if (isset($argv[1])) {
    exit(drive(RunFolder::of($argv[1]), fn(): bool => $stop));
}

$children = [];
while (!$stop) {
    Beat::touch('runner');
    foreach (RunFolder::open() as $folder) {
        $id = $folder->id();
        if (isset($children[$id]) && proc_get_status($children[$id])['running']) {
            continue;
        }
        if (isset($children[$id])) {
            proc_close($children[$id]);
            unset($children[$id]);
            if ($folder->isClosed()) {
                continue;
            }
        }
        $child = proc_open([PHP_BINARY, __FILE__, $id], [['file', '/dev/null', 'r'], STDOUT, STDERR], $pipes);
        if (is_resource($child)) {
            $children[$id] = $child;
        }
    }
    foreach (Desk::asked() as $id) {
        $reader = isset($children["desk $id"])
            ? true
            : proc_open([PHP_BINARY, __FILE__, 'desk', $id], [['file', '/dev/null', 'r'], STDOUT, STDERR], $pipes);
        if (is_resource($reader)) {
            $children["desk $id"] = $reader;
        }
    }
    foreach ($children as $id => $child) {
        if (!proc_get_status($child)['running']) {
            proc_close($child);
            unset($children[$id]);
        }
    }
    usleep(150_000);
}
foreach ($children as $child) {
    proc_terminate($child);
}
foreach ($children as $child) {
    proc_close($child);
}

/** @param  Closure(): bool  $stopping */
function drive(RunFolder $folder, Closure $stopping): int
{
    $own = fopen("$folder->path/lock", 'c');
    if ($own === false || !flock($own, LOCK_EX | LOCK_NB)) {
        return 0; // another process drives it
    }
    $parent = posix_getppid();
    try {
        $runner = new Runner($folder, fn(): float => microtime(true));
    } catch (Throwable $e) {
        fwrite(STDERR, date('c') . " run {$folder->id()}: {$e->getMessage()}\n");
        $folder->close(); // a plan that cannot be read was never driven and never will be

        return 1;
    }
    $locks = new Locks();
    // A page may have looked at it a moment ago: the desk lets go when nobody asks any more.
    for ($n = 0; $n < 50 && !($mine = $locks->take(Runner::keys($folder))) && !$stopping(); $n++) {
        usleep(200_000);
    }
    if (!($mine ?? false)) {
        $runner->refuse('one of its instruments is in use');

        return 0;
    }
    $stranger = $runner->strangers();
    if ($stranger !== null && !$runner->isOver()) {
        $runner->refuse($stranger);

        return 0;
    }
    while (!$stopping()) {
        $began = microtime(true);
        try {
            $runner->turn();
            if ($runner->isFinished()) {
                $runner->finish();

                return 0;
            }
        } catch (Throwable $e) {
            fwrite(STDERR, date('c') . " run {$folder->id()}: {$e->getMessage()} at {$e->getFile()}:{$e->getLine()}\n");

            break;
        }
        if (posix_getppid() !== $parent) {
            break; // whoever minds us is gone: off, and the next one takes it up
        }
        usleep((int) max(10_000, 1e6 * (0.22 - (microtime(true) - $began))));
    }
    $runner->letGo();
    Lines::closeAll();

    return 0;
}
