<?php

declare(strict_types=1);

// A log of a million rows, with its time as a number and as a clock: parse, steps and figures against a bare loop of fgets, explode and
// casts, in the same run.

use Heartwood\Core\Log\LogReader;
use Heartwood\Core\Log\LogTerms;
use Heartwood\Core\Pack\Chemistry;

require __DIR__ . '/../vendor/autoload.php';

$rows = (int) ($argv[1] ?? 1_000_000);
$bad = 0;
foreach ([false, true] as $clock) {
    $file = tempnam(sys_get_temp_dir(), 'log');
    $out = fopen($file, 'w');
    fwrite($out, ($clock ? 'Test Time' : 'Test Time / s') . ",Voltage / V,Current / A,Ambient Temperature / degC\n");
    for ($k = 0; $k < $rows; $k++) {
        $phase = intdiv($k, max(1, intdiv($rows, 40))) % 4;
        $a = [0.0, 0.6, 0.0, -0.6][$phase];
        $time = $clock
            ? sprintf('%02d:%02d:%02d.%d', intdiv($k, 7200), intdiv($k, 120) % 60, intdiv($k, 2) % 60, 5 * ($k % 2))
            : sprintf('%.1f', $k * 0.5);
        fwrite($out, sprintf("%s,%.4f,%.4f,%.2f\n", $time, 3.6 + 0.05 * $a + 0.0002 * sin($k / 900), $a, 22.0 + 0.01 * sin($k / 5000)));
    }
    fclose($out);
    $bare = function () use ($file): array {
        $begin = hrtime(true);
        $f = fopen($file, 'r');
        fgets($f);
        $sum = 0.0;
        while (($line = fgets($f)) !== false) {
            $p = explode(',', $line);
            $t = (float) $p[0];
            $v = (float) $p[1];
            $i = (float) $p[2];
            $c = (float) $p[3];
        }
        fclose($f);

        return [(hrtime(true) - $begin) / 1e9];
    };
    $ours = function () use ($file): array {
        memory_reset_peak_usage();
        $begin = hrtime(true);
        $f = fopen($file, 'r');
        $terms = LogTerms::of(Chemistry::Nmc, 3.0);
        $figures = LogReader::figures($f, LogReader::mapping($f, $terms), $terms);
        fclose($f);

        return [(hrtime(true) - $begin) / 1e9, memory_get_peak_usage(true) / 1048576, count($figures->steps), $figures->rows];
    };
    $best = INF;
    for ($n = 0; $n < 5; $n++) {
        [$b] = $bare();
        [$o, $mb, $steps, $read] = $ours();
        if ($o / $b < $best) {
            [$best, $tb, $to] = [$o / $b, $b, $o];
        }
    }
    unlink($file);
    printf(
        "%d rows, %s, %d steps: bare loop %.2f s, ours with steps and figures %.2f s, ratio %.2f (limit 2) %s; %.0f MB (limit 48) %s\n",
        $read,
        $clock ? 'time as a clock' : 'time as a number',
        $steps,
        $tb,
        $to,
        $best,
        $best <= 2 ? 'ok' : 'FAIL',
        $mb,
        $mb <= 48 ? 'ok' : 'FAIL',
    );
    $bad += $best <= 2 && $mb <= 48 ? 0 : 1;
}
exit($bad);
