<?php

declare(strict_types=1);

use App\Contract\RecordReader;
use App\Contract\SchemaCheck;
use App\Contract\Verbs;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Trainer\Ailment;
use Heartwood\Core\Trainer\Choice;
use Heartwood\Core\Trainer\Luck;
use Heartwood\Core\Trainer\Meter;
use Heartwood\Core\Trainer\Rounds;
use Heartwood\Core\Trainer\Score;
use Heartwood\Core\Trainer\Tool;

require_once __DIR__ . '/TrainerRounds.php';

// Rounds of the trainer: packs that cannot burn.

/** @param  list<array<string, mixed>>  $acts  @return array<string, mixed> */
function round_(int $level, int $seed, array $acts = [], ?array $answer = null): array
{
    return Verbs::run(
        'train',
        (string) json_encode([
            'format' => 'heartwood.round',
            'version' => 1,
            'level' => $level,
            'seed' => $seed,
            'acts' => $acts,
            'answer' => $answer,
        ]),
    );
}

/** @return list<array<string, mixed>> look, every group, the whole and the output */
function firstReadings(int $series): array
{
    return [
        ['do' => 'look'],
        ...array_map(fn(int $k): array => ['do' => 'read', 'from' => 'T' . ($k - 1), 'to' => "T$k"], range(1, $series)),
        ['do' => 'read', 'from' => 'P-', 'to' => 'P+'],
    ];
}

it('gives for the same level, seed and acts the same results, and for another seed another pack', function (): void {
    foreach ([1, 2, 3, 4] as $level) {
        $series = round_($level, 11)['brief']['pack']['series'];
        $acts = [...firstReadings($series), ['do' => 'wait', 'hours' => 24], ...firstReadings($series)];
        $one = round_($level, 11, $acts);
        expect(json_encode($one))->toBe(json_encode(round_($level, 11, $acts)));
        // What was shown stays as it was shown, whatever is done next.
        expect(array_slice($one['acts'], 0, 5))->toEqual(round_($level, 11, array_slice($acts, 0, 5))['acts']);
        $packs = array_map(fn(int $s): string => json_encode(round_($level, $s)['brief']), range(1, 12));
        expect(array_unique($packs))->toHaveCount(12);
    }
});

it('answers as its schema says, with a record that a verdict can be had of', function (): void {
    foreach ([[1, 3], [2, 9], [3, 4], [4, 8]] as [$level, $seed]) {
        $tool = new Tool(Rounds::of($level, $seed));
        $answer = Tool::answer($tool->play());
        foreach ([null, $answer] as $said) {
            $out = round_($level, $seed, $tool->acts, $said);
            expect(SchemaCheck::problems(json_decode((string) json_encode($out)), 'round-result.schema.json'))->toBe([], "$level/$seed");
        }
        $record = RecordReader::read((string) json_encode($out['record']))['record'];
        expect(Diagnoser::diagnose($record)->findings === [])->toBe($answer['findings'] === []);
    }
});

it(
    'has at least twelve kinds of fault, each a code of the catalogue, more of them at higher levels, and a tenth to a sixth with none',
    function (): void {
        $kinds = $none = [];
        foreach ([1, 2, 3, 4] as $level) {
            for ($seed = 1; $seed <= 150; $seed++) {
                $truth = Rounds::of($level, $seed)->patient->truth;
                $none[$level] = ($none[$level] ?? 0) + ($truth === [] ? 1 : 0);
                foreach ($truth as $t) {
                    $kinds[$level][$t['code']] = true;
                    expect(Faults::all())->toHaveKey($t['code']);
                }
            }
        }
        expect(count($kinds[1]))
            ->toBeGreaterThanOrEqual(11)
            ->and(count($kinds[1] + $kinds[2]))
            ->toBeGreaterThanOrEqual(20)
            ->and(count($kinds[1] + $kinds[2] + $kinds[3] + $kinds[4]))
            ->toBeGreaterThanOrEqual(30)
            // Drawn with a chance of 0.12: so many of the 600, and no other number of them.
            ->and(array_sum($none))
            ->toBe(69);
    },
);

it('has one fault a round up to level 3, and often two at level 4', function (): void {
    $faults = fn(int $level, int $seed): int => count(
        array_filter(Rounds::of($level, $seed)->patient->truth, fn(array $t): bool => $t['code'] !== 'bms.protecting'),
    );
    $two = 0;
    for ($seed = 1; $seed <= 60; $seed++) {
        foreach ([1, 2, 3] as $level) {
            expect($faults($level, $seed))->toBeLessThanOrEqual(1);
        }
        $two += $faults(4, $seed) === 2 ? 1 : 0;
    }
    for ($seed = 61; $seed <= 300; $seed++) {
        $two += $faults(4, $seed) === 2 ? 1 : 0;
    }
    // With a chance of 0.6 among those that something ails.
    expect($two)->toBe(138);
});

it('tells before the answer nowhere what is wrong', function (): void {
    for ($seed = 1; $seed <= 25; $seed++) {
        foreach ([1, 2, 3, 4] as $level) {
            $patient = Rounds::of($level, $seed)->patient;
            $out = round_($level, $seed, firstReadings($patient->spec->series));
            $text = (string) json_encode($out);
            expect($out['score'])->toBeNull()->and($text)->not->toMatch('/truth|ailment|fixedV|wokenBy|weldGroup|drainPer|swapped/i');
            foreach ($patient->truth as $t) {
                expect($text)->not->toContain($t['code']);
            }
        }
    }
});

it('lets nobody tell a fault by the words of a symptom', function (): void {
    // Whatever sentence is said is said of several faults, but for those that one symptom alone is reported of.
    $by = [];
    foreach ([2, 3] as $level) {
        for ($seed = 1; $seed <= 400; $seed++) {
            $p = Rounds::of($level, $seed)->patient;
            foreach ($p->says as $sentence) {
                $by[$sentence][$p->truth[0]['code'] ?? 'none'] = true;
            }
        }
    }
    $alone = array_filter($by, fn(array $codes): bool => count($codes) === 1);
    expect(count($by))->toBeGreaterThan(20)->and(count($alone))->toBeLessThan(10);
});

it('keeps charge: what goes in less what comes out is what the groups hold more', function (): void {
    $round = roundWith(Ailment::Nothing);
    $p = $round->patient;
    $held = fn(): float => array_sum(array_map(fn($g): float => $g->charge * $g->capacityAh, $p->cells->groups));
    $before = $held();
    foreach ($p->cells->groups as $g) {
        $g->leakA = 0.0;
    }
    $out = $p->flows(-2.0, 600);
    $in = $p->flows(1.0, 300);
    expect($held() - $before)
        ->toEqualWithDelta($p->spec->series * ($out['ah'] + $in['ah']), 1e-9)
        ->and($out['ah'])
        ->toEqualWithDelta(-2.0 / 6, 1e-9)
        ->and($in['ah'])
        ->toEqualWithDelta(1.0 / 12, 1e-9);
});

it('reads twice as it reads once, sinks under load, comes back when it rests', function (): void {
    $round = roundWith(Ailment::Nothing);
    act($round, ['do' => 'look']);
    $first = readAll($round);
    $again = readAll($round);
    foreach ($first as $k => $v) {
        expect($again[$k])->toEqualWithDelta($v, 0.002);
    }
    $load = act($round, ['do' => 'load', 'current_a' => -4, 'seconds' => 60]);
    $soon = readAll($round);
    act($round, ['do' => 'wait', 'hours' => 2]);
    $late = readAll($round);
    foreach ($first as $k => $v) {
        expect($load['groups_v'][$k - 1])
            ->toBeLessThan($v - 0.02)
            ->and($soon[$k])
            ->toBeGreaterThan($load['groups_v'][$k - 1])
            ->and($late[$k])
            ->toBeGreaterThan($soon[$k] - 0.001)
            ->toBeLessThan($v + 0.001);
    }
    $conditions = array_column($round->record()['measurements'], 'condition');
    expect($conditions)->toBe(['rest', 'discharge', 'relaxing', 'rest']);
});

it('corrects a reading by the same one read again in the same sitting, and by none of a later one', function (): void {
    $round = roundWith(Ailment::Nothing);
    act($round, ['do' => 'look']);
    $first = act($round, ['do' => 'read', 'from' => 'T0', 'to' => 'T1']);
    act($round, ['do' => 'read', 'from' => 'T1', 'to' => 'T2']);
    $again = act($round, ['do' => 'read', 'from' => 'T0', 'to' => 'T1']);
    $sets = fn(): array => $round->record()['measurements'];
    expect(array_map(fn(array $r): string => "{$r['from']} {$r['to']}", $sets()[0]['readings']))
        ->toBe(['T1 T2', 'T0 T1'])
        ->and($sets()[0]['readings'][1]['v'])
        ->toBe($again['v'])
        ->and($first['v'])
        ->toEqualWithDelta($again['v'], 0.002);
    act($round, ['do' => 'wait', 'hours' => 2]);
    act($round, ['do' => 'read', 'from' => 'T0', 'to' => 'T1']);
    expect($sets())->toHaveCount(2)->and($sets()[0]['readings'])->toHaveCount(2);
});

it('shows a leak by waiting, and no leak where there is none', function (): void {
    $round = roundWith(Ailment::SelfDischarge, 2);
    act($round, ['do' => 'look']);
    $before = readAll($round);
    act($round, ['do' => 'wait', 'hours' => 120]);
    $after = readAll($round);
    foreach ($before as $k => $v) {
        $k === 2 ? expect($v - $after[$k])->toBeGreaterThan(0.02) : expect($v - $after[$k])->toBeLessThan(0.004);
    }
});

it('leaks through the board only while its plug is in', function (): void {
    $round = roundWith(Ailment::BleedStuck, 2);
    $charge = fn(): float => $round->patient->group(2)->charge;
    $start = $charge();
    act($round, ['do' => 'wait', 'hours' => 48]);
    $plugged = $start - $charge();
    act($round, ['do' => 'unplug']);
    $start = $charge();
    act($round, ['do' => 'wait', 'hours' => 48]);
    expect($plugged)
        ->toBeGreaterThan(0.02)
        ->and($start - $charge())
        ->toBeLessThan(0.001);
    expect(act($round, ['do' => 'unplug']))->toHaveKey('refused');
});

it('ends with the rule named when current flows before a look, before the groups are read, or where it never may', function (
    Ailment $ailment,
    array $acts,
    string $rule,
): void {
    $round = roundWith($ailment);
    $series = $round->patient->spec->series;
    foreach ($acts as $a) {
        $a === 'read' ? readAll($round) : ($result = act($round, $a));
    }
    expect($round->unsafe)
        ->toContain($rule)
        ->and($result)
        ->toBe(['refused' => true, 'why' => $round->unsafe])
        ->and($series)
        ->toBeGreaterThan(3);
})->with([
    'no look' => [Ailment::Nothing, ['read', ['do' => 'load', 'current_a' => -2, 'seconds' => 10]], 'Triage'],
    'unread' => [Ailment::Nothing, [['do' => 'look'], ['do' => 'charge', 'current_a' => 1, 'minutes' => 5]], 'before every group was read'],
    'swollen' => [Ailment::Swollen, [['do' => 'look'], 'read', ['do' => 'load', 'current_a' => -2, 'seconds' => 10]], 'quarantine'],
    'a dead group is charged' => [
        Ailment::Dead,
        [['do' => 'look'], 'read', ['do' => 'charge', 'current_a' => 1, 'minutes' => 5]],
        'under the floor',
    ],
    'a dead group is revived' => [
        Ailment::Dead,
        [['do' => 'look'], 'read', ['do' => 'test', 'test' => ['kind' => 'recovery', 'scope' => ['group' => 2]]]],
        'replaced, not revived',
    ],
    'a reversed group is revived' => [
        Ailment::Reversed,
        [['do' => 'look'], 'read', ['do' => 'test', 'test' => ['kind' => 'recovery', 'scope' => ['group' => 2]]]],
        'never revived',
    ],
    'a low group is charged with the pack' => [
        Ailment::DeepDischarged,
        [['do' => 'look'], 'read', ['do' => 'charge', 'current_a' => 1, 'minutes' => 5]],
        'under its cut-off',
    ],
    'a charger on a dead group to wake it' => [
        Ailment::Dead,
        [['do' => 'look'], 'read', ['do' => 'test', 'test' => ['kind' => 'wake', 'action' => 'charger-pulse']]],
        'under the floor',
    ],
    'more amps than it may give' => [
        Ailment::Nothing,
        [['do' => 'look'], 'read', ['do' => 'load', 'current_a' => -900, 'seconds' => 10]],
        'more than this pack',
    ],
]);

it('blames nobody for what is allowed: a low group recovered by itself, a sound pack loaded, a dead pack measured', function (): void {
    $low = roundWith(Ailment::DeepDischarged);
    act($low, ['do' => 'look']);
    readAll($low);
    $trial = act($low, ['do' => 'test', 'test' => ['kind' => 'recovery', 'scope' => ['group' => 2]]]);
    expect($low->unsafe)
        ->toBeNull()
        ->and(end($trial['samples'])['v'])
        ->toBeGreaterThan($trial['samples'][0]['v'] + 0.2);
    $dead = roundWith(Ailment::Dead);
    act($dead, ['do' => 'look']);
    readAll($dead);
    act($dead, ['do' => 'test', 'test' => ['kind' => 'continuity', 'element' => 'fuse']]);
    act($dead, ['do' => 'test', 'test' => ['kind' => 'tug-weld', 'where' => ['group' => 2]]]);
    expect($dead->unsafe)->toBeNull();
    $sound = roundWith(Ailment::Nothing);
    act($sound, ['do' => 'look']);
    readAll($sound);
    expect(act($sound, ['do' => 'load', 'current_a' => -2, 'seconds' => 10])['stopped_by'])
        ->toBeNull()
        ->and($sound->unsafe)
        ->toBeNull();
});

it('ends the round with a score at the unsafe act, and plays nothing after it', function (): void {
    $seed = seedOf(Ailment::Undercharged, 1);
    $acts = [['do' => 'load', 'current_a' => -2, 'seconds' => 10], ['do' => 'look']];
    $out = round_(1, $seed, $acts);
    expect($out['acts'])
        ->toHaveCount(1)
        ->and($out['score'])
        ->toMatchArray(['safe' => false, 'right' => false, 'place_right' => false])
        ->and(implode(' ', $out['score']['debrief']))
        ->toContain('Triage');
});

it('refuses in vain acts with a sentence and goes on', function (array $act, string $says): void {
    $round = roundWith(Ailment::Nothing);
    act($round, ['do' => 'look']);
    readAll($round);
    expect(act($round, $act))
        ->toMatchArray(['refused' => true])
        ->and(act($round, $act)['why'])
        ->toContain($says)
        ->and($round->unsafe)
        ->toBeNull();
})->with([
    'a tap that is not there' => [['do' => 'read', 'from' => 'T0', 'to' => 'T90'], 'no point T90'],
    'both on one' => [['do' => 'read', 'from' => 'T1', 'to' => 'T1'], 'two'],
    'a port that is not there' => [['do' => 'read', 'from' => 'C-', 'to' => 'C+'], 'no point C-'],
    'no time' => [['do' => 'wait', 'hours' => 0], 'longer than nothing'],
    'no current' => [['do' => 'load', 'current_a' => 0, 'seconds' => 10], 'how many amps'],
    'a joint at the end' => [
        ['do' => 'test', 'test' => ['kind' => 'continuity', 'element' => 'joint', 'where' => ['joint' => 0]]],
        'which joint',
    ],
    'no element' => [['do' => 'test', 'test' => ['kind' => 'continuity', 'element' => 'lamp']], 'fuse'],
    'no group' => [['do' => 'test', 'test' => ['kind' => 'tug-weld']], 'which group'],
    'what is not here' => [['do' => 'test', 'test' => ['kind' => 'charger-trial']], 'nothing here'],
    'plugged twice' => [['do' => 'plug'], 'is in'],
]);

it('names what is wrong with a round that cannot be read', function (array $change, string $pointer): void {
    $good = ['format' => 'heartwood.round', 'version' => 1, 'level' => 1, 'seed' => 1, 'acts' => []];
    try {
        Verbs::run('train', (string) json_encode(array_replace($good, $change)));
        expect(true)->toBeFalse('it was read');
    } catch (InvalidRecord $e) {
        expect(array_column($e->problems, 'pointer'))->toContain($pointer);
    }
})->with([
    'level 0' => [['level' => 0], '/level'],
    'level 5' => [['level' => 5], '/level'],
    'a seed in words' => [['seed' => 'x'], '/seed'],
    'no such act' => [['acts' => [['do' => 'open']]], '/acts/0/do'],
    'a reading of one point' => [['acts' => [['do' => 'read', 'from' => 'T0']]], '/acts/0/to'],
    'a test with its outcome' => [['acts' => [['do' => 'test', 'test' => ['kind' => 'wake', 'woke' => true]]]], '/acts/0/test/woke'],
    'a sureness over one' => [
        ['answer' => ['findings' => [['code' => 'group.dead', 'probability' => 1.1]]]],
        '/answer/findings/0/probability',
    ],
]);

it('scores code, place and sureness', function (): void {
    $truth = [['code' => 'group.dead', 'where' => ['group' => 4]]];
    $say = fn(float $p, string $code = 'group.dead', ?array $where = ['group' => 4]): array => [
        'code' => $code,
        'where' => $where,
        'probability' => $p,
    ];
    $of = fn(array $said, array $t = []): array => [
        ($s = Score::of($said, $t === [] ? $truth : $t))->right,
        $s->placeRight,
        round($s->brier, 4),
    ];
    expect($of([$say(0.9)]))
        ->toBe([true, true, 0.01])
        ->and($of([$say(0.9, where: ['group' => 5])]))
        ->toBe([true, false, 1.81])
        ->and($of([$say(0.9, 'bms.output-dead', null)]))
        ->toBe([false, false, 1.81])
        ->and($of([]))
        ->toBe([false, false, 1.0])
        // Said, or merely thought of.
        ->and($of([$say(0.5)])[0])
        ->toBeTrue()
        ->and($of([$say(0.49)])[0])
        ->toBeFalse()
        ->and($of([$say(0.9), $say(0.51, 'path.fuse-open', null)])[0])
        ->toBeFalse()
        ->and($of([$say(0.9), $say(0.49, 'path.fuse-open', null)])[0])
        ->toBeTrue()
        // What follows from it by pencil and paper may be said too.
        ->and($of([$say(0.9), $say(0.9, 'pack.spread', null)])[0])
        ->toBeTrue();
    $none = Score::of([], []);
    expect([$none->right, $none->placeRight, $none->brier])->toBe([true, true, 0.0]);
    expect(Score::of([$say(0.8)], [])->right)->toBeFalse();
});

it('ranks a careful line over a board that is blamed for everything', function (): void {
    $sums = ['careful' => [0, 0.0], 'blames' => [0, 0.0]];
    foreach ([1, 2, 3, 4] as $level) {
        for ($seed = 1; $seed <= 6; $seed++) {
            $tool = new Tool(Rounds::of($level, $seed));
            $answers = [
                'careful' => Tool::answer($tool->play()),
                'blames' => ['findings' => [['code' => 'bms.output-dead', 'where' => null, 'probability' => 0.95]]],
            ];
            foreach ($answers as $who => $answer) {
                $score = round_($level, $seed, $who === 'careful' ? $tool->acts : firstReadings(1), $answer)['score'];
                $sums[$who][0] += $score['right'] ? 1 : 0;
                $sums[$who][1] += $score['brier'];
            }
        }
    }
    expect($sums['careful'][0])
        ->toBeGreaterThan(20)
        ->and($sums['blames'][0])
        ->toBeLessThan(3)
        ->and($sums['careful'][1])
        ->toBeLessThan($sums['blames'][1] / 3);
});

it('is won by the tool itself with its own next tests, and never unsafely', function (): void {
    $right = [];
    foreach ([1, 2, 3, 4] as $level) {
        for ($seed = 201; $seed <= 212; $seed++) {
            $round = Rounds::of($level, $seed);
            $tool = new Tool($round);
            $right[$level][] = Score::of(Tool::answer($tool->play())['findings'], $round->patient->truth)->placeRight;
            expect($round->unsafe)->toBeNull();
        }
    }
    expect(count(array_filter([...$right[1], ...$right[2]])))
        ->toBeGreaterThanOrEqual(23)
        ->and(count(array_filter([...$right[3], ...$right[4]])))
        ->toBeGreaterThanOrEqual(20);
});

it('tells what a choice gives and costs, carried out on the pack as it is', function (): void {
    $sound = roundWith(Ailment::Nothing)->patient;
    $whole = $sound->givesAh();
    $of = fn(Ailment $a, RepairAction $act, array $where): Choice => Choice::of($act, $where, roundWith($a)->patient);
    $replaced = $of(Ailment::LowCapacity, RepairAction::ReplaceGroup, [['group' => 2]]);
    // A cell is 6, a part 25, an hour of hands 60.
    expect($replaced->usableAh)
        ->toBeGreaterThan(0.9 * $whole)
        ->and($replaced->cost)
        ->toBe(6.0 * $sound->spec->parallel + 75.0)
        ->and($replaced->minutes)
        ->toBe(75)
        ->and($of(Ailment::Fuse, RepairAction::RepairPath, [])->cost)
        ->toBe(25.0 + 40.0)
        ->and($of(Ailment::LowCapacity, RepairAction::None, [])->cost)
        ->toBe(0.0)
        ->and($of(Ailment::LowCapacity, RepairAction::None, [])->usableAh)
        ->toBeLessThan(0.65 * $whole)
        ->and($of(Ailment::LowCapacity, RepairAction::ReplaceGroup, [['group' => 3]])->usableAh)
        ->toBeLessThan(0.65 * $whole)
        ->and($of(Ailment::Fuse, RepairAction::ReplaceBoard, [])->usableAh)
        ->toBe(0.0)
        ->and($of(Ailment::Fuse, RepairAction::RepairPath, [])->usableAh)
        ->toBeGreaterThan(0.9 * $whole)
        ->and($of(Ailment::Latched, RepairAction::WakeBoard, [])->usableAh)
        ->toBeGreaterThan(0.9 * $whole)
        ->and($of(Ailment::Nothing, RepairAction::Recycle, [])->usableAh)
        ->toBe(0.0)
        ->and($of(Ailment::Dead, RepairAction::RecoverGroup, [['group' => 2]])->unsafe)
        ->toContain('under the floor')
        ->and($of(Ailment::Reversed, RepairAction::ChargeGroup, [['group' => 2]])->unsafe)
        ->toContain('reversed')
        ->and($of(Ailment::DeepDischarged, RepairAction::RecoverGroup, [['group' => 2]])->unsafe)
        ->toBeNull()
        // What the gates refuse of a pack in quarantine is no choice either.
        ->and($of(Ailment::Swollen, RepairAction::ReplaceGroup, [['group' => 2]])->unsafe)
        ->toContain('quarantine')
        ->and($of(Ailment::Swollen, RepairAction::Quarantine, [])->unsafe)
        ->toBeNull();
});

it('loses a round by an unsafe choice though the finding is right', function (): void {
    $seed = seedOf(Ailment::Dead, 1);
    $truth = Rounds::of(1, $seed)->patient->truth;
    $series = Rounds::of(1, $seed)->patient->spec->series;
    $answer = [
        'findings' => array_map(fn(array $t): array => $t + ['probability' => 1.0], $truth),
        'option' => ['action' => 'recover-group', 'where' => [$truth[0]['where']]],
    ];
    $score = round_(1, $seed, firstReadings($series), $answer)['score'];
    expect($score)->toMatchArray(['safe' => false, 'right' => false, 'brier' => 0.0]);
    $answer['option'] = ['action' => 'replace-group', 'where' => [$truth[0]['where']]];
    expect(round_(1, $seed, firstReadings($series), $answer)['score'])->toMatchArray([
        'safe' => true,
        'right' => true,
        'place_right' => true,
    ]);
});

it('walks the evidence in its order: what was known when, what would have told more, what the best line was', function (): void {
    $seed = seedOf(Ailment::SelfDischarge, 1);
    $series = Rounds::of(1, $seed)->patient->spec->series;
    $answer = ['findings' => [['code' => 'group.undercharged', 'where' => ['group' => 1], 'probability' => 0.8]]];
    $lines = round_(1, $seed, firstReadings($series), $answer)['score']['debrief'];
    expect($lines[0])
        ->toContain('leaks')
        ->and(implode("\n", $lines))
        ->toContain('After these readings')
        ->toContain('What would have told more')
        ->toContain('The best line took')
        ->toContain('wait');
    $blind = round_(1, $seed, [['do' => 'look']], $answer)['score']['debrief'];
    expect(implode("\n", $blind))->toContain('never read at rest');
});

it('shows as much of a volt as the meter of the round does', function (): void {
    $luck = fn(string $w): Luck => new Luck('meter', $w);
    foreach (
        [['bench', 3.7, 0.0001, 0.003], ['hand', 3.7, 0.001, 0.02], ['hand', 37.0, 0.01, 0.4], ['coarse', 4.1, 0.01, 0.05]]
        as [$kind, $v, $step, $far]
    ) {
        $meter = new Meter($kind, $luck($kind));
        $a = $meter->shows($v, $luck('a'));
        $b = $meter->shows($v, $luck('b'));
        expect($a['resolution_v'])
            ->toBe($step)
            ->and($a['v'])
            ->toEqualWithDelta($v, $far)
            // Its error is its own, and the same all day.
            ->and($a['v'])
            ->toEqualWithDelta($b['v'], 3 * $step + 0.002);
    }
    expect((new Meter('hand', $luck('x')))->shows(-1.2, $luck('y'))['v'])->toBeLessThan(-1.1);
});

it('draws by chance the same from the same words, evenly and normally', function (): void {
    $a = new Luck('x', '1');
    $b = new Luck('x', '1');
    $c = new Luck('x1');
    $draw = fn(Luck $l): array => [$l->between(0, 1), $l->whole(1, 6), $l->normal(1.0), $l->pick([1, 2, 3]), $l->happens(0.5)];
    expect($draw($a))->toBe($draw($b))->not->toBe($draw($c));
    $n = array_map(fn(): float => $a->normal(2.0), range(1, 4000));
    expect(array_sum($n) / 4000)
        ->toEqualWithDelta(0.0, 0.12)
        ->and(sqrt(array_sum(array_map(fn(float $x): float => $x * $x, $n)) / 4000))
        ->toEqualWithDelta(2.0, 0.1);
    expect(array_sum(array_map(fn(): int => $a->happens(0.2) ? 1 : 0, range(1, 2000))) / 2000)->toEqualWithDelta(0.2, 0.03);
});
