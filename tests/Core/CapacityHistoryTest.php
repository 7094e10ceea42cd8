<?php

declare(strict_types=1);

use Heartwood\Core\Log\CapacityHistory;

function capacityGave(string $at, float $ah, bool $counts = true, ?float $sigma = null): array
{
    return ['at' => "{$at}T10:00:00Z", 'ah' => $ah, 'sigma' => $sigma ?? 0.005 * $ah, 'counts' => $counts, 'from' => 'log'];
}

it('lays tests beside the label and each other, in the order of time', function (): void {
    $h = CapacityHistory::of([capacityGave('2026-11-20', 81.2), capacityGave('2025-11-20', 86.9)], 90.0);
    expect(array_column($h['tests'], 'ah'))
        ->toBe([86.9, 81.2])
        ->and($h['tests'][0]['since'])
        ->toBeNull()
        ->and($h['tests'][1]['since']['ah'])
        ->toBe(-5.7)
        ->and($h['tests'][1]['since']['days'])
        ->toBe(365.0)
        ->and($h['tests'][1]['since']['sure'])
        ->toBeTrue()
        ->and($h['tests'][1]['soh'])
        ->toBe(0.9022)
        ->and($h['per_year_ah'])
        ->toEqualWithDelta(-5.704, 0.001)
        ->and($h['should_say_ah'])
        ->toBe(80.0)
        ->and($h['said'])
        ->toBe([
            '90 % of the 90 Ah on its label, plus or minus 0.9; the label should say 80 Ah.',
            '-5.70 Ah since the test before, -5.70 Ah a year.',
        ]);
});

it('calls nothing a change that two tests differ by themselves', function (float $ah, bool $sure): void {
    $h = CapacityHistory::of([capacityGave('2026-01-01', 10.0, true, 0.1), capacityGave('2026-02-01', $ah, true, 0.1)], null);
    expect($h['tests'][1]['since']['sure'])->toBe($sure);
    expect(str_contains($h['said'][0], 'no more than two tests differ'))->toBe(!$sure);
})->with([[9.72, false], [9.71, true], [10.28, false], [10.29, true]]);

it('tells a change a year from two months on, and of no test that does not count', function (string $at, ?float $perYear): void {
    $h = CapacityHistory::of([capacityGave('2026-01-01', 10.0), capacityGave('2026-01-10', 5.0, false), capacityGave($at, 9.0)], 10.0);
    expect($h['tests'][1]['since'])
        ->toBeNull()
        ->and($h['per_year_ah'] === null ? null : round($h['per_year_ah'], 1))
        ->toBe($perYear);
})->with([['2026-03-01', null], ['2026-03-02', -6.1]]);

it('has a label say less rather than more, and nothing without a test that counts', function (float $ah, float $sigma, float $says): void {
    expect(CapacityHistory::of([capacityGave('2026-01-01', $ah, true, $sigma)], 3.0)['should_say_ah'])->toEqualWithDelta($says, 1e-9);
    $none = CapacityHistory::of([capacityGave('2026-01-01', $ah, false)], 3.0);
    expect($none['should_say_ah'])->toBeNull()->and($none['said'])->toBe([]);
})->with([[2.9, 0.05, 2.8], [2.5, 0.0, 2.5], [10.02, 0.01, 10.0], [10.01, 0.01, 9.9], [0.1, 0.2, 0.0]]);
