<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Limits\BenchTimes;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\Combined;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\WorkPlan;
use Heartwood\Core\Repair\WorkStep;
use Heartwood\Core\Twin\Replay;
use Heartwood\Core\Twin\TwinPack;
use Heartwood\Core\Work\Facts;
use Heartwood\Core\Work\Work;
use Tests\Core\Bench;

/* Several options of a verdict as one plan. */

/** @param  list<string>  $leaves */
function wayOf(RepairAction $action, array $groups = [], array $leaves = [], int $cells = 0): Option
{
    return new Option(
        $action,
        array_map(fn(int $k): Place => Place::group($k), $groups),
        null,
        $leaves,
        "Because of {$action->value}.",
        $cells,
    );
}

/** @return list<string> */
function codesOf(Option ...$options): array
{
    return array_map(fn(array $r): string => $r['step']->code, Combined::steps(Combined::ordered(array_values($options))));
}

it('is the plan of the action itself where there is one alone', function (RepairAction $action): void {
    expect(codesOf(wayOf($action, [2])))->toBe(array_map(fn(WorkStep $s): string => $s->code, WorkPlan::for($action)));
})->with(RepairAction::cases());

it('opens once, does what alters before what charges, checks the plug once, closes once, and then what wants it closed', function (): void {
    $codes = codesOf(
        wayOf(RepairAction::RelearnGauge),
        wayOf(RepairAction::Balance, [4]),
        wayOf(RepairAction::ReplaceGroup, [2]),
        wayOf(RepairAction::RepairSense),
        wayOf(RepairAction::RepairPath),
    );
    expect($codes)->toBe([
        'isolate',
        'open',
        'cells',
        'join',
        'weld',
        'insulate',
        'fill',
        'lead',
        'pin-check',
        'cause',
        'part',
        'singly',
        'reread',
        'close',
        'relearn',
    ]);
});

it('plugs a board only after its plug was read', function (): void {
    $codes = codesOf(wayOf(RepairAction::ReplaceBoard), wayOf(RepairAction::ReplaceGroup, [2]));
    expect(array_search('pin-check', $codes, true))
        ->toBeLessThan(array_search('plug', $codes, true))
        ->and(array_count_values($codes)['pin-check'])
        ->toBe(1);
});

it('adds up cells and time, opened once, and leaves what none of them solves', function (): void {
    $replace = wayOf(RepairAction::ReplaceGroup, [2], ['joint.high-resistance', 'pack.aged'], 4);
    $clean = wayOf(RepairAction::CleanJoint, [], ['group.dead', 'pack.aged']);
    $label = wayOf(RepairAction::Relabel, [], ['group.dead', 'joint.high-resistance', 'pack.aged']);
    $one = Combined::of([$label, $clean, $replace], 9.5);
    expect($one->action)
        ->toBe(RepairAction::ReplaceGroup)
        ->and($one->leaves)
        ->toBe(['pack.aged'])
        ->and($one->cells)
        ->toBe(4)
        ->and($one->usableAh)
        ->toBe(9.5)
        // 75 and 20 on the open pack, 5 for the label; opened and closed once: ten minutes less.
        ->and($one->handsMinutes)
        ->toBe(90)
        ->and($one->waitHours)
        ->toBe($replace->waitHours + $clean->waitHours)
        ->and(Combined::title(Combined::ordered([$label, $clean, $replace])))
        ->toBe('Replace group 2, clean and torque the joint, put the true figures on the label')
        ->and(BenchTimes::OPEN_MIN)
        ->toBeLessThan(BenchTimes::HANDS_MIN['reweld']);
});

it('names why some are no plan together', function (array $options, ?string $why): void {
    expect(Combined::against($options))->toBe($why);
})->with([
    'a way out of service' => [
        [wayOf(RepairAction::Recycle), wayOf(RepairAction::Balance)],
        '"Recycle it" stands by itself: nothing is added to it.',
    ],
    'nothing at all' => [
        [wayOf(RepairAction::Balance), wayOf(RepairAction::None)],
        '"Leave it as it is" stands by itself: nothing is added to it.',
    ],
    'a new one' => [
        [wayOf(RepairAction::Rebuild), wayOf(RepairAction::Balance)],
        '"Rebuild it with new cells" stands by itself: nothing is added to it.',
    ],
    'nothing left of it' => [
        [wayOf(RepairAction::ReplaceGroup, [3]), wayOf(RepairAction::RecoverGroup, [3])],
        'Nothing is left of "Replace the group" beside the others: leave it out.',
    ],
    'two groups' => [[wayOf(RepairAction::ReplaceGroup, [2]), wayOf(RepairAction::RecoverGroup, [3])], null],
    'charged after it is new' => [[wayOf(RepairAction::ReplaceGroup, [2]), wayOf(RepairAction::ChargeGroup, [2])], null],
]);

it('replaces no group that is tried gently in the same plan, and counts cells and time for the others', function (): void {
    $both = Combined::shared([
        new Option(RepairAction::ReplaceGroup, [Place::group(3), Place::group(6)], 5.0, [], '', 8, 150, 24.0),
        wayOf(RepairAction::RecoverGroup, [6]),
    ]);
    expect(array_map(fn(Option $o): array => [$o->action, array_map(fn(Place $p): int => $p->number, $o->places)], $both))
        ->toBe([[RepairAction::RecoverGroup, [6]], [RepairAction::ReplaceGroup, [3]]])
        ->and($both[1]->cells)
        ->toBe(4)
        ->and($both[1]->handsMinutes)
        ->toBe(75)
        ->and($both[1]->waitHours)
        ->toBe(24.0);
});

it('predicts what all of them bring, which none of them brings alone', function (): void {
    // Group 2 holds half, group 4 is low: one is replaced and the other charged.
    $volts = [3.8, 3.8, 3.8, 3.6];
    $capacity = fn(int $k, float $ah): array => [
        'kind' => 'capacity',
        'scope' => ['group' => $k],
        'measured_ah' => $ah,
        'started_full' => true,
    ];
    $record = Bench::parse(
        Bench::record(
            $volts,
            ['parallel' => 2, 'cell' => ['capacity_ah' => 2.5, 'resistance_mohm' => 40]],
            [
                'tests' => [$capacity(1, 4.9), $capacity(2, 2.5), $capacity(3, 4.9), $capacity(4, 4.9)],
            ],
        ),
    );
    $evidence = new PackEvidence($record);
    $replay = new Replay($record->pack, TwinPack::estimate($record->pack, $evidence), TwinPack::estimate($record->pack, $evidence, false));
    $replace = wayOf(RepairAction::ReplaceGroup, [2]);
    $charge = wayOf(RepairAction::ChargeGroup, [4]);
    $ah = fn(Option ...$o): float => $replay->usable($replay->afterAll(array_values($o)))->ah;
    expect($ah($replace, $charge))
        ->toBeGreaterThan(1.1 * $ah($replace))
        ->and($ah($replace, $charge))
        ->toBeGreaterThan(1.3 * $ah($charge))
        ->and($ah($replace))
        ->toBe($replay->usable($replay->after($replace))->ah)
        ->and($replay->afterAll([$replace, wayOf(RepairAction::Recycle)]))
        ->toBeNull();
});

it('closes each step by the part of the plan that it belongs to', function (): void {
    $options = [wayOf(RepairAction::ReplaceGroup, [2]), wayOf(RepairAction::ChargeGroup, [4])];
    $rows = Combined::steps($options);
    $facts = new Facts(
        Bench::parse(
            Bench::record(
                [3.8, 3.8, 3.8, 3.6],
                [],
                [
                    'events' => [['kind' => 'group-charged', 'at' => '2026-05-04T09:30:00Z', 'where' => ['group' => 4], 'revision' => 1]],
                ],
            ),
        ),
        cells: [
            [
                'at' => 1777885300.0,
                'group' => 2,
                'cells' => array_fill(0, 3, ['code' => 'A', 'v' => 3.8, 'ohm' => 0.04, 'ah' => 2.8, 'max_a' => 1.4]),
            ],
        ],
    );
    $proofs = Work::of(
        $options[0]->action,
        [Place::group(2), Place::group(4)],
        array_map(
            fn(array $r): array => [
                'code' => $r['step']->code,
                'alters' => $r['step']->alters,
                'word' => $r['step']->code === 'weld' ? 1777886000.0 : null,
                'action' => $r['action'],
                'places' => $r['places'],
            ],
            $rows,
        ),
        $facts,
        1777885200.0,
    );
    $of = fn(string $code, RepairAction $action): int => (int) array_search(
        [$code, $action],
        array_map(fn(array $r): array => [$r['step']->code, $r['action']], $rows),
        true,
    );
    expect($proofs[$of('cells', RepairAction::ReplaceGroup)]->closed)
        ->toBeTrue()
        ->and($proofs[$of('cells', RepairAction::ReplaceGroup)]->text)
        ->toBe('3 cells out of the drawer')
        ->and($proofs[$of('fill', RepairAction::ReplaceGroup)]->text)
        ->toContain('Not charged singly since')
        ->and($proofs[$of('fill', RepairAction::ChargeGroup)]->text)
        ->toContain('group 4');
});

it('knows of every way whether it can be part of a plan of several', function (RepairAction $action, bool $may): void {
    expect(Combined::may($action))->toBe($may);
    // What may be part of one is refused beside itself by nothing, what may not is refused beside anything.
    expect(Combined::against([wayOf($action, [1]), wayOf(RepairAction::Relabel)]) === null)->toBe($may);
})->with([
    'recover a pack' => [RepairAction::RecoverPack, true],
    'recover a group' => [RepairAction::RecoverGroup, true],
    'a cell' => [RepairAction::ReplaceCell, true],
    'a group' => [RepairAction::ReplaceGroup, true],
    'a weld' => [RepairAction::Reweld, true],
    'a joint' => [RepairAction::CleanJoint, true],
    'a sense lead' => [RepairAction::RepairSense, true],
    'the path' => [RepairAction::RepairPath, true],
    'the board' => [RepairAction::ReplaceBoard, true],
    'top a group' => [RepairAction::ChargeGroup, true],
    'balance' => [RepairAction::Balance, true],
    'charge' => [RepairAction::ChargePack, true],
    'wake' => [RepairAction::WakeBoard, true],
    'the gauge' => [RepairAction::RelearnGauge, true],
    'lighter duty' => [RepairAction::LighterDuty, true],
    'the charger' => [RepairAction::ReplaceCharger, true],
    'the device' => [RepairAction::RepairLoad, true],
    'a top-up' => [RepairAction::KeepWithTopup, true],
    'nothing' => [RepairAction::None, false],
    'a donor' => [RepairAction::Donor, false],
    'the yard' => [RepairAction::Recycle, false],
    'the box' => [RepairAction::Quarantine, false],
    'all cells anew' => [RepairAction::Rebuild, false],
    'a new build' => [RepairAction::Build, false],
]);

it('does what may change the plan first and what wants the pack closed last, whatever was chosen first', function (): void {
    $order = array_map(
        fn(Option $o): RepairAction => $o->action,
        Combined::ordered([
            wayOf(RepairAction::Relabel),
            wayOf(RepairAction::WakeBoard),
            wayOf(RepairAction::ChargeGroup, [4]),
            wayOf(RepairAction::ReplaceGroup, [2]),
            wayOf(RepairAction::RecoverGroup, [3]),
        ]),
    );
    expect($order)->toBe([
        RepairAction::RecoverGroup,
        RepairAction::ReplaceGroup,
        RepairAction::ChargeGroup,
        RepairAction::WakeBoard,
        RepairAction::Relabel,
    ]);
});
