<?php

declare(strict_types=1);

use Heartwood\Core\Batch\ArrivalList;
use Heartwood\Core\Batch\LotFacts;
use Heartwood\Core\Batch\LotYield;
use Heartwood\Core\Batch\OddOnes;
use Heartwood\Core\Batch\Quantity;
use Heartwood\Core\Batch\Today;
use Heartwood\Core\Batch\Wants;
use Heartwood\Core\Limits\BatchLimits;
use Heartwood\Core\Maths\Beta;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Safety\SafetyState;

// Packs that come as a lot (handbook "Batches").

/** @param  array<string, mixed>  $more */
function rental(array $more = []): PackSpec
{
    return PackSpec::from(
        new Fields(
            $more + ['chemistry' => 'nmc', 'series' => 12, 'parallel' => 2, 'cell' => ['capacity_ah' => 3.0, 'max_charge_a' => 3.0]],
        ),
    );
}

/** @param  array<string, mixed>  $x */
function wants(array $x = [], ?PackSpec $pack = null): Wants
{
    return Wants::of(
        $pack ?? rental(),
        $x['status'] ?? 'open',
        $x['stage'] ?? 'probe',
        $x['safety'] ?? SafetyState::Clear,
        $x['waits'] ?? null,
        $x['runs'] ?? false,
        $x['came'] ?? null,
        $x['decided'] ?? null,
    );
}

it('reads a list as it is typed or scanned: what is written on it, its volts, and what was seen', function (): void {
    $list = ArrivalList::of(
        "RS-01 31.2\n\n# second crate\nRS-02;9,0 V;swollen, lid open\nRS-03\t30.9\tnot wet\nRS-04,32.1\nRS-05 salt crust\nRS 06;31.0",
    );
    expect($list->wrong)
        ->toBe([])
        ->and(array_column($list->rows, 'volts', 'serial'))
        ->toEqual(['RS-01' => 31.2, 'RS-02' => 9.0, 'RS-03' => 30.9, 'RS-04' => 32.1, 'RS-05' => null, 'RS 06' => 31.0])
        ->and(array_column($list->rows, 'signs', 'serial'))
        ->toEqual([
            'RS-01' => [],
            'RS-02' => ['swollen'],
            'RS-03' => [],
            'RS-04' => [],
            'RS-05' => ['salt_water', 'wet'],
            'RS 06' => [],
        ])
        ->and($list->rows[1]['note'])
        ->toBe('swollen, lid open');
});

it('knows each sign by its words', function (string $word, string $sign): void {
    expect(ArrivalList::of("A 31 $word")->rows[0]['signs'])->toContain($sign);
})->with([
    ['bulging', 'swollen'],
    ['leaks', 'leaking'],
    ['hissing', 'venting'],
    ['smells sweet', 'smell'],
    ['punctured', 'punctured'],
    ['Warm!', 'warm_at_rest'],
    ['flooded', 'wet'],
    ['dented', 'crushed'],
    ['scorched', 'burnt'],
]);

it('lets a run of numbers stand for its packs', function (): void {
    expect(array_column(ArrivalList::of('RS-08 .. RS-11')->rows, 'serial'))
        ->toBe(['RS-08', 'RS-09', 'RS-10', 'RS-11'])
        ->and(array_column(ArrivalList::of('RS-8..10')->rows, 'serial'))
        ->toBe(['RS-8', 'RS-9', 'RS-10'])
        ->and(ArrivalList::of('RS-9 .. RS-2')->wrong)
        ->toHaveCount(1)
        ->and(count(ArrivalList::of('1 .. ' . ArrivalList::MOST)->rows))
        ->toBe(ArrivalList::MOST)
        ->and(ArrivalList::of("1 .. 150\n201 .. 251")->wrong)
        ->toBe([sprintf('201 packs: at most %d in one lot.', ArrivalList::MOST)]);
});

it('names a line that is wrong', function (string $text, string $said): void {
    expect(implode(' ', ArrivalList::of($text)->wrong))->toContain($said);
})->with([
    ['', 'No pack stands there'],
    ["A 31\na 32", 'Line 2: a stands in line 1 already'],
    ['A 31 32', 'Line 1: "32" is a second number'],
    ['A 1001', 'Line 1: "1001" is no voltage of a pack'],
    [';31', 'Line 1: nothing that is written on the pack'],
    [str_repeat('x', 81), 'longer than 80 letters'],
]);

it('finds the odd packs of forty lots, and calls what all have in common no oddity', function (): void {
    $dice = new Random\Randomizer(new Random\Engine\Mt19937(26));
    $bell = fn(float $sigma): float => $sigma * (array_sum(array_map(fn(): float => $dice->getInt(0, 999_999) / 1e6, range(1, 12))) - 6.0);
    $wrong = 0;
    for ($lot = 0; $lot < 40; $lot++) {
        $n = $dice->getInt(8, 30);
        $facts = $odd = [];
        // Every pack of a lot has a group that a long lead makes look low.
        $common = $dice->getInt(1, 10);
        for ($p = 1; $p <= $n; $p++) {
            $middle = 3.6 + $bell(0.02);
            $volts = array_map(fn(int $k): float => $middle - ($k === $common ? 0.03 : 0.0) + $bell(0.0008), range(1, 10));
            $facts[$p] = [36.0 + $bell(0.3), $volts, 2.5 + $bell(0.03), 30.0 + $bell(0.6)];
        }
        foreach ([1, 2] as $which) {
            $p = $dice->getInt(1, $n);
            $kind = $dice->getInt(0, 3);
            match ($kind) {
                0 => ($facts[$p][0] -= 12.0),
                1 => ($facts[$p][1][($common + 2) % 10] -= 0.04),
                2 => ($facts[$p][2] -= 0.6),
                default => ($facts[$p][3] += 14.0),
            };
            $odd[$p] = true;
        }
        $found = OddOnes::of(array_map(fn(array $f): LotFacts => new LotFacts($f[0], $f[1], $f[2], $f[3]), $facts));
        $wrong += count(array_diff_key($odd, $found));
        $wrong += count(array_diff_key($found, $odd));
    }
    expect($wrong)->toBe(0);
});

it('says the odd figure beside the lot\'s, the oddest first', function (): void {
    $facts = [];
    for ($p = 1; $p <= 16; $p++) {
        $facts[$p] = new LotFacts(30.0 + 0.4 * ($p % 3), array_fill(0, 12, 2.6), rise: 4.0 + 0.1 * ($p % 3), warmK: 2.0);
    }
    $volts = array_fill(0, 12, 0.75);
    $volts[3] = 0.7;
    $facts[9] = new LotFacts(9.0, $volts, rise: 2.0, warmK: 9.0);
    $odd = OddOnes::of($facts);
    expect(array_keys($odd))
        ->toBe([9])
        ->and(array_map(fn($o): string => $o->text(), $odd[9]))
        ->toContain(
            'as it came 9.0 V, the others 30.4 V',
            'group 4: from the middle of its pack -50 mV, the others +0 mV',
            'rose by an amp-hour 2000 mV, the others 4100 mV',
            'warmed by 9.0 K, the others 2.0 K',
        )
        ->and(abs($odd[9][0]->z))
        ->toBeGreaterThan(abs($odd[9][1]->z));
});

it('asks for so many packs, and takes the least spread for no less than it is', function (Quantity $q, float $least, float $middle): void {
    $facts = fn(float $odd, int $n): array => array_map(function (int $p) use ($q, $odd, $middle): LotFacts {
        $v = $p === 1 ? $odd : $middle;

        return match ($q) {
            Quantity::Came => new LotFacts($v),
            Quantity::Group => new LotFacts(null, [3.6, 3.6, 3.6 + $v, 3.6, 3.6]),
            Quantity::Spread => new LotFacts(null, [3.6, 3.6 - $v]),
            Quantity::Capacity => new LotFacts(capacityAh: $v),
            Quantity::Ohm => new LotFacts(mohm: $v),
            Quantity::Rise => new LotFacts(rise: $v),
            Quantity::Warm => new LotFacts(warmK: $v),
        };
    }, range(1, $n));
    $sign = $q->bad() === -1 ? -1 : 1;
    $at = fn(float $z, int $n = BatchLimits::ODD_FROM): bool => array_filter(
        OddOnes::of($facts($middle + $sign * $z * $least, $n))[0] ?? [],
        fn($o): bool => $o->of === $q,
    ) !== [];
    expect($q->leastSpread($middle))
        ->toEqualWithDelta($least, 1e-12)
        ->and($at(BatchLimits::ODD_Z - 0.01))
        ->toBeFalse()
        ->and($at(BatchLimits::ODD_Z + 0.01))
        ->toBeTrue()
        ->and($at(10.0, BatchLimits::ODD_FROM - 1))
        ->toBeFalse()
        ->and(BatchLimits::ODD_Z)
        ->toBe(3.5)
        ->and(BatchLimits::ODD_FROM)
        ->toBe(5);
    // The other way round is no question where less, or more, is good.
    if ($q->bad() !== 0) {
        expect($at(-10.0))->toBeFalse();
    }
})->with([
    'came' => [Quantity::Came, 0.01 * 31.0, 31.0],
    'group' => [Quantity::Group, 0.005, 0.0],
    'spread' => [Quantity::Spread, 0.005, 0.1],
    'capacity' => [Quantity::Capacity, 0.02 * 5.0, 5.0],
    'ohm' => [Quantity::Ohm, 0.05 * 30.0, 30.0],
    'rise' => [Quantity::Rise, 0.1 * 4.0, 4.0],
    'warm' => [Quantity::Warm, 1.0, 3.0],
]);

it('knows the beta distribution', function (): void {
    // Known ones: uniform, x^a, and a symmetric one; against a sum of the binomial.
    expect(Beta::quantile(0.3, 1.0, 1.0))
        ->toEqualWithDelta(0.3, 1e-12)
        ->and(Beta::atMost(0.5, 3.0, 1.0))
        ->toEqualWithDelta(0.125, 1e-12)
        ->and(Beta::quantile(0.5, 7.5, 7.5))
        ->toEqualWithDelta(0.5, 1e-12)
        ->and([Beta::atMost(0.0, 2.0, 3.0), Beta::atMost(1.0, 2.0, 3.0)])
        ->toBe([0.0, 1.0])
        ->and(exp(Beta::logGamma(0.5)))
        ->toEqualWithDelta(sqrt(M_PI), 1e-12)
        ->and(exp(Beta::logGamma(10.0)))
        ->toEqualWithDelta(362880.0, 1e-6);
    foreach ([[3, 8, 0.2], [5, 6, 0.7], [1, 20, 0.05]] as [$k, $n, $x]) {
        $sum = 0.0;
        for ($j = $k; $j <= $n; $j++) {
            $sum += exp(Beta::logGamma($n + 1) - Beta::logGamma($j + 1) - Beta::logGamma($n - $j + 1)) * $x ** $j * (1 - $x) ** ($n - $j);
        }
        expect(Beta::atMost($x, $k, $n - $k + 1))->toEqualWithDelta($sum, 1e-10);
    }
});

it('says the yield with an interval that holds nine times of ten', function (): void {
    $none = new LotYield(0, 0, 16);
    expect($none->sentence())->toContain('Nothing is finished yet');
    $y = new LotYield(7, 2, 7);
    // Jeffreys' interval of 7 of 9.
    expect($y->mean)
        ->toEqualWithDelta(0.75, 1e-9)
        ->and($y->low)
        ->toEqualWithDelta(Beta::quantile(0.05, 7.5, 2.5), 1e-12)
        ->and($y->high)
        ->toEqualWithDelta(Beta::quantile(0.95, 7.5, 2.5), 1e-12)
        ->and(BatchLimits::YIELD_INTERVAL)
        ->toBe(0.9)
        ->and(BatchLimits::PRIOR_PACKS)
        ->toBe(0.5);
    // Drawn from the prior itself, the truth lies inside as often as is said.
    $dice = new Random\Randomizer(new Random\Engine\Mt19937(9));
    $inside = 0;
    for ($i = 0; $i < 4000; $i++) {
        $true = sin((0.5 * M_PI * $dice->getInt(0, 999_999)) / 1e6) ** 2;
        $good = array_sum(array_map(fn(): int => $dice->getInt(0, 999_999) / 1e6 < $true ? 1 : 0, range(1, 12)));
        $y = new LotYield($good, 12 - $good, 0);
        $inside += $true >= $y->low && $true <= $y->high ? 1 : 0;
    }
    expect($inside / 4000)->toEqualWithDelta(0.9, 0.015);
});

it('says the most to pay for the next lot at the margin, and what the rest brings', function (): void {
    $y = new LotYield(7, 2, 5);
    // 0.75 x 120.00 x (1 - 0.25) - 30.00 = 37.50
    expect($y->ceiling(12000, 0.25, 3000.0)['mean'])
        ->toBe(3750)
        ->and($y->ceiling(12000, 0.25, 3000.0)['low'])
        ->toBeLessThan(3750)
        ->and($y->ceiling(12000, 0.25, 30000.0))
        ->toBe(['low' => 0, 'mean' => 0, 'high' => 0])
        ->and($y->rest(12000, 3000.0)['mean'])
        ->toBe((int) round(5 * (0.75 * 12000 - 3000)))
        ->and($y->toArray())
        ->toMatchArray(['good' => 7, 'bad' => 2, 'open' => 5, 'mean' => 0.75]);
});

it('knows where a pack stands and what it wants', function (): void {
    $recover = ['action' => 'recover-group', 'minutes' => 60, 'hours' => 1.2];
    foreach (
        [
            ['done', ['status' => 'returned']],
            ['done', ['status' => 'scrapped']],
            ['held', ['safety' => SafetyState::Hold]],
            ['held', ['safety' => SafetyState::Quarantine, 'runs' => true]],
            ['supply', ['runs' => true, 'waits' => 'Hold test']],
            ['shelf', ['waits' => 'Hold test', 'stage' => 'work', 'decided' => $recover]],
            ['work', ['stage' => 'work', 'decided' => $recover]],
            ['proof', ['stage' => 'proof']],
            ['back', ['stage' => 'report']],
            ['decide', ['stage' => 'verdict']],
            ['decide', ['stage' => 'plan']],
            ['probe', ['stage' => 'probe']],
            ['probe', ['stage' => 'intake']],
        ]
        as [$lane, $x]
    ) {
        expect(wants($x)->lane)->toBe($lane, json_encode($x));
    }
    $work = wants(['stage' => 'work', 'decided' => $recover]);
    expect([$work->minutes, $work->hours, $work->shelf])->toBe([BatchLimits::START_MIN, 1.2, true]);
    $hands = wants(['stage' => 'work', 'decided' => ['action' => 'replace-group', 'minutes' => 75, 'hours' => null]]);
    expect([$hands->minutes, $hands->hours, $hands->shelf])->toBe([75, 0.0, false]);
    // Without hours of its own, those of such work.
    expect(wants(['stage' => 'work', 'decided' => ['action' => 'balance', 'minutes' => 15, 'hours' => null]])->hours)->toBe(12.0);
    expect([wants(['stage' => 'proof'])->minutes, wants(['stage' => 'report'])->minutes, wants(['stage' => 'plan'])->minutes])->toBe([
        20,
        5,
        5,
    ]);
    expect([
        BatchLimits::PROOF_MIN,
        BatchLimits::RETURN_MIN,
        BatchLimits::DECIDE_MIN,
        BatchLimits::PROBE_MIN,
        BatchLimits::START_MIN,
    ])->toBe([20, 5, 5, 15, 15]);
});

it('guesses by what was read at its output whether it will want a supply', function (): void {
    $at = fn(float $each): Wants => wants(['came' => 12 * $each]);
    $floor = rental()->profile()->floorV;
    expect([$at(3.6)->hours, $at(3.6)->minutes, $at(3.6)->shelf])
        ->toBe([0.0, 15, false])
        ->and($at(2.6)->hours)
        ->toBeGreaterThan(0.5)
        ->toBeLessThan(24.0)
        ->and([$at(2.6)->minutes, $at(2.6)->shelf])
        ->toBe([30, true])
        ->and($at($floor + 0.001)->hours)
        ->toBeGreaterThan(0.0)
        ->and([$at($floor - 0.001)->hours, $at(0.75)->text])
        ->toEqual([0.0, '0.75 V a group, under its floor: read it, a donor rather than a pack'])
        ->and(wants(['came' => 31.2], rental(['parallel' => null, 'cell' => []]))->hours)
        ->toBe(0.0);
});

it('begins today what the supplies, the shelf and the hours let it, supplies first', function (): void {
    $probe = wants(['came' => 12 * 3.6]);
    $recover = fn(float $h): Wants => wants([
        'stage' => 'work',
        'decided' => ['action' => 'recover-group', 'minutes' => 60, 'hours' => $h],
    ]);
    $packs = [1 => $probe, 2 => $recover(1.0), 3 => $recover(1.5), 4 => $recover(0.6), 5 => $recover(0.5), 6 => $recover(3.0), 7 => $probe];
    $today = Today::of($packs, [], 3, 12, 2.0);
    $by = array_column($today->begun, null, 'pack');
    expect(array_keys($by))
        ->toBe([5, 4, 2, 6, 1, 7])
        ->and(array_column($today->begun, 'supply'))
        ->toBe([1, 2, 3, 1, null, null])
        ->and($by[6])
        ->toMatchArray(['needs_min' => 180, 'to_min' => 120])
        ->and($today->left[3])
        ->toBe('no supply is free long enough today')
        ->and($today->handsMin)
        ->toBe(90)
        ->and($today->placesLeft)
        ->toBe(9);
    foreach ($today->begun as $b) {
        expect($b['to_min'])->toBeLessThanOrEqual(120);
    }
    // A second one after the first on the same supply, where the day is long enough; never two at once.
    $long = Today::of([1 => $recover(1.0), 2 => $recover(1.0)], [], 1, 12, 4.0);
    expect(array_column($long->begun, 'supply'))
        ->toBe([1, 1])
        ->and($long->begun[1]['to_min'] - 60)
        ->toBeGreaterThanOrEqual($long->begun[0]['to_min']);
});

it('begins what takes longer than a day on a supply that stands idle, where a sitting of it is left', function (): void {
    $long = wants(['stage' => 'work', 'decided' => ['action' => 'recover-group', 'minutes' => 60, 'hours' => 9.0]]);
    $hours = fn(int $min): float => (BatchLimits::START_MIN + $min) / 60;
    $none = Today::of([1 => $long], [], 3, 12, $hours(BatchLimits::SITTING_MIN - 1));
    $one = Today::of([1 => $long, 2 => $long], [], 1, 0, $hours(BatchLimits::SITTING_MIN));
    expect([$none->begun, $none->left[1]])
        ->toBe([[], 'takes 9.2 h attended, 0.7 h are there'])
        ->and($one->begun)
        ->toBe([['pack' => 1, 'supply' => 1, 'from_min' => 0, 'to_min' => 45, 'needs_min' => 540]])
        ->and($one->left[2])
        ->toContain('9.2 h attended')
        ->and(BatchLimits::SITTING_MIN)
        ->toBe(30);
    // Three supplies, sixteen deep packs, two hours: three are begun.
    $deep = array_fill(1, 16, wants(['came' => 31.2]));
    expect(array_count_values(array_map(fn(array $b): string => (string) $b['supply'], Today::of($deep, [], 3, 12, 2.0)->begun)))->toBe([
        1 => 1,
        2 => 1,
        3 => 1,
    ]);
});

it('says why another is not begun', function (): void {
    $recover = wants(['stage' => 'work', 'decided' => ['action' => 'recover-group', 'minutes' => 60, 'hours' => 1.0]]);
    $probe = wants();
    expect(Today::of([1 => $recover], [], 0, 12, 2.0)->left)
        ->toBe([1 => 'no supply is free'])
        ->and(Today::of([1 => $recover, 2 => $recover], [], 2, 1, 2.0)->left)
        ->toBe([2 => 'no place on the shelf for its hold test'])
        ->and(Today::of([1 => $probe, 2 => $probe], [], 2, 1, 0.25)->left)
        ->toBe([2 => 'hands: 15 of 15 min are taken'])
        ->and(array_column(Today::of([1 => $probe, 2 => $probe], [1], 0, 0, 2.0)->begun, 'pack'))
        ->toBe([2, 1]);
    // What waits, runs, is held or done is neither begun nor left.
    $none = Today::of([1 => wants(['waits' => 'x']), 2 => wants(['runs' => true]), 3 => wants(['status' => 'returned'])], [], 3, 3, 8.0);
    expect([$none->begun, $none->left])->toBe([[], []]);
});

it('keeps what was measured as it was, and what was not as nothing', function (): void {
    $facts = LotFacts::from(['groups_v' => [3.6, null, '3.61'], 'capacity_ah' => 4.9, 'rise' => 'x'], 31.2);
    expect([$facts->cameV, $facts->groupsV, $facts->capacityAh, $facts->rise, $facts->mohm])
        ->toEqual([31.2, [3.6, null, 3.61], 4.9, null, null])
        ->and($facts->value(Quantity::Spread))
        ->toEqualWithDelta(0.01, 1e-9);
});

it('lets one odd group of a pack of few move no other, nor a group that was not read', function (): void {
    $facts = array_fill(1, 6, new LotFacts(null, [3.7, 3.66, 3.7, 3.7]));
    $facts[5] = new LotFacts(null, [3.8, 3.76, 3.8, 3.77]);
    $facts[6] = new LotFacts(null, [3.7, null, 3.7, 3.7]);
    $odd = OddOnes::of($facts);
    expect(array_keys($odd))
        ->toBe([5])
        ->and(array_map(fn($o): array => [$o->of, $o->group], $odd[5]))
        ->toBe([[Quantity::Group, 4]])
        ->and($odd[5][0]->text())
        ->toBe('group 4: from the middle of its pack -30 mV, the others +0 mV');
    expect(OddOnes::of([]))->toBe([])->and(OddOnes::of(array_fill(1, 8, new LotFacts())))->toBe([]);
});

it('counts the energy that is in a pack, by its groups where they were read, else by its volts as it came', function (): void {
    $read = (new LotFacts(null, array_fill(0, 12, 3.7)))->wattHours(rental());
    expect($read)
        ->toBeGreaterThan(12 * 6.0 * 3.7 * 0.3)
        ->toBeLessThan(12 * 6.0 * 3.7 * 0.7)
        ->and((new LotFacts(12 * 3.7))->wattHours(rental()))
        ->toEqualWithDelta($read, 1e-9)
        ->and((new LotFacts(9.0))->wattHours(rental()))
        ->toBeLessThan(0.02 * $read)
        ->and((new LotFacts())->wattHours(rental()))
        ->toBeNull()
        ->and((new LotFacts(44.0))->wattHours(rental(['parallel' => null, 'cell' => []])))
        ->toBeNull();
});
