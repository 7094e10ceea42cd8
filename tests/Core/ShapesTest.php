<?php

declare(strict_types=1);

use Heartwood\Core\Build\BoardEnd;
use Heartwood\Core\Build\BuildSheet;
use Heartwood\Core\Build\CannotBuild;
use Heartwood\Core\Build\CaseWish;
use Heartwood\Core\Build\CutPlan;
use Heartwood\Core\Build\LayoutPlan;
use Heartwood\Core\Build\LayoutSearch;
use Heartwood\Core\Build\LayoutSvg;
use Heartwood\Core\Build\Strip;
use Heartwood\Core\Build\StripLoad;
use Heartwood\Core\Build\StripRoom;
use Heartwood\Core\Limits\BuildLimits;
use Heartwood\Core\Maths\Graph;
use Tests\Core\Circuit;

// Cases that are no box: round, stepped, folded, flat cells in rows, a board at one end. Each is read back from its drawing
// as a circuit, and its strips are counted against what is cut.

function shape(int $s, int $p, CaseWish $case, float $d = 18.4, float $l = 65.0): LayoutPlan
{
    return LayoutSearch::into($s, $p, $d, $l, $case);
}

it('fits seven in a round case as a flower, and not in one that is half a millimetre less', function (): void {
    $plan = shape(7, 1, new CaseWish('round', round: 58.0));
    expect(Circuit::faultsOf($plan))
        ->toBe([])
        ->and($plan->widthMm)
        ->toBe(58.0)
        ->and($plan->empty)
        ->toBe(0)
        ->and(LayoutSvg::face($plan, 'front'))
        ->toContain('<ellipse');
    // One in the middle, six around it, all one pitch off.
    $middle = array_values(array_filter($plan->cells, fn(array $c): bool => abs($c['x'] - 29) < 0.01 && abs($c['y'] - 29) < 0.01));
    $off = array_map(fn(array $c): float => round(hypot($c['x'] - 29, $c['y'] - 29), 1), $plan->cells);
    expect($middle)
        ->toHaveCount(1)
        ->and(array_count_values(array_map(strval(...), $off)))
        ->toEqual(['0' => 1, '19.1' => 6]);
    // Three diameters, two gaps and the plastic at the walls: 18.4 + 2 * 19.1 + 1.4.
    expect(fn() => shape(7, 1, new CaseWish('round', round: 57.9)))->toThrow(CannotBuild::class, '58.0 mm inside would do');
});

it('builds any count into the smallest round case, each a sound circuit whose cells stay inside', function (int $s, int $p): void {
    $plan = shape($s, $p, new CaseWish('round'));
    $r = $plan->widthMm / 2;
    foreach ($plan->cells as $c) {
        expect(hypot($c['x'] - $r, $c['y'] - $r) + 9.2)->toBeLessThanOrEqual($r + 0.1);
    }
    expect(Circuit::faultsOf($plan))
        ->toBe([])
        ->and($plan->cells)
        ->toHaveCount($s * $p);
})->with([[1, 7], [2, 1], [3, 1], [4, 1], [7, 1], [3, 3], [10, 1], [6, 2], [13, 1], [10, 3], [14, 4], [19, 1]]);

it('follows the steps of a case, whichever way its rows grow', function (array $rows, int $s, int $p, ?string $packing): void {
    $plan = shape($s, $p, new CaseWish('stairs', packing: $packing, rows: $rows));
    foreach ($plan->cells as $c) {
        expect($c['column'])
            ->toBeGreaterThanOrEqual($rows[$c['row']][0])
            ->toBeLessThan($rows[$c['row']][0] + $rows[$c['row']][1]);
    }
    expect(Circuit::faultsOf($plan))->toBe([]);
})->with([
    'down' => [[[0, 6], [0, 5], [0, 4], [0, 3]], 6, 3, 'square'],
    'up' => [[[0, 3], [0, 4], [0, 5], [0, 6]], 9, 2, 'square'],
    'to the right' => [[[0, 4], [1, 6], [2, 6], [4, 4]], 10, 2, 'square'],
    'nested' => [[[0, 6], [0, 5], [0, 4]], 5, 3, 'offset'],
    'one step' => [[[0, 8], [0, 4]], 6, 2, null],
    'a foot' => [[[0, 2], [0, 2], [0, 6]], 10, 1, 'square'],
]);

it('says what steps cannot hold', function (): void {
    expect(fn() => shape(4, 3, new CaseWish('stairs', rows: [[0, 4], [0, 3]])))
        ->toThrow(CannotBuild::class, 'hold 7 cells, and 12')
        ->and(fn() => shape(4, 2, new CaseWish('stairs', rows: [[0, 4], [6, 4]])))
        ->toThrow(CannotBuild::class, 'touches its neighbour');
});

it('folds two layers about a node, whose links alone cross and lie on the face that meets', function (int $s, int $p): void {
    $plan = shape($s, $p, new CaseWish('two-layers'));
    expect(Circuit::faultsOf($plan))
        ->toBe([])
        ->and($plan->depthMm)
        ->toBe(2 * 65.0 + BuildLimits::FOLD_MM);
    // Folded it covers half of what it covers open.
    [$w, $h] = $plan->foldedMm ?? [0.0, 0.0];
    expect($w * $h)
        ->toBeLessThan(0.56 * $plan->widthMm * $plan->heightMm)
        ->toBeGreaterThan(0.3 * $plan->widthMm * $plan->heightMm);
    $layers = [];
    foreach ($plan->cells as $c) {
        $layers[$c['group']][$c['layer']] = true;
    }
    expect(array_filter($layers, fn(array $l): bool => count($l) > 1))->toBe([]);
    $crossing = [];
    foreach ($plan->strips as $strip) {
        foreach ($strip['edges'] as [$a, $b]) {
            if ($plan->cells[$a]['layer'] !== $plan->cells[$b]['layer']) {
                $crossing[$strip['node']] = true;
                expect($plan->apart($a, $b))->toBeLessThanOrEqual(19.1 + BuildLimits::FOLD_MM + 0.5);
            }
        }
    }
    $sheet = new BuildSheet($plan, Strip::of('nickel', 8, 0.15), 10.0);
    expect(array_keys($crossing))
        ->toBe([$plan->foldNode()])
        ->and(implode(' ', array_column($sheet->order(), 'text')))
        ->toContain("the links of T{$plan->foldNode()} are the hinge")
        ->and(array_column($plan->cutList(), 'what'))
        ->toContain('fold link');
})->with([[2, 1], [4, 2], [7, 3], [10, 4], [13, 2], [14, 5]]);

it(
    'folds into a case that one layer does not fit, and says when it is not deep enough or one group has nothing to fold about',
    function (): void {
        expect(fn() => shape(10, 4, new CaseWish('box', 110.0, 90.0)))
            ->toThrow(CannotBuild::class)
            ->and(shape(10, 4, new CaseWish('two-layers', 110.0, 90.0, 132.0))->cells)
            ->toHaveCount(40)
            ->and(fn() => shape(10, 4, new CaseWish('two-layers', 110.0, 90.0, 131.9)))
            ->toThrow(CannotBuild::class, '131.9 mm of depth')
            ->and(fn() => shape(1, 8, new CaseWish('two-layers')))
            ->toThrow(CannotBuild::class, 'between two groups');
    },
);

it('lays flat cells in two rows and more', function (int $s, int $p, int $rows): void {
    $plan = shape($s, $p, new CaseWish('rows', stackRows: $rows), 26.0, 148.0);
    expect(Circuit::faultsOf($plan))
        ->toBe([])
        ->and([$plan->heightMm, $plan->widthMm])
        ->toContain(round($rows * 148.0 + ($rows - 1) * BuildLimits::BETWEEN_MM, 1));
})->with([[8, 1, 2], [4, 2, 2], [16, 1, 2], [7, 1, 2], [12, 1, 3], [5, 3, 2]]);

it('brings both ends to the board where the leads are short, and says what they want where none reaches', function (string $side): void {
    $plan = shape(10, 4, new CaseWish('box', board: new BoardEnd($side, 150.0, 150.0)));
    $leads = (new BuildSheet($plan, Strip::of('nickel', 8, 0.15), 10.0))->leads();
    expect(Circuit::faultsOf($plan))
        ->toBe([])
        ->and($leads['minus']['need_mm'])
        ->toBeLessThanOrEqual(150.0)
        ->and($leads['plus']['need_mm'])
        ->toBeLessThanOrEqual(150.0)
        ->and(LayoutSvg::face($plan, 'front'))
        ->toContain('class="board"');
    // By hand: across the face to the wall, along it to its middle, half the depth round the edge, and slack.
    foreach (['minus', 'plus'] as $name) {
        $c = $plan->cells[$leads[$name]['cell'] - 1];
        $to = match ($side) {
            'left' => $c['x'] + abs($c['y'] - $plan->heightMm / 2),
            'right' => $plan->widthMm - $c['x'] + abs($c['y'] - $plan->heightMm / 2),
            'top' => $c['y'] + abs($c['x'] - $plan->widthMm / 2),
            default => $plan->heightMm - $c['y'] + abs($c['x'] - $plan->widthMm / 2),
        };
        expect($leads[$name]['need_mm'])->toEqualWithDelta($to + 65.0 / 2 + BuildLimits::SLACK_MM, 0.1);
    }
    expect(fn() => shape(10, 4, new CaseWish('box', board: new BoardEnd($side, 60.0, 400.0))))
        ->toThrow(CannotBuild::class, "a board at the $side")
        ->and(BuildLimits::SLACK_MM)
        ->toBe(20.0);
})->with(['left', 'right', 'top', 'bottom']);

it('has all of the load meet where the main lead is joined: the end strip is sized for it', function (): void {
    // One row of four: the lead at an inner cell has two of them on one side and one on the other.
    $plan = shape(1, 4, new CaseWish('box', null, 20.5));
    $load = StripLoad::of($plan, Strip::of('nickel', 8, 0.15), 40.0);
    expect($load->strips[0]['amps'])
        ->toEqualWithDelta(20.0, 1e-6)
        ->and(array_map(fn(array $x): float => abs($x['amps']), $load->strips[0]['sections']))
        ->toEqualWithDelta([10.0, 20.0, 10.0], 1e-6);
    // 8 x 0.15 mm of nickel over 19.1 mm: 7.2 A a layer by density; by heat 11.6 A times the root of the layers, three carry 20 A.
    expect($load->strips[0]['layers'])->toBe(3)->and($load->strips[0]['limit_a'])->toBeGreaterThan(20.0);
    // At the board's end three of four meet in the first section; seven layers keep it under 0.15 W.
    $far = shape(1, 4, new CaseWish('box', null, 20.5, board: new BoardEnd('left')));
    $end = StripLoad::of($far, Strip::of('nickel', 8, 0.15), 40.0);
    expect($end->strips[0]['amps'])->toEqualWithDelta(30.0, 1e-6)->and($end->strips[0]['layers'])->toBe(7);
});

it('computes each section by Kirchhoff: cells give, the next group takes, and nothing is lost between', function (): void {
    foreach ([[10, 4, 'square'], [7, 3, 'offset'], [13, 5, null]] as [$s, $p, $packing]) {
        $plan = LayoutSearch::find($s, $p, 18.4, 65.0, packing: $packing);
        $load = StripLoad::of($plan, Strip::of('nickel', 8, 0.15), 30.0);
        foreach ($load->strips as $k => $strip) {
            $sum = array_fill_keys($plan->strips[$k]['cells'], 0.0);
            foreach ($strip['sections'] as $x) {
                $sum[$x['from'] - 1] -= $x['amps'];
                $sum[$x['to'] - 1] += $x['amps'];
            }
            foreach ($sum as $i => $in) {
                $own = ($plan->cells[$i]['group'] === $k ? 1 : -1) * (30.0 / $p);
                $lead = $k === 0 && $i === $load->leads['minus'] ? 30.0 : ($k === $s && $i === $load->leads['plus'] ? -30.0 : 0.0);
                expect($in + $own + $lead)->toEqualWithDelta(0.0, 0.01);
            }
            // No section carries more than its layers may.
            expect($strip['amps'])->toBeLessThanOrEqual($strip['limit_a'] + 1e-3);
        }
    }
    // A ring of four equal sections: three quarters go the short way.
    expect(Graph::currents([[0, 1, 1.0], [1, 2, 1.0], [2, 3, 1.0], [3, 0, 1.0]], [4.0, -4.0, 0.0, 0.0]))->toEqualWithDelta(
        [3.0, -1.0, -1.0, -1.0],
        1e-9,
    );
});

it('refuses a strip that comes to the next strip or the next rim, to the tenth of a millimetre', function (): void {
    $square = LayoutSearch::find(4, 3, 18.4, 65.0, packing: 'square');
    // Pitch 19.1: the next rim begins 19.1 - 9.2 = 9.9 mm off, 2 mm of it stay free: 7.9 mm to either side.
    expect(StripRoom::widest($square))
        ->toEqualWithDelta(15.8, 1e-9)
        ->and(BuildLimits::CLEARANCE_MM)
        ->toBe(2.0)
        ->and((new BuildSheet($square, Strip::of('nickel', 15.8, 0.15), 10.0))->layers())
        ->toBe(1)
        ->and(fn() => new BuildSheet($square, Strip::of('nickel', 15.9, 0.15), 10.0))
        ->toThrow(CannotBuild::class, '15.8 mm at the most');
    $offset = LayoutSearch::find(4, 3, 18.4, 65.0, packing: 'offset');
    // Between three that touch: 19.1 * sqrt(3) / 2 - 9.2 - 2 = 5.34 mm.
    expect(StripRoom::widest($offset))->toEqualWithDelta(2 * ((19.1 * sqrt(3)) / 2 - 9.2 - 2.0), 0.01);
    // Bars of flat cells: 26.7 mm apart, 2 mm free.
    expect(StripRoom::widest(shape(8, 1, new CaseWish('rows', stackRows: 2), 26.0, 148.0)))->toEqualWithDelta(24.7, 0.01);
    expect(StripRoom::widest(LayoutSearch::find(1, 4, 18.4, 65.0)))->toBe(INF);
});

it('cuts what is drawn: every section once, and every piece out of the stock', function (
    int $s,
    int $p,
    CaseWish $case,
    float $d,
    float $l,
): void {
    $plan = shape($s, $p, $case, $d, $l);
    $sheet = (new BuildSheet($plan, Strip::of('nickel', 8, 0.2), 25.0))->toArray();
    // Read from the drawings: every line of every strip.
    $drawn = Circuit::drawnMm($sheet['svg']);
    $tabs = count(array_filter($plan->strips, fn(array $x): bool => $x['edges'] === []));
    $drawn -= $tabs * 0.3 * $d;
    $cut = 0.0;
    $pieces = 0;
    foreach ($sheet['cut_list'] as $c) {
        $cut += $c['count'] * ($c['length_mm'] - BuildLimits::OVERLAP * $d);
        $pieces += $c['pieces'];
        expect($c['pieces'])->toBe($c['count'] * $c['layers']);
    }
    expect($cut)
        ->toEqualWithDelta($drawn, 0.05 * count($sheet['cut_list']) * 10)
        ->and($sheet['drawn_mm'])
        ->toEqualWithDelta($drawn, 0.5);
    $stock = $sheet['stock'];
    $planned = 0;
    $used = 0.0;
    foreach ($stock['plan'] as $x) {
        $planned += $x['strips'] * count($x['cuts']);
        $used += $x['strips'] * array_sum($x['cuts']);
        $kerfs = (count($x['cuts']) - 1) * BuildLimits::KERF_MM;
        expect(array_sum($x['cuts']) + $kerfs + $x['rest_mm'])->toEqualWithDelta($stock['stock_mm'], 0.11);
    }
    expect($planned)
        ->toBe($pieces)
        ->and($used)
        ->toEqualWithDelta($stock['used_mm'], 0.2)
        ->and($stock['waste'])
        ->toEqualWithDelta(1 - $used / ($stock['strips'] * $stock['stock_mm']), 1e-3)
        ->and(array_sum(array_column($sheet['weld_groups'], 'spots')))
        ->toBe($sheet['welds']);
})->with([
    'box' => [10, 4, new CaseWish(), 18.4, 65.0],
    'offset' => [7, 3, new CaseWish(packing: 'offset'), 18.4, 65.0],
    'flower' => [7, 1, new CaseWish('round'), 18.4, 65.0],
    'steps' => [6, 3, new CaseWish('stairs', rows: [[0, 6], [0, 5], [0, 4], [0, 3]]), 18.4, 65.0],
    'folded' => [10, 2, new CaseWish('two-layers'), 21.4, 70.0],
    'flat' => [8, 2, new CaseWish('rows', stackRows: 2), 26.0, 148.0],
]);

it('cuts from strips and from a sheet, and says what is too short', function (): void {
    $cuts = [['length_mm' => 400.0, 'pieces' => 3], ['length_mm' => 190.0, 'pieces' => 3]];
    // Two of 400 and one of 190 fill 991 mm of a metre; the third of 400 and two of 190 another.
    $strips = CutPlan::of($cuts, 1000.0);
    expect($strips->strips)
        ->toHaveCount(2)
        ->and($strips->strips[0])
        ->toBe(['cuts' => [400.0, 400.0, 190.0], 'rest_mm' => 9.0])
        ->and($strips->waste)
        ->toEqualWithDelta(1 - 1770 / 2000, 1e-9);
    // Just so long that the third goes in with its two cuts, and a tenth too little.
    expect(CutPlan::of($cuts, 991.0)->strips[0]['cuts'])
        ->toBe([400.0, 400.0, 190.0])
        ->and(CutPlan::of($cuts, 990.9)->strips[0]['cuts'])
        ->toBe([400.0, 400.0]);
    // A sheet 50 mm wide gives five strips of 9.5 mm with their cuts, and four of 9.8.
    expect(CutPlan::of($cuts, 500.0, 49.5, 9.5)->perSheet)
        ->toBe(5)
        ->and(CutPlan::of($cuts, 500.0, 49.5, 9.8)->perSheet)
        ->toBe(4)
        ->and(CutPlan::of($cuts, 500.0, 49.5, 9.5)->sheets)
        ->toBe(1)
        ->and(fn() => CutPlan::of($cuts, 399.9))
        ->toThrow(CannotBuild::class, '400.0 mm')
        ->and(fn() => CutPlan::of($cuts, 500.0, 8.0, 9.5))
        ->toThrow(CannotBuild::class, 'no strip of 9.5');
});

it('holds to the numbers of its register', function (): void {
    expect([
        BuildLimits::BETWEEN_MM,
        BuildLimits::FOLD_MM,
        BuildLimits::OVERLAP,
        BuildLimits::SPOTS,
        BuildLimits::KERF_MM,
        BuildLimits::STOCK_MM,
        BuildLimits::LINK_W,
    ])->toBe([0.7, 2.0, 0.7, 4, 0.5, 1000.0, 0.15]);
});

it('measures leads of a folded pack as it lies in its case, not as it is drawn', function (): void {
    $plan = shape(4, 2, new CaseWish('two-layers', packing: 'square', board: new BoardEnd('left')));
    [$w, $h] = $plan->foldedMm ?? [0.0, 0.0];
    $fold = $plan->foldNode();
    foreach ([0 => $plan->leads['minus'] ?? 0, 4 => $plan->leads['plus'] ?? 0] as $node => $cell) {
        $c = $plan->cells[$cell];
        $across = $w < $plan->widthMm;
        $x = $across && $c['layer'] === 1 ? $plan->widthMm - $c['x'] : $c['x'];
        $y = !$across && $c['layer'] === 1 ? $plan->heightMm - $c['y'] : $c['y'];
        $outside = $plan->strips[$node]['face'] !== $plan->strips[$fold]['face'];
        $want = $x + abs($y - $h / 2) + ($outside ? $plan->depthMm / 2 : 0.0) + BuildLimits::SLACK_MM;
        expect($plan->leadMm(new BoardEnd('left'), $node, $cell))
            ->toEqualWithDelta($want, 0.05)
            ->and($x)
            ->toBeLessThanOrEqual($w)
            ->and($y)
            ->toBeLessThanOrEqual($h);
    }
    // A flat pack folds nowhere.
    expect(LayoutSearch::find(4, 2, 18.4, 65.0)->foldNode())->toBe(0);
});

it('puts a strip for each node on one face, weld groups over all of them, and the lead where the sheet says', function (): void {
    $plan = shape(7, 3, new CaseWish('two-layers'));
    $sheet = new BuildSheet($plan, Strip::of('copper', 10, 0.1), 60.0);
    $groups = $sheet->weldGroups();
    $nodes = array_merge(...array_column($groups, 'nodes'));
    sort($nodes);
    expect($nodes)
        ->toBe(range(0, 7))
        ->and(array_sum(array_column($groups, 'ends')))
        ->toBe(2 * 21)
        ->and($plan->welds())
        ->toBe(2 * 21 * BuildLimits::SPOTS);
    foreach ($groups as $g) {
        foreach ($g['nodes'] as $n) {
            expect($plan->strips[$n]['face'])->toBe($g['face']);
        }
    }
    foreach (['front', 'back'] as $face) {
        $svg = $sheet->toArray()['svg'][$face];
        foreach (['minus' => 0, 'plus' => 7] as $name => $node) {
            expect(str_contains($svg, "data-lead=\"$name\""))->toBe($plan->strips[$node]['face'] === $face);
        }
    }
});

it('finds groups that hang together where no run from cell to cell can pass', function (array $rows, int $s, int $p): void {
    $plan = shape($s, $p, new CaseWish('stairs', packing: 'square', rows: $rows));
    expect(Circuit::faultsOf($plan))->toBe([])->and($plan->empty)->toBe(0);
})->with([
    'colours of a chessboard that do not match' => [[[0, 3], [0, 4], [0, 5], [0, 6]], 9, 2],
    'a long foot' => [[[1, 5], [2, 7]], 6, 2],
    'a notch' => [[[0, 7], [0, 4], [0, 7]], 6, 3],
]);
