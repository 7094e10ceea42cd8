<?php

declare(strict_types=1);

use Heartwood\Core\Limits\LogLimits;
use Heartwood\Core\Log\LogReader;
use Heartwood\Core\Log\LogTerms;
use Heartwood\Core\Log\Mapping;
use Heartwood\Core\Log\Survey;
use Heartwood\Core\Pack\Chemistry;

/* Each number that a log is looked at by, just under and just over it. The cell: 2.8 Ah, 4.2 V full, 2.5 V empty. */

/** @param  callable(int): array{float|string, float, float, 3?: string}  $row */
function looked(string $header, int $rows, callable $row, float $rated = 2.8): Mapping
{
    $f = fopen('php://temp', 'r+');
    fwrite($f, "$header\n" . implode('', array_map(fn(int $k): string => implode(',', $row($k)) . "\n", range(0, $rows - 1))));

    return LogReader::mapping($f, LogTerms::of(Chemistry::Nmc, $rated));
}

const UNSAID = 'Time,Voltage,Current';
const SAID = 'Time (s),Voltage (V),Current (A)';

/** A slow fall under half an amp, a row every so many of whatever the time counts. */
$fall = fn(float $step, float $first = 0.0, float $by = 0.02, int $rows = 100, float $amps = -0.1): Closure => fn(int $k): array => [
    sprintf('%.6f', $first + $step * $k),
    round(4.0 - ($by * $k) / ($rows - 1), 6),
    $amps,
];

it('takes a time for seconds while rows lie neither too close nor too far, nor last too long', function (
    float $step,
    int $rows,
    float $scale,
) use ($fall): void {
    expect(looked(UNSAID, $rows, $fall($step, 0.0, 0.02, $rows, -0.001))->scale['time'])->toBe($scale);
})->with([
    'close together' => [0.0204, 100, 1.0],
    'too close' => [0.0196, 100, 60.0],
    'far apart' => [1764.0, 100, 1.0],
    'too far' => [1836.0, 100, 1e-3],
    'long' => [1000.0, 15240, 1.0],
    'too long' => [1000.0, 15860, 1e-3],
]);

it('tells a time that counts from 1970, and one in days', function (float $first, float $step, float $scale, bool $since) use (
    $fall,
): void {
    $map = looked(UNSAID, 100, $fall($step, $first));
    expect($map->scale['time'])->toBe($scale)->and(str_contains(implode(';', $map->notes), 'since 1970'))->toBe($since);
})->with([
    'not yet' => [0.99e9, 10.0, 1.0, false],
    'from 1970' => [1.01e9, 10.0, 1.0, true],
    'seconds' => [3.9e9, 10.0, 1.0, true],
    'milliseconds' => [4.1e9, 10.0, 1e-3, true],
    'hours before the days of sheets' => [34990.0, 0.0003, 3600.0, false],
    'the days of sheets' => [35010.0, 0.0003, 86400.0, false],
    'still' => [79990.0, 0.0003, 86400.0, false],
    'no longer' => [80010.0, 0.0003, 3600.0, false],
]);

it('wants of a sweep of the volts that it gave something', function (float $swept, float $scale) use ($fall): void {
    expect(looked(UNSAID, 100, $fall(1.0, 0.0, $swept * 1.7, 100, -1.0))->scale['time'])->toBe($scale);
})->with([[0.69, 1.0], [0.71, 60.0]]);

it('asks for the unit of a sweep that gave too little for any', function (float $share, array $asks) use ($fall): void {
    $rows = (int) round(($share * 2.8 * 3600) / 1.0);
    expect(array_column(looked(UNSAID, $rows, $fall(1.0, 0.0, 1.5, $rows, -1.0))->asks, 'field'))->toBe($asks);
})->with([[0.245, ['time']], [0.255, []]]);

it('knows volts that no cell has, and millivolts that one has', function (string $header, float $volts, array $asks, float $scale): void {
    $map = looked($header, 60, fn(int $k): array => [10 * $k, $volts * (1.03 - (0.06 * $k) / 59), -0.5]);
    expect(array_column($map->asks, 'field'))->toBe($asks)->and($map->scale['voltage'])->toBe($scale);
})->with([
    'a high one' => [SAID, 5.45, [], 1.0],
    'none' => [SAID, 5.6, ['voltage'], 1.0],
    'a low one in millivolts' => ['Time (s),Voltage,Current', 510.0, [], 1e-3],
    'none in millivolts' => ['Time (s),Voltage,Current', 490.0, ['voltage'], 1.0],
]);

it('is told a direction by volts that moved far enough', function (float $by, array $asks): void {
    $map = looked(SAID, 200, fn(int $k): array => [10 * $k, round(3.7 - ($by * $k) / 199, 6), -0.5]);
    expect(array_column($map->asks, 'field'))->toBe($asks);
})->with([[0.0099, ['sign']], [0.0104, []]]);

it('is told a direction that outweighs the other', function (float $against, bool $told): void {
    // A charge that rises, and a discharge that rises as well, by so much.
    $v = fn(int $k): float => $k < 100 ? 3.6 + 0.003 * $k : 3.9 + ($against * ($k - 100)) / 99;
    $map = looked(SAID, 200, fn(int $k): array => [10 * $k, round($v($k), 6), $k < 100 ? 0.5 : -0.5]);
    expect(str_contains(implode(';', $map->notes), 'the voltage moves with the current'))->toBe($told);
})->with([[0.094, true], [0.098, false]]);

it('takes a current without a sign for one way unless its volts turn', function (float $back, array $asks): void {
    // Down by 0.3 V, and up again by a share of it.
    $v = fn(int $k): float => $k < 100 ? 4.0 - 0.003 * $k : 3.7 + ($back * 0.3 * ($k - 100)) / 99;
    $map = looked(SAID, 200, fn(int $k): array => [10 * $k, round($v($k), 6), 0.5]);
    expect(array_column($map->asks, 'field'))->toBe($asks);
})->with([
    'a little' => [0.31, []],
    'far' => [0.355, ['sign']],
]);

it('takes a column for one of states as long as it has few of them', function (int $states, array $asks): void {
    $each = 12;
    $row = function (int $k) use ($states, $each): array {
        $n = intdiv($k, $each);
        $in = $n < 12;
        $v = $in ? 3.6 + 0.003 * $k : 3.6 + 0.003 * 12 * $each - 0.003 * ($k - 12 * $each);

        return [10 * $k, round($v, 4), 0.5, ($in ? 'x' : 'y') . min($n, $states - 1)];
    };
    $map = looked('Time (s),Voltage (V),Current (A),Flag', $states * $each, $row);
    expect(array_column($map->asks, 'field'))->toBe($asks);
})->with([[24, []], [25, ['sign']]]);

it('lets go of a row that stands off from both its neighbours, where they agree', function (float $apart, int $left): void {
    $steady = new ReflectionMethod(Survey::class, 'steady');
    $at = fn(float $i): array => ['t' => 0.0, 'v' => 3.7, 'i' => $i, 'cells' => []];
    // The row lies 1 A from the nearer of the two.
    expect($steady->invoke(null, [$at(0.0), $at(1.0 + $apart), $at($apart)]))->toHaveCount($left);
})->with([[0.19, 2], [0.21, 3]]);

it('does not believe a whole discharge that gave next to nothing', function (float $share, bool $believed): void {
    $rows = (int) round(($share * 10.0 * 3600) / 2.0 / 10);
    $f = fopen('php://temp', 'r+');
    fwrite(
        $f,
        SAID .
            "\n" .
            implode('', array_map(fn(int $k): string => sprintf("%d,%.5f,-2\n", 10 * $k, 4.2 - (1.75 * $k) / $rows), range(0, $rows))),
    );
    $terms = LogTerms::of(Chemistry::Nmc, 10.0);
    $capacity = LogReader::figures($f, LogReader::mapping($f, $terms), $terms)->capacity;
    expect($capacity['believed'])
        ->toBe($believed)
        ->and($capacity['soh_sigma'])
        ->toEqualWithDelta(LogLimits::GAIN_SIGMA * $capacity['soh'], 6e-5);
})->with([[1.0, true], [0.0525, true], [0.0505, false]]);

it('says of a log what a half of a hundredth of it is', function (): void {
    expect(LogTerms::of(Chemistry::Nmc, 3.0)->gainSigma)->toBe(0.005)->and(LogLimits::TYPED_SIGMA)->toBe(0.02);
});

it('knows what is no current', function (float $rated, float $amps): void {
    expect(LogTerms::of(Chemistry::Nmc, $rated)->restA())->toEqualWithDelta($amps, 1e-9);
})->with([[0.5, 0.005], [1.0, 0.005], [3.0, 0.015]]);

it('takes three rows for what they are', function (): void {
    $map = looked(SAID, 3, fn(int $k): array => [10 * $k, 4.1 - 0.1 * $k, 0.6]);
    expect($map->asks)
        ->toBe([])
        ->and($map->sign)
        ->toBe(-1.0);
});
