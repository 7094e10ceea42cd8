<?php

declare(strict_types=1);

use Heartwood\Core\Limits\TrainerLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Trainer\Ailment;
use Heartwood\Core\Trainer\Choice;
use Heartwood\Core\Trainer\Outturn;
use Heartwood\Core\Trainer\Round;
use Heartwood\Core\Trainer\Rounds;
use Heartwood\Core\Trainer\Score;

require_once __DIR__ . '/TrainerRounds.php';

// The numbers of a round, on both sides of each.

it('costs of the clock what an act costs at the bench', function (): void {
    $round = roundWith(Ailment::Nothing);
    $of = fn(array $a): int => $round->play(Fields::of($a))['seconds'];
    expect($of(['do' => 'look']))
        ->toBe(120)
        ->and($of(['do' => 'read', 'from' => 'T0', 'to' => 'T1']))
        ->toBe(14)
        ->and($of(['do' => 'read', 'from' => 'T0', 'to' => 'T99']))
        ->toBe(10)
        ->and($of(['do' => 'wait', 'hours' => 2]))
        ->toBe(7200)
        ->and($of(['do' => 'unplug']))
        ->toBe(60)
        ->and($of(['do' => 'test', 'test' => ['kind' => 'wake', 'action' => 'button']]))
        ->toBe(120);
    readAll($round);
    // Clips, the current, four seconds for each group while it flows, and the switch.
    expect($of(['do' => 'load', 'current_a' => -2, 'seconds' => 60]))->toBe(180 + 60 + 4 * $round->patient->spec->series + 1);
    expect($of(['do' => 'wait', 'hours' => 720]))
        ->toBe(720 * 3600)
        ->and(act($round, ['do' => 'wait', 'hours' => 720.1])['why'])
        ->toContain('720 hours');
});

it('takes as many acts as a round may have, and not one more', function (): void {
    $schema = json_decode((string) file_get_contents(dirname(__DIR__, 2) . '/contract/round.schema.json'), true);
    expect($schema['properties']['acts']['maxItems'])
        ->toBe(600)
        ->toBe(TrainerLimits::ACTS)
        ->and($schema['properties']['level']['maximum'])
        ->toBe(TrainerLimits::LEVELS);
    expect(fn(): Round => Rounds::of(5, 1))->toThrow(OutOfRangeException::class)->and(Rounds::of(4, 1))->toBeInstanceOf(Round::class);
});

it('has current through it for two hundred hours, and then for no more', function (): void {
    $round = roundWith(Ailment::Nothing);
    act($round, ['do' => 'look']);
    readAll($round);
    $load = ['do' => 'load', 'current_a' => -0.01, 'seconds' => 60];
    $round->patient->flowedS = 200 * 3600.0;
    expect(act($round, $load))->not->toHaveKey('refused');
    $round->patient->flowedS = 200 * 3600.0 + 1;
    expect(act($round, $load)['why'])
        ->toContain('say what it is')
        ->and(act($round, ['do' => 'test', 'test' => ['kind' => 'charge']]))
        ->toHaveKey('refused')
        // What takes no current is done all the same.
        ->and(act($round, ['do' => 'wait', 'hours' => 1]))
        ->toBe([])
        ->and(readAll($round)[1])
        ->toBeFloat();
    // All that flows is counted.
    $fresh = roundWith(Ailment::Nothing);
    act($fresh, ['do' => 'look']);
    readAll($fresh);
    act($fresh, $load);
    expect($fresh->patient->flowedS)->toBe(60.0 + 4 * $fresh->patient->spec->series);
});

it('slips with the probe only at the higher levels, and then rarely', function (): void {
    $slips = fn(int $level): int => array_sum(
        array_map(function (int $seed) use ($level): int {
            $round = Rounds::of($level, $seed);
            $n = 0;
            for ($i = 0; $i < 200; $i++) {
                $k = ($i % $round->patient->spec->series) + 1;
                $seen = act($round, ['do' => 'read', 'from' => 'T' . ($k - 1), 'to' => "T$k"])['v'];
                $n += abs($seen - $round->patient->across($k)) > 0.3 ? 1 : 0;
            }

            return $n;
        }, range(1, 60)),
    );
    expect([$slips(1), $slips(2), $slips(3), $slips(4)])->toBe([0, 0, 110, 179]);
});

it('has nothing wrong in one round of eight, and often two faults at once at level 4', function (): void {
    $none = $two = 0;
    foreach ([1, 2, 3, 4] as $level) {
        for ($seed = 1; $seed <= 150; $seed++) {
            $none += Rounds::of($level, $seed)->patient->truth === [] ? 1 : 0;
        }
    }
    for ($seed = 1; $seed <= 300; $seed++) {
        $truth = array_filter(Rounds::of(4, $seed)->patient->truth, fn(array $t): bool => $t['code'] !== 'bms.protecting');
        $two += count($truth) === 2 ? 1 : 0;
    }
    // Drawn with chances of 0.12 and 0.6: so many, and no other number of them.
    expect([$none, $two])->toBe([69, 138]);
});

it('holds for said what is more likely than not', function (): void {
    $truth = [['code' => 'group.dead', 'where' => ['group' => 4]]];
    $said = fn(float $p): bool => Score::of([$truth[0] + ['probability' => $p]], $truth)->right;
    expect([$said(0.49), $said(0.5)])->toBe([false, true]);
});

it('reckons a choice by what a cell, a part and an hour cost', function (): void {
    // A cell is 6, a part 25, an hour of hands 60.
    $group = Choice::of(RepairAction::ReplaceGroup, [['group' => 2]], $p = roundWith(Ailment::LowCapacity)->patient);
    $path = Choice::of(RepairAction::RepairPath, [], roundWith(Ailment::Fuse)->patient);
    expect([$group->cost, $group->minutes, $path->cost])->toBe([6.0 * $p->spec->parallel + 75.0, 75, 65.0]);
});

it('takes of the clock what the work takes, and counts parts and hands', function (): void {
    $round = atWork(Ailment::Dead);
    $at = fn(): float => $round->patient->clockS;
    $began = $at();
    act($round, ['do' => 'isolate']);
    expect($at() - $began)->toEqual(60);
    $began = $at();
    act($round, ['do' => 'hands', 'action' => 'replace-group', 'where' => [['group' => 2]], 'stands_v' => 3.8]);
    expect($at() - $began)->toEqual(60 * RepairAction::ReplaceGroup->minutes());
    $o = Outturn::of($round, 0, null);
    $cells = $round->patient->spec->parallel * TrainerLimits::CELL_CENTS;
    expect($o->minutes)
        ->toBe(RepairAction::ReplaceGroup->minutes())
        ->and($o->cost)
        ->toEqualWithDelta(($cells + ($o->minutes * TrainerLimits::HOUR_CENTS) / 60) / 100, 0.005);
    // New cells stand as they were brought there.
    expect($round->patient->across(2))->toEqualWithDelta(3.8, 0.01);
});

it('gives a run at the supply up after two days, and a charger a day at one time', function (): void {
    $round = atWork(Ailment::Undercharged);
    $went = workDone($round, [
        ['do' => 'isolate'],
        ['do' => 'read', 'from' => 'T1', 'to' => 'T2'],
        ['do' => 'supply', 'group' => 2, 'to' => 'full', 'current_a' => 0.03],
    ]);
    expect($went['hours'])->toEqualWithDelta(48.0, 0.1)->and($went['good'])->toBeFalse();
    expect(act($round, ['do' => 'level', 'hours' => 24])['hours'])->toEqual(24);
    act($round, ['do' => 'wait', 'hours' => 12]);
    readAll($round);
    expect(act($round, ['do' => 'level', 'hours' => 24.1])['why'])->toContain('no longer than 24 hours');
});

it('waits for the refill of all groups once: they stand through the same days', function (): void {
    $round = roundWith(Ailment::Nothing);
    act($round, ['do' => 'look']);
    readAll($round);
    $refill = fn(int $k, int $days): int => $round->play(
        Fields::of(['do' => 'test', 'test' => ['kind' => 'refill', 'scope' => ['group' => $k], 'days' => $days]]),
    )['seconds'];
    expect($refill(1, 9))->toBeGreaterThan(8 * 86_400);
    expect($refill(2, 9))->toBeLessThan(3 * 3600);
    // Longer than they have stood is waited for; what they lay on the way here counts for nothing.
    expect($refill(3, 12))
        ->toBeGreaterThan(2 * 86_400)
        ->toBeLessThan(3 * 86_400);
    $flowed = $round->play(Fields::of(['do' => 'load', 'current_a' => -1, 'seconds' => 10]));
    expect($flowed['seconds'])
        ->toBeGreaterThan(0)
        ->and($refill(1, 9))
        ->toBeGreaterThan(8 * 86_400);
});
