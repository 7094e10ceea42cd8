<?php

declare(strict_types=1);

use Tests\Core\Bench;

// Board, path, sensing, charger and load: what speaks for which.

/**
 * @param  list<array<string, mixed>>  $tests
 * @param  list<string>  $symptoms
 * @return array<string, mixed>
 */
function boardCase(
    array $tests = [],
    array $symptoms = [],
    ?float $output = null,
    array $volts = [3.8, 3.801, 3.8, 3.799],
    array $pack = [],
): array {
    $record = Bench::record($volts, $pack, ['tests' => $tests, 'symptoms' => $symptoms]);
    if ($output !== null) {
        $record['measurements'][0]['readings'][] = ['from' => 'P-', 'to' => 'P+', 'v' => $output];
    }

    return $record;
}

$good = [
    ['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 0.01],
    ['kind' => 'continuity', 'element' => 'switch', 'ohm' => 0.02],
    ['kind' => 'continuity', 'element' => 'connector', 'ohm' => 0.01],
];
$asleep = array_map(fn(string $a): array => ['kind' => 'wake', 'action' => $a, 'woke' => false], [
    'charger-pulse',
    'button',
    'reconnect',
    'enable-wire',
]);

it('blames board or path only for a dead output, and which by what was tried', function (
    array $tests,
    array $symptoms,
    string $code,
    float $least,
) use ($good, $asleep): void {
    $tests = array_merge(
        ...array_map(
            fn(mixed $t): array => match ($t) {
                'good' => $good,
                'asleep' => $asleep,
                default => [$t],
            },
            $tests ?: [[]],
        ),
    );
    $v = Bench::verdict(boardCase(array_values(array_filter($tests)), $symptoms, 0.2));
    expect(Bench::probability($v, $code))->toBeGreaterThan($least);
})->with([
    'wakes with the charger' => [
        ['good', ['kind' => 'wake', 'action' => 'charger-pulse', 'woke' => true]],
        ['dead-output'],
        'bms.latched',
        0.4,
    ],
    'fuse by ohms' => [[['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 1e6]], ['dead-output'], 'path.fuse-open', 0.8],
    'fuse by its drop under a load' => [
        [['kind' => 'continuity', 'element' => 'fuse', 'drop_v' => 15.1, 'current_a' => -0.01]],
        ['dead-output'],
        'path.fuse-open',
        0.8,
    ],
    'switch by ohms' => [[['kind' => 'continuity', 'element' => 'switch', 'ohm' => 1e6]], ['dead-output'], 'path.switch-or-enable', 0.7],
    'connector by ohms' => [[['kind' => 'continuity', 'element' => 'connector', 'ohm' => 900.0]], ['dead-output'], 'path.connector', 0.7],
    'moved and it changes' => [[['kind' => 'flex', 'changed' => true]], ['dead-output', 'cuts-out-when-bumped'], 'path.intermittent', 0.8],
    'sensor far off' => [[['kind' => 'sensor', 'ohm' => 1e6, 'expected_ohm' => 1e4]], ['dead-output'], 'sensor.temperature', 0.6],
    'path good and nothing wakes it' => [
        ['good', 'asleep', ['kind' => 'flex', 'changed' => false], ['kind' => 'sensor', 'ohm' => 1e4, 'expected_ohm' => 1e4]],
        ['dead-output'],
        'bms.output-dead',
        0.75,
    ],
    'enable wire tied and it lives' => [
        ['good', ['kind' => 'wake', 'action' => 'enable-wire', 'woke' => true]],
        ['dead-output'],
        'bms.latched',
        0.2,
    ],
]);

it('takes an unloaded fuse with no drop for no evidence', function (): void {
    $with = Bench::verdict(boardCase([['kind' => 'continuity', 'element' => 'fuse', 'drop_v' => 0.0]], ['dead-output'], 0.2));
    $without = Bench::verdict(boardCase([], ['dead-output'], 0.2));
    expect(Bench::probability($with, 'path.fuse-open'))->toEqualWithDelta(Bench::probability($without, 'path.fuse-open'), 1e-9);
});

it('says nothing of board and path while the output lives', function () use ($asleep): void {
    $v = Bench::verdict(boardCase($asleep, [], 15.2));
    foreach (['bms.latched', 'bms.asleep', 'bms.output-dead', 'path.fuse-open', 'path.switch-or-enable', 'reading.phantom'] as $code) {
        expect(Bench::probability($v, $code))->toBe(0.0);
    }
});

it('keeps a tripped board explained until every group is past its release', function (float $low, float $least, float $most): void {
    $v = Bench::verdict(boardCase([], ['dead-output'], 0.2, [3.8, 3.8, $low, 3.8]));
    expect(Bench::probability($v, 'bms.protecting'))->toBeGreaterThanOrEqual($least)->toBeLessThanOrEqual($most);
})->with([[2.5, 0.9, 1.0], [3.0, 0.9, 1.0], [3.2, 0.0, 0.1]]);

it('takes a low-impedance reading that collapses for proof that the voltage only floats', function (): void {
    $record = boardCase([], ['dead-output'], 6.2);
    $floats = Bench::probability(Bench::verdict($record), 'reading.phantom');
    $record['measurements'][] = [
        'id' => 'low',
        'at' => '2026-05-04T09:05:00Z',
        'condition' => 'rest',
        'instrument' => ['id' => 'l', 'input' => 'low', 'percent' => 1],
        'readings' => [['from' => 'P-', 'to' => 'P+', 'v' => 0.01]],
    ];
    expect(Bench::probability(Bench::verdict($record), 'reading.phantom'))->toBeGreaterThan(max(0.9, $floats));
});

it('finds in the charger what the charger does wrong', function (array $test, array $charger, string $code, float $least): void {
    $v = Bench::verdict(
        boardCase(
            $test === [] ? [] : [['kind' => 'charger'] + $test],
            [],
            null,
            [3.8, 3.8, 3.8, 3.8],
            $charger === [] ? [] : ['charger' => $charger],
        ),
    );
    expect(Bench::probability($v, $code))->toBeGreaterThan($least);
})->with([
    'too high' => [['open_v' => 17.4], [], 'charger.wrong-voltage', 0.9],
    'too low' => [['open_v' => 15.0], [], 'charger.wrong-voltage', 0.9],
    'plate too high' => [[], ['cv_v' => 21.0], 'charger.wrong-voltage', 0.8],
    'dead under load' => [['open_v' => 16.8, 'loaded_v' => 0.4], [], 'charger.dead', 0.9],
    'equalises' => [['open_v' => 16.8, 'stages' => ['cc', 'cv', 'equalise']], [], 'charger.wrong-profile', 0.9],
    'for lead' => [[], ['profile' => 'lead-acid'], 'charger.wrong-profile', 0.9],
    'for phosphate' => [[], ['profile' => 'lfp'], 'charger.wrong-profile', 0.8],
]);

it('leaves a right charger alone', function (float $volts): void {
    $v = Bench::verdict(boardCase([['kind' => 'charger', 'open_v' => $volts, 'loaded_v' => $volts - 0.1, 'stages' => ['cc', 'cv']]]));
    expect(array_filter($v->findings, fn($f) => str_starts_with($f->code, 'charger.')))->toBe([]);
})->with([16.6, 16.8, 16.9]);

it('finds load, gauge and label by their own tests', function (array $record, string $code): void {
    expect(Bench::probability(Bench::verdict($record), $code))->toBeGreaterThan(0.7);
})->with([
    'shorted harness' => [fn() => boardCase([['kind' => 'load-check', 'harness_ohm' => 0.001, 'device_ok' => false]]), 'load.shorted'],
    'open harness' => [fn() => boardCase([['kind' => 'load-check', 'harness_ohm' => 5e4, 'device_ok' => false]]), 'load.wiring'],
    'dead device' => [fn() => boardCase([['kind' => 'load-check', 'harness_ohm' => 0.03, 'device_ok' => false]]), 'load.dead'],
    'greedy device' => [
        fn() => boardCase(
            [],
            [],
            null,
            [3.8, 3.8, 3.8, 3.8],
            ['load' => ['controller_limit_a' => 60], 'cell' => ['capacity_ah' => 2.5, 'max_continuous_a' => 7]],
        ),
        'load.exceeds-cells',
    ],
    'stale gauge' => [
        fn() => boardCase([['kind' => 'gauge', 'full_charge_wh' => 20], ['kind' => 'capacity', 'scope' => 'pack', 'measured_ah' => 4.0]]),
        'gauge.stale',
    ],
    'label' => [
        fn() => boardCase(
            [],
            [],
            null,
            [3.8, 3.8, 3.8, 3.8],
            ['label' => ['nominal_v' => 14.4, 'capacity_ah' => 5.0, 'energy_wh' => 120.0]],
        ),
        'label.inconsistent',
    ],
]);

it('calls a leak the board\'s when it stops with the sense plug out, and the cell\'s when it does not', function (
    float $out,
    string $code,
): void {
    $record = Bench::record([3.86, 3.861, 3.8, 3.859, 3.86]);
    $record['measurements'][] = Bench::rest('m2', [3.859, 3.86, 3.74, 3.858, 3.859], at: '2026-05-08T09:00:00Z');
    $record['measurements'][] =
        ['sense_connected' => false] + Bench::rest('m3', [3.859, 3.86, 3.74, 3.858, 3.859], at: '2026-05-08T14:00:00Z');
    $record['measurements'][] =
        ['sense_connected' => false] + Bench::rest('m4', [3.858, 3.859, $out, 3.857, 3.858], at: '2026-05-12T14:00:00Z');
    $v = Bench::verdict($record);
    expect(Bench::probability($v, $code))
        ->toBeGreaterThan(0.7)
        ->and(Bench::probability($v, $code === 'bms.bleed-stuck' ? 'group.self-discharge' : 'bms.bleed-stuck'))
        ->toBeLessThan(0.2);
})->with([[3.739, 'bms.bleed-stuck'], [3.68, 'group.self-discharge']]);

it('does not count what was charged in between as healing or leaking', function (): void {
    $record = Bench::record(
        [3.86, 3.861, 3.62, 3.86],
        [],
        ['events' => [['at' => '2026-05-05T00:00:00Z', 'kind' => 'group-charged', 'where' => ['group' => 3]]]],
    );
    $record['measurements'][] = Bench::rest('m2', [3.86, 3.861, 3.86, 3.86], at: '2026-05-05T09:00:00Z');
    expect(Bench::probability(Bench::verdict($record), 'group.self-discharge'))->toBeLessThan(0.2);
    $record['measurements'][] = Bench::rest('m3', [3.86, 3.861, 3.7, 3.86], at: '2026-05-09T09:00:00Z');
    expect(Bench::probability(Bench::verdict($record), 'group.self-discharge', ['group' => 3]))->toBeGreaterThan(0.9);
});

it('reads the wrong plug as a stop and a missing pin as its lead', function (array $pins, string $code): void {
    $v = Bench::verdict(boardCase([['kind' => 'pin-check', 'pins_v' => $pins]]));
    expect(Bench::probability($v, $code))->toBeGreaterThan(0.8);
})->with([
    [[0, 3.8, 11.4, 7.6, 15.2], 'sense.shifted'],
    [[15.2, 11.4, 7.6, 3.8, 0], 'sense.shifted'],
    [[0, 3.8, null, 11.4, 15.2], 'sense.open'],
]);

it(
    'passes a right plug',
    fn() => expect(
        Bench::probability(Bench::verdict(boardCase([['kind' => 'pin-check', 'pins_v' => [0, 3.8, 7.6, 11.4, 15.2]]])), 'sense.shifted'),
    )->toBe(0.0),
);

it('holds a plug against the groups as they stood when it was read: a charge since moves every pin', function (): void {
    $at = fn(array $pins, string $when): float => Bench::probability(
        Bench::verdict(
            [
                'measurements' => [
                    Bench::rest('m1', [3.8, 3.8, 3.8, 3.8], at: '2026-05-04T09:00:00Z'),
                    Bench::rest('m2', [4.19, 4.19, 4.19, 4.19], at: '2026-05-05T09:00:00Z'),
                ],
            ] + boardCase([['kind' => 'pin-check', 'at' => $when, 'pins_v' => $pins]]),
        ),
        'sense.shifted',
    );
    $before = [0, 3.8, 7.6, 11.4, 15.2];
    expect($at($before, '2026-05-04T09:20:00Z'))->toBe(0.0);
    // Read after the charge these would be wrong, and leads that were exchanged are wrong then as ever.
    expect($at($before, '2026-05-05T09:20:00Z'))->toBeGreaterThan(0.9);
    expect($at([0, 7.6, 3.8, 11.4, 15.2], '2026-05-04T09:20:00Z'))->toBeGreaterThan(0.9);
    expect($at([0, 4.19, 8.38, 12.57, 16.76], '2026-05-05T09:20:00Z'))->toBe(0.0);
});

it('stops for what eyes and hand find, whatever the meter says', function (array $inspection, string $code): void {
    $v = Bench::verdict(['inspection' => $inspection] + boardCase());
    expect($v->findings[0]->code)
        ->toBe($code)
        ->and($v->findings[0]->severity->value)
        ->toBe('stop')
        ->and($v->triage->state->value)
        ->toBe('quarantine');
})->with([
    [['swollen' => true], 'cell.swollen'],
    [['leaking' => true], 'cell.leaking'],
    [['venting' => true], 'cell.leaking'],
    [['warm_at_rest' => true], 'cell.hot'],
]);

it('compares two groups by the fuller one and one group by nothing', function (): void {
    $two = Bench::verdict(Bench::record([3.85, 3.55]));
    expect(Bench::probability($two, 'group.overcharged'))
        ->toBeLessThan(0.1)
        ->and(Bench::probability($two, 'group.undercharged', ['group' => 2]))
        ->toBeGreaterThan(0.4);
    expect(Bench::verdict(Bench::record([3.3]))->findings)->toBe([]);
});

it('says what a record lacks', function (): void {
    $v = Bench::verdict(Bench::record([3.8, 3.8, 3.8], [], [], 'cumulative'));
    expect(implode('; ', $v->lacks))
        ->toContain('slip cannot be told')
        ->toContain('under load')
        ->toContain('leak')
        ->toContain('output')
        ->toContain('capacity');
    $relaxing = Bench::record([3.8, 3.8, 3.8]);
    $relaxing['measurements'][0]['rested_min'] = 5;
    expect(implode('; ', Bench::verdict($relaxing)->lacks))->toContain('before 30 minutes');
});
