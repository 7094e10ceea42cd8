<?php

declare(strict_types=1);

use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\LabelCheck;
use Heartwood\Core\Reading\NetworkReading;
use Heartwood\Core\Reading\ReadingNetwork;
use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Reading\SetsCompared;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Safety\Triage;
use Tests\Core\Bench;

// Every number of the register, just under and just over it.

/** @param  list<float>  $groups */
function spreadOf(array $groups, string $chemistry): RestSpread
{
    $readings = array_map(
        fn(int $i): NetworkReading => new NetworkReading($i, $i + 1, $groups[$i], 0.0001, 0.00005, 'm', 0.00001, "/$i"),
        array_keys($groups),
    );

    return RestSpread::of(ReadingNetwork::solve($readings, count($groups), 4.2), Chemistry::from($chemistry));
}

it('classes a spread', function (string $chemistry, float $low, float $mv, string $class): void {
    expect(spreadOf([$low, $low + $mv / 2000, $low + $mv / 1000], $chemistry)->class)->toBe($class);
})->with([
    ['nmc', 3.8, 9.8, 'matched'],
    ['nmc', 3.8, 10.2, 'good'],
    ['nmc', 3.8, 29.8, 'good'],
    ['nmc', 3.8, 30.2, 'balance-soon'],
    ['nmc', 3.8, 99.8, 'balance-soon'],
    ['nmc', 3.8, 100.2, 'balance-before-use'],
    ['nmc', 3.8, 299.5, 'balance-before-use'],
    ['nmc', 3.8, 300.5, 'do-not-charge'],
    ['lfp', 3.2, 249.5, 'balance-before-use'],
    ['lfp', 3.2, 250.5, 'do-not-charge'],
    'on the plateau, just alike' => ['lfp', 3.29, 19.8, 'no-verdict'],
    'on the plateau, just apart' => ['lfp', 3.29, 20.2, 'balance-before-use'],
    'the highest just under the taper end' => ['lfp', 3.3378, 111.8, 'balance-before-use'],
    'the highest just at it' => ['lfp', 3.3402, 110.2, 'balance-before-use'],
]);

it('drops a reading beyond the residual', function (float $sigmas, int $suspected): void {
    // Four readings of one group, one of them off by so many of its own standardised residuals: red = 3/4.
    $sigma = 0.001;
    $off = ($sigmas * $sigma) / sqrt(0.75);
    $readings = array_map(
        fn(int $i): NetworkReading => new NetworkReading(0, 1, 3.7 + ($i === 3 ? $off : 0.0), 0.0001, $sigma, "r$i", 1e-9, "/$i"),
        range(0, 3),
    );
    expect(count(ReadingNetwork::solve($readings, 1, 4.2)->suspicions))->toBe($suspected);
})->with(['3.4 sigma' => [3.4, 0], '3.6 sigma' => [3.6, 1]]);

it('says how long a reading takes where nobody wrote it', function (): void {
    $readings = array_map(fn(array $r): NetworkReading => Bench::reading(...$r), [
        [0, 1, 3.7],
        [1, 2, 3.7],
        [2, 3, 3.7],
        [3, 4, 3.7],
        [4, 5, 3.7],
        [0, 1, 3.68],
    ]);
    expect(Heartwood\Core\Reading\Drift::of($readings, array_fill(0, 6, null), []))->toEqualWithDelta(-0.02 / 20.0, 1e-6);
});

it('takes a joint for bad', function (array $test, array $like, bool $bad): void {
    $tests = [['kind' => 'continuity', 'element' => 'joint', 'where' => ['joint' => 2]] + $test];
    foreach ($like as $i => $mohm) {
        $tests[] = ['kind' => 'continuity', 'element' => 'joint', 'where' => ['joint' => [1, 3][$i]], 'ohm' => $mohm / 1000];
    }
    // A group of 8 mohm: a quarter is 2.
    $v = Bench::verdict(
        Bench::record(
            array_fill(0, 4, 3.8),
            ['parallel' => 5, 'cell' => ['capacity_ah' => 3, 'resistance_mohm' => 40]],
            ['tests' => $tests],
        ),
    );
    expect(Bench::probability($v, 'joint.high-resistance', ['joint' => 2]) > 0.5)->toBe($bad);
})->with([
    // ohms are good to a tenth: three of that are taken off, 0.7 of what is measured must be over the limit
    'just over three times its like' => [['ohm' => 0.00436], [1.0, 1.0], true],
    'just under' => [['ohm' => 0.0042], [1.0, 1.0], false],
    'just over a quarter of its group' => [['ohm' => 0.0029], [], true],
    'just under it' => [['ohm' => 0.00282], [], false],
    // a drop is good to half a millivolt: at 20 A three of that are 0.075 mohm; half of the quarter is 1 mohm
    '21 mV at 15 A' => [['drop_v' => 0.0206, 'current_a' => -15.0], [], true],
    '19 mV at 15 A' => [['drop_v' => 0.0194, 'current_a' => -15.0], [], false],
    '0.51 W' => [['drop_v' => 0.0196, 'current_a' => -26.0], [], false],
    '0.51 W at 1.4 mohm' => [['drop_v' => 0.0198, 'current_a' => -14.0], [], false],
]);

it('counts heat in a joint as well as its volts', function (float $drop, float $amps, bool $bad): void {
    $v = Bench::verdict(
        Bench::record(
            array_fill(0, 4, 3.8),
            ['parallel' => 40, 'cell' => ['capacity_ah' => 3, 'resistance_mohm' => 40]],
            [
                'tests' => [
                    ['kind' => 'continuity', 'element' => 'joint', 'where' => ['joint' => 2], 'drop_v' => $drop, 'current_a' => -$amps],
                ],
            ],
        ),
    );
    expect(Bench::probability($v, 'joint.high-resistance', ['joint' => 2]) > 0.5)->toBe($bad);
})->with(['0.51 W' => [0.0102, 50.0, true], '0.49 W' => [0.0098, 50.0, false]]);

it('asks again about a leak that two sigma take over a tenth a month, and not about what healthy groups lose', function (
    float $days,
    float $mv,
    bool $asked,
    float $resolution = 0.0001,
    int $counts = 1,
): void {
    $after = array_fill(0, 8, 3.75);
    $after[3] -= $mv / 1000;
    $record = Bench::record(array_fill(0, 8, 3.75), ['parallel' => 1]);
    foreach ([array_fill(0, 8, 3.75), $after] as $i => $volts) {
        $at = (new DateTimeImmutable('2026-05-04T09:00:00Z'))
            ->modify('+' . (int) round($i * $days * 86400) . ' seconds')
            ->format('Y-m-d\TH:i:s\Z');
        $record['measurements'][$i] = Bench::rest("m$i", $volts, 'across', $at);
        $record['measurements'][$i]['instrument'] = ['id' => 'm', 'percent' => 0.05, 'counts' => $counts];
        $record['measurements'][$i]['readings'] = array_map(
            fn(int $k): array => ['from' => "T$k", 'to' => 'T' . ($k + 1), 'v' => round($volts[$k], 4), 'resolution_v' => $resolution],
            range(0, 7),
        );
    }
    expect(in_array('rest-again', array_map(fn($t): string => $t->test->value, Bench::verdict($record)->nextTests), true))->toBe($asked);
})->with([
    // two days: 2.46 % a month of doubt
    '4.7 % and twice that: 9.6' => [2.0, 3.0, false],
    '5.5 % and twice that: 10.4' => [2.0, 3.5, true],
    // three days by a plain meter: four of doubt, so that only what a healthy group loses decides
    '2.9 % a month' => [3.0, 2.8, false, 0.001, 3],
    '3.1 % a month' => [3.0, 3.0, true, 0.001, 3],
]);

it('holds a charger against the pack', function (string $chemistry, float $volts, bool $wrong): void {
    $v = Bench::verdict(
        Bench::record(
            array_fill(0, 100, $chemistry === 'lfp' ? 3.3 : 3.8),
            ['chemistry' => $chemistry, 'parallel' => 3],
            ['tests' => [['kind' => 'charger', 'open_v' => $volts]]],
        ),
    );
    expect(Bench::probability($v, 'charger.wrong-voltage') > 0.5)->toBe($wrong);
})->with([
    // A hundred groups: full is 420 V, 1 % over 424.2, 3 % under 407.4.
    ['nmc', 424.35, true],
    ['nmc', 424.05, false],
    ['nmc', 407.2, true],
    ['nmc', 407.6, false],
    // Phosphate: 3.45 V a cell, less what a meter is off.
    ['lfp', 342.6, true],
    ['lfp', 344.0, false],
]);

it('holds a label against its cells', function (float $ah, bool $off): void {
    $pack = PackSpec::from(
        new Fields([
            'chemistry' => 'nmc',
            'series' => 10,
            'parallel' => 4,
            'label' => ['capacity_ah' => $ah],
            'cell' => ['capacity_ah' => 2.5],
        ]),
    );
    expect(LabelCheck::mismatches($pack) !== [])->toBe($off);
})->with([[10.29, false], [10.31, true], [9.71, false], [9.69, true]]);

it('knows what a device draws at its worst', function (): void {
    $pack = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 10, 'load' => ['power_w' => 900]]));
    expect($pack->loadAmps())->toEqualWithDelta(900 / 0.9 / 35.3, 0.01);
});

it('calls a pack high voltage, and a bulge swollen', function (): void {
    $rules = fn(float $v): array => Triage::assess(new Fields([]), [], $v)->rules;
    expect($rules(60.0))->toBe([])->and($rules(60.1))->not->toBe([]);
    $state = fn(float $mm): string => Triage::assess(new Fields(['thickness_mm' => $mm, 'drawn_thickness_mm' => 10.0]), [], 12.0)->state
        ->value;
    expect($state(10.29))->toBe('clear')->and($state(10.31))->toBe('quarantine');
});

it('calls a pack aged, and worn out', function (float $share, bool $aged, ?string $severity): void {
    $tests = array_map(
        fn(int $k): array => [
            'kind' => 'capacity',
            'scope' => ['group' => $k],
            'measured_ah' => round(8.4 * $share, 4),
            'started_full' => true,
        ],
        range(1, 6),
    );
    $v = Bench::verdict(Bench::record(array_fill(0, 6, 3.9), [], ['tests' => $tests]));
    $found = array_values(array_filter($v->findings, fn($f): bool => $f->code === 'pack.aged'));
    expect($found !== [] && $found[0]->probability > 0.5)
        ->toBe($aged)
        ->and($found === [] ? null : $found[0]->severity->value)
        ->toBe($severity);
})->with([[0.79, true, 'watch'], [0.81, false, 'watch'], [0.601, true, 'watch'], [0.599, true, 'fix']]);

it('lists a finding from a tenth up', function (): void {
    $seen = [];
    for ($mv = 0; $mv <= 40; $mv += 0.4) {
        foreach (Bench::verdict(Bench::record([3.8, 3.8, 3.8 - $mv / 1000, 3.8, 3.8]))->findings as $f) {
            $seen[] = $f->probability;
        }
    }
    expect(min($seen))->toBeGreaterThanOrEqual(0.1)->toBeLessThan(0.1055);
});

it('names one reading alone only when it stands out by a sigma from the next', function (float $apart, string $kind): void {
    // Four readings of one group, two of them off either way; residuals over the square root of 3/4.
    $sigma = 0.001;
    $high = 5.0 * $sigma;
    $low = $high - $apart * 2 * sqrt(0.75) * $sigma;
    $volts = [3.7 + $high, 3.7 - $low, 3.7, 3.7];
    $readings = array_map(
        fn(int $i): NetworkReading => new NetworkReading(0, 1, $volts[$i], 0.0001, $sigma, "r$i", 1e-9, "/$i"),
        range(0, 3),
    );
    expect(ReadingNetwork::solve($readings, 1, 4.2)->suspicions[0]->kind)->toBe($kind);
})->with([[1.03, 'closure'], [0.97, 'closure-tie']]);

it('takes a charge that the board stopped at a full group for the board at its work', function (float $v, bool $stopped): void {
    $verdict = Bench::verdict(
        Bench::record(
            array_fill(0, 4, 3.8),
            [],
            [
                'symptoms' => ['will-not-charge'],
                'tests' => [['kind' => 'charge', 'stopped_by' => 'bms', 'after_ah' => 0.05, 'groups_v' => [4.0, $v, 4.0, 4.0]]],
            ],
        ),
    );
    $said = implode(
        ' ',
        array_map(fn($e): string => $e->text, array_merge(...array_map(fn($f): array => $f->evidence, $verdict->findings))),
    );
    expect(str_contains($said, 'the board stops the charge'))->toBe($stopped);
})->with(['at its cut' => [4.201, false], 'short of it' => [4.199, true]]);

/**
 * Sets of four groups read with a meter of half a millivolt.
 *
 * @param  list<array{list<?float>, 1?: float, 2?: float}>  $sets  volts, amps, 1 sigma in V
 */
function besides(array ...$sets): SetsCompared
{
    return SetsCompared::of(
        array_map(
            fn(array $s, int $i): array => [
                'id' => "s$i",
                'at' => '2026-11-20T10:00:00Z',
                'condition' => ($s[1] ?? 0.0) === 0.0 ? 'rest' : ($s[1] > 0 ? 'charge' : 'discharge'),
                'amps' => $s[1] ?? 0.0,
                'volts' => $s[0],
                'sigma' => array_map(fn(?float $v): ?float => $v === null ? null : $s[2] ?? 0.0005, $s[0]),
            ],
            $sets,
            array_keys($sets),
        ),
    );
}

it('shows sets side by side: three groups read at least, the latest eight', function (): void {
    $of = besides([[3.8, 3.8, null, null]], [[3.8, 3.81, null, 3.8]], [[3.8, 3.8, 3.82, 3.84]]);
    expect(array_column($of->columns, 'id'))
        ->toBe(['s1', 's2'])
        ->and($of->columns[0]['mv'])
        ->toBe([0.0, 10.0, null, 0.0])
        ->and($of->columns[1]['mv'])
        ->toBe([-10.0, -10.0, 10.0, 30.0])
        ->and($of->columns[0]['sigma_mv'])
        ->toBe([0.5, 0.5, null, 0.5]);
    $many = besides(...array_map(fn(): array => [[3.8, 3.8, 3.8, 3.8]], range(1, 12)));
    expect(array_column($many->columns, 'id'))->toBe(['s4', 's5', 's6', 's7', 's8', 's9', 's10', 's11']);
    expect(besides()->toArray())->toBe(['columns' => [], 'groups' => [], 'said' => []]);
});

it('says what each line does: a leak is a slope, a joint turns, an imbalance does neither', function (
    array $sets,
    int $group,
    string $shape,
    float $mv,
    ?string $said,
): void {
    $of = besides(...$sets);
    $line = $of->groups()[$group - 1];
    expect($line['shape']->value)
        ->toBe($shape)
        ->and($line['mv'])
        ->toEqualWithDelta($mv, 0.06)
        ->and($of->said())
        ->toBe($said === null ? [] : [$said]);
})->with([
    'a leak' => [
        [[[3.8, 3.8, 3.8, 3.8]], [[3.8, 3.79, 3.8, 3.8]], [[3.8, 3.78, 3.8, 3.8]]],
        2,
        'falls',
        -20.0,
        'Group 2 falls 20 mV against the others from rest to rest: a leak is a slope.',
    ],
    'no leak that rises' => [
        [[[3.8, 3.78, 3.8, 3.8]], [[3.8, 3.8, 3.8, 3.8]]],
        2,
        'rises',
        20.0,
        'Group 2 comes up 20 mV against the others from rest to rest: it was filled, or they were drawn.',
    ],
    'a joint' => [
        [[[3.8, 3.8, 3.8, 3.8]], [[3.85, 3.85, 3.9, 3.85], 4.0], [[3.75, 3.75, 3.7, 3.75], -4.0]],
        3,
        'turns',
        100.0,
        'Group 3 turns over by 100 mV with the current: resistance does, charge does not.',
    ],
    'an imbalance' => [
        [[[3.8, 3.8, 3.8, 3.65]], [[3.9, 3.9, 3.9, 3.75], 3.0], [[3.8, 3.8, 3.8, 3.65]]],
        4,
        'stands',
        -150.0,
        'Group 4 stands 150 mV under in every set: charge, or what it holds.',
    ],
    'nothing' => [[[[3.8, 3.801, 3.8, 3.8]], [[3.8, 3.8, 3.801, 3.8]]], 2, 'level', 0.0, null],
]);

it('tells a difference between sets', function (array $sets, string $shape): void {
    expect(besides(...$sets)->groups()[1]['shape']->value)->toBe($shape);
})->with([
    // 5 mV between two sets is 3 sigma where each has 5 / (3 sqrt 2) = 1.18 mV.
    'just under three sigma' => [[[[3.8, 3.8, 3.8, 3.8], 0.0, 0.0012], [[3.8, 3.795, 3.8, 3.8], 0.0, 0.0012]], 'level'],
    'just over three sigma' => [[[[3.8, 3.8, 3.8, 3.8], 0.0, 0.00116], [[3.8, 3.795, 3.8, 3.8], 0.0, 0.00116]], 'falls'],
    'just under the least' => [[[[3.8, 3.8, 3.8, 3.8], 0.0, 0.0], [[3.8, 3.7971, 3.8, 3.8], 0.0, 0.0]], 'level'],
    'just over the least' => [[[[3.8, 3.8, 3.8, 3.8], 0.0, 0.0], [[3.8, 3.7969, 3.8, 3.8], 0.0, 0.0]], 'falls'],
    'just within matched' => [[[[3.8, 3.7901, 3.8, 3.8]], [[3.8, 3.7901, 3.8, 3.8]]], 'level'],
    'just beyond matched' => [[[[3.8, 3.7899, 3.8, 3.8]], [[3.8, 3.7899, 3.8, 3.8]]], 'stands'],
    'a current just not at rest' => [[[[3.8, 3.8, 3.8, 3.8]], [[3.8, 3.79, 3.8, 3.8], 0.051]], 'level'],
    'a current just at rest' => [[[[3.8, 3.8, 3.8, 3.8]], [[3.8, 3.79, 3.8, 3.8], 0.049]], 'falls'],
    'on both sides of the middle, not by the current' => [[[[3.8, 3.79, 3.8, 3.8], 2.0], [[3.8, 3.81, 3.8, 3.8], 2.0]], 'level'],
]);

it('takes a set as at rest up to the same current', function (float $amps, bool $rest): void {
    $m = JobRecord::fromArray(Bench::record([3.8, 3.8], [], ['measurements' => [['current_a' => $amps]]]))->measurements[0];
    expect($m->isRest())
        ->toBe($rest)
        ->and($m->underCurrent())
        ->toBe(!$rest);
})->with([[0.049, true], [-0.049, true], [0.051, false], [-0.051, false]]);
