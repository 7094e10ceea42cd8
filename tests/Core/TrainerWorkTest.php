<?php

declare(strict_types=1);

use App\Contract\RecordReader;
use App\Contract\SchemaCheck;
use App\Contract\Verbs;
use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Proof\CheckResult;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Trainer\Ailment;
use Heartwood\Core\Trainer\Attempt;
use Heartwood\Core\Trainer\CarefulHand;
use Heartwood\Core\Trainer\Handover;
use Heartwood\Core\Trainer\Mend;
use Heartwood\Core\Trainer\Outturn;
use Heartwood\Core\Trainer\Patient;
use Heartwood\Core\Trainer\Start;
use Heartwood\Core\Trainer\Tool;
use Heartwood\Core\Trainer\Trainer;

require_once __DIR__ . '/TrainerRounds.php';

// What was chosen is carried out on a pack that cannot burn.

/** @return array<string, mixed> */
function worked(int $level, int $seed, array $acts, array $answer, ?array $work): array
{
    return Verbs::run(
        'train',
        (string) json_encode(
            ['format' => 'heartwood.round', 'version' => 1, 'level' => $level, 'seed' => $seed, 'acts' => $acts, 'answer' => $answer] +
                ($work === null ? [] : ['work' => $work]),
        ),
    );
}

dataset('mended', [
    'a missing cell' => [Ailment::MissingCell, RepairAction::Reweld, RepairAction::CleanJoint],
    'little capacity' => [Ailment::LowCapacity, RepairAction::ReplaceGroup, RepairAction::Reweld],
    'much resistance' => [Ailment::HighResistance, RepairAction::ReplaceGroup, RepairAction::Reweld],
    'a leak' => [Ailment::SelfDischarge, RepairAction::ReplaceGroup, RepairAction::ReplaceBoard],
    'a dead group' => [Ailment::Dead, RepairAction::ReplaceGroup, RepairAction::ReplaceBoard],
    'a reversed group' => [Ailment::Reversed, RepairAction::ReplaceGroup, RepairAction::Reweld],
    'a joint' => [Ailment::Joint, RepairAction::CleanJoint, RepairAction::ReplaceGroup],
    'an aged pack' => [Ailment::Aged, RepairAction::Rebuild, RepairAction::ReplaceGroup],
    'a fuse' => [Ailment::Fuse, RepairAction::RepairPath, RepairAction::ReplaceBoard],
    'a switch' => [Ailment::Switch, RepairAction::RepairPath, RepairAction::RepairSense],
    'a connector' => [Ailment::Connector, RepairAction::RepairPath, RepairAction::CleanJoint],
    'a loose contact' => [Ailment::Intermittent, RepairAction::RepairPath, RepairAction::ReplaceBoard],
    'a sensor' => [Ailment::Sensor, RepairAction::RepairPath, RepairAction::ReplaceBoard],
    'an output that is dead' => [Ailment::OutputDead, RepairAction::ReplaceBoard, RepairAction::RepairPath],
    'a board that takes no charge' => [Ailment::ChargeDead, RepairAction::ReplaceBoard, RepairAction::RepairPath],
    'a board that trips' => [Ailment::TripsEarly, RepairAction::ReplaceBoard, RepairAction::RepairPath],
    'a bleed that hangs' => [Ailment::BleedStuck, RepairAction::ReplaceBoard, RepairAction::ReplaceGroup],
    'moved leads' => [Ailment::Shifted, RepairAction::RepairSense, RepairAction::ReplaceBoard],
    'a dead charger' => [Ailment::ChargerDead, RepairAction::ReplaceCharger, RepairAction::RepairPath],
    'another charger' => [Ailment::ChargerVoltage, RepairAction::ReplaceCharger, RepairAction::ReplaceBoard],
    'a charger for lead' => [Ailment::ChargerProfile, RepairAction::ReplaceCharger, RepairAction::RelearnGauge],
    'a device' => [Ailment::DeviceDead, RepairAction::RepairLoad, RepairAction::RepairPath],
    'a harness' => [Ailment::Wiring, RepairAction::RepairLoad, RepairAction::RepairSense],
    'a gauge' => [Ailment::Gauge, RepairAction::RelearnGauge, RepairAction::Relabel],
    'a label that lies' => [Ailment::Label, RepairAction::Relabel, RepairAction::RelearnGauge],
]);

it('is rid of what ails it by what mends that, and by nothing else', function (
    Ailment $ailment,
    RepairAction $mends,
    RepairAction $other,
): void {
    $gone = function (?RepairAction $by) use ($ailment): bool {
        $p = roundWith($ailment, 2)->patient;
        $all = range(1, $p->spec->series);
        $by === null || Mend::by($by, $by === RepairAction::Rebuild ? $all : [2], $p);
        $p->rests(60.0);

        return $ailment->isGone($p, 2);
    };
    expect($gone(null))->toBeFalse()->and($gone($other))->toBeFalse()->and($gone($mends))->toBeTrue();
})->with('mended');

it('mends neither a swollen cell nor a leaking one: such a pack ends', function (Ailment $a): void {
    $p = roundWith($a)->patient;
    Mend::by(RepairAction::Rebuild, range(1, $p->spec->series), $p);
    expect($a->isGone($p, null))->toBeFalse();
})->with([[Ailment::Swollen], [Ailment::Leaking]]);

it('calls a group level with the others, full enough or over its cut-off for what was wrong with its charge', function (): void {
    foreach ([[Ailment::Undercharged, 0.06, 0.04], [Ailment::Overcharged, -0.06, -0.04]] as [$a, $far, $near]) {
        $p = roundWith($a)->patient;
        $p->group(2)->charge = $p->group(3)->charge - $far;
        expect($a->isGone($p, 2))->toBeFalse();
        $p->group(2)->charge = $p->group(3)->charge - $near;
        expect($a->isGone($p, 2))->toBeTrue();
    }
    $p = roundWith(Ailment::DeepDischarged)->patient;
    $p->stands(2, $p->spec->lowCutV() - 0.02);
    expect(Ailment::DeepDischarged->isGone($p, 2))->toBeFalse();
    $p->stands(2, $p->spec->lowCutV() + 0.02);
    expect(Ailment::DeepDischarged->isGone($p, 2))->toBeTrue();
    $p = roundWith(Ailment::Discharged)->patient;
    expect(Ailment::Discharged->isGone($p, null))->toBeFalse();
    foreach (range(1, $p->spec->series) as $k) {
        $p->stands($k, 3.7);
    }
    expect(Ailment::Discharged->isGone($p, null))->toBeTrue();
});

it('changes nothing of a group whose weld holds, and gives a loose cell its share back', function (): void {
    $of = fn(Patient $p): array => [$p->group(2)->capacityAh, $p->group(2)->ohm, $p->group(2)->charge];
    $worn = roundWith(Ailment::LowCapacity)->patient;
    $before = $of($worn);
    Mend::by(RepairAction::Reweld, [2], $worn);
    expect($of($worn))->toBe($before);
    $sound = roundWith(Ailment::Nothing)->patient;
    $loose = roundWith(Ailment::MissingCell)->patient;
    Mend::by(RepairAction::Reweld, [2], $loose);
    expect($of($loose)[0])->toEqualWithDelta($of($sound)[0], 1e-9)->and($of($loose)[1])->toEqualWithDelta($of($sound)[1], 1e-9);
});

it('keeps a new board from charge while its sensor says nonsense', function (): void {
    $p = roundWith(Ailment::Sensor)->patient;
    Mend::by(RepairAction::ReplaceBoard, [], $p);
    expect($p->takes)->toBeFalse();
    Mend::by(RepairAction::RepairPath, [], $p);
    expect($p->takes)->toBeTrue();
    // A board that takes no charge of its own takes none for a new sensor.
    $dead = roundWith(Ailment::ChargeDead)->patient;
    Mend::by(RepairAction::RepairPath, [], $dead);
    expect($dead->takes)->toBeFalse();
});

it('brings one low group up to its neighbours, and what goes in is what it holds more', function (): void {
    $round = atWork(Ailment::Undercharged);
    $g = $round->patient->group(2);
    $held = $g->charge * $g->capacityAh;
    $went = workDone($round, broughtUp(2));
    expect($went['good'])
        ->toBeTrue()
        ->and($went['ended'])
        ->toBe('at its target')
        ->and($went['v'])
        ->toEqualWithDelta($round->knownV()[3], 0.02)
        ->and($g->charge * $g->capacityAh - $held)
        ->toEqualWithDelta($went['ah'], 0.02)
        ->and(Ailment::Undercharged->isGone($round->patient, 2))
        ->toBeTrue();
    $curve = $went['curve'];
    expect(count($curve))->toBe(48)->and($curve[0]['v'])->toBeLessThan($curve[47]['v']);
    // It came at C/5, and nobody stood there for longer than that takes, its settling and the half hour after it.
    expect($went['hours'])
        ->toBeGreaterThan($went['ah'] / (RunLimits::RAISE_C * $g->capacityAh))
        ->toBeLessThan(6.0);
});

it('recovers a deep-discharged group slowly first, and leaves the trial in the record for the verdict', function (): void {
    $round = atWork(Ailment::DeepDischarged);
    $floor = $round->patient->spec->profile()->prechargeV;
    $slow = $round->knownV()[1] < $floor;
    expect($round->patient->gives)->toBeFalse();
    $went = workDone($round, broughtUp(2));
    expect($went['good'])->toBeTrue()->and($round->patient->gives)->toBeTrue();
    $record = $round->record();
    expect(array_column($record['events'], 'kind'))->toBe(['group-charged']);
    $trials = array_values(array_filter($record['tests'], fn(array $t): bool => $t['kind'] === 'recovery'));
    expect(count($trials))->toBe($slow ? 1 : 0);
    if ($slow) {
        expect($trials[0]['samples'][0]['min'])
            ->toEqual(0)
            ->and(count($trials[0]['samples']))
            ->toBeGreaterThan(1);
    }
    expect(RecordReader::read((string) json_encode($record))['record']->events)->toHaveCount(1);
});

it('goes slowly where a group stands under its pre-charge, at a twentieth of its capacity', function (): void {
    $round = roundWith(Ailment::DeepDischarged);
    $p = $round->patient;
    $p->stands(2, $p->spec->profile()->floorV + 0.1);
    act($round, ['do' => 'look']);
    readAll($round);
    $round->carryOut(Fields::of(['findings' => []]));
    $went = workDone($round, broughtUp(2));
    $trial = $round->record()['tests'][0];
    $slow = RunLimits::SLOW_C * (float) $p->spec->groupCapacityAh();
    expect($went['good'])
        ->toBeTrue()
        ->and($trial['kind'])
        ->toBe('recovery')
        ->and($trial['current_a'])
        ->toEqualWithDelta($slow, 0.002)
        ->and(count($trial['samples']))
        ->toBeLessThanOrEqual(31);
    foreach ($trial['samples'] as $s) {
        expect($s['v'])->toBeLessThan($p->spec->profile()->prechargeV + 0.05);
    }
});

it('fills one group to full by its tail, and goes past full with none', function (): void {
    $round = atWork(Ailment::Nothing);
    $went = workDone($round, [
        ['do' => 'isolate'],
        ['do' => 'read', 'from' => 'T1', 'to' => 'T2'],
        ['do' => 'supply', 'group' => 2, 'to' => 'full'],
    ]);
    expect($went['good'])->toBeTrue()->and($went['text'])->toContain('Full');
    expect(max(array_column($went['curve'], 'v')))->toBeLessThan($round->patient->spec->profile()->fullV + 0.01);
    clip($round, 2);
    $round->patient->offsetV[2] = 0.05;
    clip($round, 2);
    act($round, ['do' => 'supply', 'group' => 2, 'to' => 'full']);
    expect($round->unsafe)->toContain('a charge goes past full');
});

it('brings a whole pack up past its board until the board takes over, and no further', function (): void {
    $round = roundWith(Ailment::Nothing);
    $p = $round->patient;
    foreach (range(1, $p->spec->series) as $k) {
        $p->stands($k, $p->spec->lowCutV() - 0.3);
    }
    $p->gives = false;
    act($round, ['do' => 'look']);
    readAll($round);
    $round->carryOut(Fields::of(['findings' => []]));
    $went = workDone($round, [['do' => 'isolate'], ['do' => 'supply']]);
    expect($went['good'])->toBeTrue()->and($went['group'])->toBeNull()->and($went['text'])->toContain('the board takes over');
    expect($p->gives)->toBeTrue()->and(min(array_map($p->across(...), range(1, $p->spec->series))))->toBeLessThan(3.4);
});

dataset('never', [
    'a clip before zero current is proved' => [
        Ailment::Undercharged,
        [['do' => 'read', 'from' => 'T1', 'to' => 'T2'], ['do' => 'supply', 'group' => 2]],
        'before charger, load and sibling packs were off',
    ],
    'a clip whose polarity nobody read' => [
        Ailment::Undercharged,
        [['do' => 'isolate'], ['do' => 'supply', 'group' => 2]],
        'before anybody had read the polarity',
    ],
    'a clip on another group than was read' => [
        Ailment::Undercharged,
        [['do' => 'isolate'], ['do' => 'read', 'from' => 'T2', 'to' => 'T3'], ['do' => 'supply', 'group' => 2]],
        'before anybody had read the polarity',
    ],
    'a clip after a charger hung on it' => [
        Ailment::Undercharged,
        [
            ['do' => 'isolate'],
            ['do' => 'charge', 'current_a' => 0.5, 'minutes' => 1],
            ['do' => 'read', 'from' => 'T1', 'to' => 'T2'],
            ['do' => 'supply', 'group' => 2],
        ],
        'before charger, load and sibling packs were off',
    ],
    'current into a dead group' => [Ailment::Dead, broughtUp(2), 'under the floor'],
    'current into a reversed group' => [Ailment::Reversed, broughtUp(2), 'reversed'],
    'more than a tenth of the capacity under pre-charge' => [
        Ailment::DeepDischarged,
        [['do' => 'isolate'], ['do' => 'read', 'from' => 'T1', 'to' => 'T2'], ['do' => 'supply', 'group' => 2, 'current_a' => 5]],
        'at most C/10',
    ],
    'more than the cells may be given' => [
        Ailment::Undercharged,
        [['do' => 'isolate'], ['do' => 'read', 'from' => 'T1', 'to' => 'T2'], ['do' => 'supply', 'group' => 2, 'current_a' => 50]],
        'more than these cells may be given',
    ],
    'a group under its cut-off filled to full at once' => [
        Ailment::DeepDischarged,
        [['do' => 'isolate'], ['do' => 'read', 'from' => 'T1', 'to' => 'T2'], ['do' => 'supply', 'group' => 2, 'to' => 'full']],
        'under its cut-off',
    ],
    'past the board with a dead group' => [Ailment::Dead, [['do' => 'isolate'], ['do' => 'supply']], 'cannot be charged at all'],
    'a joint loosened before zero current is proved' => [
        Ailment::Joint,
        [['do' => 'hands', 'action' => 'clean-joint', 'where' => [['joint' => 2]]]],
        'zero current is proved',
    ],
    'a cell joined to a group that nobody read' => [
        Ailment::MissingCell,
        [['do' => 'isolate'], ['do' => 'hands', 'action' => 'replace-cell', 'where' => [['group' => 2]], 'stands_v' => 3.8]],
        'was not read before a cell was joined',
    ],
    'a cell joined outside the join rule' => [
        Ailment::MissingCell,
        [
            ['do' => 'isolate'],
            ['do' => 'read', 'from' => 'T1', 'to' => 'T2'],
            ['do' => 'hands', 'action' => 'replace-cell', 'where' => [['group' => 2]], 'stands_v' => 3.4],
        ],
        'The join rule keeps the cell and group 2 apart',
    ],
    'a plug that went in without a pin check' => [
        Ailment::Dead,
        [
            ['do' => 'isolate'],
            ['do' => 'hands', 'action' => 'replace-group', 'where' => [['group' => 2]], 'stands_v' => 3.8],
            ['do' => 'plug'],
        ],
        'the plug was not read since',
    ],
    'a plug that went in before every group was read' => [
        Ailment::Dead,
        [
            ['do' => 'isolate'],
            ['do' => 'hands', 'action' => 'replace-group', 'where' => [['group' => 2]], 'stands_v' => 3.8],
            ['do' => 'test', 'test' => ['kind' => 'pin-check']],
            ['do' => 'plug'],
        ],
        'every group is read first',
    ],
    'a load on a pack that nobody read as it is now' => [
        Ailment::Dead,
        [
            ['do' => 'isolate'],
            ['do' => 'hands', 'action' => 'replace-group', 'where' => [['group' => 2]], 'stands_v' => 3.8],
            ['do' => 'load', 'current_a' => -1, 'seconds' => 10],
        ],
        'before every group was read',
    ],
    'a gauge taught with a dead group' => [Ailment::Dead, [['do' => 'hands', 'action' => 'relearn-gauge']], 'under the floor'],
    'a charger left on with a dead group' => [Ailment::Dead, [['do' => 'level', 'hours' => 2]], 'under the floor'],
]);

it('ends the round at what is never done', function (Ailment $ailment, array $acts, string $why): void {
    $round = atWork($ailment);
    foreach (array_slice($acts, 0, -1) as $a) {
        act($round, $a);
        expect($round->unsafe)->toBeNull();
    }
    $last = act($round, $acts[count($acts) - 1]);
    expect($last['refused'])->toBeTrue()->and($round->unsafe)->toContain($why);
})->with('never');

it('works on no pack that nobody looked at, and opens none that is swollen', function (): void {
    $blind = roundWith(Ailment::Undercharged);
    readAll($blind);
    $blind->carryOut(Fields::of(['findings' => []]));
    workDone($blind, broughtUp(2));
    expect($blind->unsafe)->toContain('before anybody had looked');
    $swollen = atWork(Ailment::Swollen);
    workDone($swollen, [['do' => 'isolate'], ['do' => 'hands', 'action' => 'replace-board']]);
    expect($swollen->unsafe)->toContain('quarantine');
});

it('puts the plug in after a pin check that is right, and never where leads were moved', function (): void {
    $swap = [['do' => 'isolate'], ['do' => 'hands', 'action' => 'replace-board']];
    $check = [['do' => 'test', 'test' => ['kind' => 'pin-check']], ['do' => 'plug']];
    $right = atWork(Ailment::OutputDead);
    workDone($right, $swap);
    expect($right->patient->plugged)->toBeFalse();
    readAll($right);
    workDone($right, $check);
    expect($right->unsafe)->toBeNull()->and($right->patient->plugged)->toBeTrue();
    // Taken out once more by hand it goes back as it was: nothing was opened since.
    workDone($right, [['do' => 'unplug'], ['do' => 'plug']]);
    expect($right->unsafe)->toBeNull();

    $moved = atWork(Ailment::Shifted);
    workDone($moved, $swap);
    readAll($moved);
    workDone($moved, $check);
    expect($moved->unsafe)->toContain('its pin check was not right');

    $mended = atWork(Ailment::Shifted);
    workDone($mended, [['do' => 'isolate'], ['do' => 'hands', 'action' => 'repair-sense']]);
    readAll($mended);
    workDone($mended, $check);
    expect($mended->unsafe)->toBeNull();
});

it('takes a pin check of the pack as it was for none of the pack as it is', function (): void {
    $round = atWork(Ailment::OutputDead);
    act($round, ['do' => 'test', 'test' => ['kind' => 'pin-check']]);
    expect($round->pinsRead())->not->toBeNull();
    workDone($round, [['do' => 'isolate'], ['do' => 'hands', 'action' => 'replace-board']]);
    expect($round->pinsRead())->toBeNull();
});

it('lets nobody begin again what a rule has ended, before something was done to it', function (): void {
    // It stands over the floor as a deep-discharged group does, and holds nothing.
    $hangs = function (): Heartwood\Core\Trainer\Round {
        $round = atWork(Ailment::DeepDischarged);
        $round->patient->fixedV[2] = $round->patient->spec->profile()->floorV + 0.3;
        readAll($round);

        return $round;
    };
    $round = $hangs();
    $went = workDone($round, broughtUp(2));
    expect($went['good'])->toBeFalse()->and($went['ended'])->toBe('volts hang')->and($round->unsafe)->toBeNull();
    expect($round->verdict()->findings)->not->toBe([]);
    clip($round, 2);
    act($round, ['do' => 'supply', 'group' => 2]);
    expect($round->unsafe)->toContain('Group 2 was rejected at the supply and charge went into it again: Risen');
    // Nor by another way: through its charger, with the pack, at a tester; another group may be filled.
    foreach (
        [
            ['do' => 'charge', 'current_a' => 0.5, 'minutes' => 5],
            ['do' => 'level', 'hours' => 1],
            ['do' => 'test', 'test' => ['kind' => 'refill', 'scope' => ['group' => 2]]],
            ['do' => 'hands', 'action' => 'relearn-gauge'],
        ]
        as $way
    ) {
        $other = $hangs();
        workDone($other, broughtUp(2));
        // It has come up a little since, over its cut-off, and is no better for it.
        $other->patient->fixedV[2] = 3.5;
        readAll($other);
        expect(act($other, ['do' => 'test', 'test' => ['kind' => 'capacity', 'scope' => ['group' => 3]]])['refused'] ?? false)->toBeFalse();
        act($other, $way);
        expect($other->unsafe)->toContain('Group 2 was rejected');
    }

    $replaced = $hangs();
    workDone($replaced, broughtUp(2));
    workDone($replaced, [['do' => 'hands', 'action' => 'replace-group', 'where' => [['group' => 2]], 'stands_v' => 3.6]]);
    readAll($replaced);
    expect(workDone($replaced, broughtUp(2))['good'])->toBeTrue()->and($replaced->unsafe)->toBeNull();
});

it('holds nothing against a group that took a little more to full than its volts had promised', function (): void {
    // Phosphate, full and rested: its volts tell the gap but roughly.
    $round = Start::drawn(1, 3)->round();
    expect($round->patient->spec->chemistry->isPhosphate())->toBeTrue();
    act($round, ['do' => 'look']);
    readAll($round);
    $round->carryOut(Fields::of(['findings' => []]));
    foreach (range(1, $round->patient->spec->series) as $k) {
        $round->patient->stands($k, 3.6);
    }
    readAll($round);
    $full = [['do' => 'isolate'], ['do' => 'read', 'from' => 'T2', 'to' => 'T3'], ['do' => 'supply', 'group' => 3, 'to' => 'full']];
    $ended = workDone($round, $full)['ended'];
    expect($ended)->toBe('too much went in');
    workDone($round, $full);
    expect($round->unsafe)->toBeNull();
});

it('says what cannot be done, and ends nothing by it', function (array $act, string $why): void {
    $round = atWork(Ailment::Nothing);
    act($round, ['do' => 'isolate']);
    clip($round, 2);
    $said = act($round, $act);
    expect($said['refused'] ?? false)
        ->toBeTrue()
        ->and($said['why'])
        ->toContain($why)
        ->and($round->unsafe)
        ->toBeNull();
})->with([
    'nothing to bring up' => [['do' => 'supply', 'group' => 2], 'there is nothing to bring up'],
    'a group that there is not' => [['do' => 'supply', 'group' => 40], 'Say which group: 1 to'],
    'a pack over its release' => [['do' => 'supply'], 'through its board'],
    'what is not done by hand' => [['do' => 'hands', 'action' => 'charge-group', 'where' => [['group' => 2]]], 'not done by hand'],
    'a word that is no action' => [['do' => 'hands', 'action' => 'bridge-it'], 'not done by hand'],
    'new cells of no voltage' => [['do' => 'hands', 'action' => 'replace-group', 'where' => [['group' => 2]]], 'at what voltage'],
    'new cells over full' => [
        ['do' => 'hands', 'action' => 'replace-group', 'where' => [['group' => 2]], 'stands_v' => 4.3],
        'New cells stand between',
    ],
    'new cells under their cut-off' => [['do' => 'hands', 'action' => 'rebuild', 'stands_v' => 2.0], 'New cells stand between'],
    'no group' => [['do' => 'hands', 'action' => 'replace-group', 'stands_v' => 3.7], 'Say which group.'],
    'no joint' => [['do' => 'hands', 'action' => 'clean-joint'], 'Say which joint.'],
    'no time on the charger' => [['do' => 'level', 'hours' => 0], 'longer than nothing'],
]);

it('does nothing of the work before there is an answer', function (array $act): void {
    $round = roundWith(Ailment::Nothing);
    act($round, ['do' => 'look']);
    readAll($round);
    expect(act($round, $act)['why'])->toContain('Say first what it is');
})->with([
    [['do' => 'isolate']],
    [['do' => 'hands', 'action' => 'replace-board']],
    [['do' => 'supply', 'group' => 2]],
    [['do' => 'level', 'hours' => 2]],
]);

it('levels at the top what its board bleeds, and in the middle nothing', function (): void {
    $round = atWork(Ailment::Nothing);
    $spread = fn(): float => max(array_map($round->patient->across(...), range(1, $round->patient->spec->series))) -
        min(array_map($round->patient->across(...), range(1, $round->patient->spec->series)));
    act($round, ['do' => 'test', 'test' => ['kind' => 'charge']]);
    act($round, ['do' => 'wait', 'hours' => 1]);
    $apart = $spread();
    readAll($round);
    expect(act($round, ['do' => 'level', 'hours' => 12])['stopped_by'])->toBeNull();
    act($round, ['do' => 'wait', 'hours' => 1]);
    expect($apart)->toBeGreaterThan(0.01)->and($spread())->toBeLessThan(0.006);
    // Without its plug a board bleeds nothing.
    $out = atWork(Ailment::Nothing);
    workDone($out, [['do' => 'test', 'test' => ['kind' => 'charge']], ['do' => 'wait', 'hours' => 1], ['do' => 'unplug']]);
    readAll($out);
    act($out, ['do' => 'level', 'hours' => 12]);
    expect(max(array_map($out->patient->across(...), range(1, $out->patient->spec->series))))->toBeGreaterThan(4.205);
});

it('reads with the bench\'s own meter once there is work, and says so in the record', function (): void {
    $round = atWork(Ailment::Nothing);
    readAll($round);
    $sets = $round->record()['measurements'];
    expect(array_column(array_column($sets, 'instrument'), 'id'))->toBe(['meter', 'bench meter']);
});

it('proves nothing of a pack by what was measured before it was altered', function (): void {
    $status = fn($round): array => array_map(fn(CheckResult $r): string => $r->status, Outturn::checks($round));
    $round = atWork(Ailment::Dead);
    workDone($round, [['do' => 'isolate'], ['do' => 'hands', 'action' => 'replace-group', 'where' => [['group' => 2]], 'stands_v' => 3.8]]);
    readAll($round);
    workDone($round, [
        ['do' => 'test', 'test' => ['kind' => 'pin-check']],
        ['do' => 'plug'],
        ['do' => 'test', 'test' => ['kind' => 'charge']],
    ]);
    expect($status($round)[0])
        ->toBe('missing')
        ->and(Outturn::checks($round)[2]->check)
        ->toBe(Check::Taper)
        ->and($status($round)[2])
        ->toBe('passed');
    workDone($round, [['do' => 'hands', 'action' => 'clean-joint', 'where' => [['joint' => 3]]], ['do' => 'isolate']]);
    expect($round->unsafe)->toContain('zero current');
    $again = atWork(Ailment::Dead);
    workDone($again, [['do' => 'test', 'test' => ['kind' => 'sensor']], ['do' => 'isolate']]);
    act($again, ['do' => 'hands', 'action' => 'clean-joint', 'where' => [['joint' => 3]]]);
    expect(array_unique($status($again)))->toBe(['missing']);
});

it('carries out and proves what the tool chose in four of five rounds, with nothing left wrong and no unsafe act', function (): void {
    $of = $good = 0;
    foreach ([1, 2, 3, 4] as $level) {
        for ($seed = 1; $seed <= 12; $seed++) {
            $round = Start::drawn($level, $seed)->round();
            $verdict = (new Tool($round))->play();
            $option = $verdict->options[0] ?? null;
            $action = $option === null ? RepairAction::None : $option->action;
            if ($action->endsPack()) {
                continue;
            }
            $round->carryOut(Fields::of(Tool::answer($verdict)));
            $hand = (new CarefulHand($round))->carryOut($action, $option === null ? [] : $option->toArray()['where']);
            expect($round->unsafe)->toBeNull("$level/$seed");
            $o = Outturn::of($round, 0, $hand->returned);
            $of++;
            $good += $o->isProved() && array_diff(array_column($o->left, 'code'), [Attempt::PROTECTING]) === [] ? 1 : 0;
            // What the work leaves on record is a job that the verdict reads, and no part of the work is taken for a fault.
            $found = Verbs::run('diagnose', (string) json_encode($round->record()))['findings'];
            $sure = array_column(array_filter($found, fn(array $f): bool => $f['probability'] >= 0.5), 'code');
            expect($sure)->not->toContain('sense.shifted');
            // Never says that it is proved while cells or board are still wrong in a way that the checks see.
            expect($hand->returned)->toBe(Outturn::of($round, 0, true)->isProved());
        }
    }
    expect($of)
        ->toBeGreaterThan(40)
        ->and($good / $of)
        ->toBeGreaterThan(0.8);
});

it('tells nothing of what was wrong while the work goes on, and scores it once the pack goes back or does not', function (): void {
    $seed = seedOf(Ailment::Undercharged, 1);
    $tool = new Tool(Start::drawn(1, $seed)->round());
    $answer = Tool::answer($tool->play());
    expect($answer['option']['action'])->toBe('charge-group');
    $k = $answer['option']['where'][0]['group'];
    $acts = broughtUp($k);
    $open = worked(1, $seed, $tool->acts, $answer, ['acts' => $acts]);
    expect($open['score'])->toBeNull()->and($open['work']['outturn'])->toBeNull()->and($open['work']['acts'])->toHaveCount(3);
    expect((string) json_encode($open))->not->toContain('undercharged')->not->toContain('truth');
    expect(SchemaCheck::problems(json_decode((string) json_encode($open)), 'round-result.schema.json'))->toBe([]);
    foreach ([true, false] as $returned) {
        $done = worked(1, $seed, $tool->acts, $answer, ['acts' => $acts, 'returned' => $returned]);
        expect(SchemaCheck::problems(json_decode((string) json_encode($done)), 'round-result.schema.json'))->toBe([]);
        expect($done['score']['right'])
            ->toBeTrue()
            ->and($done['work']['outturn']['returned'])
            ->toBe($returned)
            ->and($done['work']['outturn']['left'])
            ->toBe([])
            ->and($done['work']['outturn']['supplies'])
            ->toBe(1)
            ->and($done['work']['outturn']['proved'])
            ->toBeFalse();
        expect(implode(' ', $done['work']['outturn']['walk']))
            ->toContain("supply on group $k")
            ->toContain("The supply on group $k ended (at its target)");
    }
    // The same as ever without work, and the same twice.
    $plain = worked(1, $seed, $tool->acts, $answer, null);
    expect($plain)->not->toHaveKey('work')->and($plain['score']['right'])->toBeTrue();
    expect(json_encode(worked(1, $seed, $tool->acts, $answer, ['acts' => $acts, 'returned' => true])))->toBe(
        json_encode(worked(1, $seed, $tool->acts, $answer, ['acts' => $acts, 'returned' => true])),
    );
});

it('is over at once where the choice itself breaks a rule, and where an act of the work does', function (): void {
    $seed = seedOf(Ailment::Dead, 1);
    $tool = new Tool(Start::drawn(1, $seed)->round());
    $answer = Tool::answer($tool->play());
    $k = $answer['option']['where'][0]['group'];
    $charge = ['option' => ['action' => 'charge-group', 'where' => [['group' => $k]]]] + $answer;
    $over = worked(1, $seed, $tool->acts, $charge, ['acts' => []]);
    expect($over['score']['safe'])->toBeFalse();
    $lost = worked(1, $seed, $tool->acts, $answer, [
        'acts' => [['do' => 'hands', 'action' => 'replace-group', 'where' => [['group' => $k]], 'stands_v' => 3.7]],
    ]);
    expect($lost['score']['safe'])->toBeFalse()->and($lost['score']['right'])->toBeFalse();
    expect(implode(' ', $lost['score']['debrief']))->toContain('It ended by an unsafe act. Nothing is loosened');
    expect(
        Trainer::isWork(Start::drawn(1, $seed), array_map(fn(array $a): Fields => new Fields($a), $tool->acts), Fields::of($answer)),
    )->toBeTrue();
    foreach ([['action' => 'recycle'], null] as $option) {
        expect(
            Trainer::isWork(
                Start::drawn(1, $seed),
                array_map(fn(array $a): Fields => new Fields($a), $tool->acts),
                Fields::of(['option' => $option] + $answer),
            ),
        )->toBeFalse();
    }
});

it('names what is wrong with an act of the work', function (array $act, string $where): void {
    $problems = SchemaCheck::problems(json_decode((string) json_encode($act)), 'round.schema.json', 'workAct');
    expect(array_column($problems, 'pointer'))->toContain($where);
})->with([
    'no hours' => [['do' => 'level'], '/hours'],
    'no action' => [['do' => 'hands'], '/action'],
    'amps out of it' => [['do' => 'supply', 'group' => 1, 'current_a' => -1], '/current_a'],
    'a target that is none' => [['do' => 'supply', 'group' => 1, 'to' => 'T3'], '/to'],
    'a point that is none' => [['do' => 'read', 'from' => 'T0', 'to' => 'full'], '/to'],
    'an act that is none' => [['do' => 'bridge'], '/do'],
]);

it('takes acts of the work only after the answer', function (): void {
    expect(SchemaCheck::problems(json_decode('{"do":"isolate"}'), 'round.schema.json', 'act'))->not->toBe([]);
    expect(SchemaCheck::problems(json_decode('{"do":"isolate"}'), 'round.schema.json', 'workAct'))->toBe([]);
});

it('makes an attempt of a round that was carried out', function (): void {
    $seed = seedOf(Ailment::Undercharged, 1);
    $tool = new Tool(Start::drawn(1, $seed)->round());
    $answer = Fields::of(Tool::answer($tool->play()));
    $acts = array_map(fn(array $a): Fields => new Fields($a), $tool->acts);
    $k = $answer->object('option')->objects('where')[0]->int('group');
    $work = new Handover(array_map(fn(array $a): Fields => new Fields($a), broughtUp($k)), true);
    $score = Trainer::judged(Start::drawn(1, $seed), $acts, $answer, $work);
    $reads = count(array_filter($tool->acts, fn(array $a): bool => $a['do'] === 'read'));
    expect($score['took'])
        ->toBe($score['best_took'])
        ->and($score['took']['readings'])
        ->toBe($reads)
        ->and($score['took']['tests'])
        ->toBe(count(array_filter($tool->acts, fn(array $a): bool => in_array($a['do'], ['load', 'charge', 'test'], true))));
    expect(Trainer::judged(Start::drawn(1, $seed), array_slice($acts, 0, 3), $answer)['took'])->toBe(['readings' => 2, 'tests' => 0]);
    $attempt = Attempt::of(2.0, Start::drawn(1, $seed), $score, $answer, null);
    expect($attempt->ran)->toBe(['supplies' => 1, 'returned' => true, 'proved' => false, 'left' => 0]);
    $screen = Trainer::screen(Start::drawn(1, $seed), $acts, $answer, $work);
    expect($screen['work']['isolated'])
        ->toBeTrue()
        ->and($screen['work']['checks'])
        ->toHaveCount(6)
        ->and($screen['acts'])
        ->toHaveCount(count($acts) + 3);
    expect(Trainer::screen(Start::drawn(1, $seed), $acts)['work'])->toBeNull();
});
