<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Reading\Drift;
use Heartwood\Core\Reading\LiveCheck;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Safety\SafetyState;
use Tests\Core\Bench;

// What the engine links: groups, joints, board, the pack as a whole, and what the readings themselves can be trusted for.

/**
 * @param  list<float>  $volts
 * @return array<string, mixed>
 */
function under5(string $id, float $amps, array $volts, string $at = '2026-05-04T10:00:00Z'): array
{
    return [
        'id' => $id,
        'at' => $at,
        'condition' => $amps < 0 ? 'discharge' : 'charge',
        'current_a' => $amps,
        'ambient_c' => 20,
        'instrument' => Bench::meter(),
        'readings' => Bench::readings($volts),
    ];
}

it('tells an empty pack, one left empty and one with a dead group apart, as the pack\'s own finding', function (): void {
    $empty = Bench::verdict(Bench::record([2.86, 2.87, 2.86, 2.85, 2.86, 2.87]));
    expect(Bench::probability($empty, 'pack.discharged'))
        ->toBeGreaterThan(0.6)
        ->and(Bench::actions($empty))
        ->toContain('charge-pack')
        ->and(Bench::actions($empty)[0])
        ->not->toBe('none');
    $left = Bench::verdict(Bench::record([2.4, 2.41, 2.39, 2.4, 2.42, 2.4]));
    expect(Bench::probability($left, 'pack.deep-discharged'))
        ->toBeGreaterThan(0.9)
        ->and(Bench::probability($left, 'group.deep-discharged'))
        ->toBeLessThan(0.1)
        ->and(Bench::actions($left))
        ->toContain('recover-group', 'recover-pack')
        ->and(array_unique(array_column($left->groups, 'state')))
        ->toBe(['group.deep-discharged'])
        ->and(array_map(fn($t): TestKind => $t->test, $left->nextTests))
        ->toContain(TestKind::RecoveryTrial);
    $one = Bench::verdict(Bench::record([2.4, 2.41, 0.2, 2.4, 2.42, 2.4]));
    expect(Bench::probability($one, 'group.dead', ['group' => 3]))
        ->toBeGreaterThan(0.8)
        ->and(Bench::actions($one))
        ->not->toContain('recover-pack')
        ->not->toContain('charge-pack');
    // Under the floor none is alike to be saved; half of a pack is not the pack.
    expect(Bench::probability(Bench::verdict(Bench::record([1.45, 1.45, 1.46, 1.45])), 'pack.deep-discharged'))
        ->toBe(0.0)
        ->and(Bench::probability(Bench::verdict(Bench::record([2.4, 2.4, 3.8, 3.8, 3.8, 3.8])), 'pack.deep-discharged'))
        ->toBe(0.0);
});

it('says aged at 79 % of the rated capacity and not at 81, mended under 60', function (
    float $share,
    float $least,
    float $most,
    ?string $severity,
): void {
    $v = Bench::verdict(
        Bench::record(
            array_fill(0, 8, 3.9),
            [],
            ['tests' => [['kind' => 'capacity', 'scope' => 'pack', 'measured_ah' => round(8.4 * $share, 3), 'started_full' => true]]],
        ),
    );
    expect(Bench::probability($v, 'pack.aged'))->toBeGreaterThanOrEqual($least)->toBeLessThanOrEqual($most);
    $found = array_values(array_filter($v->findings, fn($f): bool => $f->code === 'pack.aged'));
    expect($found === [] ? null : $found[0]->severity->value)->toBe($severity);
    expect($v->lacks)->not->toContain('no measured capacity');
})->with([
    '95 %' => [0.95, 0.0, 0.0, null],
    '86 %' => [0.86, 0.0, 0.1, null],
    '75 %' => [0.75, 0.6, 1.0, 'watch'],
    '61 %' => [0.61, 0.6, 1.0, 'watch'],
    '59 %' => [0.59, 0.6, 1.0, 'fix'],
]);

it('sees a group that holds less than a dozen that agree, and not among a few that do not', function (): void {
    $held = fn(array $ah): array => array_map(
        fn(int $k): array => ['kind' => 'capacity', 'scope' => ['group' => $k + 1], 'measured_ah' => $ah[$k], 'started_full' => true],
        array_keys($ah),
    );
    $agree = Bench::verdict(
        Bench::record(
            array_fill(0, 12, 3.9),
            ['parallel' => 1],
            ['tests' => $held([2.72, 2.71, 2.73, 2.72, 2.26, 2.72, 2.71, 2.73, 2.72, 2.72, 2.71, 2.72])],
        ),
    );
    expect(Bench::probability($agree, 'group.low-capacity', ['group' => 5]))->toBeGreaterThan(0.8);
    $few = Bench::verdict(Bench::record(array_fill(0, 12, 3.9), ['parallel' => 1], ['tests' => $held([2.72, 2.71, 2.64])]));
    expect(Bench::probability($few, 'group.low-capacity'))->toBeLessThan(0.35);
});

it('takes a drop across the joint itself for the fault, against its like and against the group', function (
    float $volts,
    ?float $like,
    bool $bad,
): void {
    $tests = [['kind' => 'continuity', 'element' => 'joint', 'where' => ['joint' => 2], 'drop_v' => $volts, 'current_a' => -20.0]];
    foreach ($like === null ? [] : [1, 3] as $tap) {
        $tests[] = ['kind' => 'continuity', 'element' => 'joint', 'where' => ['joint' => $tap], 'drop_v' => $like, 'current_a' => -20.0];
    }
    $v = Bench::verdict(
        Bench::record(
            array_fill(0, 4, 3.3),
            ['chemistry' => 'lfp', 'parallel' => 1, 'cell' => ['capacity_ah' => 100, 'resistance_mohm' => 0.8]],
            ['tests' => $tests],
        ),
    );
    expect(Bench::probability($v, 'joint.high-resistance', ['joint' => 2]) > 0.5)->toBe($bad);
})->with([
    'three times its like and more' => [0.017, 0.0015, true],
    'twice its like' => [0.003, 0.0015, false],
    'alone, over a quarter of its group' => [0.017, null, true],
    'alone, well under it' => [0.002, null, false],
]);

it('solves the drift of readings taken slowly under current before it looks for a joint', function (): void {
    // 0.3 mV a second and a weak joint at group 5, each 60 s apart; the first group read again at the end.
    $volts = [];
    foreach (range(0, 7) as $k) {
        $volts[] = [
            'from' => "T$k",
            'to' => 'T' . ($k + 1),
            'v' => round(3.72 - ($k === 4 ? 0.06 : 0.0) - 0.0003 * 60 * $k, 3),
            'at_s' => 60 * $k,
        ];
    }
    $volts[] = ['from' => 'T0', 'to' => 'T1', 'v' => round(3.72 - 0.0003 * 60 * 8, 3), 'at_s' => 480];
    $record = Bench::record(array_fill(0, 8, 3.8));
    $record['measurements'][] = [
        'id' => 'm2',
        'at' => '2026-05-04T10:00:00Z',
        'condition' => 'discharge',
        'current_a' => -5.0,
        'ambient_c' => 20,
        'instrument' => Bench::meter(),
        'readings' => $volts,
    ];
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'reading.inconsistent'))
        ->toBe(0.0)
        ->and(
            Bench::probability($v, 'joint.high-resistance', ['joint' => 4]) +
                Bench::probability($v, 'joint.high-resistance', ['joint' => 5]),
        )
        ->toBeGreaterThan(0.5)
        ->and(Bench::probability($v, 'joint.high-resistance', ['joint' => 8]))
        ->toBeLessThan(0.1);
});

it('finds a drift from a pair read twice, from many groups over time, and from nothing else', function (): void {
    $read = fn(array $rows): array => array_map(fn(array $r): Heartwood\Core\Reading\NetworkReading => Bench::reading(...$r), $rows);
    $twice = $read([[0, 1, 3.7], [1, 2, 3.69], [0, 1, 3.694]]);
    expect(Drift::of($twice, [0.0, 10.0, 20.0], []))
        ->toEqualWithDelta(-0.0003, 1e-9)
        ->and(Drift::of($twice, [0.0, 10.0, 19.0], []))
        ->toBe(0.0);
    $six = $read(array_map(fn(int $k): array => [$k, $k + 1, 3.7 - 0.01 * $k], range(0, 5)));
    $rest = array_fill(1, 6, 3.7);
    expect(Drift::of($six, [0.0, 30.0, 60.0, 90.0, 120.0, 150.0], $rest))
        ->toEqualWithDelta(-0.01 / 30, 1e-9)
        ->and(Drift::of($six, array_fill(0, 6, null), $rest))
        ->toBe(0.0)
        ->and(Drift::of(array_slice($six, 0, 5), [0.0, 30.0, 60.0, 90.0, 120.0], $rest))
        ->toBe(0.0);
    $still = Drift::without(-0.01 / 30, $six, [0.0, 30.0, 60.0, 90.0, 120.0, 150.0]);
    expect($still[5]->volts)->toEqualWithDelta(3.7, 1e-9);
});

it('descends into the odd half: one of its groups, and the reading that halves it again', function (): void {
    $record = Bench::record(array_fill(0, 14, 3.8));
    $record['measurements'][0]['readings'] = [
        ['from' => 'T0', 'to' => 'T7', 'v' => 26.6],
        ['from' => 'T7', 'to' => 'T14', 'v' => 22.85],
        ['from' => 'T0', 'to' => 'T14', 'v' => 49.45],
    ];
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'group.dead', ['group' => 9]))
        ->toEqualWithDelta(0.9 / 7, 0.01)
        ->and(Bench::probability($v, 'group.dead', ['group' => 3]))
        ->toBe(0.0)
        ->and($v->nextTests[0]->test)
        ->toBe(TestKind::HalfString)
        ->and($v->nextTests[0]->why)
        ->toContain('T7 to T10');
    $record['measurements'][0]['readings'] = [['from' => 'T0', 'to' => 'T7', 'v' => 26.6], ['from' => 'T7', 'to' => 'T14', 'v' => 26.58]];
    expect(Bench::probability(Bench::verdict($record), 'group.dead'))->toBe(0.0);
});

it('does not call a group that jumps on charge merely empty', function (): void {
    $record = Bench::record([3.7, 3.7, 2.47, 3.7, 3.7, 3.7]);
    $record['measurements'][] = under5('m2', 1.6, [3.73, 3.73, 4.21, 3.73, 3.73, 3.73]);
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'group.deep-discharged', ['group' => 3]))->toBeLessThan(0.35);
    $plain = Bench::verdict(Bench::record([3.7, 3.7, 2.47, 3.7, 3.7, 3.7]));
    expect(Bench::probability($plain, 'group.deep-discharged', ['group' => 3]))->toBeGreaterThan(0.5);
});

it('believes current that flowed over the word that it takes none, unless a supply may have fed it', function (
    float $amps,
    float $least,
    float $most,
): void {
    $record = Bench::record(
        array_fill(0, 8, 3.7),
        ['parallel' => 10],
        [
            'symptoms' => ['will-not-charge'],
            'tests' => [
                ['kind' => 'charger', 'open_v' => 33.6, 'loaded_v' => 33.4],
                ['kind' => 'sensor', 'ohm' => 10000, 'expected_ohm' => 10000],
            ],
        ],
    );
    $record['measurements'][] = under5('m2', $amps, array_fill(0, 8, 3.75));
    expect(Bench::probability(Bench::verdict($record), 'bms.charge-dead'))->toBeGreaterThanOrEqual($least)->toBeLessThanOrEqual($most);
})->with(['10 A came in by the port' => [10.0, 0.0, 0.1], '6.1 A' => [6.1, 0.0, 0.1], '5.9 A, a supply may have' => [5.9, 0.4, 1.0]]);

it('names an open fuse beside a dead group, and no board for a refusal that a low group explains', function (): void {
    $record = Bench::record(
        [3.8, 3.8, 0.1, 3.8, 3.8],
        [],
        ['symptoms' => ['dead-output'], 'tests' => [['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 5.0e6]]],
    );
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'path.fuse-open'))
        ->toBeGreaterThan(0.8)
        ->and(Bench::probability($v, 'group.dead', ['group' => 3]))
        ->toBeGreaterThan(0.8);
    $low = Bench::verdict(Bench::record([3.8, 3.8, 2.3, 3.8, 3.8], [], ['symptoms' => ['dead-output', 'will-not-charge']]));
    expect(Bench::probability($low, 'bms.output-dead'))
        ->toBeLessThan(0.1)
        ->and(Bench::probability($low, 'bms.charge-dead'))
        ->toBeLessThan(0.1)
        ->and(array_intersect(array_map(fn($t): string => $t->test->value, $low->nextTests), ['wake', 'charger-check', 'sensor']))
        ->toBe([]);
});

it('weighs what a connector loses in volts and in watts', function (float $drop, float $amps, bool $bad): void {
    $v = Bench::verdict(
        Bench::record(
            array_fill(0, 10, 3.8),
            [],
            ['tests' => [['kind' => 'continuity', 'element' => 'connector', 'drop_v' => $drop, 'current_a' => -$amps]]],
        ),
    );
    expect(Bench::probability($v, 'path.connector') > 0.5)->toBe($bad);
})->with([
    '43 W' => [1.7, 25.0, true],
    'just over 5 W' => [0.21, 25.0, true],
    'just under it' => [0.19, 25.0, false],
    '31 mohm' => [0.031, 1.0, true],
    '29 mohm' => [0.029, 1.0, false],
]);

it('compares what a device draws in watts with what board and cells can give', function (float $watts, bool $cells, bool $board): void {
    // 10 groups at a fifth of charge are 35.3 V; through 0.9: 1000 W are 31.5 A.
    $record = Bench::record(
        array_fill(0, 10, 3.8),
        [
            'parallel' => 3,
            'cell' => ['capacity_ah' => 2.8, 'resistance_mohm' => 40, 'max_continuous_a' => 10.0],
            'bms' => ['discharge_limit_a' => 29],
            'load' => ['power_w' => $watts],
        ],
        ['symptoms' => ['cuts-out-under-load']],
    );
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'load.exceeds-cells') > 0.5)
        ->toBe($cells)
        ->and(Bench::probability($v, 'bms.limit-too-low') > 0.5)
        ->toBe($board);
})->with(['940 W, 29.6 A' => [940.0, false, false], '970 W, 30.5 A' => [970.0, true, true], '1000 W' => [1000.0, true, true]]);

it('never calls a customer\'s word or a board\'s figure measured', function (): void {
    $told = Bench::verdict(
        Bench::record(array_fill(0, 8, 3.8), [], ['symptoms' => ['dead-output', 'cuts-out-when-bumped', 'stored-long', 'swelling']]),
    );
    $board = Bench::record(array_fill(0, 8, 3.8));
    $board['measurements'][0]['source'] = 'bms-report';
    $bases = [];
    foreach ([...$told->findings, ...Bench::verdict($board)->findings] as $f) {
        foreach ($f->evidence as $e) {
            $bases[$e->text] = $e->basis;
        }
    }
    expect($bases)
        ->not->toBe([])
        ->and(
            array_filter($bases, fn(string $b, string $t): bool => $b === 'measured' && !str_contains($t, 'bench'), ARRAY_FILTER_USE_BOTH),
        )
        ->toBe([]);
});

it('holds a pack that gets hot on charge, quarantines one that is hot or bulges, and reads null as not looked at', function (
    array $symptoms,
    array $inspection,
    string $state,
): void {
    $v = Bench::verdict(Bench::record(array_fill(0, 4, 3.8), [], ['symptoms' => $symptoms, 'inspection' => (object) $inspection]));
    expect($v->triage->state)->toBe(SafetyState::from($state));
})->with([
    'on charge' => [['hot-on-charge'], [], 'hold'],
    'in use' => [['hot-in-use'], [], 'clear'],
    'not said when' => [['hot'], [], 'quarantine'],
    'bulges 3 %' => [[], ['thickness_mm' => 10.3, 'drawn_thickness_mm' => 10.0], 'clear'],
    'bulges more' => [[], ['thickness_mm' => 10.31, 'drawn_thickness_mm' => 10.0], 'quarantine'],
    'nobody looked' => [[], ['swollen' => null, 'leaking' => null, 'thickness_mm' => 10.3, 'drawn_thickness_mm' => null], 'clear'],
]);

it('reads the record with all it may carry now, and never its truth', function (): void {
    $record = Bench::record(
        [3.8, 3.8, 3.6, 3.8],
        ['age_months' => 30, 'serial' => 'A1', 'build' => 'repair'],
        [
            'truth' => [['code' => 'group.dead', 'where' => ['group' => 1], 'seen_by' => 'opened']],
            'tests' => [
                [
                    'kind' => 'charger-trial',
                    'cycles' => [
                        [
                            'mode' => 'blue',
                            'selected_by' => 'itself',
                            'from' => 'half',
                            'hours' => 3.5,
                            'end_v' => null,
                            'stages' => ['cc'],
                            'board_cut' => null,
                        ],
                    ],
                ],
            ],
        ],
    );
    $record['measurements'][] = [
        'id' => 'm2',
        'condition' => 'rest',
        'source' => 'owner',
        'highest_v' => 3.81,
        'lowest_v' => 3.6,
        'readings' => [],
    ];
    $v = Bench::verdict($record);
    unset($record['truth']);
    expect(Bench::verdict($record)->findings)->toEqual($v->findings)->and(Bench::probability($v, 'group.dead'))->toBe(0.0);
});

it('ends a trial that fell within a minute: no second one is asked for', function (): void {
    $fell = [
        'kind' => 'recovery',
        'scope' => ['group' => 2],
        'current_a' => 0.4,
        'samples' => [['min' => 0, 'v' => 2.1, 'a' => 0.4], ['min' => 0.5, 'v' => 2.16, 'a' => 0.4], ['min' => 1, 'v' => 2.09, 'a' => 0.4]],
    ];
    $v = Bench::verdict(Bench::record([3.8, 2.1, 3.8, 3.8], [], ['tests' => [$fell]]));
    expect(array_map(fn($t): string => $t->test->value, $v->nextTests))
        ->not->toContain('recovery-trial')
        ->and(Bench::actions($v))
        ->not->toContain('recover-group')
        ->and(Bench::probability($v, 'group.dead', ['group' => 2]))
        ->toBeGreaterThan(0.6);
});

it('gives nothing to draw from a pack with a dead group or a dead way out, whatever else is mended', function (): void {
    $record = Bench::record(
        [3.84, 3.84, 0.1, 3.84, 3.6, 3.84],
        [],
        ['symptoms' => ['dead-output'], 'tests' => [['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 5.0e6]]],
    );
    foreach (Bench::verdict($record)->options as $o) {
        expect($o->usableAh)->toBeNull($o->action->value);
    }
    $ah = [];
    foreach (Bench::verdict(Bench::record([3.84, 3.84, 0.1, 3.84, 3.84, 3.84]))->options as $o) {
        $ah[$o->action->value] = $o->usableAh;
    }
    expect($ah['replace-group'])->toBeGreaterThan(8.0)->and($ah)->not->toHaveKey('none');
});

it('offers a new build its steps, and its fault when it has one', function (): void {
    $new = ['build' => 'new'];
    expect(Bench::actions(Bench::verdict(Bench::record(array_fill(0, 6, 3.6), $new))))
        ->toBe(['build'])
        ->and(Bench::actions(Bench::verdict(Bench::record([3.6, 3.6, 0.1, 3.6, 3.6, 3.6], $new))))
        ->toContain('replace-group')
        ->not->toContain('build');
});

it('tells neighbours alike as a run, from three on', function (array $dead, bool $run): void {
    $volts = array_fill(0, 12, 3.8);
    foreach ($dead as $k) {
        $volts[$k - 1] = 0.1;
    }
    $v = Bench::verdict(Bench::record($volts));
    $texts = array_merge(
        ...array_map(fn($f): array => $f->code === 'group.dead' ? array_map(fn($e): string => $e->text, $f->evidence) : [], $v->findings),
    );
    expect(array_filter($texts, fn(string $t): bool => str_contains($t, 'one of a run')) !== [])
        ->toBe($run)
        ->and(count(array_filter($v->findings, fn($f): bool => $f->code === 'group.dead')))
        ->toBe(count($dead));
})->with([
    'five in a row' => [[6, 7, 8, 9, 10], true],
    'three' => [[2, 3, 4], true],
    'two' => [[2, 3], false],
    'three apart' => [[2, 5, 9], false],
]);

it('names over-current for cut-outs that a reconnect ends while every group is sound', function (): void {
    $v = Bench::verdict(Bench::record(array_fill(0, 8, 3.8), [], ['symptoms' => ['cuts-out-until-reconnected']]));
    expect(Bench::probability($v, 'bms.limit-too-low'))
        ->toBeGreaterThan(0.2)
        ->and(Bench::probability($v, 'bms.trips-early'))
        ->toBeGreaterThan(0.2)
        ->and(array_map(fn($t): string => $t->test->value, $v->nextTests))
        ->toContain('full-discharge-watch');
    $low = Bench::verdict(Bench::record([3.8, 3.8, 2.6, 3.8], [], ['symptoms' => ['cuts-out-until-reconnected']]));
    expect(Bench::probability($low, 'bms.limit-too-low'))->toBe(0.0);
});

it('asks for a longer wait, or for a refill on phosphate, where a pair of readings does not decide', function (
    string $chemistry,
    float $volts,
    float $fell,
    string $test,
    bool $asked,
): void {
    $record = Bench::record(array_fill(0, 8, $volts), ['chemistry' => $chemistry, 'parallel' => 1]);
    $after = array_fill(0, 8, $volts);
    $after[3] -= $fell;
    $record['measurements'][] = Bench::rest('m2', $after, 'across', '2026-05-08T09:00:00Z');
    expect(in_array($test, array_map(fn($t): string => $t->test->value, Bench::verdict($record)->nextTests), true))->toBe($asked);
})->with([
    '8 mV in four days: 7 % a month and 5 of doubt' => ['nmc', 3.75, 0.008, 'rest-again', true],
    '2 mV: nothing' => ['nmc', 3.75, 0.002, 'rest-again', false],
    'on the plateau a refill' => ['lfp', 3.295, 0.008, 'refill', true],
]);

it('takes off a spread what the meter alone would make of so many equal groups', function (
    float $resolution,
    int $counts,
    string $class,
    bool $noisy,
): void {
    $volts = [3.81, 3.79, 3.8, 3.82, 3.8, 3.78, 3.8, 3.81, 3.79, 3.8, 3.82, 3.78];
    $readings = array_map(
        fn(int $i): Heartwood\Core\Reading\NetworkReading => new Heartwood\Core\Reading\NetworkReading(
            $i,
            $i + 1,
            $volts[$i],
            $resolution,
            ($counts * $resolution) / sqrt(3),
            'm',
            0.0005,
            "/$i",
        ),
        array_keys($volts),
    );
    $spread = Heartwood\Core\Reading\RestSpread::of(
        Heartwood\Core\Reading\ReadingNetwork::solve($readings, 12, 4.2),
        Heartwood\Core\Pack\Chemistry::Nmc,
    );
    expect($spread->class)
        ->toBe($class)
        ->and($spread->noiseV > 0.0)
        ->toBe($noisy)
        ->and($spread->spreadV)
        ->toEqualWithDelta(0.04, 1e-6);
})->with(['a coarse meter' => [0.01, 2, 'good', true], 'a fine one' => [0.001, 2, 'balance-soon', false]]);

it('knows the range that so many equal values show', function (int $n, float $range): void {
    expect(Heartwood\Core\Reading\RestSpread::expectedRange($n))->toEqualWithDelta($range, 0.02);
})->with([[2, 1.128], [4, 2.059], [6, 2.534], [10, 3.078], [12, 3.258], [20, 3.735], [500, 5.492]]);

/**
 * A history of rests a day apart, the groups charged after the first and before the last: what tells lies between.
 *
 * @return array<string, mixed>
 */
function history(int $rests): array
{
    $day = fn(float $n): string => gmdate('Y-m-d\TH:i:s\Z', (int) (strtotime('2025-01-01T10:00:00Z') + $n * 86400));
    $sets = array_map(
        fn(int $i): array => Bench::rest(
            "d$i",
            array_map(fn(int $k): float => 3.8 - ($k === 2 ? 0.002 * $i : 0.0), range(1, 6)),
            at: $day($i),
        ),
        range(0, $rests - 1),
    );

    return Bench::record(
        array_fill(0, 6, 3.8),
        [],
        [
            'measurements' => $sets,
            'events' => [['kind' => 'balanced', 'at' => $day(0.5)], ['kind' => 'balanced', 'at' => $day($rests - 1.5)]],
        ],
    );
}

it('compares each rest with each of forty, and of a longer history the ends of its longest stretches', function (
    int $rests,
    int $days,
): void {
    $evidence = new PackEvidence(JobRecord::fromArray(history($rests)));
    expect(round($evidence->leakDays, 6))
        ->toBe((float) $days)
        ->and($evidence->groups[1]->leakPerDay)
        ->toBeGreaterThan(0.001)
        ->and(abs($evidence->groups[4]->leakPerDay))
        ->toBeLessThan(0.0005);
})->with(['thirty-nine' => [39, 36], 'forty' => [40, 37], 'one more: the last but one is left out' => [41, 37]]);

it('gives the same of a history of hundreds as of its ends', function (): void {
    $long = history(300);
    $long['events'] = [];
    $ends = ['measurements' => [$long['measurements'][0], $long['measurements'][299]]] + $long;
    $leak = fn(array $record): float => round((new PackEvidence(JobRecord::fromArray($record)))->groups[1]->leakPerDay, 9);
    expect($leak($long))->toBe($leak($ends));
});

it('says of every set what it gives by itself, as it said while the set was taken', function (): void {
    $sets = [
        Bench::rest('a', [3.8, 3.81, 3.7, 3.8], at: '2026-01-01T10:00:00Z'),
        Bench::rest('half an hour on', [3.8, 3.81, 3.75, 3.8], at: '2026-01-01T10:30:00Z'),
        Bench::rest('next day', [3.79, 3.8, 3.69, 3.79], at: '2026-01-02T10:00:00Z'),
        ['condition' => 'charge', 'current_a' => 1.0] + Bench::rest('charging', [4.2, 4.21, 4.45, 4.2], at: '2026-01-02T11:00:00Z'),
        ['readings' => []] + Bench::rest('nothing yet', [], at: '2026-01-02T12:00:00Z'),
    ];
    $record = JobRecord::fromArray(Bench::record([3.8, 3.8, 3.8, 3.8], [], ['measurements' => $sets]));
    $shown = (new PackEvidence($record))->bySet();
    expect(array_keys($shown))->toBe(array_column($sets, 'id'));
    foreach ($record->measurements as $m) {
        expect($shown[$m->id]['volts'])->toBe(array_column(LiveCheck::of($record->only($m))['groups'], 'v'));
    }
    expect($shown['a']['volts'][2])
        ->toBe(3.7)
        ->and($shown['half an hour on']['volts'][2])
        ->toBe(3.75)
        ->and($shown['nothing yet']['volts'])
        ->toBe([null, null, null, null]);
});

it('lets a group stand three tenths of a volt higher while current flows before it calls a reading impossible', function (
    float $amps,
    float $v,
    bool $asked,
): void {
    $set = ['condition' => $amps > 0 ? 'charge' : 'rest', 'current_a' => $amps] + Bench::rest('m1', [4.1, 4.1, $v, 4.1]);
    $kinds = array_column(
        LiveCheck::of(JobRecord::fromArray(Bench::record([4.1, 4.1, 4.1, 4.1], [], ['measurements' => [$set]])))['questions'],
        'kind',
    );
    expect(in_array('impossible', $kinds, true))->toBe($asked);
})->with([
    'at rest, under' => [0.0, 5.24, false],
    'at rest, over' => [0.0, 5.26, true],
    'charging, under' => [1.0, 5.61, false],
    'charging, over' => [1.0, 5.64, true],
]);
