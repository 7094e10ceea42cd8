<?php

declare(strict_types=1);

use Heartwood\Core\Maths\PositiveMatrix;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Reading\ReadingNetwork;
use Heartwood\Core\Reading\RestSpread;
use Tests\Core\Bench;

/** @param  list<array{int, int, float}>  $readings */
function solve(array $readings, int $series, float $resolution = 0.001)
{
    return ReadingNetwork::solve(
        array_map(fn(array $r) => Bench::reading($r[0], $r[1], $r[2], $r[3] ?? $resolution), $readings),
        $series,
        4.2,
    );
}

/** @return list<array{int, int, float}> */
function cumulative(array $groups): array
{
    $sum = 0.0;
    $out = [];
    foreach ($groups as $i => $v) {
        $out[] = [0, $i + 1, round($sum += $v, 3)];
    }

    return $out;
}

it('inverts a positive definite matrix', function (): void {
    $a = [[4.0, 1.0, 0.5], [1.0, 3.0, 0.2], [0.5, 0.2, 2.0]];
    $b = PositiveMatrix::inverse($a);
    for ($i = 0; $i < 3; $i++) {
        for ($j = 0; $j < 3; $j++) {
            expect($a[$i][0] * $b[0][$j] + $a[$i][1] * $b[1][$j] + $a[$i][2] * $b[2][$j])->toEqualWithDelta($i === $j ? 1.0 : 0.0, 1e-9);
        }
    }
    expect(fn() => PositiveMatrix::inverse([[0.0]]))->toThrow(DomainException::class);
});

it('subtracts a cumulative run into groups', function (): void {
    $s = solve(cumulative([3.7, 3.71, 3.69, 3.72]), 4);
    expect(array_map(fn($g) => round($g->volts, 3), $s->groups))
        ->toBe([3.7, 3.71, 3.69, 3.72])
        ->and($s->redundancy)
        ->toBe(0)
        ->and($s->suspicions)
        ->toBe([])
        ->and($s->group(2)->across)
        ->toBeFalse()
        ->and($s->group(1)->across)
        ->toBeTrue();
});

it('keeps gain out of the comparison of groups but not out of their voltage', function (): void {
    $s = solve(cumulative(array_fill(0, 10, 3.7)), 10);
    expect($s->group(10)->sigmaV)->toBeGreaterThan(0.008)->and($s->group(10)->ownSigmaV)->toBeLessThan(0.0025);
});

it('does not blame the top groups when a meter reads one percent high on a cumulative run', function (): void {
    $high = array_map(fn(array $r) => [$r[0], $r[1], round($r[2] * 1.004, 3)], cumulative(array_fill(0, 12, 3.8)));
    $mixed = [...$high, ...array_map(fn(int $k) => [$k - 1, $k, round(3.8 * 1.004, 3)], range(1, 12))];
    expect(solve($mixed, 12)->suspicions)->toBe([]);
});

it('drops the one reading that closure convicts and solves the rest', function (): void {
    $groups = [3.7, 3.71, 3.69, 3.72, 3.7];
    $readings = [...cumulative($groups), ...array_map(fn(int $k) => [$k - 1, $k, $groups[$k - 1]], range(1, 5))];
    $readings[2][2] += 0.5;
    $s = solve($readings, 5);
    expect($s->suspicions)
        ->toHaveCount(1)
        ->and($s->suspicions[0]->kind)
        ->toBe('closure')
        ->and($s->suspicions[0]->readings[0]->name())
        ->toBe('T0 to T3')
        ->and($s->group(3)->volts)
        ->toEqualWithDelta(3.69, 0.003)
        ->and($s->group(4)->volts)
        ->toEqualWithDelta(3.72, 0.003);
});

it('names a set it cannot tell apart, drops nothing and asks for the reading that would', function (): void {
    $readings = [[0, 1, 3.7], [1, 2, 3.7], [2, 3, 3.2], [3, 4, 3.7], [0, 4, 14.55]];
    $s = solve($readings, 4);
    expect($s->suspicions)->toHaveCount(1);
    $tie = $s->suspicions[0];
    expect($tie->kind)
        ->toBe('closure-tie')
        ->and($tie->readings)
        ->toHaveCount(5)
        ->and($tie->settle)
        ->not->toBeNull()
        ->and($s->group(3)->sigmaV)
        ->toBeGreaterThan(0.1);
    $repeat = [
        ...$readings,
        [
            $tie->settle['from'],
            $tie->settle['to'],
            array_sum(array_slice([3.7, 3.7, 3.45, 3.7], $tie->settle['from'], $tie->settle['to'] - $tie->settle['from'])),
        ],
    ];
    $after = solve($repeat, 4);
    expect(count($after->suspicions[0]->readings))->toBeLessThan(5);
});

it('weighs a tie: the one reading without which all groups lie with their fellows is off, whatever closes besides', function (
    float $read,
): void {
    $s = solve([[0, 1, 3.7], [1, 2, 3.71], [2, 3, $read], [3, 4, 3.69], [0, 4, 14.8]], 4);
    expect($s->suspicions)
        ->toHaveCount(1)
        ->and($s->suspicions[0]->kind)
        ->toBe('closure')
        ->and($s->suspicions[0]->readings[0]->name())
        ->toBe('T2 to T3')
        ->and($s->group(3)->volts)
        ->toEqualWithDelta(3.7, 0.02)
        ->and($s->group(3)->doubt)
        ->toBeNull();
})->with(['sign' => -3.7, 'decimal point' => 0.37, 'half a volt' => 3.2, 'two groups' => 7.4]);

it('names the unmoved probe when a double step follows the same value', function (): void {
    $run = cumulative([3.8, 3.8, 3.8, 3.8, 3.8, 3.8]);
    $run[3][2] = $run[2][2];
    $s = solve($run, 6);
    expect($s->suspicions)
        ->toHaveCount(1)
        ->and($s->suspicions[0]->kind)
        ->toBe('unmoved')
        ->and($s->suspicions[0]->tap)
        ->toBe(4)
        ->and($s->suspicions[0]->probability)
        ->toBeGreaterThan(0.9);
});

it('names the probe that went a tap too far when a double step comes first', function (): void {
    $run = cumulative([3.8, 3.8, 3.8, 3.8, 3.8, 3.8]);
    $run[2][2] = $run[3][2];
    expect(solve($run, 6)->suspicions[0]->tap)->toBe(3);
});

it('never calls a group dead from the same value twice without a reading across it', function (): void {
    $s = solve(cumulative([3.8, 3.8, 0.0, 3.8]), 4);
    expect($s->suspicions[0]->kind)
        ->toBe('same-value')
        ->and($s->suspicions[0]->settle)
        ->toBe(['from' => 2, 'to' => 3])
        ->and($s->group(3)->doubtProbability)
        ->toBe(0.5);
    $direct = solve([...cumulative([3.8, 3.8, 0.0, 3.8]), [2, 3, 0.001]], 4);
    expect($direct->suspicions)->toBe([]);
});

it('suspects the tap when one group is over as much as its neighbour is under', function (): void {
    $s = solve(cumulative([3.8, 3.81, 4.0, 3.6, 3.8, 3.79]), 6);
    expect($s->suspicions[0]->kind)->toBe('tap-off')->and($s->suspicions[0]->tap)->toBe(3);
    $real = solve(array_map(fn(int $i) => [$i, $i + 1, [3.8, 3.81, 4.0, 3.6, 3.8, 3.79][$i]], range(0, 5)), 6);
    expect($real->suspicions)->toBe([]);
});

it('asks to swap the probes before calling a group reversed', function (): void {
    $s = solve([[0, 1, 3.8], [1, 2, -3.79], [2, 3, 3.8]], 3);
    expect($s->suspicions[0]->kind)->toBe('sign')->and($s->suspicions[0]->probability)->toBe(0.9);
});

it('solves islands of readings that do not reach the negative end', function (): void {
    $s = solve([[2, 3, 3.7], [5, 6, 3.8]], 8);
    expect($s->group(3)->volts)
        ->toEqualWithDelta(3.7, 0.001)
        ->and($s->group(6)->volts)
        ->toEqualWithDelta(3.8, 0.001)
        ->and($s->group(1)->volts)
        ->toBeNull()
        ->and($s->packV)
        ->toBeNull();
});

it('closes: groups add up to the pack whatever was read', function (): void {
    mt_srand(11);
    for ($n = 0; $n < 60; $n++) {
        $series = mt_rand(2, 16);
        $true = array_map(fn() => 3.3 + mt_rand(0, 800) / 1000, range(1, $series));
        $phi = [0.0];
        foreach ($true as $v) {
            $phi[] = end($phi) + $v;
        }
        $readings = [];
        for ($k = 1; $k <= $series; $k++) {
            $readings[] = [$k - 1, $k, round($true[$k - 1] + mt_rand(-1, 1) / 1000, 3)];
        }
        for ($i = 0; $i < 4; $i++) {
            $a = mt_rand(0, $series - 1);
            $b = mt_rand($a + 1, $series);
            $readings[] = [$a, $b, round($phi[$b] - $phi[$a], 3)];
        }
        $s = solve($readings, $series);
        expect(array_sum(array_map(fn($g) => $g->volts, $s->groups)))
            ->toEqualWithDelta($s->packV, 1e-6)
            ->and(array_filter($s->suspicions, fn($x) => str_starts_with($x->kind, 'closure')))
            ->toBe([]);
    }
});

it('gives differences of coarse cumulative readings the resolution they have', function (): void {
    $fine = solve(array_map(fn(array $r) => [...$r, 0.01], cumulative(array_fill(0, 6, 3.8))), 6);
    expect($fine->group(4)->ownSigmaV)->toBeGreaterThan(0.012)->toBeLessThan(0.02);
});

it('grades the spread of a rested pack', function (array $volts, string $class): void {
    $s = solve(array_map(fn(int $i) => [$i, $i + 1, $volts[$i]], array_keys($volts)), count($volts));
    expect(RestSpread::of($s, Chemistry::Nmc)->class)->toBe($class);
})->with([
    [[3.7, 3.705, 3.702], 'matched'],
    [[3.7, 3.72, 3.71], 'good'],
    [[3.7, 3.78], 'balance-soon'],
    [[3.7, 3.9], 'balance-before-use'],
    [[3.4, 3.9], 'do-not-charge'],
]);

it('gives no verdict from voltage on the phosphate plateau', function (): void {
    $s = solve([[0, 1, 3.3], [1, 2, 3.305]], 2);
    expect(RestSpread::of($s, Chemistry::Lfp)->class)->toBe('no-verdict');
    $apart = solve([[0, 1, 3.3], [1, 2, 3.27]], 2);
    expect(RestSpread::of($apart, Chemistry::Lfp)->class)->toBe('balance-before-use');
});

it('doubts an odd last group of a cumulative run until a reading checks its tap', function (): void {
    $run = cumulative([3.8, 3.801, 3.799, 3.8, 3.5]);
    $s = solve($run, 5);
    expect($s->suspicions)
        ->toHaveCount(1)
        ->and($s->suspicions[0]->kind)
        ->toBe('last-tap')
        ->and($s->suspicions[0]->settle)
        ->toBe(['from' => 4, 'to' => 5]);
    expect(solve([...$run, [4, 5, 3.5]], 5)->suspicions)->toBe([]);
});

it('names every slip of one tap in a cumulative run, or asks for the reading that would tell', function (): void {
    mt_srand(3);
    for ($n = 0; $n < 200; $n++) {
        $series = mt_rand(4, 14);
        $groups = array_map(fn(): float => round(3.8 + mt_rand(-6, 6) / 1000, 3), range(1, $series));
        $run = cumulative($groups);
        $k = mt_rand(1, $series);
        $run[$k - 1][2] = match (mt_rand(0, 2)) {
            0 => $k > 1 ? $run[$k - 2][2] : $run[0][2] + 0.3,
            1 => $k < $series ? $run[$k][2] : $run[$k - 1][2] - 1.0,
            default => $run[$k - 1][2] + (mt_rand(0, 1) ? 0.3 : -0.3),
        };
        $s = solve($run, $series);
        $about = array_filter(
            $s->suspicions,
            fn($x): bool => $x->settle !== null && array_filter($x->readings, fn($r): bool => $r->to === $k) !== [],
        );
        expect($about)->not->toBe([], "tap $k of $series");
    }
});
