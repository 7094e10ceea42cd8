<?php

declare(strict_types=1);

// Every habit of real instruments, put over the stand-ins one at a time: what Heartwood makes of it. Prints the table of
// docs/INSTRUMENTS.md. Usage: habits.php [PORT]

use App\Instruments\Answer;
use App\Instruments\InstrumentFault;
use App\Instruments\Line;
use App\Instruments\Lines;
use App\Instruments\Meter;
use App\Instruments\Scpi;
use App\Instruments\Supply;
use App\StandIn\Habits;

require __DIR__ . '/../vendor/autoload.php';

// Above the ports that instances draw theirs from, below those that connections take.
$port = (int) ($argv[1] ?? 32000);
$failed = 0;
/** What must come of each: read right, said, seen as overload, taken as not read, refused, or set by hand. */
$wanted = [
    'late' => 'said',
    'drip' => 'said',
    'mute' => 'said',
    'endless' => 'said',
    'binary' => 'said',
    'nan' => 'not read',
    'inf' => 'overload',
    'overload' => 'overload',
    'deaf' => 'not driven',
    'late-error' => 'said',
    'stays-on' => 'set by hand',
    'sticks' => 'not driven',
];

function tried(Closure $what): string
{
    try {
        return $what();
    } catch (InstrumentFault $e) {
        return preg_replace('/^127\.0\.0\.1:\d+ /', 'it ', $e->getMessage()) ?? '';
    }
}

printf(
    "| %-14s | %-66s | %-8s | %s |\n|%s|%s|%s|%s|\n",
    'habit',
    'what it does',
    'result',
    'what happens',
    str_repeat('-', 16),
    str_repeat('-', 68),
    str_repeat('-', 10),
    str_repeat('-', 14),
);
foreach (Habits::ALL as $habit => $text) {
    do {
        $port += 10;
    } while (
        array_filter(
            range(0, 4),
            fn(int $i): bool => ($s = @fsockopen('127.0.0.1', $port + $i, $no, $why, 0.2)) !== false && fclose($s),
        ) !== []
    );
    $server = proc_open(
        [PHP_BINARY, __DIR__ . '/../bin/bench.php', (string) $port, $habit],
        [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']],
        $pipes,
    );
    for ($n = 0; $n < 200; $n++) {
        $socket = @fsockopen('127.0.0.1', $port + 4, $no, $why, 0.2);
        if ($socket !== false) {
            fclose($socket);
            break;
        }
        usleep(20_000);
    }
    $hand = fn(array $say): string => (new Line('127.0.0.1', $port + 4))->ask((string) json_encode($say));
    $hand(['do' => 'pack', 'groups' => [['v' => 3.7]], 'capacity_ah' => 8]);
    $hand(['do' => 'noise', 'v' => 0]);
    $hand(['do' => 'clip', 'group' => 1]);
    $channel = str_starts_with($habit, 'channel-') ? 2 : null;
    $style = $channel === null ? '' : (string) Scpi::styleOf('127.0.0.1', $port + 1, 2, 0.6);
    $meter = new Meter('127.0.0.1', $port, 0.6, $channel, $style);
    $volts = '';
    for ($n = 0; $n < 3 && !str_starts_with($volts, 'it '); $n++) {
        $volts = tried(function () use ($meter): string {
            $v = $meter->voltsRead();

            return $v === null
                ? 'not read'
                : ($v === Answer::OVERLOAD
                    ? 'overload: the output goes off at once'
                    : (abs($v - 3.7) < 0.003
                        ? 'right'
                        : sprintf('WRONG: %g', $v)));
        });
    }
    $hand(['do' => 'clip', 'group' => 0]);
    $supply = new Supply('127.0.0.1', $port + 1, 0.6, $channel, $style);
    $proof = tried(fn(): string => $supply->provesItself() === null ? 'stays on by itself: set by hand' : 'right');
    Lines::closeAll();
    $result = match (true) {
        $volts !== 'right' && !str_starts_with($volts, 'it ') => str_starts_with($volts, 'overload') ? 'overload' : $volts,
        str_starts_with($volts, 'it ') => 'said',
        $proof === 'right' => 'right',
        str_starts_with($proof, 'stays on') => 'set by hand',
        $habit === 'late-error' => 'said',
        default => 'not driven',
    };
    $ok = $result === ($wanted[$habit] ?? 'right');
    $failed += (int) !$ok;
    $happens =
        $volts !== 'right'
            ? $volts
            : ($proof === 'right'
                ? 'read, set, driven as any other' . ($style === '' ? '' : ", channel by $style")
                : $proof);
    $state = json_decode($hand(['do' => 'state']), true);
    if ($state['output_on']) {
        $failed++;
        $happens .= ' OUTPUT LEFT ON';
    }
    printf("| %-14s | %-66s | %-8s | %s |\n", $habit, $text, $result . ($ok ? '' : ' FAIL'), $happens);
    proc_terminate($server, 9);
    proc_close($server);
}
printf("\n%d habits, %d not as they should be (limit 0) %s\n", count(Habits::ALL), $failed, $failed === 0 ? 'ok' : 'FAIL');
exit($failed === 0 ? 0 : 1);
