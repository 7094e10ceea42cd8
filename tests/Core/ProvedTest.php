<?php

declare(strict_types=1);

use Heartwood\Core\Work\Proved;

/** @return array{code: string, where: array<string, int>|null, probability: float, severity: string} */
function foundBefore(string $code, ?int $group, float $p = 0.9, string $severity = 'fix'): array
{
    return ['code' => $code, 'where' => $group === null ? null : ['group' => $group], 'probability' => $p, 'severity' => $severity];
}

it('puts before whoever closes what the work has proved, and nothing that it has not', function (
    array $before,
    ?array $after,
    array $part,
    array $leaves,
    array $want,
): void {
    expect(Proved::of($before, $after, [$part], $leaves))->toBe($want);
})->with(function (): array {
    $dead = foundBefore('group.dead', 2);
    $done = ['action' => 'replace-group', 'where' => [['group' => 2]], 'done' => true];
    $so = [['code' => 'group.dead', 'where' => ['group' => 2], 'seen_by' => 'replaced']];

    return [
        'replaced and gone' => [[$dead], [], $done, [], $so],
        'nothing judged since' => [[$dead], null, $done, [], []],
        'still there' => [[$dead], [$dead], $done, [], []],
        'there at another place' => [[$dead], [foundBefore('group.dead', 4)], $done, [], $so],
        'not done' => [[$dead], [], ['done' => false] + $done, [], []],
        'another group' => [[foundBefore('group.dead', 5)], [], $done, [], []],
        'left by the plan' => [[$dead], [], $done, ['group.dead'], []],
        'hardly believed' => [[foundBefore('group.dead', 2, 0.34)], [], $done, [], []],
        'just believed' => [[foundBefore('group.dead', 2, 0.35)], [], $done, [], $so],
        'a note' => [[foundBefore('group.dead', 2, 0.9, 'note')], [], $done, [], []],
        'charged' => [
            [foundBefore('group.undercharged', 3)],
            [],
            ['action' => 'charge-group', 'where' => [['group' => 3]], 'done' => true],
            [],
            [['code' => 'group.undercharged', 'where' => ['group' => 3], 'seen_by' => 'tried']],
        ],
        'of the pack' => [
            [foundBefore('gauge.stale', null)],
            [],
            ['action' => 'relearn-gauge', 'where' => [], 'done' => true],
            [],
            [['code' => 'gauge.stale', 'where' => null, 'seen_by' => 'measured']],
        ],
        'recycled' => [[$dead], [], ['action' => 'recycle', 'where' => [], 'done' => true], [], []],
    ];
});
