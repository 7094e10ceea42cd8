<?php

declare(strict_types=1);

use Heartwood\Core\Work\PlainReport;

/** @param  array<string, mixed>  $more */
function ownerTold(array $more = []): array
{
    return array_column(
        PlainReport::of(
            ...$more + [
                'complaint' => 'Dead for a year.',
                'findings' => [],
                'decided' => null,
                'steps' => [],
                'checks' => [],
                'watched' => [],
                'again' => [],
            ],
        ),
        'lines',
        'title',
    );
}

it('tells the owner what was found in plain words, and who says so, once for several parts alike', function (): void {
    $dead = fn(int $k, float $p, string $basis): array => [
        'code' => 'group.dead',
        'title' => "Group $k is dead",
        'probability' => $p,
        'evidence' => [['basis' => $basis]],
    ];
    $told = ownerTold([
        'findings' => [$dead(3, 0.97, 'measured'), $dead(4, 0.9, 'measured'), ['code' => 'bms.drain'] + $dead(1, 0.49, 'derived')],
    ]);
    expect($told['What we found'])
        ->toBe(['Group 3 is dead. One part of the pack is finished and is never revived. (measured here)'])
        ->and(ownerTold(['findings' => [['code' => 'bms.drain'] + $dead(1, 0.5, 'reported')]])['What we found'][0])
        ->toContain('(reported, not measured)')
        ->and(ownerTold()['What we found'])
        ->toBe(['Nothing wrong was found in what was measured.'])
        ->and(ownerTold(['findings' => null])['What we found'])
        ->toBe(['Nothing was judged yet.']);
});

it('tells what was left out and what was never tried', function (): void {
    $step = fn(string $state, string $why = ''): array => ['state' => $state, 'title' => 'Pin check', 'skipped' => $why];
    $told = ownerTold([
        'decided' => 'Replace the group: group 3',
        'steps' => [$step('done'), $step('skipped', 'no plug'), $step('open')],
        'checks' => [
            ['title' => 'Hold test', 'status' => 'missing'],
            ['title' => 'Capacity', 'status' => 'passed'],
            ['title' => 'X', 'status' => 'not-needed'],
        ],
        'watched' => ['Group 3 was recovered.'],
        'again' => ['The joint at T4 is looked at again on 7 December 2026.'],
    ]);
    expect($told['What we did'])
        ->toBe(['Replace the group: group 3.', 'Left out: Pin check (no plug)', '1 step of the work is not closed.'])
        ->and($told['How we know that it is right'])
        ->toBe(['Passed: capacity.', 'Not tried: hold test.'])
        ->and($told['What to watch'])
        ->toHaveCount(2);
    expect(ownerTold(['decided' => 'Recycle it', 'steps' => [$step('open')]]))
        ->toHaveKey('What is to be done')
        ->not->toHaveKey('What we did');
    // What has nothing to say is not there.
    expect(array_keys(ownerTold(['complaint' => ''])))->toBe(['What we found']);
});

it('tells of a group that leaks how often it is charged, and what is promised where a pack goes back', function (): void {
    $told = ownerTold([
        'topUps' => [['group' => 3, 'every_days' => 16], ['group' => 5, 'every_days' => 30]],
        'again' => ['The joint at T4 is looked at again on 7 December 2026.'],
        'promise' => 'This work is promised for 6 months, until 10 July 2026.',
    ]);
    expect($told['What to watch'])
        ->toHaveCount(3)
        ->and($told['What to watch'][0])
        ->toBe('Group 3 loses charge and stays in service: charge it full at least every 16 days, and stay with it while it charges.')
        ->and($told['What to watch'][1])
        ->toContain('every 30 days')
        ->and($told['What we promise'])
        ->toBe(['This work is promised for 6 months, until 10 July 2026.'])
        ->and(array_keys($told))
        ->toBe(['What you told us', 'What we found', 'What to watch', 'What we promise'])
        ->and(ownerTold())
        ->not->toHaveKey('What we promise');
});
