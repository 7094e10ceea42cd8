<?php

declare(strict_types=1);

use App\Contract\SchemaCheck;
use App\Contract\Verbs;
use Heartwood\Core\Fleet\Fleet;
use Heartwood\Core\Fleet\Sibling;
use Heartwood\Core\Fleet\Spares;
use Heartwood\Core\Limits\FleetLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;

/**
 * @param  list<float|null>  $volts
 * @param  list<float|null>|null  $ah
 */
function sibling(string $name, array $volts, array $more = [], ?array $ah = null): Sibling
{
    $pack = ['chemistry' => $more['chemistry'] ?? 'nmc', 'series' => count($volts), 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]];

    return new Sibling(
        $name,
        PackSpec::from(new Fields(($more['pack'] ?? []) + $pack)),
        $more['condition'] ?? 'rest',
        array_key_exists('soc', $more) ? $more['soc'] : 0.6,
        $volts,
        $ah,
    );
}

/** @return list<array{string, int}> pack and group of rows */
function fleetPlaces(array $rows): array
{
    return array_map(fn(array $r): array => [$r['pack']->name, $r['group']], $rows);
}

it('finds the highest and the lowest group of all, and ranks packs by the one that stands off most', function (): void {
    $fleet = Fleet::of([
        sibling('A', [3.8, 3.801, 3.799, 3.75]),
        sibling('B', [3.8, 3.785, 3.802, 3.8]),
        sibling('C', [3.8, 3.8, null, 3.87]),
    ]);
    expect(fleetPlaces([$fleet->highest(), $fleet->lowest()]))
        ->toBe([['C', 4], ['A', 4]])
        ->and($fleet->middleV)
        ->toBe(3.8)
        ->and(fleetPlaces($fleet->ranked()))
        ->toBe([['C', 4], ['A', 4], ['B', 2]])
        ->and(array_map(fn(array $r): float => round($r['off_mv'], 6), $fleet->ranked()))
        ->toBe([70.0, -50.0, -15.0])
        ->and(array_column($fleet->ranked(), 'state'))
        ->toBe(['balance-soon', 'balance-soon', 'good']);
    expect(Fleet::of([sibling('A', [null, null])]))->toBeNull();
});

it('finds every odd group of forty fleets, and none beside them', function (): void {
    mt_srand(17);
    for ($n = 0; $n < 40; $n++) {
        $series = mt_rand(3, 20);
        $packs = mt_rand(2, 14);
        $base = mt_rand(3700, 4000) / 1000;
        $odd = [];
        $all = [];
        for ($p = 0; $p < $packs; $p++) {
            $volts = array_map(fn(): float => $base + mt_rand(-4, 4) / 1000, range(1, $series));
            if (mt_rand(0, 2) === 0 || $p === 0) {
                $g = mt_rand(1, $series);
                // Ever further off, so that the order is known.
                $volts[$g - 1] = $base - (20 + 9 * $p) / 1000;
                $odd[] = ["P$p", $g];
            }
            $all[] = sibling("P$p", $volts);
        }
        $fleet = Fleet::of($all);
        $by = fn(array $rows): array => array_values(array_filter($rows, fn(array $x): bool => in_array($x, $odd, true)));
        $topped = fleetPlaces($fleet->topping());
        sort($topped);
        $wanted = $odd;
        sort($wanted);
        expect($topped)
            ->toBe($wanted, "fleet $n")
            ->and($by(fleetPlaces($fleet->ranked())))
            ->toBe(array_reverse($odd), "fleet $n");
        expect(array_column($fleet->topping(), 'order'))->toBe(range(1, count($odd)));
    }
});

it('tops up what lies under the middle by more than a little, by what the curve says it lacks, at C/20 or as is said', function (): void {
    $at = fn(float $under, ?float $amps = null): array => Fleet::of([sibling('A', [3.9, 3.9, 3.9, 3.9 - $under])], $amps)->topping();
    expect($at(0.0099))->toBe([])->and($at(FleetLimits::TOP_FROM_V))->toBe([])->and($at(0.0101))->toHaveCount(1);
    $curve = RestCurve::of(Chemistry::from('nmc'));
    $lacks = ($curve->socAt(3.9) - $curve->socAt(3.84)) * 10.0;
    expect($at(0.06)[0]['ah'])
        ->toEqualWithDelta($lacks, 1e-9)
        ->and($at(0.06)[0]['hours'])
        ->toEqualWithDelta($lacks / 0.5, 1e-9)
        ->and($at(0.06, 2.0)[0]['hours'])
        ->toEqualWithDelta($lacks / 2.0, 1e-9);
    // Under its low cut it is a matter of the bench.
    $cut = sibling('A', [3.9])->pack->lowCutV();
    expect($at(3.9 - $cut + 0.001))->toBe([])->and($at(3.9 - $cut - 0.001))->toHaveCount(1)->and($at(3.9))->toBe([]);
    // What a group was measured to hold counts, and not what its cells promise.
    $worn = Fleet::of([sibling('A', [3.9, 3.9, 3.9, 3.84], ah: [10.0, 10.0, 10.0, 5.0])])->topping()[0];
    expect($worn['ah'])
        ->toEqualWithDelta($lacks / 2, 1e-9)
        ->and($worn['hours'])
        ->toEqualWithDelta($lacks / 2 / 0.25, 1e-9);
    // Nobody knows what it holds, or it was read under current: it is topped up, by an amount that nobody knows.
    $unknown = Fleet::of([sibling('A', [3.9, 3.9, 3.84], ['pack' => ['parallel' => null, 'cell' => []]])])->topping()[0];
    expect($unknown['ah'])->toBeNull()->and($unknown['hours'])->toBeNull();
    expect(Fleet::of([sibling('A', [3.9, 3.9, 3.84], ['condition' => 'charge'])])->topping()[0]['ah'])->toBeNull();
});

it('says on the flat part of a curve between what and what a group may lack', function (): void {
    $fleet = Fleet::of([
        sibling('A', [3.3, 3.3, 3.3, 3.285], ['chemistry' => 'lfp']),
        sibling('B', [3.3, 3.3, 3.3, 3.3], ['chemistry' => 'lfp']),
    ]);
    [$row] = $fleet->topping();
    expect($row['ah'])
        ->toBeArray()
        ->and($row['ah'][0])
        ->toBeLessThan($row['ah'][1])
        ->and($row['hours'][1])
        ->toEqualWithDelta($row['ah'][1] / 0.5, 1e-9);
    expect(array_column($fleet->ranked(), 'state'))->toBe(['cannot-tell', 'cannot-tell']);
    $apart = Fleet::of([sibling('A', [3.3, 3.3, 3.3, 3.3 - VerdictLimits::PLATEAU_APART_V], ['chemistry' => 'lfp'])])->ranked();
    expect($apart[0]['state'])->toBe('balance-before-use');
    // At the top the rows are the same as elsewhere.
    $top = Fleet::of([sibling('A', [3.55, 3.55, 3.55, 3.5], ['chemistry' => 'lfp', 'condition' => 'full', 'soc' => null])]);
    expect($top->ranked()[0]['state'])->toBe('balance-soon');
});

it('calls a group by the rows of the rest spread', function (string $chemistry, float $off, string $state): void {
    $base = $chemistry === 'lfp' ? 3.55 : 3.9;
    $fleet = Fleet::of([
        sibling('A', [$base, $base, $base, $base + $off], ['chemistry' => $chemistry, 'condition' => 'full', 'soc' => null]),
    ]);
    expect($fleet->ranked()[0]['state'])->toBe($state);
})->with([
    ['nmc', 0.0099, 'matched'],
    ['nmc', 0.0101, 'good'],
    ['nmc', 0.0301, 'balance-soon'],
    ['nmc', 0.1001, 'balance-before-use'],
    ['nmc', VerdictLimits::LAST_V + 0.0001, 'do-not-charge'],
    ['lfp', VerdictLimits::LAST_PHOSPHATE_V - 0.0001, 'balance-before-use'],
    ['lfp', VerdictLimits::LAST_PHOSPHATE_V + 0.0001, 'do-not-charge'],
]);

it('lays side by side only what was read alike', function (array $b, bool $comparable): void {
    $fleet = Fleet::of([sibling('A', [3.8, 3.8, 3.76]), sibling('B', [3.8, 3.8, 3.8], $b)]);
    expect($fleet->isComparable())->toBe($comparable);
    $states = array_unique(array_column($fleet->ranked(), 'state'));
    $comparable
        ? expect($states)->not->toContain('cannot-tell')->and($fleet->topping())->toHaveCount(1)
        : expect(array_values($states))
            ->toBe(['cannot-tell'])
            ->and($fleet->topping())
            ->toBe([]);
})->with([
    'charge alike' => [['soc' => 0.6], true],
    'just within' => [['soc' => 0.6499], true],
    'just beyond' => [['soc' => 0.6501], false],
    'the other way' => [['soc' => 0.5499], false],
    'another condition' => [['condition' => 'full', 'soc' => 0.6], false],
    'another chemistry' => [['chemistry' => 'lco'], false],
    'at rest, its charge read from its curve' => [['soc' => null], true],
    'in use, its charge not known' => [['condition' => 'discharge', 'soc' => null], false],
]);

it('says what limits each pack, and what it gives once that group is replaced', function (): void {
    $limits = Fleet::of([
        sibling('A', [3.8, 3.8, 3.8], ah: [9.1, 8.2, 9.4]),
        sibling('B', [3.8, 3.8, 3.8]),
        sibling('C', [3.8, 3.8, 3.8], ah: [9.1, null, 9.4]),
        sibling('D', [3.8], ah: [9.1]),
        sibling('E', [3.8, 3.8], ah: [7.0, 7.0]),
    ])->limits();
    expect(fleetPlaces($limits))
        ->toBe([['A', 2], ['E', 1]])
        ->and(array_column($limits, 'usable_ah'))
        ->toBe([8.2, 7.0])
        ->and(array_column($limits, 'after_replacing_ah'))
        ->toBe([9.1, 7.0]);
});

it('keeps the fewest spares with which none is lacking as often as is wanted', function (): void {
    $s = Spares::of(12, 2, 430.0, 6.0, 0.95);
    expect($s->toArray())->toBe(['keep' => 1, 'expected_failures' => 0.0963, 'stockout' => 0.0058]);
    expect($s->sentence())->toContain('Seen: 2 failed in 430 months of all together, so (0.5 + 2) / 430 = 0.0058 a month of one.');
    // What is expected is rate by exposure: half a failure before any was seen, over the months of the weeks.
    expect(Spares::of(10, 0, 100.0, FleetLimits::MONTH_WEEKS, 0.5)->expected)->toEqualWithDelta(0.05, 1e-12);
    expect(Spares::of(10, 3, 100.0, 2 * 4.345, 0.5)->expected)->toEqualWithDelta(0.7, 1e-9);
    // Where nobody says: six weeks, and none lacking in 95 of 100. Of half a failure, none comes with (M / (M + E)) ^ 0.5.
    $edge = ((10 * 6.0) / 4.345) * (0.9025 / 0.0975);
    expect(Spares::of(10, 0, $edge + 0.05)->keep)
        ->toBe(0)
        ->and(Spares::of(10, 0, $edge - 0.05)->keep)
        ->toBe(1);
    expect(Spares::of(10, 0, $edge)->leadMonths)->toEqualWithDelta(6.0 / 4.345, 1e-12);
    // Nobody waits, or nothing is in service: none is kept.
    expect(Spares::of(10, 5, 100.0, 0.0, 0.999)->keep)->toBe(0)->and(Spares::of(0, 5, 100.0, 9.0, 0.999)->keep)->toBe(0);
});

it('is as seldom lacking as it says, against chance itself', function (): void {
    mt_srand(3);
    [$service, $failures, $months, $weeks] = [40, 6, 300.0, 12.0];
    $s = Spares::of($service, $failures, $months, $weeks, 0.9);
    $lacking = 0;
    $runs = 20_000;
    $uniform = fn(): float => (mt_rand() + 0.5) / (mt_getrandmax() + 1.0);
    // A Gamma of six and a half: six exponentials and half a squared normal.
    for ($i = 0; $i < $runs; $i++) {
        $gamma = 0.0;
        for ($k = 0; $k < 6; $k++) {
            $gamma -= log($uniform());
        }
        $gamma += (-2.0 * log($uniform()) * cos(2 * M_PI * $uniform()) ** 2) / 2;
        $mean = ($gamma / $months) * $service * ($weeks / FleetLimits::MONTH_WEEKS);
        // Poisson by its product of uniforms.
        $x = 0;
        for ($p = $uniform(); $p > exp(-$mean); $p *= $uniform()) {
            $x++;
        }
        $lacking += $x > $s->keep ? 1 : 0;
    }
    expect($lacking / $runs)
        ->toEqualWithDelta($s->stockout, 0.008)
        ->and($s->stockout)
        ->toBeLessThanOrEqual(0.1);
    expect(Spares::of($service, $failures, $months, $weeks, 1.0 - $s->stockout + 1e-9)->keep)->toBe($s->keep + 1);
});

it('speaks the format, and names what is wrong by its place', function (): void {
    $pack = ['chemistry' => 'nmc', 'series' => 3, 'parallel' => 2, 'cell' => ['capacity_ah' => 2.5]];
    $one = fn(array $more = []): array => $more + [
        'name' => 'A',
        'pack' => $pack,
        'at' => '2026-01-01T00:00:00Z',
        'condition' => 'rest',
        'soc' => 0.6,
        'groups_v' => [3.8, 3.8, 3.75],
        'groups_ah' => [5.0, 4.9, 4.4],
    ];
    $run = fn(array $packs, array $more = []): array => Verbs::run(
        'fleet',
        (string) json_encode($more + ['format' => 'heartwood.fleet', 'version' => 1, 'packs' => $packs]),
    );
    $spares = ['boards_in_service' => 12, 'failures' => 2, 'unit_months' => 430, 'lead_weeks' => 6, 'service_level' => 0.95];
    $said = $run([$one(), $one(['name' => 'B', 'groups_ah' => null])], ['spares' => $spares]);
    expect(SchemaCheck::problems(json_decode((string) json_encode($said)), 'fleet-result.schema.json'))->toBe([]);
    expect($said['lowest'])
        ->toBe(['pack' => 'A', 'group' => 3, 'v' => 3.75])
        ->and($said['over_all_mv'])
        ->toBe(50.0)
        ->and($said['limits'])
        ->toBe([['pack' => 'A', 'group' => 3, 'usable_ah' => 4.4, 'after_replacing_ah' => 4.9]])
        ->and($said['spares']['keep'])
        ->toBe(1)
        ->and($run([$one()])['spares'])
        ->toBeNull();
    foreach (
        [
            '/packs/0/groups_v' => ['groups_v' => [3.8, 3.8]],
            '/packs/0/groups_ah' => ['groups_ah' => [5.0]],
            '/packs' => ['groups_v' => [null, null, null]],
            '/packs/0/condition' => ['condition' => 'warm'],
        ]
        as $pointer => $bad
    ) {
        try {
            $run([$one($bad)]);
            expect(false)->toBeTrue("$pointer was taken");
        } catch (Heartwood\Core\Record\InvalidRecord $e) {
            expect(array_column($e->problems, 'pointer'))->toContain($pointer);
        }
    }
});

it('takes an assumed history of spares where their own is shorter, and their own from there on', function (): void {
    $of = fn(float $months, float $assumed): float => Spares::known(9, 0, $months, $assumed)->ratePerMonth;
    expect($of(10.0, FleetLimits::BOARD_MONTHS))
        ->toBe(0.5 / 240.0)
        ->and($of(240.1, FleetLimits::BOARD_MONTHS))
        ->toBe(0.5 / 240.1)
        ->and($of(10.0, FleetLimits::GROUP_MONTHS))
        ->toBe(0.5 / 1200.0)
        ->and(Spares::known(9, 0, 10.0, FleetLimits::BOARD_MONTHS)->keep)
        ->toBe(0)
        ->and(Spares::known(9, 0, 10.0, FleetLimits::BOARD_MONTHS)->sentence())
        ->toContain('history is short, so assumed: 0 failed in 240 months')
        ->and(Spares::known(9, 1, 300.0, FleetLimits::BOARD_MONTHS)->sentence())
        ->toContain('Seen: 1 failed in 300 months');
});

it('tells a pack that stands off as a whole from one with a low group, and an excellent one where the meter sees it', function (): void {
    $at = fn(float $shift): ?float => ($fleet = Fleet::of([
        ($p = sibling('A', [3.8 + $shift, 3.8 + $shift, 3.8 + $shift, 3.75])),
        sibling('B', [3.8, 3.8, 3.8, 3.8]),
        sibling('C', [3.8, 3.8, 3.8, 3.8]),
    ]))?->shiftMv($p);
    expect($at(FleetLimits::SHIFT_V))
        ->toBeNull()
        ->and($at(-FleetLimits::SHIFT_V - 0.0005))
        ->toEqualWithDelta(-10.5, 1e-6)
        ->and(FleetLimits::SHIFT_V)
        ->toBe(0.01)
        ->and(FleetLimits::EXCELLENT_V)
        ->toBe(0.005);
    $even = fn(float $off, float $resolution = 0.001): bool => Fleet::isExcellent(sibling('A', [3.8, 3.8, 3.8 + $off, 3.8]), $resolution);
    expect([$even(0.005), $even(-0.005), $even(0.0051), $even(0.0, 0.0025), $even(0.0, 0.0026)])->toBe([true, true, false, true, false]);
    expect(Fleet::isExcellent(sibling('A', [3.8, null, 3.8]), 0.001))->toBeFalse();
});
