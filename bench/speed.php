<?php

declare(strict_types=1);

// Two ratios, both sides in the same run: a full diagnosis against decoding and schema-checking the same record, and
// the twin's loop against a bare loop that does the same arithmetic.

use App\Contract\SchemaCheck;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Twin\Step;
use Heartwood\Core\Twin\Twin;
use Heartwood\Core\Twin\TwinBoard;
use Heartwood\Core\Twin\TwinPack;

require dirname(__DIR__) . '/vendor/autoload.php';

/** @param  callable(): mixed  $work */
function median(callable $work, int $runs): float
{
    $times = [];
    for ($i = 0; $i < $runs + 2; $i++) {
        $start = hrtime(true);
        $work();
        if ($i >= 2) {
            $times[] = (hrtime(true) - $start) / 1e6;
        }
    }
    sort($times);

    return $times[intdiv(count($times), 2)];
}

$verdict = fn(float $ratio, float $limit): string => sprintf(
    'ratio %.2f (limit %.0f) %s',
    $ratio,
    $limit,
    $ratio <= $limit ? 'ok' : 'OVER',
);
mt_srand(5);
$sets = [];
foreach (
    [['rest', 0, 1], ['discharge', -6.0, 1], ['charge', 4.0, 1], ['discharge', -12.0, 1], ['rest', 0, 6], ['rest', 0, 12]]
    as $i => [$condition, $amps, $day]
) {
    $readings = $volts = [];
    $sum = 0.0;
    for ($k = 1; $k <= 20; $k++) {
        $v = 3.8 + mt_rand(-5, 5) / 1000 - ($k === 7 ? 0.1 : 0) + $amps * 0.011;
        $sum += $v;
        $volts[] = $v;
        $readings[] = ['from' => 'T' . ($k - 1), 'to' => "T$k", 'v' => round($v, 3)];
        $readings[] = ['from' => 'T0', 'to' => "T$k", 'v' => round($sum, $sum > 10 ? 2 : 3)];
    }
    for ($n = 0; $n < 10; $n++) {
        $readings[] = ['from' => 'T' . $n, 'to' => 'T' . ($n + 10), 'v' => round(array_sum(array_slice($volts, $n, 10)), 2)];
    }
    $sets[] = [
        'id' => "m$i",
        'at' => sprintf('2026-03-%02dT%02d:00:00Z', $day, 8 + $i),
        'condition' => $condition,
        'current_a' => $amps,
        'rested_min' => 600,
        'instrument' => ['id' => 'm', 'percent' => 0.5, 'counts' => 2, 'resolution_v' => 0.001],
        'readings' => $readings,
    ];
}
$json = (string) json_encode([
    'format' => 'heartwood.job',
    'version' => 1,
    'pack' => ['chemistry' => 'nmc', 'series' => 20, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5, 'resistance_mohm' => 40]],
    'measurements' => $sets,
]);
$readings = array_sum(array_map(fn(array $s): int => count($s['readings']), $sets));
$check = median(function () use ($json): void {
    if (SchemaCheck::problems(json_decode($json), 'job.schema.json') !== []) {
        throw new LogicException('the record is not right');
    }
}, 15);
$record = JobRecord::fromArray(json_decode($json, true));
$diagnose = median(fn(): mixed => Diagnoser::diagnose($record)->toArray(), 15);
printf("decode and schema check, 20 groups, %d readings, 6 conditions   %7.2f ms\n", $readings, $check);
printf("full diagnosis of the same                                      %7.2f ms   %s\n", $diagnose, $verdict($diagnose / $check, 2));

$n = 20;
$pack = new TwinPack(
    RestCurve::of(Chemistry::Nmc),
    array_fill(0, $n, 0.95),
    array_fill(0, $n, 10.0),
    array_fill(0, $n, 0.01),
    array_fill(0, $n, 0.005),
    array_fill(0, $n, 0.0),
    new TwinBoard(2.8, 4.25, 3.1, 4.15, 2.0, 0.0, 4.15, 4.2),
);
$twin = median(fn(): mixed => Twin::run($pack, Step::discharge(2.0), 1.0), 5);
$steps = (int) Twin::run($pack, Step::discharge(2.0), 1.0)->seconds;
$bare = median(function () use ($n, $steps): float {
    $soc = array_fill(0, $n, 0.95);
    $v1 = array_fill(0, $n, 0.0);
    $table = range(3.0, 4.2, 1.2 / 1000);
    $decay = exp(-1 / 45);
    $gain = 1 - $decay;
    $total = 0.0;
    for ($i = 0; $i < $steps; $i++) {
        $low = INF;
        for ($k = 0; $k < $n; $k++) {
            $x = $soc[$k] * 1000;
            $j = $x > 0.0 ? (int) $x : 0;
            $v = $table[$j] + ($table[$j + 1] - $table[$j]) * ($x - $j) + $v1[$k] - 2.0 * 0.01;
            if ($v < $low) {
                $low = $v;
            }
            $soc[$k] -= 2.0 / 3600 / 10.0;
            $v1[$k] = $v1[$k] * $decay - 2.0 * 0.005 * $gain;
        }
        $total += $low;
    }

    return $total;
}, 5);
printf("bare loop, 20 groups, %d steps of 1 s                         %7.2f ms\n", $steps, $bare);
printf("twin, the same discharge                                        %7.2f ms   %s\n", $twin, $verdict($twin / $bare, 4));
exit($diagnose / $check <= 5 && $twin / $bare <= 4 ? 0 : 1);
