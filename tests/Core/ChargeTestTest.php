<?php

declare(strict_types=1);

use Heartwood\Core\Run\ChargeTest;
use Heartwood\Core\Run\Why;

it('makes a charge that came to its own end a test of the record, and no other run', function (
    string $kind,
    ?Why $why,
    array $samples,
    ?array $want,
): void {
    expect(ChargeTest::of($kind, $why, 2.1234, $samples, 2))->toBe($want);
})->with([
    'by the taper' => [
        'charge',
        Why::TargetReached,
        [['a' => 0.5, 'g' => [4.1, 4.11]], ['a' => 0.05, 'g' => [4.1801, 4.2]]],
        ['stopped_by' => 'charger', 'after_ah' => 2.123, 'groups_v' => [4.18, 4.2], 'current_a' => 0.05],
    ],
    'groups last seen a moment before' => [
        'charge',
        Why::Done,
        [['a' => 0.5, 'g' => [4.1, null]], ['a' => null, 'g' => null]],
        ['stopped_by' => 'charger', 'after_ah' => 2.123, 'groups_v' => [4.1, null]],
    ],
    'no group seen' => ['charge', Why::Done, [['a' => -0.05]], ['stopped_by' => 'charger', 'after_ah' => 2.123, 'current_a' => 0.05]],
    'of another count' => [
        'charge',
        Why::Done,
        [['a' => 0.05, 'g' => [4.1]]],
        ['stopped_by' => 'charger', 'after_ah' => 2.123, 'current_a' => 0.05],
    ],
    'by a hand' => ['charge', Why::Person, [['a' => 0.5, 'g' => [4.1, 4.11]]], null],
    'by a rule' => ['charge', Why::GroupPastFull, [['a' => 0.5, 'g' => [4.1, 4.3]]], null],
    'of one group' => ['balance', Why::Done, [['a' => 0.5]], null],
    'not ended' => ['charge', null, [['a' => 0.5]], null],
    'nothing seen' => ['charge', Why::Done, [], null],
]);
