<?php

declare(strict_types=1);

use Heartwood\Core\Money\ShopMinutes;

it('takes the shop\'s own median from the fifth time on, and not before', function (): void {
    expect(ShopMinutes::usual([40.0, 42.0, 300.0, 41.0]))
        ->toBeNull()
        ->and(ShopMinutes::usual([40.0, 42.0, 300.0, 41.0, 39.0]))
        ->toBe(41)
        ->and(ShopMinutes::usual([]))
        ->toBeNull();
});

it('counts the minutes of a part for each of its places, and those of a work that was timed and closed alone', function (
    array $steps,
    array $places,
    array $want,
): void {
    $rows = array_map(fn(array $s): array => ['action' => $s[0], 'state' => $s[1], 'minutes' => $s[2]], $steps);
    expect(ShopMinutes::ofWork($rows, $places))->toBe($want);
})->with([
    'one part' => [[['reweld', 'done', 10.0], ['reweld', 'done', 20.0]], ['reweld' => 1], ['reweld' => 30.0]],
    'two places' => [[['replace-group', 'done', 60.0], ['replace-group', 'done', 60.0]], ['replace-group' => 2], ['replace-group' => 60.0]],
    'of no place' => [[['balance', 'done', 12.0]], ['balance' => 0], ['balance' => 12.0]],
    'two parts' => [
        [['reweld', 'done', 10.0], ['balance', 'skipped', null], ['balance', 'done', 5.0]],
        ['reweld' => 1, 'balance' => 0],
        ['reweld' => 10.0, 'balance' => 5.0],
    ],
    'half of it timed' => [[['reweld', 'done', 10.0], ['reweld', 'done', null]], ['reweld' => 1], ['reweld' => 10.0]],
    'less than half' => [[['reweld', 'done', 10.0], ['reweld', 'done', null], ['reweld', 'done', null]], ['reweld' => 1], []],
    'one left open' => [[['reweld', 'done', 10.0], ['reweld', 'open', null]], ['reweld' => 1], []],
    'nothing timed' => [[['reweld', 'done', null]], ['reweld' => 1], []],
]);
