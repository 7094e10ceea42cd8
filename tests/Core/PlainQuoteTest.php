<?php

declare(strict_types=1);

use Heartwood\Core\Money\PlainQuote;

/** @param  array<string, mixed>  $more @return array<string, list<string>> */
function quoteTold(array $more = []): array
{
    return array_column(
        PlainQuote::of(
            ...$more + [
                'findings' => [],
                'proposed' => 'Replace the group: group 3',
                'why' => 'Never revived.',
                'usableAh' => 4.96,
                'handsMinutes' => 75,
                'waitHours' => 24.0,
                'leaves' => [],
                'ceiling' => null,
                'over' => false,
                'newPack' => null,
                'listed' => false,
            ],
        ),
        'lines',
        'title',
    );
}

it('tells hands and waiting apart', function (int $minutes, float $hours, string $said): void {
    expect(quoteTold(['handsMinutes' => $minutes, 'waitHours' => $hours])['How long it takes'])->toBe([$said]);
})->with([
    [75, 24.0, '1 h 15 min of work, and 1 day in which the pack itself needs its time.'],
    [45, 0.0, '45 min of work.'],
    [120, 6.0, '2 h of work, and 6 h in which the pack itself needs its time.'],
    [0, 25.0, 'No work of hands, and 2 days in which the pack itself needs its time.'],
]);

it('says what happens if more is found, by what was agreed', function (): void {
    expect(quoteTold()['If more is found'])
        ->toBe(['Nothing beyond this is done before you were called.'])
        ->and(quoteTold(['ceiling' => '140.00 EUR'])['If more is found'][0])
        ->toContain('goes on up to 140.00 EUR')
        ->and(quoteTold(['ceiling' => '140.00 EUR', 'over' => true])['If more is found'][0])
        ->toContain('more than the 140.00 EUR');
});

it('says what is expected as expected, and a price that nobody said as taken for granted', function (): void {
    expect(quoteTold()['What we propose'])
        ->toBe([
            'Replace the group: group 3.',
            'Never revived.',
            'It should give about 5.0 Ah after it: expected, and proved before it goes back.',
        ])
        ->and(quoteTold(['usableAh' => null, 'why' => ''])['What we propose'])
        ->toBe(['Replace the group: group 3.'])
        ->and(quoteTold(['newPack' => '52.20 EUR'])['A new one instead'][0])
        ->toContain('taken for granted')
        ->and(quoteTold(['newPack' => '52.20 EUR', 'listed' => true])['A new one instead'])
        ->toBe(['A new pack costs 52.20 EUR.'])
        ->and(quoteTold())
        ->not->toHaveKey('A new one instead')
        ->not->toHaveKey('What it leaves as it is');
});
