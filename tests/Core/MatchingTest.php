<?php

declare(strict_types=1);

use Heartwood\Core\Cell\CannotMatch;
use Heartwood\Core\Cell\CellHold;
use Heartwood\Core\Cell\DealOrder;
use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Cell\GradeRules;
use Heartwood\Core\Cell\Matcher;
use Heartwood\Core\Cell\Refill;
use Heartwood\Core\Cell\Substitute;
use Heartwood\Core\Pack\Chemistry;
use Tests\Core\Drawers;

it('closes capacity and conductance at the same time for two hundred cells', function (int $seed): void {
    $cells = Drawers::of(200, seed: $seed);
    $deal = Matcher::deal($cells, 20, 10);
    Drawers::sound($deal, $cells, 20, 10);
    expect($deal->gap)->toBeLessThanOrEqual(1e-4)->and($deal->conductanceSpread)->toBeLessThanOrEqual(2e-3);
})->with([1, 2, 3, 4]);

it('does as well with two thousand', function (): void {
    $cells = Drawers::of(2000);
    $deal = Matcher::deal($cells, 20, 100);
    Drawers::sound($deal, $cells, 20, 100);
    expect($deal->gap)->toBeLessThanOrEqual(1e-4)->and($deal->conductanceSpread)->toBeLessThanOrEqual(2e-3);
});

it('deals the same for the same seed, whatever the order in which cells lie', function (): void {
    $cells = Drawers::of(60);
    $a = Matcher::deal($cells, 10, 5, seed: 3);
    $b = Matcher::deal(array_reverse($cells), 10, 5, seed: 3);
    expect($a->toArray())->toBe($b->toArray());
});

it('equals every partition of up to twelve cells', function (int $n, int $s, int $p, int $seed): void {
    $cells = Drawers::of($n, 0.05, 0.03, $seed);
    $deal = Matcher::deal($cells, $s, $p);
    Drawers::sound($deal, $cells, $s, $p);
    // Brute force of its own: all ways to fill group after group, keeping only the smallest total.
    $best = 0.0;
    $fill = function (array $left, int $groups, float $least) use (&$fill, &$best, $cells, $p): void {
        if ($groups === 0) {
            $best = max($best, $least);

            return;
        }
        $choose = function (int $from, array $taken) use (&$choose, &$fill, $left, $groups, $least, $cells, $p): void {
            if (count($taken) === $p) {
                $r = array_map(fn(int $i): float => $cells[$i]->mohm, $taken);
                if (max($r) / min($r) <= 1.3) {
                    $fill(
                        array_values(array_diff($left, $taken)),
                        $groups - 1,
                        min($least, array_sum(array_map(fn(int $i): float => $cells[$i]->capacityAh, $taken))),
                    );
                }

                return;
            }
            for ($k = $from; $k < count($left); $k++) {
                $choose($k + 1, [...$taken, $left[$k]]);
            }
        };
        $choose(0, []);
    };
    $fill(range(0, $n - 1), $s, INF);
    expect($deal->least())->toBeGreaterThanOrEqual($best - DealOrder::alikeAh($deal));
})->with([[6, 3, 2, 1], [8, 2, 4, 2], [9, 3, 3, 3], [8, 3, 2, 4], [10, 2, 4, 5], [7, 7, 1, 6]]);

it('chooses fifty-two of ninety at least as well as ten thousand random deals', function (): void {
    $cells = Drawers::of(90, 0.04);
    $ours = Matcher::deal($cells, 13, 4);
    Drawers::sound($ours, $cells, 13, 4);
    $top = array_map(fn(DrawerCell $c): float => $c->capacityAh, $cells);
    rsort($top);
    $top = array_slice($top, 0, 52);
    $best = 0.0;
    for ($k = 0; $k < 10000; $k++) {
        shuffle($top);
        $best = max($best, min(array_map(array_sum(...), array_chunk($top, 4))));
    }
    expect($ours->least())->toBeGreaterThanOrEqual($best);
});

it('never breaks a hard limit over a hundred and twenty random drawers', function (): void {
    mt_srand(99);
    $dealt = $refused = 0;
    for ($k = 0; $k < 120; $k++) {
        $s = mt_rand(1, 8);
        $p = mt_rand(1, 6);
        $cells = Drawers::of($s * $p + mt_rand(0, 6), 0.05, [0.02, 0.06, 0.12, 0.2][$k % 4], 1000 + $k);
        mt_srand(7000 + $k);
        try {
            Drawers::sound(Matcher::deal($cells, $s, $p, school: $k % 5 === 0 ? 'like' : 'equal'), $cells, $s, $p);
            $dealt++;
        } catch (CannotMatch $e) {
            expect($e->relaxation)->not->toBeNull();
            $refused++;
        }
    }
    expect($dealt)->toBeGreaterThan(70)->and($refused)->toBeGreaterThan(3);
});

it('refuses with the reason and the nearest way out', function (): void {
    expect(fn() => Matcher::deal(Drawers::of(10), 4, 3))
        ->toThrow(CannotMatch::class, '12 cells are wanted and 10')
        ->and(fn() => Matcher::deal([...Drawers::of(5), new DrawerCell('X', 3.0, 30, chemistry: 'lfp')], 3, 2))
        ->toThrow(CannotMatch::class, 'different chemistry');
    try {
        Matcher::deal(
            [new DrawerCell('a', 3, 20), new DrawerCell('b', 3, 21), new DrawerCell('c', 3, 22), new DrawerCell('d', 3, 40)],
            2,
            2,
        );
        expect(false)->toBeTrue();
    } catch (CannotMatch $e) {
        expect($e->getMessage())->toContain('1.30')->and($e->relaxation)->toContain('1.8');
    }
});

it('lets an outlier in resistance lie when there are others to take', function (): void {
    $cells = [...Drawers::of(40, 0.02, 0.02), new DrawerCell('odd', 3.5, 60.0)];
    $deal = Matcher::deal($cells, 10, 4);
    expect(array_map(fn(DrawerCell $c): string => $c->id, $deal->spares))->toBe(['odd']);
});

it('puts the best together for a split pack', function (): void {
    $cells = Drawers::of(20);
    $deal = Matcher::deal($cells, 5, 4, school: 'like');
    expect($deal->totals)
        ->toBe(
            array_values(
                (function (array $t): array {
                    rsort($t);

                    return $t;
                })($deal->totals),
            ),
        )
        ->and($deal->totals[0] - $deal->totals[4])
        ->toBeGreaterThan(0.3);
});

it('beats a hand that deals forth and back', function (): void {
    $cells = Drawers::of(100);
    expect(Matcher::deal($cells, 10, 10)->gap)
        ->toBeLessThan(Matcher::serpentine($cells, 10, 10)->gap)
        ->and(Matcher::serpentine($cells, 10, 10)->totals)
        ->toHaveCount(10);
});

it('tells what ten more cells would bring, and little when none is left over', function (): void {
    expect(Matcher::withTenMore(Drawers::of(42), 10, 4))
        ->toBeGreaterThan(0.0)
        ->and(Matcher::withTenMore(Drawers::of(400), 10, 4))
        ->toBeLessThan(Matcher::withTenMore(Drawers::of(42), 10, 4));
});

it('fills some groups to what the others have and leaves those alone', function (): void {
    $cells = Drawers::of(20);
    $kept = Drawers::of(3, seed: 8);
    $fills = Refill::fill($cells, [['ah' => 0, 'cells' => [], 'missing' => 4], ['ah' => 0, 'cells' => $kept, 'missing' => 1]], 12.0);
    $sum = fn(array $c): float => array_sum(array_map(fn(DrawerCell $x): float => $x->capacityAh, $c));
    expect($fills)
        ->toHaveCount(2)
        ->and($sum($fills[0]))
        ->toEqualWithDelta(12.0, 0.1)
        ->and($sum([...$kept, ...$fills[1]]))
        ->toEqualWithDelta(12.0, 0.15)
        ->and(
            array_intersect(
                array_column(array_map(fn($c) => ['id' => $c->id], $fills[0]), 'id'),
                array_column(array_map(fn($c) => ['id' => $c->id], $fills[1]), 'id'),
            ),
        )
        ->toBe([])
        ->and(fn() => Refill::fill([], [['ah' => 0, 'cells' => [], 'missing' => 1]], 3.0))
        ->toThrow(CannotMatch::class);
});

it('grades by the shop\'s rules and says why a cell is out', function (): void {
    $cells = [
        new DrawerCell('good', 2.9, 30, lot: 'A'),
        new DrawerCell('also', 2.8, 31, lot: 'A'),
        new DrawerCell('small', 2.2, 30, lot: 'A'),
        new DrawerCell('tired', 2.9, 50, lot: 'A'),
        new DrawerCell('leaks', 2.9, 30, leakPercentMonth: 14.0, lot: 'A'),
        new DrawerCell('dented', 2.9, 30, lot: 'A', damaged: true),
        new DrawerCell('other lot', 2.9, 50, lot: 'B'),
    ];
    $g = (new GradeRules(3.0))->grade($cells);
    expect(array_map(fn(DrawerCell $c): string => $c->id, $g['accepted']))
        ->toBe(['good', 'also', 'other lot'])
        ->and(array_keys($g['rejected']))
        ->toBe(['small', 'tired', 'leaks', 'dented'])
        ->and($g['rejected']['small'])
        ->toContain('2.40 Ah')
        ->and((new GradeRules(3.0, GradeRules::LOW_DRAIN_SHARE))->grade($cells)['rejected'])
        ->not->toHaveKey('small');
});

it('finds substitutes and says of each other what is against it', function (): void {
    $group = Drawers::of(3, 0.001, 0.001);
    $lost = new DrawerCell('lost', 3.0, 32.0, 3.7, maxA: 8.0);
    $found = Substitute::find(
        [
            new DrawerCell('fits', 3.0, 33, 3.71, maxA: 8.0),
            new DrawerCell('low', 2.7, 32, 3.7, maxA: 8.0),
            new DrawerCell('stiff', 3.0, 40, 3.7, maxA: 8.0),
            new DrawerCell('far', 3.0, 32, 3.9, maxA: 8.0),
            new DrawerCell('weak', 3.0, 32, 3.7, maxA: 5.0),
            new DrawerCell('lfp', 3.0, 32, 3.7, chemistry: 'lfp', maxA: 8.0),
        ],
        $group,
        $lost,
    );
    $by = array_column(
        array_map(fn(array $f): array => ['id' => $f['cell']->id, 'why' => implode(' ', $f['why']), 'fits' => $f['fits']], $found),
        null,
        'id',
    );
    expect($found[0]['cell']->id)
        ->toBe('fits')
        ->and($by['fits']['fits'])
        ->toBeTrue()
        ->and($by['low']['why'])
        ->toContain('Ah')
        ->and($by['stiff']['why'])
        ->toContain('resistance')
        ->and($by['far']['why'])
        ->toContain('mV')
        ->and($by['weak']['why'])
        ->toContain('rating')
        ->and($by['lfp']['why'])
        ->toContain('chemistry');
});

it('tells what a cell loses a month only when days and meter allow it', function (): void {
    $holds = CellHold::of(Chemistry::Nmc, 3.7, 3.699, 14);
    $leaks = CellHold::of(Chemistry::Nmc, 3.7, 3.64, 14);
    $soon = CellHold::of(Chemistry::Nmc, 3.7, 3.699, 0.5, 0.01);
    expect($holds->outcome)
        ->toBe('holds')
        ->and($holds->percentMonth)
        ->toBeLessThan(5.0)
        ->and($leaks->outcome)
        ->toBe('leaks')
        ->and($leaks->percentMonth)
        ->toBeGreaterThan(20.0)
        ->and($soon->outcome)
        ->toBe('cannot-tell-yet')
        ->and(CellHold::of(Chemistry::Lfp, 3.3, 3.29, 30)->text)
        ->toContain('plateau')
        ->and(fn() => CellHold::of(Chemistry::Nmc, 3.7, 3.7, 0))
        ->toThrow(InvalidArgumentException::class);
});

it('compares a substitute with the group that takes it, and with the lost cell only where there is no group', function (): void {
    $group = [new DrawerCell('a', 3.0, 30.0), new DrawerCell('b', 3.0, 31.0), new DrawerCell('c', 3.0, 32.0)];
    // What fell out had risen to twice its resistance.
    $lost = new DrawerCell('lost', 2.1, 62.0);
    $fits = fn(float $mohm, array $of): bool => Substitute::find([new DrawerCell('new', 3.0, $mohm)], $of, $lost)[0]['fits'];
    expect($fits(31.0, $group))
        ->toBeTrue()
        ->and($fits(62.0, $group))
        ->toBeFalse()
        ->and($fits(Substitute::MOST_RESISTANCE * 31.0 - 0.1, $group))
        ->toBeTrue()
        ->and($fits(Substitute::MOST_RESISTANCE * 31.0 + 0.1, $group))
        ->toBeFalse()
        ->and($fits(62.0, []))
        ->toBeTrue();
});
