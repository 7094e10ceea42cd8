<?php

declare(strict_types=1);

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Limits\WorkLimits;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\WorkPlan;
use Heartwood\Core\Repair\WorkStep;
use Heartwood\Core\Work\ClosedBy;
use Heartwood\Core\Work\Facts;
use Heartwood\Core\Work\StepProof;
use Heartwood\Core\Work\Work;
use Tests\Core\Bench;

/* The plan was decided at nine; every other time is told in minutes after it. */

const DECIDED = '2026-05-04T09:00:00Z';

function clockAt(float $min): string
{
    return gmdate('Y-m-d\\TH:i:s\\Z', (int) (strtotime(DECIDED) + 60 * $min));
}

function epochAt(float $min): float
{
    return strtotime(DECIDED) + 60 * $min;
}

/**
 * @param  list<array<string, mixed>>  $sets
 * @param  array<string, mixed>  $more  of the record
 * @param  mixed  ...$facts  of the job
 */
function factsOf(array $sets = [], array $more = [], array $pack = [], mixed ...$facts): Facts
{
    $pack += ['chemistry' => 'nmc', 'series' => 4, 'parallel' => 2];
    $record = ['format' => 'heartwood.job', 'version' => 1, 'pack' => $pack, 'measurements' => $sets, 'tests' => []];

    return new Facts(Bench::parse($more + $record), ...$facts);
}

/** @param  list<float>  $groups */
function restAt(float $min, array $groups = [3.9, 3.9, 3.9, 3.9], int $revision = 1): array
{
    return ['revision' => $revision] + Bench::rest("r$min", $groups, 'across', clockAt($min));
}

/**
 * @param  array<int|string, float>  $words  minutes at which a person closed a step, by code
 * @return array<string, StepProof> by the code of the step
 */
function stepsProved(RepairAction $action, array $places, Facts $facts, array $words = []): array
{
    $plan = WorkPlan::for($action);
    $steps = array_map(
        fn(WorkStep $s): array => [
            'code' => $s->code,
            'alters' => $s->alters,
            'word' => isset($words[$s->code]) ? epochAt($words[$s->code]) : null,
        ],
        $plan,
    );

    return array_combine(array_column($steps, 'code'), Work::of($action, $places, $steps, $facts, epochAt(0)));
}

it('knows of every step of every plan what closes it, and where', function (RepairAction $action): void {
    foreach (WorkPlan::for($action) as $step) {
        $by = ClosedBy::of($action, $step->code);
        // What can be proved has a room in which it is.
        expect($by->room($action, $step->code) === '')
            ->toBe($by->door($step->code) === '')
            ->and($by->isWord() || $by->room($action, $step->code) !== '')
            ->toBeTrue();
    }
    expect(WorkPlan::for($action) === [])->toBe($action === RepairAction::None);
    // Nothing on record: nothing is closed.
    foreach (stepsProved($action, [Place::group(2)], factsOf()) as $proof) {
        expect($proof->closed)
            ->toBeFalse()
            ->and($proof->by->isWord() || $proof->text !== '')
            ->toBeTrue();
    }
})->with(RepairAction::cases());

it('closes the reading again by a set of every group that is newer than what altered the pack', function (): void {
    $at = fn(float $min, array $words, array $groups = [3.9, 3.9, 3.9, 3.9]): StepProof => stepsProved(
        RepairAction::Reweld,
        [Place::group(2)],
        factsOf([restAt($min, $groups)]),
        $words,
    )['reread'];
    expect($at(30, ['weld' => 20])->closed)
        ->toBeTrue()
        ->and($at(30, ['weld' => 20])->at)
        ->toBe(epochAt(30))
        ->and($at(10, ['weld' => 20])->text)
        ->toBe('No set at rest since.')
        ->and($at(30, [])->text)
        ->toBe('After step 3.')
        // A record's times are whole seconds: the second in which the weld was closed still counts.
        ->and($at(20, ['weld' => 20 + WorkLimits::CLOCK_S / 60])->closed)
        ->toBeTrue()
        ->and($at(20, ['weld' => 20 + (WorkLimits::CLOCK_S + 1) / 60])->closed)
        ->toBeFalse();
    $part = restAt(30);
    $part['readings'] = array_slice($part['readings'], 0, 2);
    expect(stepsProved(RepairAction::Reweld, [], factsOf([$part]), ['weld' => 20])['reread']->text)->toBe(
        'Not read at rest since: groups 3 and 4.',
    );
    // Read from one end, every group is told all the same.
    $stair = ['revision' => 1] + Bench::rest('s', [3.9, 3.9, 3.9, 3.9], 'staircase', clockAt(30));
    expect(stepsProved(RepairAction::Reweld, [], factsOf([$stair]), ['weld' => 20])['reread']->closed)->toBeTrue();
});

it('wants the groups read after the charge that they were given, and not before it', function (): void {
    $event = ['kind' => 'group-charged', 'at' => clockAt(30), 'where' => ['group' => 2], 'revision' => 1];
    $of = fn(float $read, array $events): StepProof => stepsProved(
        RepairAction::ChargeGroup,
        [Place::group(2)],
        factsOf([restAt($read)], ['events' => $events]),
    )['reread'];
    expect($of(40, [$event])->closed)
        ->toBeTrue()
        ->and($of(20, [$event])->text)
        ->toBe('No set at rest since.')
        ->and($of(40, [])->text)
        ->toBe('After step 4.')
        // One bench told both, on one clock: what it read a second before the charge was not read after it.
        ->and($of(30, [$event])->closed)
        ->toBeTrue()
        ->and($of(30 - 1 / 60, [$event])->text)
        ->toBe('No set at rest since.');
    // The server timed a run, the bench the set: two clocks, set right to the limit.
    $ran = fn(float $s): StepProof => stepsProved(
        RepairAction::ChargeGroup,
        [Place::group(2)],
        factsOf(
            [restAt(30 - $s / 60)],
            ['events' => [$event]],
            runs: [
                ['kind' => 'balance', 'group' => 2, 'started' => epochAt(10), 'ended' => epochAt(30), 'good' => true, 'text' => 'Full.'],
            ],
        ),
    )['reread'];
    expect($ran(WorkLimits::CLOCK_S)->closed)
        ->toBeTrue()
        ->and($ran(WorkLimits::CLOCK_S + 1)->closed)
        ->toBeFalse();
});

it('takes the pin check that is right and newer than the weld, and no other', function (): void {
    $pins = fn(float $min, array $v): array => ['kind' => 'pin-check', 'at' => clockAt($min), 'pins_v' => $v];
    $right = [0.0, 3.9, 7.8, 11.7, 15.6];
    $of = fn(array ...$tests): StepProof => stepsProved(RepairAction::Reweld, [], factsOf([restAt(1)], ['tests' => $tests]), [
        'weld' => 20,
    ])['pin-check'];
    expect($of($pins(25, $right))->closed)
        ->toBeTrue()
        ->and($of($pins(15, $right))->text)
        ->toBe('The plug was not read since.')
        ->and($of($pins(25, [0.0, 7.8, 3.9, 11.7, 15.6]))->text)
        ->toContain('exchanged')
        ->and($of($pins(25, $right), $pins(26, [0.0, 7.8, 3.9, 11.7, 15.6]))->closed)
        ->toBeFalse()
        ->and(stepsProved(RepairAction::Reweld, [], factsOf([], ['tests' => [$pins(25, $right)]]), ['weld' => 20])['pin-check']->text)
        ->toContain('Every group is read first');
    // Charged to full since, the step stays closed: the plug was right when it went in.
    $full = factsOf([restAt(22), restAt(600, [4.19, 4.19, 4.19, 4.19])], ['tests' => [$pins(25, $right)]]);
    expect(stepsProved(RepairAction::Reweld, [], $full, ['weld' => 20])['pin-check']->closed)->toBeTrue();
});

it('wants a cell for every place of the groups that are replaced, and of a cell alone one', function (): void {
    $cell = fn(string $code, ?float $v = 3.61): array => ['code' => $code, 'v' => $v, 'ohm' => 0.03, 'ah' => 2.9, 'max_a' => 1.4];
    $of = fn(RepairAction $a, array $cells): array => stepsProved(
        $a,
        [Place::group(2)],
        factsOf(cells: [['at' => epochAt(5), 'group' => 2, 'cells' => $cells]]),
    );
    $two = [$cell('A'), $cell('B')];
    expect($of(RepairAction::ReplaceGroup, $two)['cells'])
        ->toEqual(new StepProof(ClosedBy::Cells, true, epochAt(5), '2 cells out of the drawer'))
        ->and($of(RepairAction::ReplaceGroup, [$cell('A')])['cells']->text)
        ->toBe('No cells yet for group 2.')
        ->and($of(RepairAction::ReplaceCell, [$cell('A')])['cells']->closed)
        ->toBeTrue()
        ->and($of(RepairAction::Rebuild, $two)['cells']->closed)
        ->toBeTrue();
    // The join rule speaks by itself of what they stood at.
    expect($of(RepairAction::ReplaceGroup, $two)['join']->text)
        ->toBe('Joined directly by the rule: 0 mV apart at the most')
        ->and($of(RepairAction::ReplaceGroup, [$cell('A', 3.79), $cell('B', 3.97)])['join'])
        ->toHaveProperty('closed', false)
        ->toHaveProperty('text')
        ->and($of(RepairAction::ReplaceGroup, [$cell('A', 3.79), $cell('B', 3.97)])['join']->text)
        ->toContain('ohm')
        ->and($of(RepairAction::ReplaceGroup, [$cell('A'), $cell('B', null)])['join']->text)
        ->toBe('Cell B has no rest voltage on record: read it.');
});

it('takes groups for level that were read so, or were charged singly since', function (float $top, bool $closed): void {
    $facts = factsOf([restAt(40, [3.9, 3.9, 3.9, $top])]);
    expect(stepsProved(RepairAction::ReplaceGroup, [Place::group(2)], $facts, ['weld' => 20])['fill']->closed)->toBe($closed);
    $event = fn(int $k, float $min): array => [
        'kind' => 'group-charged',
        'at' => clockAt($min),
        'where' => ['group' => $k],
        'revision' => 1,
    ];
    $charged = fn(float $min): bool => stepsProved(
        RepairAction::ReplaceGroup,
        [Place::group(2)],
        factsOf([], ['events' => [$event(2, $min), $event(3, 50)]]),
        ['weld' => 20],
    )['fill']->closed;
    expect($charged(30))->toBeTrue()->and($charged(10))->toBeFalse();
})->with([
    'just within' => [3.9 + VerdictLimits::BALANCE_SOON_V - 0.002, true],
    'just beyond' => [3.9 + VerdictLimits::BALANCE_SOON_V + 0.002, false],
]);

it('follows a recovery from the run to the hour of rest', function (): void {
    $run = ['kind' => 'recovery', 'group' => 2, 'started' => epochAt(5), 'ended' => epochAt(40), 'good' => true, 'text' => 'done'];
    $trial = ['kind' => 'recovery', 'at' => clockAt(40), 'scope' => ['group' => 2], 'current_a' => 0.1, 'samples' => []];
    $of = fn(float $read): array => stepsProved(
        RepairAction::RecoverGroup,
        [Place::group(2)],
        factsOf([restAt($read)], ['tests' => [$trial]], runs: [$run]),
    );
    $hour = 40 + WorkLimits::RESTED_S / 60;
    expect($of($hour)['place']->closed)
        ->toBeTrue()
        ->and($of($hour)['slow']->at)
        ->toBe(epochAt(40))
        ->and($of($hour)['rest-60']->closed)
        ->toBeTrue()
        ->and($of($hour - 0.1)['rest-60']->closed)
        ->toBeFalse();
    // A trial of another group, or one before the decision, is none of this.
    $other = ['scope' => ['group' => 3]] + $trial;
    $before = ['at' => clockAt(-5)] + $trial;
    foreach ([$other, $before] as $t) {
        expect(stepsProved(RepairAction::RecoverGroup, [Place::group(2)], factsOf([], ['tests' => [$t]]))['slow']->closed)->toBeFalse();
    }
    expect(stepsProved(RepairAction::RecoverGroup, [Place::group(3)], factsOf(runs: [$run]))['place']->closed)->toBeFalse();
});

it('closes a joint by its record, each that the plan names', function (): void {
    $set = fn(int $tap, float $min): array => ['at' => epochAt($min), 'tap' => $tap, 'text' => "T$tap at 6.0 Nm"];
    $of = fn(array ...$joints): StepProof => stepsProved(
        RepairAction::CleanJoint,
        [Place::joint(3), Place::joint(4)],
        factsOf(joints: $joints),
    )['joint'];
    expect($of($set(3, 5), $set(4, 6))->text)
        ->toBe('T3 at 6.0 Nm; T4 at 6.0 Nm')
        ->and($of($set(3, 5))->text)
        ->toBe('Not set since: joint 4.')
        ->and($of($set(3, 5), $set(4, -6))->closed)
        ->toBeFalse();
});

it('closes the case when all is back and the counts agree', function (): void {
    $of = fn(array $t): StepProof => stepsProved(RepairAction::Reweld, [], factsOf(teardown: $t), ['weld' => 20])['close'];
    $all = ['steps' => 9, 'at' => epochAt(3), 'back' => epochAt(60), 'left' => 0];
    expect($of($all))
        ->toEqual(new StepProof(ClosedBy::WayBack, true, epochAt(60), 'All is back, the counts agree'))
        ->and($of(['left' => 2] + $all)->text)
        ->toBe('2 of the way back to go')
        ->and($of(['steps' => 0, 'back' => null] + $all)->text)
        ->toContain('no count to close it by');
});

it('believes a wake action that woke it, a charger that was read, a watched charge that came to its end', function (): void {
    $tests = fn(array ...$t): Facts => factsOf([], ['tests' => $t]);
    $woke = fn(bool $b): array => ['kind' => 'wake', 'action' => 'charger-pulse', 'woke' => $b, 'at' => clockAt(4)];
    expect(stepsProved(RepairAction::WakeBoard, [], $tests($woke(true)))['wake']->closed)
        ->toBeTrue()
        ->and(stepsProved(RepairAction::WakeBoard, [], $tests($woke(false)))['wake']->text)
        ->toBe('No action woke it yet.')
        ->and(
            stepsProved(RepairAction::ReplaceCharger, [], $tests(['kind' => 'charger', 'open_v' => 16.8, 'at' => clockAt(4)]))['charger']
                ->closed,
        )
        ->toBeTrue();
    $run = fn(bool $good): array => [
        'kind' => 'charge',
        'group' => null,
        'started' => epochAt(1),
        'ended' => epochAt(9),
        'good' => $good,
        'text' => 'x',
    ];
    expect(stepsProved(RepairAction::ChargePack, [], factsOf(runs: [$run(true)]))['watch']->closed)
        ->toBeTrue()
        ->and(stepsProved(RepairAction::ChargePack, [], factsOf(runs: [$run(false)]))['watch']->closed)
        ->toBeFalse();
});

it('takes a typed current for none, or says what still flows', function (string $typed, bool $none): void {
    expect(Work::noCurrent($typed) === null)->toBe($none);
})->with([
    ['0', true],
    ['0,00 A', true],
    ['-0.05', true],
    ['0.051', false],
    ['50 mA', true],
    ['51mA', false],
    ['0.4 A', false],
    ['', false],
    ['none', false],
    ['noted', false],
]);

/** What stands against a step, all before it done by a word or left. */
function saidAgainst(RepairAction $action, string $code, Facts $facts, array $words = [], array $left = []): ?string
{
    $steps = array_map(
        fn(WorkStep $s): array => [
            'code' => $s->code,
            'alters' => $s->alters,
            'word' => in_array($s->code, [...$words, ...$left], true) ? epochAt(1) : null,
            'skipped' => in_array($s->code, $left, true),
        ],
        WorkPlan::for($action),
    );

    return Work::against($action, [Place::group(2)], $steps, $facts, epochAt(0), $code);
}

it('lets nothing be loosened before zero current is proved, whatever was left out', function (RepairAction $action): void {
    foreach (WorkPlan::for($action) as $step) {
        if ($step->alters && WorkPlan::for($action)[0]->code === 'isolate') {
            expect(saidAgainst($action, $step->code, factsOf()))
                ->toContain('zero current')
                ->and(saidAgainst($action, $step->code, factsOf(), [], ['isolate']))
                ->toContain('zero current')
                ->and((string) saidAgainst($action, $step->code, factsOf(), ['isolate']))
                ->not->toContain('zero current');
        }
    }
    expect(saidAgainst($action, 'no such step', factsOf()))->toBeNull();
})->with(RepairAction::cases());

it('lets no board be plugged whose pin check is not right, though somebody left it out', function (): void {
    $pins = fn(array $v): array => ['tests' => [['kind' => 'pin-check', 'at' => clockAt(5), 'pins_v' => $v]]];
    $plug = fn(Facts $facts, array $left = []): ?string => saidAgainst(
        RepairAction::ReplaceBoard,
        'plug',
        $facts,
        ['isolate', 'match'],
        $left,
    );
    expect($plug(factsOf([restAt(1)], $pins([0.0, 3.9, 7.8, 11.7, 15.6]))))
        ->toBeNull()
        ->and($plug(factsOf([restAt(1)])))
        ->toContain('not read since')
        ->and($plug(factsOf([restAt(1)]), ['pin-check']))
        ->toContain('The pin check is not right')
        ->and($plug(factsOf([restAt(1)], $pins([15.6, 11.7, 7.8, 3.9, 0.0]))))
        ->toContain('reversed');
});

it('lets no cells be joined that the join rule keeps apart, and knows nothing against those that nobody read', function (
    ?float $v,
    bool $apart,
): void {
    $cell = fn(string $code, ?float $v): array => ['code' => $code, 'v' => $v, 'ohm' => 0.03, 'ah' => 2.9, 'max_a' => 1.4];
    $facts = factsOf(cells: [['at' => epochAt(5), 'group' => 2, 'cells' => [$cell('A', 3.61), $cell('B', $v)]]]);
    $said = saidAgainst(RepairAction::ReplaceGroup, 'weld', $facts, ['isolate'], ['join']);
    expect($said !== null)->toBe($apart);
})->with(['alike' => [3.62, false], 'far' => [3.79, true], 'not read' => [null, false]]);

it('holds a new cell against the group that it joins, and not against itself', function (
    string $style,
    ?float $own,
    bool $closed,
    string $word,
): void {
    $cell = ['code' => 'A', 'v' => 3.61, 'ohm' => 0.03, 'ah' => 2.9, 'max_a' => 1.4];
    $sets = $own === null ? [] : [['revision' => 1] + Bench::rest('s', [3.6, $own, 3.6, 3.6], $style, clockAt(-9))];
    $facts = factsOf($sets, ['revision' => 2], cells: [['at' => epochAt(5), 'group' => 2, 'cells' => [$cell]]]);
    $join = stepsProved(RepairAction::ReplaceCell, [Place::group(2)], $facts)['join'];
    expect($join->closed)->toBe($closed)->and($join->text)->toContain($word);
    expect(saidAgainst(RepairAction::ReplaceCell, 'weld', $facts, ['isolate'], ['join']) !== null)->toBe($own !== null && !$closed);
})->with([
    'alike' => ['across', 3.62, true, '10 mV'],
    'read from one end' => ['staircase', 3.62, true, '10 mV'],
    'far' => ['across', 3.98, false, '370 mV apart'],
    'not read' => ['across', null, false, 'Group 2 has no rest voltage'],
]);

it('takes no charge for done that a rule or a hand ended', function (bool $good): void {
    $run = ['kind' => 'balance', 'group' => null, 'started' => epochAt(5), 'ended' => epochAt(30), 'good' => $good, 'text' => 'x'];
    $event = ['kind' => 'balanced', 'at' => clockAt(30), 'where' => ['group' => 2], 'revision' => 1];
    $steps = stepsProved(RepairAction::ChargeGroup, [Place::group(2)], factsOf([], ['events' => [$event]], runs: [$run]));
    expect($steps['fill']->closed)->toBe($good)->and($steps['voltage']->closed)->toBeTrue();
    $other = ['kind' => 'discharge'] + $run;
    expect(stepsProved(RepairAction::ChargeGroup, [Place::group(2)], factsOf(runs: [$other]))['voltage']->closed)->toBeFalse();
})->with([true, false]);

it('takes half the capacity an hour for the charge current where no maker said one', function (float $own, bool $closed): void {
    // 10 mohm of the group, 20 of the cell, 2 of the joint: at 1 A, half of 2 Ah, that is 32 mV.
    $cell = ['code' => 'A', 'v' => 3.61, 'ohm' => 0.02, 'ah' => 1.0, 'max_a' => 99.0];
    $set = ['revision' => 1] + Bench::rest('s', [3.6, $own, 3.6, 3.6], 'across', clockAt(-9));
    $pack = ['cell' => ['capacity_ah' => 1.0, 'resistance_mohm' => 20]];
    $facts = factsOf([$set], ['revision' => 2], $pack, cells: [['at' => epochAt(5), 'group' => 2, 'cells' => [$cell]]]);
    expect(stepsProved(RepairAction::ReplaceCell, [Place::group(2)], $facts)['join']->closed)->toBe($closed);
})->with(['just under' => [3.641, true], 'just over' => [3.643, false]]);
