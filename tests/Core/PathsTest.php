<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\Verdict;
use Tests\Core\Bench;

// The way out and the way in: what counts as open, lost, alive, refused; and what the pack as a whole explains.

/**
 * @param  list<array<string, mixed>>  $tests
 * @param  list<string>  $symptoms
 * @param  float|null  $output  share of the string's voltage at the output; null: not read
 */
function atTheTerminals(
    array $tests = [],
    array $symptoms = ['dead-output'],
    ?float $output = 0.01,
    array $groups = [3.8, 3.8, 3.8, 3.8, 3.8, 3.8, 3.8, 3.8, 3.8, 3.8],
    array $pack = [],
): Verdict {
    $record = Bench::record($groups, ['parallel' => 3] + $pack, ['tests' => $tests, 'symptoms' => $symptoms]);
    if ($output !== null) {
        $record['measurements'][0]['readings'][] = [
            'from' => 'P-',
            'to' => 'P+',
            'v' => round($output * array_sum($groups), 2),
            'resolution_v' => 0.01,
        ];
    }

    return Bench::verdict($record);
}

it('takes an element for open by ohms and by the volts across it, for sound by a loaded drop, for nothing without a load', function (
    array $test,
    float $least,
    float $most,
): void {
    expect(Bench::probability(atTheTerminals([['kind' => 'continuity', 'element' => 'switch'] + $test]), 'path.switch-or-enable'))
        ->toBeGreaterThanOrEqual($least)
        ->toBeLessThanOrEqual($most);
})->with([
    '5.1 ohm' => [['ohm' => 5.1], 0.8, 1.0],
    '4.9 ohm' => [['ohm' => 4.9], 0.0, 0.02],
    'a third of the pack' => [['drop_v' => 11.6, 'current_a' => -0.01], 0.8, 1.0],
    'just under 30 % of it: neither' => [['drop_v' => 11.2, 'current_a' => -0.01], 0.05, 0.3],
    'just under 5 %, loaded' => [['drop_v' => 1.8, 'current_a' => -0.01], 0.0, 0.02],
    'just over 5 %: neither' => [['drop_v' => 2.0, 'current_a' => -0.01], 0.05, 0.3],
    'no load' => [['drop_v' => 0.0, 'current_a' => 0.0], 0.05, 0.3],
]);

it('calls an output dead under three fifths of the string, and alive over nineteen twentieths or so', function (
    float $share,
    bool $dead,
): void {
    $v = atTheTerminals([], [], $share);
    expect(
        Bench::probability($v, 'bms.latched') + Bench::probability($v, 'bms.asleep') + Bench::probability($v, 'path.fuse-open') > 0.3,
    )->toBe($dead);
})->with([[0.01, true], [0.59, true], [0.61, false], [0.94, false], [1.0, false]]);

it('believes a dead output that is only told, until current is drawn on the bench', function (): void {
    expect(Bench::probability(atTheTerminals([], ['dead-output'], null), 'bms.latched'))->toBeGreaterThan(0.1);
    $record = Bench::record(array_fill(0, 8, 3.8), [], ['symptoms' => ['dead-output']]);
    $record['measurements'][] = [
        'id' => 'm2',
        'at' => '2026-05-04T10:00:00Z',
        'condition' => 'discharge',
        'current_a' => -4.0,
        'ambient_c' => 20,
        'instrument' => Bench::meter(),
        'readings' => Bench::readings(array_fill(0, 8, 3.74)),
    ];
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'bms.latched'))
        ->toBe(0.0)
        ->and(Bench::probability($v, 'load.dead'))
        ->toBeGreaterThan(0.3)
        ->and(array_map(fn($t): string => $t->test->value, $v->nextTests))
        ->toContain('load-check');
});

it('names the cause that a test spoke for', function (array $tests, string $code, float $least): void {
    expect(Bench::probability(atTheTerminals($tests), $code))->toBeGreaterThanOrEqual($least);
})->with([
    'a charger wakes it' => [[['kind' => 'wake', 'action' => 'charger-pulse', 'woke' => true]], 'bms.latched', 0.55],
    'the enable wire wakes it' => [[['kind' => 'wake', 'action' => 'enable-wire', 'woke' => true]], 'path.switch-or-enable', 0.6],
    'it changes when flexed' => [[['kind' => 'flex', 'element' => 'plug', 'changed' => true]], 'path.intermittent', 0.55],
    'the sensor is off' => [[['kind' => 'sensor', 'ohm' => 13100, 'expected_ohm' => 10000]], 'sensor.temperature', 0.5],
    'ninety ohms of connector' => [[['kind' => 'continuity', 'element' => 'connector', 'ohm' => 90.0]], 'path.connector', 0.8],
]);

it('gives no weight to a part that the pack does not have', function (): void {
    $off = [['kind' => 'sensor', 'ohm' => 1.0e6, 'expected_ohm' => 10000]];
    expect(Bench::probability(atTheTerminals($off, pack: ['bms' => ['temperature_sensor' => false]]), 'sensor.temperature'))
        ->toBe(0.0)
        ->and(Bench::probability(atTheTerminals($off), 'sensor.temperature'))
        ->toBeGreaterThan(0.3);
});

it('takes a temperature the board reports for the sensor\'s in a room, and for weather in the cold', function (
    float $ambient,
    float $least,
    float $most,
): void {
    $record = Bench::record(array_fill(0, 8, 3.8), [], ['symptoms' => ['will-not-charge']]);
    $record['measurements'][0]['ambient_c'] = $ambient;
    $record['measurements'][] = [
        'id' => 'b',
        'at' => '2026-05-04T09:10:00Z',
        'condition' => 'rest',
        'source' => 'bms-report',
        'flags' => ['under-temperature'],
        'ambient_c' => $ambient,
        'readings' => Bench::readings(array_fill(0, 8, 3.8)),
    ];
    expect(Bench::probability(Bench::verdict($record), 'sensor.temperature'))->toBeGreaterThanOrEqual($least)->toBeLessThanOrEqual($most);
})->with(['21 degC' => [21.0, 0.6, 1.0], '5.1 degC' => [5.1, 0.6, 1.0], '4.9 degC' => [4.9, 0.0, 0.2]]);

it('counts a charge that the board stops at once as refused, not one that ended at a full group or after a share of capacity', function (
    float $ah,
    array $volts,
    bool $heard,
): void {
    // Three cells of 2.8 Ah: two hundredths are 0.168 Ah.
    $v = Bench::verdict(
        Bench::record(
            array_fill(0, 4, 3.8),
            [],
            ['tests' => [['kind' => 'charge', 'stopped_by' => 'bms', 'after_ah' => $ah, 'groups_v' => $volts]]],
        ),
    );
    expect(
        Bench::probability($v, 'bms.charge-dead') + Bench::probability($v, 'sensor.temperature') + Bench::probability($v, 'charger.dead') >
            0.3,
    )->toBe($heard);
})->with([
    'at once' => [0.16, [3.82, 3.82, 3.82, 3.82], true],
    'a little later' => [0.18, [3.82, 3.82, 3.82, 3.82], false],
    'at a full group' => [0.16, [4.205, 3.82, 3.82, 3.82], false],
    'just short of its cut' => [0.16, [4.195, 3.82, 3.82, 3.82], true],
]);

it('tells the charger, the sensor and the board apart for a pack that takes no charge', function (array $tests, string $code): void {
    $v = atTheTerminals($tests, ['will-not-charge'], 1.0);
    $best = null;
    foreach ($v->findings as $f) {
        $best = $best === null || $f->probability > $best->probability ? $f : $best;
    }
    expect($best?->code)->toBe($code);
})->with([
    'no volts under load' => [[['kind' => 'charger', 'open_v' => 42.0, 'loaded_v' => 3.0]], 'charger.dead'],
    'charger and sensor good' => [
        [['kind' => 'charger', 'open_v' => 42.0, 'loaded_v' => 41.8], ['kind' => 'sensor', 'ohm' => 10000, 'expected_ohm' => 10000]],
        'bms.charge-dead',
    ],
    'sensor far off' => [
        [['kind' => 'charger', 'open_v' => 42.0], ['kind' => 'sensor', 'ohm' => 90000, 'expected_ohm' => 10000]],
        'sensor.temperature',
    ],
]);

it('sees a contact between taps and terminals by what is lost under load', function (float $ohm, bool $bad): void {
    $record = Bench::record(array_fill(0, 10, 3.8), [], ['symptoms' => ['cuts-out-under-load']]);
    $record['measurements'][0]['readings'][] = ['from' => 'P-', 'to' => 'P+', 'v' => 38.0, 'resolution_v' => 0.01];
    $readings = Bench::readings(array_fill(0, 10, 3.7));
    $readings[] = ['from' => 'P-', 'to' => 'P+', 'v' => round(37.0 - 8 * $ohm, 2), 'resolution_v' => 0.01];
    $record['measurements'][] = [
        'id' => 'm2',
        'at' => '2026-05-04T10:00:00Z',
        'condition' => 'discharge',
        'current_a' => -8.0,
        'ambient_c' => 20,
        'instrument' => Bench::meter(),
        'readings' => $readings,
    ];
    expect(Bench::probability(Bench::verdict($record), 'path.connector') > 0.5)->toBe($bad);
})->with(['30 mohm' => [0.03, false], '60 mohm: cannot be told' => [0.06, false], '100 mohm' => [0.1, true]]);

it('takes groups for left empty alike when most lie together, and names the one that stands off', function (
    array $volts,
    bool $alike,
): void {
    expect(Bench::probability(Bench::verdict(Bench::record($volts)), 'pack.deep-discharged') > 0.5)->toBe($alike);
})->with([
    'all' => [[2.3, 2.31, 2.29, 2.3, 2.32], true],
    'three of five' => [[2.3, 2.31, 2.29, 3.6, 3.6], true],
    'half' => [[2.3, 2.31, 3.6, 3.6], false],
    'a quarter of a volt apart' => [[2.3, 2.3, 2.3, 2.3, 2.06], true],
    'two groups' => [[2.3, 2.31], true],
    'one group' => [[2.3], false],
    'over the board\'s cut' => [[2.82, 2.83, 2.82, 2.83], false],
    'under the floor' => [[1.48, 1.49, 1.48, 1.49], false],
]);

it('tells a board that feeds from one end: by the run, and surely by the plug', function (): void {
    $low = [3.6, 3.602, 3.601, 3.8, 3.801, 3.8, 3.802, 3.8, 3.801];
    $stored = Bench::verdict(Bench::record($low, [], ['symptoms' => ['stored-long']]));
    expect(Bench::probability($stored, 'bms.drain'))
        ->toBeGreaterThan(0.6)
        ->and(Bench::probability($stored, 'group.undercharged', ['group' => 1]))
        ->toBeLessThan(0.3);
    $record = Bench::record(array_fill(0, 9, 3.8));
    $sunk = [3.74, 3.741, 3.74, 3.8, 3.8, 3.8, 3.8, 3.8, 3.8];
    $record['measurements'][] = Bench::rest('in', $sunk, 'across', '2026-05-09T09:00:00Z');
    $record['events'] = [['at' => '2026-05-09T10:00:00Z', 'kind' => 'sense-unplugged']];
    foreach (['2026-05-09T11:00:00Z', '2026-05-14T11:00:00Z'] as $i => $at) {
        $record['measurements'][] = ['sense_connected' => false] + Bench::rest("out$i", $sunk, 'across', $at);
    }
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'bms.drain'))
        ->toBeGreaterThan(0.9)
        ->and(Bench::probability($v, 'bms.bleed-stuck'))
        ->toBe(0.0)
        ->and(Bench::probability($v, 'group.self-discharge'))
        ->toBeLessThan(0.2);
    // One group alone is its balance switch.
    foreach ([1, 2, 3] as $i) {
        $record['measurements'][$i]['readings'] = Bench::readings([3.74, 3.8, 3.8, 3.8, 3.8, 3.8, 3.8, 3.8, 3.8]);
    }
    $one = Bench::verdict($record);
    expect(Bench::probability($one, 'bms.bleed-stuck'))->toBeGreaterThan(0.9)->and(Bench::probability($one, 'bms.drain'))->toBe(0.0);
});

it('lets a complaint that groups do not bring about take their suspicion away', function (): void {
    $record = fn(array $symptoms): array => ['symptoms' => $symptoms] + Bench::record([3.8, 3.8, 3.775, 3.8, 3.8, 3.8]);
    $p = fn(array $symptoms): float => Bench::verdict($record($symptoms))->groups[2]['states']['group.ok'];
    expect($p(['cuts-out-when-bumped']))->toBeGreaterThan($p(['dies-early']));
});

it('believes that charge came in by the port only while the board would have let it in', function (float $amps, bool $refuted): void {
    $record = Bench::record(
        array_fill(0, 6, 3.8),
        ['bms' => ['charge_limit_a' => 8.0]],
        ['symptoms' => ['will-not-charge'], 'tests' => [['kind' => 'charger', 'open_v' => 25.2, 'loaded_v' => 25.1]]],
    );
    $record['measurements'][] = [
        'id' => 'm2',
        'at' => '2026-05-04T10:00:00Z',
        'condition' => 'charge',
        'current_a' => $amps,
        'readings' => Bench::readings(array_fill(0, 6, 3.86)),
    ];
    expect(Bench::probability(Bench::verdict($record), 'bms.charge-dead') < 0.2)->toBe($refuted);
})->with(['within its limit' => [9.5, true], 'over it: fed past the board' => [9.7, false]]);
