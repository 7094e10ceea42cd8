<?php

declare(strict_types=1);

use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Recovery\BypassRules;
use Heartwood\Core\Recovery\HoldTest;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Recovery\RecoveryPolicy;
use Heartwood\Core\Twin\LiveGroup;
use Heartwood\Core\Twin\LivePack;

const NEIGHBOURS = [3.7, 3.71, 3.7];

function ten(string $chemistry = 'nmc'): PackSpec
{
    return PackSpec::from(new Fields(['chemistry' => $chemistry, 'series' => 4, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]]));
}

dataset('refused', [
    'reversed' => [-0.4, [], null, 'A', '', 'reversed'],
    'under half a volt, whoever asks' => [0.4, [], 1.0, 'A', 'It is a museum piece', 'copper'],
    'under the floor for nobody knows how long' => [1.2, [], null, 'A', 'A reason in words', 'floor'],
    'under the floor for nine days' => [1.2, [], 9.0, 'A', 'A reason in words', 'floor'],
    'under the floor, no days given' => [1.2, [], 0.0, 'A', 'A reason in words', 'floor'],
    'under the floor for two days, no reason given' => [1.2, [], 2.0, 'A', '', 'senior'],
    'near the floor in a shop that replaces' => [1.8, [], null, 'B', '', 'replaces'],
    'shorted by the verdict' => [2.2, ['group.dead'], null, 'A', '', 'never recovered'],
    'swollen' => [2.2, ['cell.swollen'], null, 'A', '', 'never recovered'],
    'level with its neighbours' => [3.71, [], null, 'A', '', 'nothing to bring up'],
]);

it('refuses and says why', function (float $v, array $codes, ?float $days, string $school, string $reason, string $says): void {
    $plan = RecoveryPlan::of(ten(), 2, $v, NEIGHBOURS, $codes, $days, new RecoveryPolicy($school), override: $reason);
    expect($plan->isAllowed())->toBeFalse()->and(implode(' ', $plan->refusals))->toContain($says);
})->with('refused');

it('lets a senior answer for two days under the floor, with the reason kept', function (): void {
    $plan = RecoveryPlan::of(ten(), 2, 1.2, NEIGHBOURS, [], 2.0, override: 'Left on over a weekend, seen daily');
    expect($plan->isAllowed())->toBeTrue()->and($plan->overridable)->not->toBe([]);
});

it('lets a senior answer for just under a week under the floor', function (float $days, bool $allowed): void {
    expect(RecoveryPlan::of(ten(), 2, 1.2, NEIGHBOURS, [], $days, override: 'Left on, seen daily')->isAllowed())->toBe($allowed);
})->with([[6.9, true], [7.1, false]]);

it('sets a twentieth of the capacity, the limit of one group, and never over a tenth', function (): void {
    $plan = RecoveryPlan::of(ten(), 2, 2.1, NEIGHBOURS);
    expect($plan->prechargeA)
        ->toBe(0.5)
        ->and($plan->supplyV)
        ->toBe(4.2)
        ->and(RecoveryPlan::of(ten(), 2, 2.1, NEIGHBOURS, amps: 5.0)->prechargeA)
        ->toBe(1.0);
});

it('takes the board\'s early cut into the limit of the supply', function (): void {
    $spec = PackSpec::from(
        new Fields([
            'chemistry' => 'nmc',
            'series' => 4,
            'parallel' => 4,
            'cell' => ['capacity_ah' => 2.5],
            'bms' => ['high_cut_v' => 4.15],
        ]),
    );
    expect(RecoveryPlan::of($spec, 2, 2.1, NEIGHBOURS)->supplyV)->toEqualWithDelta(4.1, 1e-9);
});

it('refuses a meter too coarse to see a group hang, and warns of one that is coarse', function (): void {
    expect(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS, resolutionV: 0.021)->isAllowed())
        ->toBeFalse()
        ->and(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS, resolutionV: 0.02)->isAllowed())
        ->toBeTrue()
        ->and(implode(' ', RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS, resolutionV: 0.01)->cautions))
        ->toContain('30 mV')
        ->and(implode(' ', RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS, resolutionV: 0.006)->cautions))
        ->not->toContain('steps');
});

it('never drives past full, whatever the target says', function (): void {
    $plan = RecoveryPlan::of(ten(), 1, 3.0, [4.19, 4.19, 4.19]);
    expect($plan->targetV)->toBeLessThan(4.2)->and($plan->supplyV)->toBe(4.2);
});

$hold = fn(float $before, float $after, float $hours, float $others = 0.001): array => [
    ['h' => 2.0, 'v' => $before + 0.01, 'others' => [3.7, 3.7, 3.7]],
    ['h' => 6.0, 'v' => $before, 'others' => [3.7, 3.7, 3.7]],
    ['h' => 6.0 + $hours, 'v' => $after, 'others' => array_fill(0, 3, 3.7 - $others)],
];

it('passes only what holds for a day within its uncertainty', function () use ($hold): void {
    expect(HoldTest::judge($hold(3.7, 3.699, 24), Chemistry::Nmc)->outcome)
        ->toBe('pass')
        ->and(HoldTest::judge($hold(3.7, 3.699, 12), Chemistry::Nmc)->outcome)
        ->toBe('cannot-tell-yet')
        ->and(HoldTest::judge($hold(3.7, 3.692, 24), Chemistry::Nmc)->outcome)
        ->toBe('reject')
        ->and(HoldTest::judge($hold(3.7, 3.696, 24), Chemistry::Nmc)->outcome)
        ->toBe('cannot-tell-yet');
});

it('does not call a group that rises against its neighbours one that holds', function (float $rise, string $outcome) use ($hold): void {
    $judged = HoldTest::judge($hold(3.7, 3.7 + $rise, 24, 0.0), Chemistry::Nmc);
    expect($judged->outcome)->toBe($outcome);
    if ($outcome === 'moved') {
        expect($judged->text)->toContain('something else');
    }
})->with([
    'just' => [0.00305, 'moved'],
    'just not' => [0.00295, 'pass'],
]);

it('takes the neighbours\' own sinking off', function () use ($hold): void {
    expect(HoldTest::judge($hold(3.7, 3.692, 24, 0.008), Chemistry::Nmc)->outcome)->toBe('pass');
});

it('does not count readings from the first six hours, nor a coarse meter, nor phosphate', function () use ($hold): void {
    expect(HoldTest::judge([['h' => 0.5, 'v' => 3.72, 'others' => [3.7]]], Chemistry::Nmc)->readAgainInH)
        ->toEqualWithDelta(5.5, 1e-9)
        ->and(HoldTest::judge($hold(3.7, 3.7, 24), Chemistry::Nmc, 0.01)->outcome)
        ->toBe('cannot-tell-yet')
        ->and(HoldTest::judge($hold(3.33, 3.33, 24), Chemistry::Lfp)->text)
        ->toContain('refills');
});

it('keeps the bypass for a senior, with a reason, every group read and none ineligible', function (): void {
    $ok = [3.1, 2.7, 3.2, 3.3];
    $why = 'Board gone, customer waits for a ferry';
    expect(BypassRules::refuses(ten(), $ok, [], true, $why, 0.5, true))
        ->toBe([])
        ->and(BypassRules::refuses(ten(), $ok, [], false, $why, 0.5, true))
        ->not->toBe([])
        ->and(BypassRules::refuses(ten(), $ok, [], true, 'no', 0.5, true))
        ->not->toBe([])
        ->and(BypassRules::refuses(ten(), [3.1, null, 3.2, 3.3], [], true, $why, 0.5, true))
        ->not->toBe([])
        ->and(BypassRules::refuses(ten(), [3.1, 1.3, 3.2, 3.3], [], true, $why, 0.5, true))
        ->not->toBe([])
        ->and(BypassRules::refuses(ten(), $ok, [2], true, $why, 0.5, true))
        ->not->toBe([])
        ->and(BypassRules::refuses(ten(), $ok, [], true, $why, 0.8, true))
        ->not->toBe([]);
    // A shop whose way is not to says so to whoever asks, and nothing else.
    expect(BypassRules::refuses(ten(), $ok, [], true, $why, 0.5, false))
        ->toHaveCount(1)
        ->and(BypassRules::refuses(ten(), $ok, [2], false, '', 9.0, false)[0])
        ->toContain('Schools of thought');
});

it('conserves charge in the live pack, with a supply on one group and current through all', function (): void {
    $pack = new LivePack(RestCurve::of(Chemistry::Nmc), [new LiveGroup(0.4, 8), new LiveGroup(0.5, 8), new LiveGroup(0.6, 8, leakA: 0.02)]);
    $put = [0.0, 0.0, 0.0];
    for ($i = 0; $i < 500; $i++) {
        $pack->step(5, -0.3, [2 => ['volts' => 4.2, 'amps' => 1.5]]);
        foreach ([0, 1, 2] as $k) {
            $put[$k] += ($pack->amps($k + 1) * 5) / 3600;
        }
    }
    expect(($pack->groups[0]->charge - 0.4) * 8)
        ->toEqualWithDelta($put[0], 1e-9)
        ->and(($pack->groups[1]->charge - 0.5) * 8)
        ->toEqualWithDelta($put[1], 1e-9)
        ->and(($pack->groups[2]->charge - 0.6) * 8)
        ->toEqualWithDelta($put[2] - (0.02 * 2500) / 3600, 1e-9)
        ->and($pack->tap(3))
        ->toEqualWithDelta($pack->volts(1) + $pack->volts(2) + $pack->volts(3), 1e-12);
});

/** A group of 8.4 Ah that rose to pre-charge in forty minutes and then rested an hour. @return list<array<string, float>> */
function roseAndRested(float $lastQuarter, float $restedMin = 60.0): array
{
    $out = array_map(fn(int $m): array => ['min' => (float) $m, 'v' => round(2.3 + (0.7 * $m) / 40, 4), 'a' => 0.42], range(0, 40, 2));
    for ($m = 1; $m <= $restedMin; $m++) {
        // Relaxed after a quarter of an hour; what it loses later it loses for good.
        $out[] = ['min' => 40.0 + $m, 'v' => round(2.96 + 0.03 * exp(-$m / 5) - $lastQuarter * max(0.0, ($m - 45) / 15), 4), 'a' => 0.0];
    }

    return $out;
}

it('believes the rest after a small current: what still falls is not kept', function (float $fell, bool $kept): void {
    $v = [3.8, 3.8, 2.3, 3.8, 3.8];
    $record = Tests\Core\Bench::record(
        $v,
        [],
        ['tests' => [['kind' => 'recovery', 'scope' => ['group' => 3], 'current_a' => 0.42, 'samples' => roseAndRested($fell)]]],
    );
    $verdict = Tests\Core\Bench::verdict($record);
    expect(in_array('recover-group', Tests\Core\Bench::actions($verdict), true))
        ->toBe($kept)
        ->and(Tests\Core\Bench::probability($verdict, 'group.deep-discharged', ['group' => 3]) > 0.5)
        ->toBe($kept);
    if (!$kept) {
        expect(Tests\Core\Bench::actions($verdict)[0])
            ->toBe('replace-group')
            ->and(
                implode(
                    ' ',
                    array_map(fn($e): string => $e->text, array_merge(...array_map(fn($f): array => $f->evidence, $verdict->findings))),
                ),
            )
            ->toContain('still falls after an hour of rest');
    }
})->with(['holds' => [0.002, true], 'falls on' => [0.04, false]]);

it('does not judge a rest that was cut short', function (): void {
    $verdict = Tests\Core\Bench::verdict(
        Tests\Core\Bench::record(
            [3.8, 3.8, 2.3, 3.8, 3.8],
            [],
            ['tests' => [['kind' => 'recovery', 'scope' => ['group' => 3], 'samples' => roseAndRested(0.04, 50.0)]]],
        ),
    );
    expect(Tests\Core\Bench::actions($verdict))->toContain('recover-group');
});
