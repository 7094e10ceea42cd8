<?php

declare(strict_types=1);

use Heartwood\Core\Build\BoardEnd;
use Heartwood\Core\Build\LayoutPlan;
use Heartwood\Core\Build\LayoutSearch;
use Heartwood\Core\Build\Places;
use Heartwood\Core\Build\Run;
use Heartwood\Core\Limits\BuildLimits;
use Heartwood\Core\Maths\Graph;

// Where cells could sit, which of them touch, and the ways through them.

/** Every two places closer than a pitch and a hundredth, by their distance alone. */
function touching(Places $p, float $diameter, float $fold = 0.0): array
{
    $out = [];
    foreach ($p->at as $i => $a) {
        foreach ($p->at as $j => $b) {
            $more = $a['layer'] === $b['layer'] ? 0.0 : $fold;
            if ($i !== $j && hypot($a['x'] - $b['x'], $a['y'] - $b['y']) <= 1.01 * ($diameter + 0.7) + $more) {
                $out[$i][] = $j;
            }
        }
        $out[$i] ??= [];
    }

    return $out;
}

it('knows neighbours by their distance, in every kind of case', function (Places $p, float $fold): void {
    expect($p->near)->toBe(touching($p, 18.4, $fold));
    foreach ($p->at as $a) {
        expect($a['x'] - 9.2)
            ->toBeGreaterThan(-0.01)
            ->and($a['x'] + 9.2)
            ->toBeLessThan($p->width + 0.01)
            ->and($a['y'] + 9.2)
            ->toBeLessThan($p->height + 0.01);
    }
})->with([
    'square' => [Places::box(5, 4, 18.4, 65.0, 'square') ?? throw new LogicException(), 0.0],
    'offset' => [Places::box(5, 4, 18.4, 65.0, 'offset') ?? throw new LogicException(), 0.0],
    'left out' => [Places::box(4, 3, 18.4, 65.0, 'square', [[1, 1], [3, 0]]) ?? throw new LogicException(), 0.0],
    'steps' => [Places::stairs([[0, 4], [1, 5], [3, 2]], 18.4, 65.0, 'square'), 0.0],
    'nested steps' => [Places::stairs([[0, 4], [0, 5], [0, 4]], 18.4, 65.0, 'offset'), 0.0],
    'round' => [Places::round(12, 18.4, 65.0, null)[0], 0.0],
    'folded' => [Places::folded(3, 4, 18.4, 65.0, 'square'), BuildLimits::FOLD_MM],
]);

it('has no place where one is left out, and no case where that place is none', function (): void {
    $p = Places::box(3, 2, 18.4, 65.0, 'square', [[1, 1]]);
    expect($p?->at)
        ->toHaveCount(5)
        ->and(Places::box(3, 2, 18.4, 65.0, 'square', [[3, 0]]))
        ->toBeNull()
        ->and(Places::box(3, 2, 18.4, 65.0, 'square', [[0, 2]]))
        ->toBeNull();
});

it('puts as many into a round case as lie inside it, about one, two or three', function (): void {
    // One, three and seven are the least that lie about a middle; the circle that holds them by geometry.
    $least = fn(int $n): float => min(array_map(fn(Places $p): float => $p->width, Places::round($n, 18.4, 65.0, null)));
    $wall = 18.4 + 2 * BuildLimits::BETWEEN_MM;
    expect($least(1))
        ->toEqualWithDelta($wall, 1e-6)
        ->and($least(2))
        ->toEqualWithDelta($wall + 19.1, 1e-6)
        ->and($least(3))
        ->toEqualWithDelta($wall + (2 * 19.1) / sqrt(3), 1e-6)
        ->and($least(7))
        ->toEqualWithDelta($wall + 2 * 19.1, 1e-6)
        ->and(Places::round(7, 18.4, 65.0, 57.9))
        ->toBe([])
        ->and(Places::round(7, 18.4, 65.0, 58.0))
        ->toHaveCount(1);
});

it('lies folded on its own half', function (): void {
    $p = Places::folded(3, 4, 18.4, 65.0, 'square');
    expect($p->depth)
        ->toBe(132.0)
        ->and($p->folded)
        ->toEqualWithDelta([3 * 19.1 + 0.7, 4 * 19.1 + 0.7], 1e-9)
        ->and(array_count_values(array_column($p->at, 'layer')))
        ->toBe([0 => 12, 1 => 12]);
    // Over the fold, neighbours are one pitch and the sheet apart.
    $over = $p->at[12]['x'] - $p->at[8]['x'];
    expect($over)->toEqualWithDelta(19.1 + BuildLimits::FOLD_MM, 1e-6);
});

it('goes to and fro from every corner, each place once, each touching the one before where that is asked', function (): void {
    $p = Places::box(4, 3, 18.4, 65.0, 'square') ?? throw new LogicException();
    $ways = Run::through($p, 12, true);
    expect(count($ways))->toBeGreaterThanOrEqual(8);
    foreach ($ways as $way) {
        expect(array_unique($way))->toHaveCount(12);
        foreach (array_slice($way, 1) as $k => $i) {
            expect($p->near[$way[$k]])->toContain($i);
        }
    }
    expect(Run::through($p, 12, false))->toHaveCount(2)->and(Run::through($p, 13, true))->toBe([]);
});

it('finds groups by trying, as long as they hang together, and none where nothing touches', function (): void {
    $corner = Places::stairs([[0, 3], [0, 4], [0, 5], [0, 6]], 18.4, 65.0, 'square');
    $way = Run::anywhere($corner, 18, 2) ?? [];
    expect(array_unique($way))->toHaveCount(18);
    // Each group with the one before is one piece.
    foreach (range(1, 8) as $g) {
        $in = array_slice($way, 2 * $g - 2, 4);
        $seen = [$in[0]];
        for ($k = 0; $k < count($seen); $k++) {
            foreach (array_intersect($corner->near[$seen[$k]], $in) as $j) {
                if (!in_array($j, $seen, true)) {
                    $seen[] = $j;
                }
            }
        }
        expect($seen)->toHaveCount(4);
    }
    $apart = Places::stairs([[0, 2], [5, 2]], 18.4, 65.0, 'square');
    expect(Run::anywhere($apart, 4, 1))->toBeNull()->and(Run::anywhere($apart, 201, 1))->toBeNull();
});

it('measures a lead to the middle of each side of the case', function (string $side, float $want): void {
    // A case 100 by 60, a place at 10, 20, and 30 mm round the edge.
    expect((new BoardEnd($side))->reach(10.0, 20.0, 100.0, 60.0, 30.0))->toEqualWithDelta($want + 30.0 + BuildLimits::SLACK_MM, 1e-9);
})->with([['left', 10.0 + 10.0], ['right', 90.0 + 10.0], ['top', 20.0 + 40.0], ['bottom', 40.0 + 40.0]]);

it('splits a current as the resistances say, and loses none', function (): void {
    // Two ways from one end to the other, of one and three ohms: three quarters and one.
    expect(Graph::currents([[0, 1, 1.0], [0, 1, 3.0]], [8.0, -8.0]))
        ->toEqualWithDelta([6.0, 2.0], 1e-9)
        ->and(Graph::currents([[0, 1, 2.0], [1, 2, 5.0]], [1.0, 2.0, -3.0]))
        ->toEqualWithDelta([1.0, 3.0], 1e-9)
        ->and(Graph::currents([[0, 1, 1.0]], [0.0, 0.0]))
        ->toEqual([0.0]);
    // A ladder of ten rungs against a hand's elimination: symmetric, so nothing flows along the rails' middle rung.
    $edges = [];
    for ($k = 0; $k < 9; $k++) {
        array_push($edges, [$k, $k + 1, 1.0], [10 + $k, 11 + $k, 1.0]);
    }
    for ($k = 0; $k < 10; $k++) {
        $edges[] = [$k, 10 + $k, 1.0];
    }
    $fed = array_fill(0, 20, 0.0);
    [$fed[0], $fed[9], $fed[10], $fed[19]] = [1.0, 1.0, -1.0, -1.0];
    $amps = Graph::currents($edges, $fed);
    expect(array_sum(array_slice($amps, 18)))->toEqualWithDelta(2.0, 1e-6)->and($amps[8])->toEqualWithDelta(0.0, 1e-6);
});

it('keeps what a plan is when its leads are put', function (): void {
    $plan = LayoutSearch::find(4, 2, 18.4, 65.0);
    $with = $plan->withLeads(['minus' => 0, 'plus' => 7]);
    $was = get_object_vars($plan);
    $is = get_object_vars($with);
    expect($with)
        ->toBeInstanceOf(LayoutPlan::class)
        ->and($is['leads'])
        ->toBe(['minus' => 0, 'plus' => 7])
        ->and(array_diff_key($is, ['leads' => 1]))
        ->toEqual(array_diff_key($was, ['leads' => 1]))
        ->and([$plan->isEnd(0), $plan->isEnd(2), $plan->isEnd(4)])
        ->toBe([true, false, true]);
});
