<?php

declare(strict_types=1);

use Heartwood\Core\Log\NextOfLot;

/** @return list<array{code: string, mohm: float|null, rest_v: float|null}> */
function untestedOf(int $n, ?callable $mohm = null): array
{
    return array_map(fn(int $k): array => ['code' => "B-$k", 'mohm' => $mohm === null ? null : $mohm($k), 'rest_v' => null], range(1, $n));
}

it('spreads the next tests through the lot where nothing stands off', function (): void {
    $next = NextOfLot::of(untestedOf(36), []);
    expect($next['codes'])
        ->toBe(['B-7', 'B-19', 'B-31'])
        ->and($next['more'])
        ->toBeGreaterThan(3)
        ->toBeLessThan(36);
});

it('has what stands off tested first, and not what is within three spreads', function (float $mohm, bool $first): void {
    // Half of them at 40 and half at 41: the median is 40.5 and a spread 0.7413 milliohm; three of them 2.22.
    $next = NextOfLot::of(untestedOf(20, fn(int $k): float => $k === 13 ? $mohm : 40.0 + ($k % 2)), [3.0]);
    expect($next['codes'][0] === 'B-13')
        ->toBe($first)
        ->and(str_contains($next['text'], 'stands off'))
        ->toBe($first)
        ->and(array_unique($next['codes']))
        ->toHaveCount(3);
})->with(['far up' => [43.4, true], 'just within' => [42.6, false], 'far down' => [37.0, true]]);

it('wants more tests the more the cells differ, and none when it is known to a twentieth', function (array $ah, bool $enough): void {
    $next = NextOfLot::of(untestedOf(40), $ah);
    expect($next['more'] === 0)
        ->toBe($enough)
        ->and($next['codes'] === [])
        ->toBe($enough);
})->with([
    // t 3.182, s 0.09469 and 0.08877, 4 of 44: the half interval is 5.12 and 4.80 % of 2.9.
    'just over' => [[2.82, 2.82, 2.984, 2.984], false],
    'just under' => [[2.823, 2.823, 2.977, 2.977], true],
    'alike' => [[2.9, 2.9, 2.9], true],
]);

it('asks for no more than there are', function (): void {
    expect(NextOfLot::of(untestedOf(2), [1.0, 3.0]))
        ->toMatchArray(['more' => 2, 'codes' => ['B-1', 'B-2']])
        ->and(NextOfLot::of([], [1.0, 3.0])['more'])
        ->toBe(0);
    // Two that were tested and say nothing of each other: nearly all of a small lot.
    expect(NextOfLot::of(untestedOf(6), [2.0, 3.0])['more'])->toBeGreaterThan(3);
});
