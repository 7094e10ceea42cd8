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
