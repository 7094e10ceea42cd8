<?php

declare(strict_types=1);

use Heartwood\Core\Cell\CannotMatch;
use Heartwood\Core\Cell\Deal;
use Heartwood\Core\Cell\DealOrder;
use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Cell\ExactDeal;
use Heartwood\Core\Cell\HardLimits;
use Heartwood\Core\Cell\LotInspection;
use Heartwood\Core\Cell\Matcher;
use Heartwood\Core\Cell\RatioRoom;
use Heartwood\Core\Cell\Refill;
use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Log\CapacityHistory;
use Tests\Core\Drawers;

// Small drawers against every deal that there is; what is alike, what is refused, and what nobody may build.

it('refuses no drawer that can be dealt, deals none that cannot, and leaves no better deal, in drawers of every shape', function (): void {
    $dealt = $refused = 0;
    for ($k = 0; $k < 90; $k++) {
        [$s, $p] = [[2, 2], [2, 3], [3, 2], [4, 2], [4, 1], [1, 4], [2, 4], [3, 1], [1, 2]][$k % 9];
        $cells = Drawers::of($s * $p + ($k % 3), [0.01, 0.05][$k % 2], [0.04, 0.12, 0.2, 0.35][$k % 4], 300 + $k);
        $all = Drawers::everyDeal($cells, $s, $p, 1.3);
        try {
            $deal = Matcher::deal($cells, $s, $p);
        } catch (CannotMatch $e) {
            expect($all)->toBe([]);
            preg_match('/allow ([0-9.]+) to one/', (string) $e->relaxation, $m);
            $allow = (float) $m[1];
            expect(Drawers::everyDeal($cells, $s, $p, $allow))
                ->not->toBe([])
                ->and(Drawers::everyDeal($cells, $s, $p, $allow - 0.011))
                ->toBe([])
                ->and(Matcher::deal($cells, $s, $p, $allow)->groups)
                ->toHaveCount($s);
            $refused++;

            continue;
        }
        Drawers::sound($deal, $cells, $s, $p);
        $near = array_filter($all, fn(array $d): bool => $d[0] >= $deal->least() - 1e-9);
        expect($deal->proven)
            ->toBeTrue()
            ->and($deal->least())
            ->toBeGreaterThanOrEqual(max(array_column($all, 0)) - 1.001 * DealOrder::alikeAh($deal))
            ->and($deal->conductanceSpread)
            ->toBeLessThanOrEqual(max(CellLimits::ALIKE_CONDUCTANCE, min(array_column($near, 1))) + 1e-8);
        $dealt++;
    }
    expect($dealt)->toBeGreaterThan(40)->and($refused)->toBeGreaterThan(5);
});

it('finds the deal that leaves out cells of the middle, where those of both ends go together', function (): void {
    // The best four by capacity have no two within 1.3 of one another; their neighbours do.
    $cells = array_map(fn(array $c): DrawerCell => new DrawerCell("C$c[0]", $c[1], $c[2]), [
        ['1', 3.0, 20.0],
        ['2', 3.0, 30.0],
        ['3', 3.0, 45.0],
        ['4', 3.0, 70.0],
        ['5', 2.5, 22.0],
        ['6', 2.5, 68.0],
    ]);
    $deal = Matcher::deal($cells, 2, 2);
    expect($deal->worstRatio)
        ->toBeLessThanOrEqual(1.3)
        ->and($deal->totals)
        ->toEqualWithDelta([5.5, 5.5], 1e-9);
});

it('knows the widest resistances that can be dealt to the last digit', function (): void {
    $cells = fn(float $high): array => [
        new DrawerCell('a', 3.0, 100.0),
        new DrawerCell('b', 3.0, $high),
        new DrawerCell('c', 3.0, 300.0),
        new DrawerCell('d', 3.0, 310.0),
    ];
    expect(RatioRoom::holds($cells(130.0), 2, 2, CellLimits::RATIO_IN_GROUP))
        ->toBeTrue()
        ->and(RatioRoom::holds($cells(130.01), 2, 2, CellLimits::RATIO_IN_GROUP))
        ->toBeFalse()
        ->and(RatioRoom::least($cells(130.01), 2, 2))
        ->toEqualWithDelta(1.3001, 1e-9)
        ->and(RatioRoom::groups($cells(130.01), 2, 1.3))
        ->toHaveCount(1)
        ->and(CellLimits::RATIO_IN_GROUP)
        ->toBe(1.3);
});

it('gives no conductance away for capacity that the tests cannot tell', function (): void {
    // Two ways: totals equal to the digit at 20 % apart in conductance, or a little apart at equal conductance.
    $cells = fn(float $gap): array => [
        new DrawerCell('a', 3.0, 30.0),
        new DrawerCell('b', 3.0 + $gap, 36.0),
        new DrawerCell('c', 3.0 + $gap, 36.0),
        new DrawerCell('d', 3.0 + 2 * $gap, 30.0),
    ];
    $alike = Matcher::deal($cells(0.0005), 2, 2);
    expect($alike->conductanceSpread)
        ->toBeLessThan(1e-9)
        ->and(max($alike->totals) - min($alike->totals))
        ->toBeGreaterThan(0.0009);
    // A tenth of half a percent of 6 Ah is 3 mAh: a difference over it is one.
    expect(DealOrder::alikeAh($alike))->toEqualWithDelta(CellLimits::ALIKE_SIGMAS * 0.03, 1e-4);
    expect(Matcher::deal($cells(0.1), 2, 2)->totals)->toEqualWithDelta([6.2, 6.2], 1e-9);
});

it('counts totals as alike up to a tenth of sigma, and conductances up to two thousandths', function (): void {
    $deal = fn(float $less, float $mohm): Deal => new Deal(
        [[new DrawerCell('a', 10.0, 30.0)], [new DrawerCell('b', 10.0 - $less, $mohm)]],
        [],
        10.0,
        'equal group totals',
    );
    // Sigma of 10 Ah is 0.05 Ah, a tenth of it 5 mAh.
    expect(DealOrder::best([$deal(0.0, 33.0), $deal(0.00499, 30.0)])->conductanceSpread)
        ->toBeLessThan(1e-9)
        ->and(DealOrder::best([$deal(0.0, 33.0), $deal(0.00501, 30.0)])->conductanceSpread)
        ->toBeGreaterThan(0.09)
        ->and(DealOrder::spread(0.0019))
        ->toBe(0.002)
        ->and(DealOrder::spread(0.0021))
        ->toBe(0.0021)
        ->and(CellLimits::COMMON_GAIN)
        ->toBe(0.005);
});

it('compares by hand what there is when the drawer holds fewer cells than groups', function (): void {
    $hand = Matcher::serpentine([new DrawerCell('a', 3.0, 30.0), new DrawerCell('b', 3.0, 33.0)], 4, 2);
    expect($hand->conductanceSpread)->toEqualWithDelta(0.1, 1e-9)->and($hand->least())->toBe(0.0)->and($hand->gap)->toBe(1.0);
    expect(Matcher::serpentine([], 2, 1)->conductanceSpread)->toBe(0.0)->and(Matcher::withTenMore([], 2, 1))->toBe(0.0);
});

it('is as sure of a group as its cells are measured: a gain in common, and what is typed besides', function (): void {
    $sigma = fn(float $own): float => (new Deal(
        [array_map(fn(int $i): DrawerCell => new DrawerCell("C$i", 2.5, 30.0, capacitySigma: $own), range(1, 4))],
        [],
        10.0,
        'by hand',
    ))->sigmaTotal();
    expect($sigma(0.0))
        ->toEqualWithDelta(0.05, 1e-9)
        ->and($sigma(CapacityHistory::sigma(2.5, false)))
        ->toEqualWithDelta(sqrt(0.05 ** 2 + 4 * 0.05 ** 2), 1e-9)
        ->and(CapacityHistory::sigma(10.0, true))
        ->toBe(0.05)
        ->and(CapacityHistory::sigma(10.0, false))
        ->toBe(0.2);
});

it('keeps lots together where it costs nothing, in small drawers and in large ones', function (): void {
    $cell = fn(int $i, string $lot): DrawerCell => new DrawerCell(sprintf('%s%02d', $lot, $i), 3.0, 30.0, lot: $lot);
    $small = [$cell(1, 'A'), $cell(2, 'B'), $cell(3, 'A'), $cell(4, 'B')];
    expect(Matcher::deal($small, 2, 2)->lots)->toBe(2);
    $large = [];
    for ($i = 0; $i < 40; $i++) {
        array_push($large, $cell($i, 'A'), $cell($i, 'B'));
    }
    $deal = Matcher::deal($large, 8, 10);
    expect($deal->proven)->toBeFalse()->and($deal->lots)->toBeLessThanOrEqual(9)->and($deal->gap)->toBeLessThan(1e-9);
});

it('deals resistances far apart within the limit, and conductances as near as they can be', function (): void {
    $cells = Drawers::of(200, resistance: 0.1, seed: 5);
    $deal = Matcher::deal($cells, 20, 10);
    Drawers::sound($deal, $cells, 20, 10);
    // The stiffest cell's group has nothing over 1.3 times it: what that alone forces, and a little.
    $r = array_map(fn(DrawerCell $c): float => $c->mohm, $cells);
    sort($r);
    $within = array_values(array_filter($r, fn(float $x): bool => $x <= 1.3 * $r[0]));
    $forced = 1 / $r[0] + array_sum(array_map(fn(float $x): float => 1 / $x, array_slice($within, -9)));
    $usual = array_sum(array_map(fn(float $x): float => 1 / $x, $r)) / 20;
    expect($deal->conductanceSpread)->toBeLessThan($forced / $usual - 1 + 0.08);
});

it('fills single cells by their own: the best, or the nearest in conductance of those as good', function (): void {
    $cells = [...Drawers::of(60, 0.03, 0.04, 3)];
    $deal = Matcher::deal($cells, 13, 1);
    $ah = array_map(fn(DrawerCell $c): float => $c->capacityAh, $cells);
    rsort($ah);
    expect($deal->proven)
        ->toBeTrue()
        ->and($deal->least())
        ->toBeGreaterThanOrEqual($ah[12] - DealOrder::alikeAh($deal) - 1e-9);
});

it('is not proven where there are too many deals to try', function (): void {
    expect(ExactDeal::inReach(12, 4))
        ->toBeTrue()
        ->and(ExactDeal::inReach(61, 1))
        ->toBeFalse()
        ->and(ExactDeal::inReach(40, 10))
        ->toBeFalse();
});

it('refills where a greedy hand would leave a group without a cell that fits', function (): void {
    $whole = [new DrawerCell('w1', 3.0, 30.0), new DrawerCell('w2', 3.0, 30.0)];
    // The cell nearest by capacity is the only one that the second group can take.
    $drawer = [new DrawerCell('x', 3.0, 30.0), new DrawerCell('y', 2.9, 24.0), new DrawerCell('z', 2.9, 24.5)];
    $deal = Refill::deal([$whole, [new DrawerCell('k', 3.0, 30.0)], [new DrawerCell('m', 3.0, 36.0)]], 2, $drawer, 1.3);
    expect(array_map(fn(array $g): array => array_map(fn(DrawerCell $c): string => $c->id, $g), $deal->groups))->toBe([
        ['w1', 'w2'],
        ['k', 'y'],
        ['m', 'x'],
    ]);
});

it('lets nobody build a cell twice, too many, another kind or resistances too far apart', function (): void {
    $c = fn(string $id, float $mohm = 30.0, string $chemistry = 'nmc', ?float $full = null): DrawerCell => new DrawerCell(
        $id,
        3.0,
        $mohm,
        chemistry: $chemistry,
        fullV: $full,
    );
    $check = fn(array $groups): Closure => fn() => HardLimits::check($groups, 2, 2, CellLimits::RATIO_IN_GROUP);
    HardLimits::check([[$c('a', 30.0), $c('b', 39.0)], [$c('c')]], 2, 2, CellLimits::RATIO_IN_GROUP);
    expect($check([[$c('a', 30.0), $c('b', 39.01)]]))
        ->toThrow(CannotMatch::class, 'Resistances in group 1 are 1.30 to one')
        ->and($check([[$c('a')], [$c('a')]]))
        ->toThrow(CannotMatch::class, 'twice')
        ->and($check([[$c('a'), $c('b'), $c('d')]]))
        ->toThrow(CannotMatch::class, '3 cells, 2 go')
        ->and($check([[$c('a')], [$c('b')], [$c('d')]]))
        ->toThrow(CannotMatch::class, '2 groups, not 3')
        ->and($check([[$c('a')], [$c('b', chemistry: 'lfp')]]))
        ->toThrow(CannotMatch::class, 'different chemistry')
        ->and($check([[$c('a', full: 4.2)], [$c('b', full: 4.35)]]))
        ->toThrow(CannotMatch::class, 'full voltage');
});

it('takes a delivery by its sample, sends it back, or wants more of it tested', function (): void {
    $lot = fn(array $shares, int $out = 0, int $cells = 40): LotInspection => LotInspection::of($shares, $out, $cells);
    $even = fn(int $n, float $share): array => array_map(fn(int $i): float => $share + 0.002 * (($i % 3) - 1), range(1, $n));
    expect([CellLimits::SAMPLE_LEAST, CellLimits::SAMPLE_SHARE, CellLimits::SAMPLE_OUT, CellLimits::NEW_SHARE])->toBe([5, 0.1, 0.1, 0.95]);
    // Of forty five are enough, of sixty six; of three all of them.
    expect($lot($even(4, 1.0))->outcome)
        ->toBe('test-more')
        ->and($lot($even(5, 1.0))->outcome)
        ->toBe('take')
        ->and($lot($even(5, 1.0), cells: 60)->wanted)
        ->toBe(6)
        ->and($lot($even(6, 1.0), cells: 60)->outcome)
        ->toBe('take')
        ->and($lot($even(3, 1.0), cells: 3)->outcome)
        ->toBe('take')
        ->and($lot([])->outcome)
        ->toBe('test-more');
    // One in ten may be out, and no more.
    expect($lot($even(10, 1.0), 1)->outcome)->toBe('take')->and($lot($even(10, 1.0), 2)->outcome)->toBe('refuse');
    // Under 95 %, over it, and what cannot be told from it.
    expect($lot($even(10, 0.93))->outcome)
        ->toBe('refuse')
        ->and($lot($even(10, 0.97))->outcome)
        ->toBe('take')
        ->and($lot($even(6, 0.95))->outcome)
        ->toBe('test-more')
        ->and($lot($even(6, 0.95))->wanted)
        ->toBe(12)
        ->and($lot($even(6, 0.95))->text)
        ->toContain('test more');
});

it('holds cells of one chemistry apart only by full volts that somebody said', function (): void {
    $c = fn(string $id, ?float $full, string $chemistry = 'nmc'): DrawerCell => new DrawerCell(
        $id,
        3.0,
        30.0,
        chemistry: $chemistry,
        fullV: $full,
    );
    expect(HardLimits::kinds([$c('a', null), $c('b', 4.2)]))
        ->toHaveCount(1)
        ->and(HardLimits::kinds([$c('a', 4.35), $c('b', 4.2)]))
        ->toBe(['to 4.35 V', 'to 4.20 V'])
        ->and(HardLimits::kinds([$c('a', null), $c('b', null, 'lfp')]))
        ->toBe(['nmc', 'lfp']);
});

it('deals a large drawer with outliers without refusing it, evenly or like with like', function (string $school): void {
    $cells = Drawers::of(260, 0.03, 0.04, 11);
    foreach ([10.0, 14.0, 90.0, 120.0, 200.0] as $k => $mohm) {
        $cells[] = new DrawerCell("out$k", 3.6, $mohm);
    }
    $deal = Matcher::deal($cells, 24, 10, school: $school);
    Drawers::sound($deal, $cells, 24, 10);
    $spares = array_map(fn(DrawerCell $c): string => $c->id, $deal->spares);
    expect(array_diff(['out0', 'out1', 'out2', 'out3', 'out4'], $spares))->toBe([]);
})->with(['equal', 'like']);

it('is the same deal whatever the seed where all were tried, and names what ten more would bring', function (): void {
    $cells = Drawers::of(9, 0.05, 0.05, 3);
    $ids = fn(Deal $d): array => array_map(fn(array $g): array => array_map(fn(DrawerCell $c): string => $c->id, $g), $d->groups);
    $a = Matcher::deal($cells, 3, 3, seed: 1);
    expect($a->proven)
        ->toBeTrue()
        ->and($ids($a))
        ->toBe($ids(Matcher::deal($cells, 3, 3, seed: 77)))
        ->and($a->toArray()['alike_ah'])
        ->toBeGreaterThan(0.0)
        ->and($a->toArray()['lots'])
        ->toBe(3);
});

it('fills a group to its target better than the nearest cell by cell', function (): void {
    $drawer = array_map(fn(int $i): DrawerCell => new DrawerCell("d$i", 2.5 + 0.07 * $i, 30.0), range(0, 12));
    $fill = Refill::fill($drawer, [['ah' => 0.0, 'cells' => [], 'missing' => 3]], 8.34)[0];
    expect(DrawerCell::totalAh($fill))->toEqualWithDelta(8.34, 0.021);
    // Windows of resistance: the three of 40 mohm fit together, those of 30 and 40 do not.
    $mixed = [
        new DrawerCell('a', 3.0, 30.0),
        new DrawerCell('b', 3.0, 40.0),
        new DrawerCell('c', 3.0, 40.0),
        new DrawerCell('d', 2.9, 41.0),
    ];
    $three = Refill::fill($mixed, [['ah' => 0.0, 'cells' => [], 'missing' => 3]], 9.0)[0];
    $ids = array_map(fn(DrawerCell $c): string => $c->id, $three);
    sort($ids);
    expect($ids)
        ->toBe(['b', 'c', 'd'])
        ->and(fn() => Refill::fill($mixed, [['ah' => 0.0, 'cells' => [], 'missing' => 4]], 12.0))
        ->toThrow(CannotMatch::class, 'fits group 1');
});
