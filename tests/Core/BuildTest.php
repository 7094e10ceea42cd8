<?php

declare(strict_types=1);

use Heartwood\Core\Build\BoardSwap;
use Heartwood\Core\Build\BuildSheet;
use Heartwood\Core\Build\CannotBuild;
use Heartwood\Core\Build\CurrentBudget;
use Heartwood\Core\Build\Joint;
use Heartwood\Core\Build\LayoutSearch;
use Heartwood\Core\Build\LayoutSvg;
use Heartwood\Core\Build\PinCheck;
use Heartwood\Core\Build\Strip;
use Heartwood\Core\Limits\WorkLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Tests\Core\Circuit;

// Each size in one of the three packings; `bench/layouts` goes through all.
it('builds every size from 1 to 16 groups of 1 to 8 cells, one piece and without a short', function (?string $packing, int $turn): void {
    for ($s = 1; $s <= 16; $s++) {
        for ($p = 1; $p <= 8; $p++) {
            if (($s + $p) % 3 !== $turn) {
                continue;
            }
            expect(Circuit::faultsOf(LayoutSearch::find($s, $p, 18.4, 65.0, packing: $packing)))->toBe([]);
        }
    }
})->with(['square' => ['square', 0], 'offset' => ['offset', 1], 'whichever is better' => [null, 2]]);

it('builds into a case that forces other rows', function (int $s, int $p, float $w, float $h): void {
    $plan = LayoutSearch::find($s, $p, 18.4, 65.0, $w, $h);
    expect(Circuit::faultsOf($plan))->toBe([])->and($plan->widthMm)->toBeLessThanOrEqual($w)->and($plan->heightMm)->toBeLessThanOrEqual($h);
})->with([[10, 4, 400.0, 85.0], [10, 4, 100.0, 260.0], [13, 5, 260.0, 140.0], [7, 3, 61.0, 200.0], [16, 8, 330.0, 190.0]]);

it('works round places that stay empty', function (): void {
    $plan = LayoutSearch::find(5, 4, 18.4, 65.0, left: [[0, 0], [1, 0]]);
    expect(Circuit::faultsOf($plan))
        ->toBe([])
        ->and(array_filter($plan->cells, fn(array $c): bool => $c['column'] < 2 && $c['row'] === 0))
        ->toBe([]);
});

it('works round a place at any edge of the case, and only in rows that have it', function (int $c, int $r, ?string $packing): void {
    $plan = LayoutSearch::find(7, 4, 18.4, 65.0, null, 5 * 20.0 + 12.0, packing: $packing, left: [[$c, $r]]);
    expect(Circuit::faultsOf($plan))
        ->toBe([])
        ->and($plan->columns)
        ->toBeGreaterThan($c)
        ->and($plan->rows)
        ->toBeGreaterThan($r)
        ->and(array_filter($plan->cells, fn(array $x): bool => $x['column'] === $c && $x['row'] === $r))
        ->toBe([]);
    foreach (['front', 'back'] as $face) {
        expect(LayoutSvg::face($plan, $face))
            ->not->toContain("data-place=\"$c $r\"")
            ->toContain('data-place="' . $plan->cells[0]['column'] . ' ' . $plan->cells[0]['row'] . '"');
    }
})
    ->with([[0, 0], [0, 2], [0, 3], [3, 0], [2, 0]])
    ->with(['square', 'offset', null]);

it('says which places no run of cells can pass round', function (): void {
    // A corner that nothing touches any more, and every other place wanted.
    expect(fn() => LayoutSearch::find(23, 1, 18.4, 65.0, 5 * 20.0, 5 * 20.0, packing: 'square', left: [[1, 0], [0, 1]]))
        ->toThrow(CannotBuild::class, '1 0; 0 1')
        ->and(
            Circuit::faultsOf(
                LayoutSearch::find(7, 3, 18.4, 65.0, 100.0, 100.0, packing: 'square', left: [[1, 1], [2, 2], [3, 1], [1, 3]]),
            ),
        )
        ->toBe([])
        ->and(fn() => LayoutSearch::find(4, 2, 18.4, 65.0, left: [[900, 0]]))
        ->toThrow(CannotBuild::class, '900 0');
});

it('stacks flat cells with their bars', function (): void {
    foreach ([[4, 1], [8, 2], [16, 1]] as [$s, $p]) {
        expect(Circuit::faultsOf(LayoutSearch::find($s, $p, 26.0, 148.0, kind: 'stack')))->toBe([]);
    }
});

it('says what case would do when nothing fits', function (): void {
    $stack = (new BuildSheet(LayoutSearch::find(4, 2, 26.0, 148.0, kind: 'stack'), Strip::of('copper', 20, 1.0), 30.0))->toArray();
    expect(implode(' ', array_column($stack['order'], 'text')))
        ->toContain('End plates')
        ->not->toContain('Insulator rings')
        ->and($stack['sense_leads'][1]['expected_v'])
        ->toBeNull();
    expect(fn() => LayoutSearch::find(10, 4, 18.4, 65.0, 50.0, 50.0))->toThrow(CannotBuild::class, 'would do');
});

it('sees a short, a missing link and a turned cell: the check itself can fail', function (): void {
    $plan = LayoutSearch::find(4, 3, 18.4, 65.0, packing: 'square');
    $front = LayoutSvg::face($plan, 'front');
    $back = LayoutSvg::face($plan, 'back');
    $turned = preg_replace('/cell plus/', 'cell minus', $front, 1);
    $cut = preg_replace('/<path class="strip"[^>]*>/', '', $front, 1);
    $bridge = str_replace(
        '</svg>',
        sprintf(
            '<path class="strip" d="M %1$s %2$s L %3$s %4$s"/></svg>',
            16 + $plan->cells[0]['x'],
            16 + $plan->cells[0]['y'],
            16 + $plan->cells[11]['x'],
            16 + $plan->cells[11]['y'],
        ),
        $front,
    );
    expect(Circuit::faults((string) $turned, $back, 4, 3))
        ->not->toBe([])
        ->and(Circuit::faults((string) $cut, $back, 4, 3))
        ->not->toBe([])
        ->and(Circuit::faults($bridge, $back, 4, 3))
        ->not->toBe([])
        ->and(Circuit::faults($front, $back, 4, 4))
        ->not->toBe([]);
});

it('takes whole columns as groups where they fit: few kinds of strip and a link for every cell', function (): void {
    $plan = LayoutSearch::find(10, 4, 18.4, 65.0, packing: 'square');
    expect($plan->leastAcross())
        ->toBe(4)
        ->and($plan->distinct)
        ->toBeLessThanOrEqual(2)
        ->and(array_sum(array_column($plan->cutList(), 'count')))
        ->toBeGreaterThan(0);
});

it('writes a sheet with taps, cuts, layers, leads and the plug both ways round', function (): void {
    $plan = LayoutSearch::find(4, 3, 18.4, 65.0);
    $sheet = (new BuildSheet($plan, Strip::of('nickel', 8, 0.15), 20.0, [3.71, 3.7, 3.69, 3.7]))->toArray();
    expect(array_column($sheet['sense_leads'], 'expected_v'))
        ->toEqualWithDelta([0, 3.71, 7.41, 11.1, 14.8], 1e-9)
        ->and($sheet['layers'])
        ->toBeGreaterThanOrEqual(1)
        ->and($sheet['welds'])
        ->toBe(12 * 8 * $sheet['layers'])
        ->and($sheet['svg']['front'])
        ->toContain('T1 3.71 V')
        ->and($sheet['svg']['plug_mating'])
        ->not->toBe($sheet['svg']['plug_wires'])
        ->and(array_column($sheet['order'], 'text')[0])
        ->toContain('test piece');
    $order = implode("\n", array_column($sheet['order'], 'text'));
    expect(strpos($order, 'Pin check'))
        ->toBeGreaterThan(strpos($order, 'Sense leads'))
        ->and(strpos($order, 'Main leads'))
        ->toBeGreaterThan(strpos($order, 'Pin check'))
        ->and(array_filter($sheet['order'], fn(array $s): bool => str_contains((string) $s['caution'], 'gap')))
        ->toHaveCount(3);
});

it('limits a strip by density or by heat, the lower, and layers add', function (): void {
    $nickel = Strip::of('nickel', 8, 0.15);
    expect($nickel->ohm(20))
        ->toEqualWithDelta((7.0e-8 * 0.02) / (8 * 0.15e-6), 1e-9)
        ->and($nickel->amps(20))
        ->toEqualWithDelta(min(6 * 1.2, sqrt(0.15 / $nickel->ohm(20))), 1e-9)
        ->and(Strip::of('nickel', 8, 0.15, 2)->amps(20))
        ->toBeGreaterThan($nickel->amps(20))
        ->and($nickel->layersFor(15.0, 20))
        ->toBe(3)
        ->and(Strip::of('copper', 8, 0.15)->amps(20))
        ->toBeGreaterThan($nickel->amps(20))
        ->and(fn() => Strip::of('gold', 8, 0.1))
        ->toThrow(InvalidArgumentException::class);
});

dataset('plugs', function (): Generator {
    $n = 16;
    $volts = array_map(fn(int $k): float => 3.6 + 0.01 * $k, range(1, $n - 1));
    $stair = [0.0];
    foreach ($volts as $v) {
        $stair[] = end($stair) + $v;
    }
    yield 'right' => [$volts, $stair, 'right'];
    yield 'reversed' => [$volts, array_reverse($stair), 'reversed'];
    yield 'polarity' => [$volts, array_map(fn(float $v): float => -$v, $stair), 'polarity'];
    yield 'offset up' => [$volts, [...array_slice($stair, 1), null], 'offset'];
    yield 'offset down' => [$volts, [null, ...array_slice($stair, 0, -1)], 'offset'];
    for ($k = 1; $k < $n; $k++) {
        $pins = $stair;
        $pins[$k] = null;
        yield "missing $k" => [$volts, $pins, 'missing'];
    }
    for ($a = 0; $a < $n; $a++) {
        for ($b = $a + 1; $b < $n; $b++) {
            $pins = $stair;
            [$pins[$a], $pins[$b]] = [$pins[$b], $pins[$a]];
            yield "swapped $a and $b" => [$volts, $pins, 'swapped'];
        }
    }
});

it('classifies every single mistake of a plug of sixteen pins', function (array $volts, array $pins, string $kind): void {
    $check = PinCheck::of($volts, $pins);
    expect($check['kind'])
        ->toBe($kind)
        ->and($check['go'])
        ->toBe($kind === 'right')
        ->and($check['pins'])
        ->toHaveCount(16);
})->with('plugs');

it('reads a board whose first pin is the positive end, and refuses a wrong count', function (): void {
    $volts = [3.7, 3.7, 3.7];
    expect(PinCheck::of($volts, [11.1, 7.4, 3.7, 0.0], true)['go'])
        ->toBeTrue()
        ->and(PinCheck::of($volts, [0.0, 3.7, 7.4, 11.1], true)['go'])
        ->toBeFalse()
        ->and(PinCheck::of($volts, [0.0, 3.7, 7.4])['go'])
        ->toBeFalse();
});

function budget(array $pack = [], array $parts = []): CurrentBudget
{
    return CurrentBudget::of(
        PackSpec::from(
            new Fields(
                array_replace_recursive(
                    [
                        'chemistry' => 'nmc',
                        'series' => 10,
                        'parallel' => 4,
                        'cell' => ['capacity_ah' => 3, 'max_continuous_a' => 8, 'peak_a' => 12, 'peak_s' => 10, 'resistance_mohm' => 30],
                        'bms' => ['discharge_limit_a' => 25, 'peak_limit_a' => 50],
                        'load' => ['power_w' => 500],
                    ],
                    $pack,
                ),
            ),
        ),
        new Fields($parts),
    );
}

it('takes the load at a fifth of the charge, through its own sag, or the controller\'s limit', function (): void {
    $b = budget();
    $v = 10 * 3.53 - ($b->loadA * 10 * 0.03) / 4;
    expect($b->loadA * $v)
        ->toEqualWithDelta(500 / 0.9, 0.5)
        ->and(budget(['load' => ['controller_limit_a' => 12]])->loadA)
        ->toBe(12.0);
});

it('names the weakest link and margins', function (): void {
    $b = budget(
        [],
        [
            'strip' => ['material' => 'nickel', 'width_mm' => 8, 'thickness_mm' => 0.15, 'length_mm' => 20],
            'wire' => ['awg' => 16],
            'connector' => ['continuous_a' => 30],
        ],
    );
    expect($b->weakest)
        ->toContain('main wire, 12.6 A')
        ->and(array_column($b->chain, 'continuous_a', 'element')['wire'])
        ->toEqualWithDelta(12.6, 1e-9)
        ->and(array_column($b->chain, 'continuous_a', 'element')['cells'])
        ->toBe(32.0);
});

it('finds a board under the load, a board that protects nothing, cells that are asked too much, fuses that do not save', function (): void {
    $codes = fn(CurrentBudget $b): array => array_column($b->findings, 'code');
    expect($codes(budget(['bms' => ['discharge_limit_a' => 10]])))
        ->toContain('bms.limit-too-low')
        ->and($codes(budget(['bms' => ['discharge_limit_a' => 60]])))
        ->toContain('bms.protects-nothing')
        ->and($codes(budget(['load' => ['power_w' => 1300]])))
        ->toContain('load.exceeds-cells')
        ->and($codes(budget(['load' => ['peak_a' => 60]])))
        ->toContain('load.exceeds-cells')
        ->and($codes(budget([], ['fuse' => ['rating_a' => 40], 'wire' => ['awg' => 16]])))
        ->toContain('fuse.above-wire')
        ->and($codes(budget()))
        ->toContain('fuse.absent')
        ->and($codes(budget([], ['fuse' => ['bypassed' => true, 'rating_a' => 20]])))
        ->toContain('path.fuse-open');
});

it('chooses a fuse over the load and under the wire, or says that none fits', function (): void {
    $fits = budget([], ['wire' => ['awg' => 10]])->fuse;
    expect($fits['rating_a'])
        ->toBeGreaterThanOrEqual(1.25 * budget()->loadA)
        ->toBeLessThanOrEqual(35)
        ->and($fits['breaking_a'])
        ->toBeGreaterThan(300)
        ->and(budget([], ['wire' => ['awg' => 18]])->fuse['rating_a'])
        ->toBeNull()
        ->and(budget([], ['wire' => ['awg' => 10], 'fuse' => ['rating_a' => 25, 'dc_v' => 58, 'breaking_a' => 1000]])->fuse['have_ok'])
        ->toBeTrue()
        ->and(budget([], ['wire' => ['awg' => 10], 'fuse' => ['rating_a' => 25, 'dc_v' => 32, 'breaking_a' => 1000]])->fuse['have_ok'])
        ->toBeFalse();
});

it('counts parallel wires of unequal length as one and takes off for the bundle', function (): void {
    $a = fn(array $w): float => array_column(budget([], ['wire' => $w])->chain, 'continuous_a', 'element')['wire'];
    expect($a(['awg' => 12, 'parallel' => 2, 'equal_length' => true, 'bundled' => false]))
        ->toBe(70.0)
        ->and($a(['awg' => 12, 'parallel' => 2, 'bundled' => false]))
        ->toBe(35.0)
        ->and($a(['awg' => 12]))
        ->toEqualWithDelta(24.5, 1e-9);
});

it('knows odd sizes of wire between their neighbours, square millimetres, and what it does not know', function (
    array $w,
    ?float $amps,
): void {
    $b = budget([], ['wire' => $w + ['bundled' => false]]);
    $wire = array_column($b->chain, null, 'element')['wire'];
    expect($wire['continuous_a'])
        ->toEqualWithDelta($amps, 0.05)
        ->and($wire['state'])
        ->toBe($amps === null ? 'unknown' : ($amps > $b->loadA ? 'carries' : 'short'));
})->with([
    'the table' => [['awg' => 14], 25.0],
    'between' => [['awg' => 13], 29.58],
    'thicker than the table counts as its thickest' => [['awg' => 4], 70.0],
    'thinner than the table' => [['awg' => 24], null],
    'the same in mm2' => [['mm2' => 2.08], 25.0],
    'between, in mm2' => [['mm2' => 2.62], 29.58],
    'a thick one in mm2' => [['mm2' => 25], 70.0],
    'a hair' => [['mm2' => 0.14], null],
    'two of one length, in mm2' => [['mm2' => 3.31, 'parallel' => 2, 'equal_length' => true], 70.0],
]);

it('has no fuse save a lead whose current nobody knows', function (): void {
    $b = budget([], ['wire' => ['awg' => 24], 'fuse' => ['rating_a' => 25, 'dc_v' => 58, 'breaking_a' => 1000]]);
    expect($b->fuse['rating_a'])
        ->toBeNull()
        ->and($b->fuse['have_ok'])
        ->toBeFalse()
        ->and(array_column($b->findings, 'text', 'code')['path.too-weak'])
        ->toBe('Main wire of AWG 24: thinner than any whose current is known: it is not passed.');
});

it('takes the other way of the main lead for itself', function (): void {
    $b = budget([], ['wire' => ['awg' => 8, 'bundled' => false], 'wire_return' => ['awg' => 12, 'parallel' => 2, 'bundled' => false]]);
    expect(array_column($b->chain, 'continuous_a', 'element')['wire-return'])->toBe(35.0)->and($b->weakest)->toContain('board');
    expect($b->fuse['text'])->toContain('A, at least');
    $thin = budget([], ['wire' => ['awg' => 8], 'wire_return' => ['awg' => 20]]);
    expect(array_column($thin->findings, 'text', 'code')['path.too-weak'])->toContain('Main wire, other way: 6.3 A for good');
});

it('judges welds, switch and every other part, for good and at peaks, and passes nothing that is not known', function (
    array $parts,
    array $load,
    array $states,
): void {
    $b = budget(['load' => $load + ['power_w' => 500]], $parts);
    $found = array_column($b->chain, 'state', 'element');
    expect(array_intersect_key($found, $states))->toEqual($states);
})->with([
    'nothing entered' => [
        [],
        [],
        ['cells' => 'carries', 'links' => 'unknown', 'welds' => 'unknown', 'wire' => 'unknown', 'bms' => 'carries', 'switch' => 'unknown'],
    ],
    'one weld a cell end' => [['welds_per_cell' => 0.5], [], ['welds' => 'short']],
    'welds enough' => [['welds_per_cell' => 2], [], ['welds' => 'carries']],
    'a small switch' => [['switch_a' => 10], [], ['switch' => 'short']],
    'a peak that the board and the cells take' => [[], ['peak_a' => 40], ['cells' => 'carries', 'bms' => 'carries']],
    'a peak that lasts too long for the cells' => [[], ['peak_a' => 40, 'peak_s' => 20], ['cells' => 'short']],
    'a peak over the board' => [[], ['peak_a' => 55], ['bms' => 'short', 'cells' => 'short']],
    'a peak over what a connector is known for' => [['connector' => ['continuous_a' => 30]], ['peak_a' => 40], ['connector' => 'unknown']],
    'a connector that is known for it' => [
        ['connector' => ['continuous_a' => 30, 'peak_a' => 60]],
        ['peak_a' => 40],
        ['connector' => 'carries'],
    ],
]);

it('has the fuse save the weakest of what it lies in line with, welds and switch too', function (array $parts, ?float $rating): void {
    expect(budget([], $parts + ['wire' => ['awg' => 10, 'bundled' => false]])->fuse['rating_a'])->toEqual($rating);
})->with([
    'the wire' => [[], 25.0],
    'welds of 24 A in all' => [['welds_per_cell' => 1], null],
    'welds of 26 A in all, and a load of 18 A' => [['welds_per_cell' => 1.1], 25.0],
    'a switch' => [['switch_a' => 20], null],
]);

it('takes what is wanted of it, says what it cannot give at all, and what it took for granted', function (): void {
    $wanted = budget(['load' => ['power_w' => null]], ['wanted_a' => 22, 'wanted_peak_a' => 60, 'wanted_peak_s' => 5]);
    expect($wanted->loadA)->toBe(22.0)->and($wanted->peakA)->toBe(60.0)->and($wanted->how)->toBe('what is wanted of it');
    expect(implode(' ', array_column($wanted->findings, 'text')))->toContain('Peaks of 60 A for 5 s');
    $beyond = budget(['load' => ['power_w' => 4000]]);
    expect($beyond->findings[0]['text'])->toContain('4000 W cannot be had from it at all: 3738 W at the most');
    expect(budget(['load' => ['power_w' => 3700]])->findings[0]['text'])->not->toContain('cannot be had');
    expect(budget()->assumed)->toBe(['90 % of the power reaches the motor']);
    expect(budget(['cell' => ['resistance_mohm' => null]], ['efficiency' => 0.85])->assumed[0])->toContain('mohm a cell');
    expect(fn() => budget([], ['soh' => 1.01]))->toThrow(InvalidArgumentException::class, 'soh: 1 at the most');
    expect(budget([], ['soh' => 1.0])->loadA)->toBeGreaterThan(0.0);
});

it('passes no board and no part against a load that nobody knows', function (): void {
    $pack = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 10]));
    $points = array_column(BoardSwap::check($pack, new Fields(['discharge_limit_a' => 40, 'peak_limit_a' => 80]), 0.0, 0.0), null, 'point');
    expect($points['continuous']['state'])
        ->toBe('unknown')
        ->and($points['continuous']['text'])
        ->toBe('40 A, and what the load draws is not known: enter it under Intake')
        ->and($points['peak']['state'])
        ->toBe('unknown');
    expect(
        array_unique(array_column(budget(['load' => ['power_w' => null]], ['switch_a' => 20, 'wire' => ['awg' => 12]])->chain, 'state')),
    )->toBe(['unknown']);
});

it('shows in milliseconds why a slow breaker does not save the wire', function (): void {
    expect(budget([], ['wire' => ['awg' => 16]])->adiabatic)
        ->toContain('ms')
        ->toContain('does not save');
});

it('draws every pin of a plug so large that it is read on paper, in lines where it is long', function (int $series, int $lines): void {
    $sheet = (new BuildSheet(LayoutSearch::find($series, 1, 18.4, 65.0), Strip::of('nickel', 8, 0.15), 5.0, null))->toArray();
    foreach (['plug_mating', 'plug_wires'] as $side) {
        $svg = $sheet['svg'][$side];
        preg_match_all('/class="pin" data-tap="(\d+)" x="(\d+)" y="(\d+)"/', $svg, $pins, PREG_SET_ORDER);
        preg_match('/viewBox="0 0 (\d+) (\d+)"/', $svg, $box);
        $taps = array_map(fn(array $m): int => (int) $m[1], $pins);
        expect($taps)
            ->toBe($side === 'plug_mating' ? range(0, $series) : range($series, 0))
            ->and(count(array_unique(array_column($pins, 3))))
            ->toBe($lines)
            ->and(max(array_map(fn(array $m): int => (int) $m[2] + 8, $pins)))
            ->toBeLessThan((int) $box[1])
            ->and(max(array_map(fn(array $m): int => (int) $m[3] + 8, $pins)))
            ->toBeLessThan((int) $box[2])
            // The smallest writing is 5 units high: 7 pt and more of the paper's own width.
            ->and((5 * $sheet['plug_mm']) / (int) $box[1] / 0.3528)
            ->toBeGreaterThan(7.0)
            ->and($sheet['plug_mm'])
            ->toBeLessThan(178.0);
    }
})->with(['four groups' => [4, 1], 'fourteen: fifteen pins' => [14, 1], 'fifteen: sixteen pins' => [15, 2], 'forty' => [40, 3]]);

it('says what a board must be before one is looked for', function (array $pack, array $parts, array $says, array $not = []): void {
    $spec = PackSpec::from(new Fields($pack + ['chemistry' => 'nmc', 'series' => 13, 'parallel' => 6]));
    $said = implode("\n", BoardSwap::wanted($spec, CurrentBudget::of($spec, new Fields($parts))));
    foreach ($says as $words) {
        expect($said)->toContain($words);
    }
    foreach ($not as $words) {
        expect($said)->not->toContain($words);
    }
})->with([
    'nothing known' => [[], [], ['13 groups of nmc', 'Neither what the device draws nor what the cells carry is known']],
    'the cells alone' => [['cell' => ['max_continuous_a' => 6.0]], [], ['At most 36 A', 'is not known: it is said under Intake']],
    'the device alone' => [
        ['load' => ['controller_limit_a' => 22]],
        [],
        ['At least 22 A (the controller\'s limit)', 'say the model of cell'],
    ],
    'both' => [
        ['cell' => ['max_continuous_a' => 6.0], 'load' => ['controller_limit_a' => 22]],
        ['connector' => ['continuous_a' => 30], 'wire' => ['awg' => 4]],
        ['Between 22 A (the controller\'s limit) and 36 A', 'connector (30 A). With a larger board they grow too', 'series links, welds.'],
        ['main wire'],
    ],
    'cells that are drawn past' => [
        ['cell' => ['max_continuous_a' => 3.0], 'load' => ['controller_limit_a' => 22]],
        [],
        ['None: the device draws 22 A (the controller\'s limit) and the cells carry 18 A'],
        ['Between'],
    ],
    'cells that carry just that' => [
        ['cell' => ['max_continuous_a' => 3.0], 'load' => ['controller_limit_a' => 18]],
        [],
        ['Between 18 A (the controller\'s limit) and 18 A'],
    ],
]);

it('does not let through more than the cells carry', function (): void {
    $pack = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 13]));
    $at = fn(float $limit, ?float $cells): ?array => array_column(
        BoardSwap::check($pack, new Fields(['discharge_limit_a' => $limit]), 22.0, 22.0, $cells),
        null,
        'point',
    )['cells'] ?? null;
    expect($at(36.0, 36.0)['state'])->toBe('right')->and($at(36.1, 36.0)['state'])->toBe('wrong')->and($at(36.1, null))->toBeNull();
    expect($at(40.0, 36.0)['text'])->toContain('would not save them');
});

it('checks another board point by point and passes nothing unknown', function (): void {
    $pack = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 10, 'parallel' => 4]));
    $by = fn(array $board): array => array_column(BoardSwap::check($pack, new Fields($board), 16.0, 30.0), 'state', 'point');
    $good = $by([
        'series' => 10,
        'high_cut_v' => 4.25,
        'low_cut_v' => 2.8,
        'discharge_limit_a' => 20,
        'peak_limit_a' => 50,
        'sense_order' => true,
    ]);
    $bad = $by(['series' => 9, 'high_cut_v' => 3.75, 'low_cut_v' => 2.0, 'discharge_limit_a' => 10, 'peak_limit_a' => 20]);
    expect($good)
        ->toMatchArray([
            'series' => 'right',
            'high_cut' => 'right',
            'continuous' => 'right',
            'sense_order' => 'right',
            'sensor_type' => 'unknown',
        ])
        ->and($bad)
        ->toMatchArray(['series' => 'wrong', 'high_cut' => 'wrong', 'low_cut' => 'wrong', 'continuous' => 'wrong', 'peak' => 'wrong']);
});

it('sets a torque that its tool can keep', function (): void {
    expect(Joint::torque(4.0, 6.0, 0.06)['set_nm'])
        ->toEqualWithDelta((4 / 0.94 + 6 / 1.06) / 2, 0.01)
        ->and(Joint::torque(4.0, 4.2, 0.06)['set_nm'])
        ->toBeNull();
});

it('knows a joint that holds from one that has come back, by what it loses at a current', function (): void {
    expect(Joint::milliohm(-8.0, 40.0))
        ->toBe(0.2)
        ->and(fn() => Joint::milliohm(8.0, 0.0))
        ->toThrow(InvalidArgumentException::class, 'at how many amps')
        ->and(Joint::brought(1.62, 0.21))
        ->toBe('1.62 mohm before, 0.21 after.')
        ->and(Joint::brought(0.2, 0.2))
        ->toContain('no better')
        ->and(Joint::brought(null, 0.2))
        ->toBe('0.20 mohm after.')
        ->and(Joint::brought(1.0, null))
        ->toContain('Not read after')
        ->and(Joint::again(null, 0.3, 0)['holds'])
        ->toBeNull();
});

it('takes a joint for come back over half as much again, and never within the noise of leads', function (
    float $then,
    float $now,
    bool $holds,
): void {
    expect(Joint::again($then, $now, 0)['holds'])->toBe($holds);
})->with([
    'at the limit' => [1.0, WorkLimits::JOINT_COMES_BACK, true],
    'over it' => [1.0, WorkLimits::JOINT_COMES_BACK + 0.001, false],
    'a small one within the noise' => [0.04, 0.04 + WorkLimits::JOINT_NOISE_MOHM, true],
    'a small one over it' => [0.04, 0.041 + WorkLimits::JOINT_NOISE_MOHM, false],
]);

it('asks for other metal when a joint comes back the second time, and not to be set as it was', function (): void {
    expect(Joint::again(0.2, 1.0, 0)['text'])
        ->toContain('set it again')
        ->and(Joint::again(0.2, 1.0, 1)['text'])
        ->toContain('Other contact metal')
        ->and(Joint::sameContact(1, '', ['']))
        ->toBeNull()
        ->and(Joint::sameContact(2, '', ['nickel on copper']))
        ->toContain('come back 2 times')
        ->and(Joint::sameContact(2, ' Nickel  on copper', ['nickel on copper']))
        ->not->toBeNull()
        ->and(Joint::sameContact(2, 'tinned copper, compound', ['nickel on copper']))
        ->toBeNull();
});
