<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\Statements;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Record\Places;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Work\PlainReport;
use Tests\Core\Bench;

/** @return array{code: string, title: string, where: array<string, int>|null, probability: float, evidence: list<array{basis: string}>} */
function foundAt(string $code, ?int $group, float $probability = 0.97): array
{
    return [
        'code' => $code,
        'title' => $group === null ? Faults::of($code)->words()->anywhere() : Faults::of($code)->words()->titleAt($group),
        'where' => $group === null ? null : ['group' => $group],
        'probability' => $probability,
        'evidence' => [['basis' => 'measured']],
    ];
}

it('says several places in the order of the pack', function (array $where, string $words): void {
    expect(Places::words($where))->toBe($words);
})->with([
    'none' => [[], ''],
    'the pack' => [[null], ''],
    'one' => [[['group' => 3]], 'group 3'],
    'two beside one another' => [[['group' => 4], ['group' => 3]], 'groups 3 and 4'],
    'a run, in no order' => [[['group' => 6], ['group' => 8], ['group' => 5], ['group' => 7]], 'groups 5 to 8'],
    'a run and one' => [[['group' => 11], ['group' => 5], ['group' => 6], ['group' => 7]], 'groups 5 to 7 and 11'],
    'scattered' => [[['group' => 9], ['group' => 2], ['group' => 5]], 'groups 2, 5 and 9'],
    'twice the same' => [[['group' => 2], ['group' => 2]], 'group 2'],
    'of two kinds' => [[['group' => 3], ['tap' => 4]], 'group 3, tap 4'],
    'cells by their code' => [[['cell' => 'A-2'], ['cell' => 'A-10']], 'cells A-2 and A-10'],
]);

it('says a run of groups with one fault as one statement, in the place of the first', function (): void {
    $said = Statements::of([
        foundAt('group.dead', 6),
        foundAt('group.dead', 8),
        foundAt('pack.spread', null, 0.9),
        foundAt('group.dead', 5),
        foundAt('group.dead', 7),
        foundAt('group.undercharged', 2),
    ]);
    expect(array_column($said, 'title'))
        ->toBe(['Groups 5 to 8 are dead', 'Groups too far apart to charge as a pack', 'Group 2 holds less charge than its neighbours'])
        ->and(array_column($said, 'findings'))
        ->toBe([[0, 1, 3, 4], [2], [5]]);
});

it('says what is less sure by itself', function (): void {
    $just = VerdictLimits::TOGETHER;
    $two = fn(float $p): array => [foundAt('group.dead', 1), foundAt('group.dead', 2, $p)];
    expect(array_column(Statements::of($two($just)), 'title'))
        ->toBe(['Groups 1 and 2 are dead'])
        ->and(array_column(Statements::of($two($just - 0.01)), 'title'))
        ->toBe(['Group 1 is dead', 'Group 2 is dead'])
        ->and(Statements::first($two(0.9)))
        ->toBe('Groups 1 and 2 are dead')
        ->and(Statements::first([]))
        ->toBeNull();
});

it('has words for several groups of every state that a group can be found in', function (): void {
    foreach (Faults::groups() as $code => $fault) {
        $many = $fault->words()->many;
        if ($code !== 'group.ok') {
            expect(sprintf($many, '2 and 3'))->toStartWith('Groups 2 and 3 ')->and(sprintf($many, '2 and 3'))->not->toContain('%');
        }
    }
});

it('tells the owner of all groups, not of the first', function (): void {
    expect(PlainReport::found([foundAt('group.dead', 6), foundAt('group.dead', 5)])[0])->toStartWith('Groups 5 and 6 are dead. ');
});

it('says what is done together with where', function (RepairAction $action, array $where, string $said): void {
    expect($action->at($where))->toBe($said);
})->with([
    'groups' => [RepairAction::ReplaceGroup, [['group' => 6], ['group' => 5], ['group' => 7]], 'Replace groups 5 to 7'],
    'one group' => [RepairAction::ChargeGroup, [['group' => 3]], 'Top group 3 up by itself'],
    'a joint' => [RepairAction::CleanJoint, [['joint' => 4]], 'Clean and torque joint 4'],
    'the groups of a pack' => [RepairAction::Balance, [['group' => 2], ['group' => 3]], 'Balance the groups: groups 2 and 3'],
    'a word that is not there' => [RepairAction::ReplaceCell, [['group' => 2]], 'Replace the cell: group 2'],
    'nowhere' => [RepairAction::WakeBoard, [], 'Wake the board'],
    'the pack' => [RepairAction::ReplaceBoard, [null], 'Replace the board'],
]);

it('says several as one plan', function (): void {
    expect(
        RepairAction::together([
            ['action' => 'replace-group', 'where' => [['group' => 3]]],
            ['action' => 'charge-group', 'where' => [['group' => 5]]],
        ]),
    )->toBe('Replace group 3, top group 5 up by itself');
});

it('does not miss the small current where none is tried: of a group under the floor', function (): void {
    $missing = function (float $v): array {
        $verdict = Bench::verdict(Bench::record([3.9, 3.91, $v, 3.9]));
        foreach ($verdict->findings as $i => $f) {
            if ($f->place->isGroup(3)) {
                return $verdict->ledger[$i]['missing'];
            }
        }

        return ['nothing is found of group 3'];
    };
    $floor = Chemistry::Nmc->profile()->floorV;
    expect($missing($floor - 0.005))->not->toContain('recovery-trial')->and($missing($floor + 0.005))->toContain('recovery-trial');
});
