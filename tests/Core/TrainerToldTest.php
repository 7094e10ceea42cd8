<?php

declare(strict_types=1);

use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Trainer\Ailment;
use Heartwood\Core\Trainer\Attempt;
use Heartwood\Core\Trainer\Choice;
use Heartwood\Core\Trainer\Debrief;
use Heartwood\Core\Trainer\Paper;
use Heartwood\Core\Trainer\Patient;
use Heartwood\Core\Trainer\Score;
use Heartwood\Core\Trainer\Start;
use Heartwood\Core\Trainer\Told;
use Heartwood\Core\Trainer\Tool;
use Heartwood\Core\Trainer\Trainer;

require_once __DIR__ . '/TrainerRounds.php';

// Jobs of the shop told again, rounds on paper, and what stands on the screens of a round.

/**
 * @param  list<float|null>  $volts  of the groups at rest
 * @param  array<string, mixed>  $pack  what differs
 * @return array<string, mixed>
 */
function closedRecord(array $volts, array $pack = [], array $symptoms = ['dead-output']): array
{
    $readings = [];
    foreach ($volts as $i => $v) {
        if ($v !== null) {
            $readings[] = ['from' => "T$i", 'to' => 'T' . ($i + 1), 'v' => $v, 'resolution_v' => 0.001];
        }
    }

    return [
        'format' => 'heartwood.job',
        'version' => 1,
        'pack' => $pack + [
            'name' => 'Harbour school cart',
            'kind' => 'light-ev',
            'chemistry' => 'nmc',
            'series' => count($volts),
            'parallel' => 4,
            'cell' => ['capacity_ah' => 2.9, 'model' => 'a cell by its model'],
            'label' => ['nominal_v' => 36.0],
        ],
        'symptoms' => $symptoms,
        'measurements' => [
            [
                'id' => 'm1',
                'at' => '2026-03-02T09:00:00Z',
                'condition' => 'rest',
                'rested_min' => 600,
                'current_a' => 0,
                'readings' => $readings,
            ],
        ],
        'tests' => [],
    ];
}

/** @param  list<array<string, mixed>>  $truth */
function toldJob(array $truth, array $volts = [3.9, 3.9, 3.9, 3.9, 3.9, 3.9, 3.9, 3.9], array $pack = [], array $symptoms = []): Told
{
    return Told::of(closedRecord($volts, $pack, $symptoms), $truth);
}

it('stands where the job stood: each group as it was read, what it was at its place, and by another name', function (): void {
    $volts = [3.912, 3.905, 3.899, 0.21, 3.908, 3.91];
    $told = toldJob([['code' => 'group.dead', 'where' => ['group' => 4]], ['code' => 'bms.protecting', 'where' => null]], $volts);
    $round = Start::told($told, 7)->round();
    foreach ($volts as $i => $v) {
        expect($round->patient->across($i + 1))->toEqualWithDelta($v, 0.001);
    }
    expect($round->patient->truth)
        ->toBe([['code' => 'group.dead', 'where' => ['group' => 4]], ['code' => 'bms.protecting', 'where' => null]])
        ->and($round->patient->isAlive())
        ->toBeFalse()
        ->and($round->patient->pack['cell']['capacity_ah'])
        ->toBe(2.9);
    $text = json_encode($round->patient->pack) . json_encode($told->toArray());
    expect($text)
        ->not->toContain('Harbour')
        ->not->toContain('model') // What the label said is no part of it: it may tell whose it is.
        ->not->toContain('label');
    // Kept and read again it is the same round.
    $again = Told::from(Fields::of(json_decode((string) json_encode($told->toArray()), true)));
    expect(json_encode(Trainer::screen(Start::told($again, 7), [])))->toBe(json_encode(Trainer::screen(Start::told($told, 7), [])));
    expect(json_encode(Trainer::screen(Start::told($told, 8), [])))->not->toBe(json_encode(Trainer::screen(Start::told($told, 7), [])));
});

it('goes by what was read first, and not by what the work made of it', function (): void {
    $record = closedRecord([3.9, 3.5, 3.9, null]);
    $first = $record['measurements'][0];
    $later = fn(array $volts, array $more): array => $more + [
            'readings' => closedRecord($volts)['measurements'][0]['readings'],
            'at' => '2026-03-03T09:00:00Z',
        ] +
        $first;
    $record['revision'] = 2;
    $record['measurements'] = [
        ['revision' => 1] + $first,
        $later([3.8, 3.8, 3.8, 3.8], ['id' => 'm2', 'revision' => 1, 'condition' => 'charge', 'current_a' => 1]),
        $later([3.88, 3.48, 3.88, 3.7], ['id' => 'm3', 'revision' => 1]),
        $later([4.1, 4.1, 4.1, 4.1], ['id' => 'm4', 'revision' => 2]),
    ];
    $kept = Told::of($record, [])->toArray();
    expect($kept['rest_v'])->toEqualWithDelta([3.9, 3.5, 3.9, 3.7], 0.002);
});

it('puts a group that nobody read where its fellows are, and takes a pack of any chemistry', function (): void {
    $round = Start::told(toldJob([], [3.9, null, 3.9, 3.9]), 3)->round();
    expect($round->patient->truth)->toBe([])->and($round->patient->across(2))->toBeGreaterThan(3.4)->toBeLessThan(4.2);
    foreach (Chemistry::cases() as $c) {
        $v = $c->profile()->nominalV;
        $told = toldJob([['code' => 'path.fuse-open']], [$v, $v, $v, $v], ['chemistry' => $c->value, 'cell' => [], 'parallel' => null]);
        $seen = Start::told($told, 1)->round();
        expect($seen->patient->across(1))->toEqualWithDelta($v, 0.01)->and($seen->patient->conducts())->toBeFalse();
    }
});

it('is told by the tool as a round that was drawn is', function (): void {
    $cases = [
        [['code' => 'group.dead', 'where' => ['group' => 3]], [3.9, 3.9, 0.2, 3.9, 3.9, 3.9], ['dead-output']],
        [['code' => 'path.fuse-open', 'where' => null], array_fill(0, 6, 3.9), ['dead-output']],
        [['code' => 'group.undercharged', 'where' => ['group' => 2]], [3.95, 3.7, 3.95, 3.95, 3.95, 3.95], ['low-range']],
        [['code' => 'charger.dead', 'where' => null], array_fill(0, 6, 3.7), ['will-not-charge']],
        [['code' => 'joint.high-resistance', 'where' => ['joint' => 2]], array_fill(0, 6, 3.9), ['cuts-out-under-load']],
    ];
    $right = $rounds = 0;
    foreach ($cases as [$truth, $volts, $symptoms]) {
        foreach ([1, 2, 3, 4] as $seed) {
            $start = Start::told(toldJob([$truth], $volts, [], $symptoms), $seed);
            $round = $start->round();
            $score = Score::of(Tool::answer((new Tool($round))->play())['findings'], $round->patient->truth);
            $right += $score->placeRight ? 1 : 0;
            $rounds++;
            expect($round->unsafe)->toBeNull()->and($start->level)->toBe(2);
        }
    }
    expect($right / $rounds)->toBeGreaterThanOrEqual(0.9);
});

it('says why a job cannot be played', function (array $truth, string $why, array $pack = []): void {
    expect(fn(): Told => toldJob($truth, pack: $pack))->toThrow(InvalidRecord::class, $why);
})->with([
    'no place' => [[['code' => 'group.dead']], 'the job does not say where'],
    'a place that is none' => [[['code' => 'group.dead', 'where' => ['group' => 9]]], 'this pack has no place 9'],
    'the joint past the last' => [[['code' => 'joint.high-resistance', 'where' => ['joint' => 8]]], 'this pack has no place 8'],
    'nothing that a simulated pack has' => [[['code' => 'cell.hot']], 'cannot be run on a simulated pack'],
    'too few cells side by side' => [
        [['code' => 'group.missing-cell', 'where' => ['group' => 2]]],
        'wants 2 cells side by side',
        ['parallel' => 1],
    ],
]);

it('asks for the truth before it teaches', function (): void {
    expect(fn(): Told => Told::of(closedRecord([3.9, 3.9]), null))->toThrow(InvalidRecord::class, 'Nobody said what it was');
});

it('is as hard as the hardest of what ailed it, and never the first exercise', function (): void {
    $level = fn(string ...$codes): int => toldJob(array_map(fn(string $c): array => ['code' => $c], $codes))->level();
    expect($level())
        ->toBe(2)
        ->and($level('path.fuse-open'))
        ->toBe(2)
        ->and($level('path.fuse-open', 'path.connector'))
        ->toBe(Ailment::Connector->level())
        ->toBe(3);
});

it('looks at the set that is open as the bench does, and says what stands on the screen', function (): void {
    $start = Start::drawn(1, 11);
    $read = fn(string $from, string $to): Fields => new Fields(['do' => 'read', 'from' => $from, 'to' => $to]);
    expect(Trainer::screen($start, [])['check'])->toBeNull();
    $screen = Trainer::screen($start, [$read('T0', 'T1'), $read('T0', 'T2'), new Fields(['do' => 'unplug'])]);
    expect($screen['check']['groups'][1]['v'])
        ->toEqualWithDelta($screen['acts'][1]['result']['v'] - $screen['acts'][0]['result']['v'], 0.002)
        ->and($screen['check']['measurement_id'])
        ->toBe('m1')
        ->and($screen['plugged'])
        ->toBeFalse()
        ->and($screen['seconds'])
        ->toBe(14 + 14 + 60)
        ->and(array_key_exists('truth', $screen))
        ->toBeFalse();
    // Readings under load are of another set: the one by hand stays the one that is looked at.
    $all = [new Fields(['do' => 'look'])];
    for ($k = 1; $k <= $start->round()->patient->spec->series; $k++) {
        $all[] = $read('T' . ($k - 1), "T$k");
    }
    $loaded = Trainer::screen($start, [...$all, new Fields(['do' => 'load', 'current_a' => -1, 'seconds' => 10])]);
    expect($loaded['check']['measurement_id'])->toBe('m1')->and($loaded['unsafe'])->toBeNull();
});

it('lays the sets of a round side by side, each group worked out from whatever was read', function (): void {
    $start = Start::drawn(1, 11);
    $series = $start->round()->patient->spec->series;
    // By taps from B-, but for the first group: read by itself, as no other reading needs it.
    $acts = [new Fields(['do' => 'look'])];
    for ($k = 1; $k <= $series; $k++) {
        $acts[] = new Fields(['do' => 'read', 'from' => 'T' . ($k === 2 ? 1 : 0), 'to' => "T$k"]);
    }
    $acts[] = new Fields(['do' => 'read', 'from' => 'P-', 'to' => 'P+']);
    $acts[] = new Fields(['do' => 'load', 'current_a' => -1, 'seconds' => 30]);
    $screen = Trainer::screen($start, $acts);
    [$rest, $load] = $screen['sets'];
    $truth = $start->round()->patient;
    foreach (range(1, $series) as $k) {
        expect($rest['groups_v'][$k - 1])->toEqualWithDelta($truth->across($k), 0.03);
    }
    expect($rest)
        ->toMatchArray(['condition' => 'rest', 'current_a' => 0.0, 'plugged' => true])
        ->and($rest['output_v'])
        ->toBe($screen['acts'][$series + 1]['result']['v'])
        ->and($load['condition'])
        ->toBe('discharge')
        ->and($load['groups_v'])
        ->toHaveCount($series)
        ->and($load['groups_v'][0])
        ->toBeLessThan($rest['groups_v'][0]);
    expect(Trainer::screen($start, [])['sets'])->toBe([]);
});

it('puts on paper what a careful hand reads first, and behind the fold what came next and what it was', function (): void {
    foreach ([[1, 3], [2, 9], [4, 8]] as [$level, $seed]) {
        $paper = Paper::of(Start::drawn($level, $seed));
        $round = Start::drawn($level, $seed)->round();
        $front = json_encode(array_diff_key($paper, ['answers' => 1, 'next' => 1]));
        foreach ($round->patient->truth as $t) {
            expect($front)->not->toContain($t['code']);
        }
        expect($paper['groups_v'])
            ->toHaveCount($round->patient->spec->series)
            ->not->toContain(null)
            ->and(end($paper['readings'])['to'])
            ->toBe('P+')
            ->and($paper['answers'][0])
            ->toStartWith($round->patient->truth === [] ? 'Nothing was wrong with this pack.' : 'It was: ')
            ->and($paper['level'])
            ->toBe($level);
        foreach ($paper['next'] as $n) {
            expect($n['test'])->not->toBe('')->not->toBe('read');
        }
    }
    expect(Debrief::said(new Fields(['do' => 'wait', 'hours' => 24])))->toBe('wait 24.0 h');
});

it('tells beside the score which rule was broken and what the tool would have done, and keeps both out of the verb', function (): void {
    $start = Start::drawn(1, 3);
    $acts = [new Fields(['do' => 'charge', 'current_a' => 1, 'minutes' => 5])];
    $judged = Trainer::judged($start, $acts, null);
    expect($judged['unsafe'])
        ->toContain('before anybody had looked')
        ->and($judged['safe'])
        ->toBeFalse()
        ->and(array_keys((array) Trainer::replay($start, $acts, null)['score']))
        ->not->toContain('unsafe')
        ->not->toContain('best_choice')
        ->not->toContain('best_brier')
        ->not->toContain('came_ah');
    $empty = Trainer::judged($start, [], new Fields(['findings' => []]));
    $best = $empty['best_choice'];
    // Who names nothing is off by one for each thing that was wrong; the tool's own line by less.
    expect($empty['brier'])->toEqual(count($empty['truth']))->and($empty['best_brier'])->toBeLessThan($empty['brier']);
    expect($best['title'])->not->toBe('')->and($best['usable_ah'])->toBeGreaterThanOrEqual(0.0);
    // A pack whose output is off gives nothing as it came; one that nothing ails gives what it holds.
    expect($judged['came_ah'])
        ->toBe(0.0)
        ->and(Trainer::judged(Start::drawn(1, soundSeed()), [], null)['came_ah'])
        ->toBeGreaterThan(1.5);
    // Whoever leaves has said nothing, and is right in nothing.
    $nothing = Start::drawn(1, soundSeed());
    expect(Trainer::judged($nothing, [], null)['right'])
        ->toBeFalse()
        ->and(Trainer::judged($nothing, [], new Fields(['findings' => []]))['right'])
        ->toBeTrue();
});

/** A seed of level 1 whose pack has nothing. */
function soundSeed(): int
{
    for ($seed = 1; ; $seed++) {
        if (Start::drawn(1, $seed)->round()->patient->truth === []) {
            return $seed;
        }
    }
}

it('asks nobody for how a pack stands, and the tool says none of it', function (): void {
    foreach (['pack.spread', 'reading.phantom'] as $code) {
        expect(Score::describes($code))->toBeTrue();
    }
    foreach ([...array_map(fn(Ailment $a): string => $a->value, Ailment::cases()), Attempt::PROTECTING] as $code) {
        expect(Score::describes($code))->toBeFalse();
    }
    // A dead group whose pack is far apart and whose output floats: said by its cause and by the board that does its job.
    for ($seed = 1; $seed <= 60; $seed++) {
        $round = Start::drawn(1, $seed)->round();
        if (in_array('group.dead', array_column($round->patient->truth, 'code'), true)) {
            $said = Tool::answer((new Tool($round))->play())['findings'];
            expect(Score::of($said, $round->patient->truth)->brier)->toBeLessThan(0.1);
        }
    }
});

it('says where a line left the best one, and nothing where it did not', function (): void {
    $start = Start::drawn(2, 9);
    $tool = new Tool($start->round());
    $tool->play();
    $debrief = fn(array $acts): string => implode(
        "\n",
        Trainer::judged($start, array_map(Fields::of(...), $acts), new Fields(['findings' => []]))['debrief'],
    );
    expect($debrief($tool->acts))->not->toContain('another way')->not->toContain('it stopped')->not->toContain('went on');
    expect($debrief([]))->toContain('At the first step it stopped; the best line went on: look.');
    $first = array_slice($tool->acts, 0, 1);
    expect($debrief($first))->toContain('After "look" it stopped; the best line went on: read.');
    expect($debrief([...$first, ['do' => 'wait', 'hours' => 24]]))->toContain(
        'After "look" it went another way: wait 24.0 h, where the best line had: read.',
    );
    $last = Debrief::said(new Fields($tool->acts[count($tool->acts) - 1]));
    expect($debrief([...$tool->acts, ['do' => 'unplug']]))->toContain("After \"$last\" the best line was done; here it went on: unplug.");
});

it('judges a choice by what was read, and charges nothing that nobody read', function (): void {
    $dead = fn(): Patient => roundWith(Ailment::Dead)->patient;
    $series = $dead()->spec->series;
    $known = fn(?float $v): array => array_replace(array_fill(0, $series, 3.8), [1 => $v]);
    $of = fn(?array $known): ?string => Choice::of(RepairAction::ChargeGroup, [['group' => 2]], $dead(), $known)->unsafe;
    expect($of(null))
        ->toContain('under the floor')
        ->and($of($known(0.2)))
        ->toContain('under the floor')
        ->and($of($known(null)))
        ->toBe('Group 2 was never read: nobody charges what nobody knows.')
        // A slip that everybody would have believed.
        ->and($of($known(3.8)))
        ->toBeNull();
    // Under its cut-off a group is recovered first, whether it is charged by itself or with the rest; as an act it is the same.
    $low = fn(RepairAction $a, array $where): ?string => Choice::of($a, $where, roundWith(Ailment::DeepDischarged)->patient)->unsafe;
    expect($low(RepairAction::ChargeGroup, [['group' => 2]]))
        ->toContain('under its cut-off')
        ->and($low(RepairAction::ChargePack, []))
        ->toContain('under its cut-off')
        ->and($low(RepairAction::Balance, []))
        ->toContain('under its cut-off')
        ->and($low(RepairAction::RecoverGroup, [['group' => 2]]))
        ->toBeNull()
        ->and($low(RepairAction::RecoverPack, []))
        ->toBeNull();
    expect(Choice::all())
        ->toHaveCount(count(RepairAction::cases()) - 1)
        ->not->toContain(RepairAction::Build);
    // Only what is charged has to be known.
    expect(Choice::of(RepairAction::ReplaceGroup, [['group' => 2]], $dead(), $known(null))->unsafe)->toBeNull();
    expect(Choice::of(RepairAction::ChargeGroup, [['group' => 3]], $dead(), $known(null))->unsafe)->toBeNull();
    expect(Choice::of(RepairAction::Balance, [], $dead(), array_fill(0, $series, null))->unsafe)->toContain('Group 1 was never read');
    // In a round: chosen without a single reading, it is lost by the choice.
    $round = Trainer::replay(
        Start::drawn(1, 3),
        [new Fields(['do' => 'look'])],
        new Fields([
            'findings' => [],
            'option' => ['action' => 'balance'],
        ]),
    );
    expect($round['score']['safe'])->toBeFalse();
});
