<?php

declare(strict_types=1);

use App\Contract\RecordReader;
use App\Contract\SchemaCheck;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Record\Canonical;
use Heartwood\Core\Record\InvalidRecord;
use Tests\Core\Bench;
use Tests\Core\CaseJudge;

dataset(
    'worked cases',
    fn() => array_combine(
        array_map(fn(string $f) => basename($f, '.json'), glob(__DIR__ . '/cases/*.json')),
        array_map(fn(string $f) => [$f], glob(__DIR__ . '/cases/*.json')),
    ),
);

it('is right on the worked case', function (string $file): void {
    $case = json_decode((string) file_get_contents($file), true);
    $verdict = Bench::verdict($case['job']);
    expect(CaseJudge::complaints($verdict->toArray(), $case['expect']))->toBe([]);
    expect(SchemaCheck::problems(json_decode((string) json_encode($verdict->toArray())), 'verdict.schema.json'))->toBe([]);
})->with('worked cases');

it('finds nothing in a healthy pack', function (): void {
    $v = Bench::verdict(Bench::record([3.82, 3.818, 3.821, 3.819, 3.82, 3.822]));
    expect(array_filter($v->findings, fn($f) => $f->probability > 0.35))->toBe([])->and($v->groups[0]['state'])->toBe('group.ok');
});

it('sums the states of every group to one', function (): void {
    $v = Bench::verdict(Bench::record([3.82, 3.61, 0.2, 2.1, 3.82, -0.4]));
    foreach ($v->groups as $g) {
        expect(array_sum($g['states']))->toEqualWithDelta(1.0, 0.002);
    }
});

it('calls a low group undercharged and offers to top it', function (): void {
    $v = Bench::verdict(Bench::record([3.86, 3.861, 3.69, 3.859, 3.86]));
    expect($v->findings[0]->code)
        ->toBe('group.undercharged')
        ->and($v->findings[0]->place->number)
        ->toBe(3)
        ->and(Bench::actions($v))
        ->toContain('charge-group');
});

it('tells a dead group and never offers to revive it', function (float $volts): void {
    $v = Bench::verdict(Bench::record([3.86, 3.861, $volts, 3.859]));
    expect(Bench::probability($v, 'group.dead', ['group' => 3]))
        ->toBeGreaterThan(0.8)
        ->and(Bench::actions($v))
        ->toContain('replace-group')
        ->not->toContain('recover-group')
        ->not->toContain('balance')
        ->not->toContain('charge-group')
        ->not->toContain('none');
})->with([0.0, 0.3, 1.2]);

it('tells a deep-discharged group from a dead one and offers both schools', function (): void {
    $v = Bench::verdict(Bench::record([3.86, 3.861, 2.2, 3.859]));
    expect(Bench::probability($v, 'group.deep-discharged', ['group' => 3]))
        ->toBeGreaterThan(0.6)
        ->and(Bench::actions($v))
        ->toContain('recover-group')
        ->toContain('replace-group')
        ->not->toContain('balance');
});

it('takes recovery back once the group hangs under current', function (): void {
    $samples = array_map(fn(int $m) => ['min' => $m, 'v' => 2.21, 'a' => 0.4, 'c' => 21], range(0, 14, 2));
    $v = Bench::verdict(
        Bench::record(
            [3.86, 3.861, 2.2, 3.859],
            [],
            ['tests' => [['kind' => 'recovery', 'scope' => ['group' => 3], 'current_a' => 0.4, 'samples' => $samples]]],
        ),
    );
    expect(Bench::actions($v))
        ->not->toContain('recover-group')
        ->and(Bench::probability($v, 'group.dead', ['group' => 3]))
        ->toBeGreaterThan(0.3);
});

it('calls a board that switched off because of a group a board doing its job', function (): void {
    $record = Bench::record([3.86, 3.861, 2.2, 3.859], [], ['symptoms' => ['dead-output']]);
    $record['measurements'][0]['readings'][] = ['from' => 'P-', 'to' => 'P+', 'v' => 0.4];
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'bms.protecting'))
        ->toBeGreaterThan(0.9)
        ->and(Bench::probability($v, 'bms.output-dead'))
        ->toBeLessThan(0.1)
        ->and(Bench::probability($v, 'reading.phantom'))
        ->toBeGreaterThan(0.5);
});

it('suspects path and board only when every group is fine', function (): void {
    $record = Bench::record([3.86, 3.861, 3.862, 3.859], [], ['symptoms' => ['dead-output']]);
    $record['measurements'][0]['readings'][] = ['from' => 'P-', 'to' => 'P+', 'v' => 0.1];
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'bms.protecting'))
        ->toBeLessThan(0.1)
        ->and(array_map(fn($t) => $t->test->value, $v->nextTests))
        ->toContain('wake', 'continuity');
});

it('gives no group as dead from the same value twice without a reading across it', function (): void {
    $v = Bench::verdict(Bench::record([3.8, 3.8, 0.0, 3.8, 3.8], [], [], 'cumulative'));
    expect(Bench::probability($v, 'group.dead', ['group' => 3]))
        ->toBeLessThan(0.75)
        ->and(Bench::probability($v, 'reading.inconsistent'))
        ->toBeGreaterThanOrEqual(0.5)
        ->and($v->nextTests[0]->test->value)
        ->toBe('group-reading')
        ->and($v->nextTests[0]->place->number)
        ->toBe(3);
});

it('names the reading of a probe that did not move', function (): void {
    $record = Bench::record([3.8, 3.8, 3.8, 3.8, 3.8], [], [], 'cumulative');
    $record['measurements'][0]['readings'][2]['v'] = $record['measurements'][0]['readings'][1]['v'];
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'reading.inconsistent', ['tap' => 3]))
        ->toBeGreaterThan(0.9)
        ->and(Bench::probability($v, 'group.dead'))
        ->toBeLessThan(0.3);
});

it('asks for more when the evidence cannot decide', function (): void {
    $v = Bench::verdict(['format' => 'heartwood.job', 'version' => 1, 'pack' => ['chemistry' => 'nmc', 'series' => 6]]);
    expect($v->findings)
        ->toBe([])
        ->and($v->nextTests[0]->test->value)
        ->toBe('rest-taps')
        ->and($v->window)
        ->toBeNull()
        ->and($v->lacks)
        ->toContain('no rest voltages');
});

it('keeps one lost cell and plain ageing at even odds until a weld is tugged', function (): void {
    $groups = [3.9, 3.9, 3.9, 3.9, 3.9];
    $tests = array_map(
        fn(int $k) => ['kind' => 'capacity', 'scope' => ['group' => $k], 'measured_ah' => $k === 2 ? 6.7 : 8.4, 'started_full' => true],
        range(1, 5),
    );
    $pack = ['parallel' => 5, 'cell' => ['capacity_ah' => 1.68, 'resistance_mohm' => 50]];
    $v = Bench::verdict(Bench::record($groups, $pack, ['tests' => $tests]));
    expect(Bench::probability($v, 'group.missing-cell', ['group' => 2]))->toBeGreaterThan(0.2)->toBeLessThanOrEqual(0.51);
    $tugged = Bench::verdict(
        Bench::record($groups, $pack, ['tests' => [...$tests, ['kind' => 'tug-weld', 'where' => ['group' => 2], 'loose' => true]]]),
    );
    expect(Bench::probability($tugged, 'group.missing-cell', ['group' => 2]))->toBeGreaterThan(0.85);
});

it('warns of a charger over the pack\'s full voltage as a stop', function (): void {
    $v = Bench::verdict(Bench::record([3.86, 3.86, 3.86], [], ['tests' => [['kind' => 'charger', 'open_v' => 13.1]]]));
    expect($v->findings[0]->code)
        ->toBe('charger.wrong-voltage')
        ->and($v->findings[0]->severity->value)
        ->toBe('stop');
    $right = Bench::verdict(Bench::record([3.86, 3.86, 3.86], [], ['tests' => [['kind' => 'charger', 'open_v' => 12.62]]]));
    expect(Bench::probability($right, 'charger.wrong-voltage'))->toBe(0.0);
});

it('accepts a phosphate charger between 3.45 and 3.65 V a cell', function (float $volts, bool $right): void {
    $v = Bench::verdict(
        Bench::record([3.3, 3.3, 3.3, 3.3], ['chemistry' => 'lfp'], ['tests' => [['kind' => 'charger', 'open_v' => $volts]]]),
    );
    expect(Bench::probability($v, 'charger.wrong-voltage') < 0.2)->toBe($right);
})->with([[14.0, true], [14.6, true], [16.8, false], [12.6, false]]);

it('lists nothing but quarantine for a swollen pack and asks for no test', function (): void {
    $v = Bench::verdict(Bench::record([3.86, 3.7, 3.86], [], ['inspection' => ['swollen' => true]]));
    expect(Bench::actions($v))
        ->toBe(['quarantine', 'recycle'])
        ->and($v->nextTests)
        ->toBe([])
        ->and($v->findings[0]->code)
        ->toBe('cell.swollen');
});

it('offers no work on a pack on hold', function (): void {
    $v = Bench::verdict(Bench::record([3.86, 3.7, 3.86], [], ['symptoms' => ['dropped']]));
    expect(Bench::actions($v))
        ->toBe(['none', 'recycle'])
        ->and(array_filter($v->nextTests, fn($t) => $t->test->invasiveness() > 1))
        ->toBe([]);
});

it('asks for no current through a pack with a group outside its limits', function (): void {
    $v = Bench::verdict(Bench::record([3.86, 3.86, 2.4, 3.86]));
    expect(array_map(fn($t) => $t->test->value, $v->nextTests))->not->toContain('load-step')->not->toContain('charge-step');
});

it('lets the window be set by the fullest and the emptiest group', function (): void {
    $v = Bench::verdict(Bench::record([4.05, 3.7, 3.5], ['cell' => ['capacity_ah' => 3.0], 'parallel' => 2]));
    expect($v->window->firstFull)
        ->toBe(1)
        ->and($v->window->firstEmpty)
        ->toBe(3)
        ->and($v->window->chargeAh + $v->window->dischargeAh)
        ->toBeLessThan(6.0);
});

it('reverses with the pack end for end', function (): void {
    $volts = [3.86, 3.861, 3.7, 2.3, 3.859, 3.858];
    $a = Bench::verdict(Bench::record($volts));
    $b = Bench::verdict(Bench::record(array_reverse($volts)));
    foreach ($a->groups as $i => $g) {
        $mirror = $b->groups[count($volts) - 1 - $i];
        expect($mirror['state'])->toBe($g['state'])->and($mirror['probability'])->toEqualWithDelta($g['probability'], 0.03);
    }
});

it('does not depend on the order in which a set was read', function (): void {
    $record = Bench::record([3.86, 3.861, 3.7, 3.86, 3.859]);
    $shuffled = $record;
    $shuffled['measurements'][0]['readings'] = array_reverse($record['measurements'][0]['readings']);
    expect(Bench::verdict($shuffled)->groups)->toEqual(Bench::verdict($record)->groups);
});

it('grows no less sure when the reading it expects comes in again', function (): void {
    $volts = [3.86, 3.861, 3.62, 3.86, 3.859];
    $once = Bench::record($volts);
    $twice = $once;
    $twice['measurements'][0]['readings'] = [...$once['measurements'][0]['readings'], ...Bench::readings($volts)];
    expect(Bench::probability(Bench::verdict($twice), 'group.undercharged', ['group' => 3]))->toBeGreaterThanOrEqual(
        Bench::probability(Bench::verdict($once), 'group.undercharged', ['group' => 3]) - 0.005,
    );
});

it('uses the evidence of the current revision only', function (): void {
    $record = Bench::record([3.86, 0.1, 3.86, 3.86]);
    $record['revision'] = 2;
    $record['measurements'][] = ['revision' => 2] + Bench::rest('m2', [3.86, 3.86, 3.86, 3.86], at: '2026-05-09T09:00:00Z');
    expect(Bench::probability(Bench::verdict($record), 'group.dead'))->toBe(0.0);
});

it('hashes what was meant, not how it was spelled', function (): void {
    $a = Canonical::hash(['b' => 1.0, 'a' => [1, 2.5]]);
    expect($a)->toBe(Canonical::hash(['a' => [1, 2.5], 'b' => 1]))->not->toBe(Canonical::hash(['a' => [2.5, 1], 'b' => 1]));
});

it('names the field of a record that cannot be read', function (array $change, string $pointer): void {
    try {
        RecordReader::read((string) json_encode(array_replace_recursive(Bench::record([3.8, 3.8, 3.8]), $change)));
        $this->fail('accepted');
    } catch (InvalidRecord $e) {
        expect(array_column($e->problems, 'pointer'))->toContain($pointer);
    }
})->with([
    [['pack' => ['series' => 0]], '/pack/series'],
    [['pack' => ['chemistry' => 'zinc']], '/pack/chemistry'],
    [['pack' => ['colour' => 'green']], '/pack/colour'],
    [['pack' => ['blocks' => [1, 1]]], '/pack/blocks'],
    [['measurements' => [['readings' => [['to' => 'T9']]]]], '/measurements/0/readings/0/to'],
    [['measurements' => [['readings' => [['from' => 'T1', 'to' => 'T1']]]]], '/measurements/0/readings/0/to'],
    [['measurements' => [['readings' => [['v' => 'high']]]]], '/measurements/0/readings/0/v'],
    [['measurements' => [['at' => 'yesterday']]], '/measurements/0/at'],
    [['tests' => [['kind' => 'tug-weld', 'where' => ['group' => 7], 'loose' => true]]], '/tests/0/where/group'],
    [['tests' => [['kind' => 'tug-weld']]], '/tests/0/loose'],
    [['version' => 2], '/version'],
]);

it('never crashes on 2,000 mutated records and always answers in shape', function (): void {
    mt_srand(20260504);
    $bases = array_map(fn(string $f) => json_decode((string) file_get_contents($f), true)['job'], glob(__DIR__ . '/cases/*.json'));
    $bases[] = Bench::record([3.8, 3.8, 0.0, 3.8], [], ['inspection' => ['wet' => true]], 'cumulative');
    $verdicts = $refused = 0;
    for ($n = 0; $n < 2000; $n++) {
        $record = $bases[$n % count($bases)];
        for ($i = mt_rand(1, 3); $i > 0; $i--) {
            $record = Tests\Core\Mutation::of($record);
        }
        try {
            $input = RecordReader::read((string) json_encode($record, JSON_PARTIAL_OUTPUT_ON_ERROR));
            $document = Diagnoser::diagnose($input['record'], $input['hash'])->toArray();
            $verdicts++;
            if ($n % 20 === 0) {
                expect(SchemaCheck::problems(json_decode((string) json_encode($document)), 'verdict.schema.json'))->toBe([]);
            }
        } catch (InvalidRecord $e) {
            $refused++;
            expect($e->problems[0]['message'])->not->toBe('');
        }
    }
    expect($verdicts)->toBeGreaterThan(200)->and($refused)->toBeGreaterThan(200);
});

it('believes a charger trial: what it did, and what it did not do in so many cycles', function (
    array $cycles,
    ?string $profile,
    string $code,
    float $least,
    float $most,
    string $says,
): void {
    $pack = ['charger' => $profile === null ? [] : ['profile' => $profile]];
    $verdict = Bench::verdict(
        Bench::record(array_fill(0, 6, 3.8), array_filter($pack), ['tests' => [['kind' => 'charger-trial', 'cycles' => $cycles]]]),
    );
    expect(Bench::probability($verdict, $code))->toBeGreaterThanOrEqual($least)->toBeLessThanOrEqual($most);
    $texts = implode(
        ' ',
        array_map(fn($e): string => $e->text, array_merge([], ...array_map(fn($f): array => $f->evidence, $verdict->findings))),
    );
    expect($texts)->toContain($says);
})->with([
    'a stage that no such charger has' => [
        [['mode' => 'A', 'stages' => ['cc', 'equalise']]],
        null,
        'charger.wrong-profile',
        0.9,
        1.0,
        'equalise',
    ],
    'the board had to cut' => [
        [['mode' => 'A'], ['mode' => 'A', 'board_cut' => true], ['mode' => 'B']],
        'automatic',
        'charger.wrong-profile',
        0.9,
        1.0,
        '1 of 3 trial cycles',
    ],
    'two cycles without the fault' => [
        array_fill(0, 2, ['mode' => 'A', 'fault_seen' => false]),
        'automatic',
        'charger.wrong-profile',
        0.15,
        0.2,
        'under 78 %',
    ],
    'one cycle without it' => [[['mode' => 'A']], 'automatic', 'charger.wrong-profile', 0.24, 0.26, 'under 95 %'],
    'it ends too high' => [[['mode' => 'A', 'end_v' => 26.4]], null, 'charger.wrong-voltage', 0.9, 1.0, 'it gives 26.40 V'],
]);

it('reads a spread off the highest and the lowest group alone', function (
    float $high,
    float $low,
    string $source,
    bool $apart,
    string $basis,
): void {
    $record = Bench::record([3.8, 3.8, 3.8, 3.8]);
    $record['measurements'] = [
        [
            'id' => 'm1',
            'at' => '2026-05-04T09:00:00Z',
            'condition' => 'rest',
            'rested_min' => 600,
            'current_a' => 0,
            'source' => $source,
            'highest_v' => $high,
            'lowest_v' => $low,
            'readings' => [],
        ],
    ];
    $verdict = Bench::verdict($record);
    expect(Bench::probability($verdict, 'pack.spread') > 0.5)->toBe($apart);
    if ($apart) {
        expect($verdict->findings[0]->evidence[0]->basis)->toBe($basis);
    }
})->with([
    'just over, from its display' => [3.802, 3.5, 'owner', true, 'reported'],
    'just under' => [3.798, 3.5, 'owner', false, ''],
    'with a meter' => [3.5, 3.9, 'meter', true, 'measured'],
]);

it('lets the latest readings of all groups outweigh older extremes', function (string $at, bool $apart): void {
    $record = Bench::record([3.8, 3.8, 3.8, 3.8]);
    $record['measurements'][] = [
        'id' => 'm0',
        'at' => $at,
        'condition' => 'rest',
        'rested_min' => 600,
        'current_a' => 0,
        'highest_v' => 3.9,
        'lowest_v' => 3.4,
        'readings' => [],
    ];
    expect(Bench::probability(Bench::verdict($record), 'pack.spread') > 0.5)->toBe($apart);
})->with(['older' => ['2026-05-01T09:00:00Z', false], 'later' => ['2026-05-09T09:00:00Z', true]]);

it('takes the age of a pack into how surely it has worn', function (): void {
    $worn = fn(int $months): float => Bench::probability(
        Bench::verdict(
            Bench::record(
                array_fill(0, 6, 3.9),
                ['age_months' => $months],
                ['tests' => [['kind' => 'capacity', 'scope' => 'pack', 'measured_ah' => 5.5, 'started_full' => true]]],
            ),
        ),
        'pack.aged',
    );
    expect($worn(6))->toBeLessThan($worn(36))->and($worn(36))->toBeLessThan($worn(72));
});

it('does not ask for a capacity that was measured, and still for one of another group', function (): void {
    $missing = function (array $tests): array {
        $pack = ['parallel' => 2, 'age_months' => 84, 'label' => ['capacity_ah' => 4.0]];
        $v = Bench::verdict(Bench::record([3.98, 3.985, 3.982, 3.979, 3.984], $pack, ['tests' => $tests]));
        foreach ($v->findings as $i => $f) {
            if ($f->code === 'pack.aged') {
                return $v->ledger[$i]['missing'];
            }
        }

        return ['no such finding'];
    };
    $test = fn(array|string $scope): array => ['kind' => 'capacity', 'scope' => $scope, 'measured_ah' => 0.9, 'started_full' => true];
    expect($missing([$test('pack')]))->not->toContain('capacity-pack')->not->toContain('no such finding');
    $groups = array_map(fn(int $k): array => $test(['group' => $k]), range(1, 5));
    // Of every group singly, and not of the whole.
    expect($missing($groups))->toContain('capacity-pack')->not->toContain('no such finding');
});

it('does not ask for a group to be read directly that both probes stood on', function (string $style, bool $asked): void {
    $v = Bench::verdict(Bench::record([3.98, 1.1, 3.985, 3.982, 3.983], ['parallel' => 2], [], $style));
    $at = array_search('group.dead', array_map(fn(Finding $f): string => $f->code, $v->findings), true);
    expect($at)->not->toBeFalse();
    expect(in_array('group-reading', $v->ledger[$at]['missing'] ?? [], true))->toBe($asked);
})->with(['across each group' => ['across', false], 'from the negative end' => ['staircase', true]]);
