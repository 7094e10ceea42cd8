<?php

declare(strict_types=1);

use Heartwood\Core\Balance\BalanceMeans;
use Heartwood\Core\Balance\BalancePlan;
use Heartwood\Core\Balance\BalanceRun;
use Heartwood\Core\Balance\Fill;
use Heartwood\Core\Cell\JoinRule;
use Heartwood\Core\Cell\JoinSide;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Recovery\Sample;
use Heartwood\Core\Repair\WakeOrder;
use Heartwood\Core\Twin\LiveGroup;
use Heartwood\Core\Twin\LivePack;

function level(array $soc, array $more = [], ?BalanceMeans $means = null): BalancePlan
{
    $spec = PackSpec::from(new Fields($more + ['chemistry' => 'nmc', 'series' => count($soc), 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5, 'max_charge_a' => 1.25], 'bms' => ['balance' => 'passive', 'balance_current_a' => 0.1], 'charger' => ['cc_a' => 2.0]]));

    return new BalancePlan($spec, $soc, array_fill(0, count($soc), 10.0), array_fill(0, count($soc), 0.010), $means ?? BalanceMeans::of($spec));
}

it('fills from one charge to another in the hours that constant current takes, and longer at the taper', function (): void {
    $curve = RestCurve::of(Chemistry::Nmc);
    $cc = Fill::of($curve, 0.3, 0.7, 10.0, 0.010, 2.0, 4.2, 0.5);
    expect($cc->hours)->toEqualWithDelta(2.0, 1e-6)->and($cc->taperHours)->toBe(0.0);
    $full = Fill::of($curve, 0.9, 1.2, 10.0, 0.030, 2.0, 4.2, 0.5);
    expect($full->taperHours)->toBeGreaterThan(0.0)->and($full->reached)->toBeLessThan(1.0)->and($full->hours)->toBeGreaterThan($full->ah / 2.0);
});

it('moves what each group lacks, by the capacities', function (): void {
    expect(level([0.8, 0.7, 0.75])->lacksAh())->toEqualWithDelta([0.0, 1.0, 0.5], 1e-9);
});

it('bleeds the highest longest, and five times as long when nothing holds the pack at the top', function (): void {
    $held = level([0.9, 0.8, 0.85]);
    $spec = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 3, 'cell' => ['capacity_ah' => 10], 'parallel' => 1, 'bms' => ['balance' => 'passive', 'balance_current_a' => 0.1]]));
    $cycled = level([0.9, 0.8, 0.85], [], BalanceMeans::of($spec, heldAtTop: false));
    expect($held->passive()['bleed_ah'])->toBe([1.0, 0.0, 0.5])->and($held->passive()['bleed_hours'])->toEqualWithDelta(10.0, 0.1)
        ->and($cycled->passive()['bleed_hours'])->toEqualWithDelta(5 * $held->passive()['bleed_hours'], 0.2);
});

it('says that a board which does not bleed does not', function (): void {
    $plan = level([0.9, 0.8], ['bms' => ['balance' => 'active', 'balance_current_a' => 1.0]]);
    expect($plan->passive()['hours'])->toBeNull()->and($plan->active()['hours'])->toBeGreaterThan(0.3);
});

it('loses fifteen parts of a hundred on the way from group to group', function (): void {
    $active = level([0.9, 0.7])->active();
    expect(0.9 * 10 - $active['moved_ah'])->toEqualWithDelta(0.7 * 10 + 0.85 * $active['moved_ah'], 1e-6);
});

it('tells when a charger of amps outruns a board of milliamps', function (): void {
    $c = level([0.95, 0.6, 0.7])->charger();
    expect($c['outruns'])->toBeTrue()->and($c['group'])->toBe(1)->and($c['lowest_group'])->toBe(2)->and($c['after_ah'])->toEqualWithDelta(0.5, 0.05)->and($c['text'])->toContain('group 1 is full')
        ->and(level([0.7, 0.7, 0.7])->charger()['outruns'])->toBeFalse();
});

it('does not offer joining side by side outside the join rule', function (): void {
    expect(level([0.95, 0.5, 0.6])->parallel()['allowed'])->toBeFalse()->and(level([0.60, 0.61, 0.60])->parallel()['allowed'])->toBeTrue();
});

it('stops at a twentieth or half the set current, the lower, and at a fiftieth for a top balance', function (): void {
    $plan = level([0.5, 0.5]);
    expect($plan->taperA(10.0, 2.0))->toBe(0.5)->and($plan->taperA(10.0, 0.6))->toBe(0.3)->and($plan->taperA(10.0, 2.0, true))->toBe(0.2);
});

it('takes phosphate to 3.65 V or holds it longer at 3.50 V, as the shop has it, and warns off the plateau', function (): void {
    $spec = fn (string $school): BalancePlan => level([0.5, 0.6], ['chemistry' => 'lfp'], new BalanceMeans(2.0, 0.1, 1.0, 2.0, true, $school));
    expect($spec('A')->fullV())->toBe(3.65)->and($spec('B')->fullV())->toBe(3.50)->and($spec('B')->single()['order'][0]['taper_a'])->toBeLessThan($spec('A')->single()['order'][0]['taper_a'])
        ->and(implode(' ', $spec('A')->cautions()))->toContain('plateau')->toContain('7.10 V');
});

it('sizes a resistor for one group that stands out, and none when none does', function (): void {
    $r = level([0.9, 0.6, 0.61, 0.6])->resistor(5.0);
    expect($r['group'])->toBe(1)->and($r['ohm'])->toBeGreaterThan(3.0)->toBeLessThan(3.6)->and(level([0.6, 0.6, 0.6])->resistor())->toBeNull();
});

/** A balance run on a modelled pack, clips put on when asked. */
function balanced(LivePack $pack, BalanceRun $run, float $until = 1e6): BalanceRun
{
    $order = $run->clipped($pack->seconds);
    while (! $run->isOver() && $pack->seconds < $until) {
        $pack->step(10.0, 0.0, $order->on ? [$run->group() => ['volts' => $order->volts, 'amps' => $order->amps]] : []);
        $order = $run->take(Sample::of($pack->seconds, $pack->volts($run->group()), $pack->amps($run->group()), 20.0));
        if (! $order->on && ! $run->isOver()) {
            $order = $run->clipped($pack->seconds);
        }
    }

    return $run;
}

it('brings every group to the top, one after another, and stays off until the clips sit', function (): void {
    $plan = level([0.9, 0.7, 0.8]);
    $pack = new LivePack(RestCurve::of(Chemistry::Nmc), array_map(fn (float $x): LiveGroup => new LiveGroup($x, 10.0, 0.006, 0.002, 0.002), [0.9, 0.7, 0.8]));
    $run = new BalanceRun($plan->single()['order'], $plan->fullV(), 2.0);
    expect($run->order()->on)->toBeFalse()->and($run->view()['phase_word'])->toContain('clips on group 1');
    balanced($pack, $run);
    $charge = array_map(fn (LiveGroup $g): float => $g->charge, $pack->groups);
    expect($run->view()['stopped_by'])->toBe('done')->and(max($charge) - min($charge))->toBeLessThan(0.01)->and(array_column($run->view()['items'], 'state'))->toBe(['full', 'full', 'full']);
});

it('goes on after an interruption with what is in already, and its remaining time is honest', function (): void {
    $plan = level([0.9, 0.5]);
    $pack = new LivePack(RestCurve::of(Chemistry::Nmc), array_map(fn (float $x): LiveGroup => new LiveGroup($x, 10.0, 0.006, 0.002, 0.002), [0.9, 0.5]));
    $run = balanced($pack, new BalanceRun($plan->single()['order'], $plan->fullV(), 2.0), 3 * 3600);
    $left = $run->remainingHours();
    $run->pause($pack->seconds, 'the supply was away');
    expect($run->order()->on)->toBeFalse();
    $pack->step(3600);
    $run->resume($pack->seconds);
    $at = $pack->seconds;
    balanced($pack, $run);
    expect($run->view()['stopped_by'])->toBe('done')->and(($pack->seconds - $at) / 3600)->toEqualWithDelta($left, 0.15 * $left);
});

it('stops a fill that takes more than was to be expected, and one whose clip comes off', function (): void {
    $order = [['group' => 1, 'ah' => 0.5, 'hours' => 0.3, 'taper_a' => 0.5]];
    $run = new BalanceRun($order, 4.2, 2.0);
    $run->clipped(0);
    for ($t = 10; $t < 3600 && ! $run->isOver(); $t += 10) {
        $run->take(Sample::of($t, 3.9, 2.0, 20.0));
    }
    $off = new BalanceRun($order, 4.2, 2.0);
    $off->clipped(0);
    $off->take(Sample::of(10, 3.9, 2.0, 20.0));
    $off->take(Sample::of(20, 4.2, 2.0, 20.0));
    expect($run->view()['stopped_by'])->toBe('more-than-the-gap')->and($off->view()['stopped_by'])->toBe('jump');
});

it('joins directly within 50 mV and the charge current, else through a resistor, else not', function (): void {
    $curve = RestCurve::of(Chemistry::Nmc);
    $side = fn (float $v, float $r = 0.030): JoinSide => new JoinSide($v, $r, 10.0, 5.0);
    $direct = JoinRule::check($side(3.70), $side(3.72), $curve);
    $resistor = JoinRule::check($side(3.60), $side(3.80), $curve);
    $stiff = JoinRule::check($side(3.70, 0.001), $side(3.74, 0.001), $curve);
    expect($direct->way)->toBe('direct')->and($direct->inrushA)->toEqualWithDelta(0.02 / 0.062, 1e-9)
        ->and($resistor->way)->toBe('resistor')->and($resistor->ohm)->toEqualWithDelta(0.2 / 2.5 - 0.06, 1e-9)->and($resistor->minutes)->toBeGreaterThan(10.0)
        ->and($stiff->way)->not->toBe('direct');
});

it('settles longer the further apart two sides are', function (): void {
    $curve = RestCurve::of(Chemistry::Nmc);
    $minutes = fn (float $v): ?float => JoinRule::check(new JoinSide(3.55, 0.03, 10, 5), new JoinSide($v, 0.03, 10, 5), $curve)->minutes;
    expect($minutes(3.75))->toBeGreaterThan($minutes(3.65));
});

it('orders the ways of waking by the pack and refuses to call the board asleep while a group is low', function (): void {
    $spec = PackSpec::from(new Fields(['kind' => 'scooter', 'chemistry' => 'nmc', 'series' => 3, 'bms' => ['wake' => 'button']]));
    $low = WakeOrder::of($spec, [3.6, 2.6, 3.6]);
    $fine = WakeOrder::of($spec, [3.6, 3.5, 3.6], ['button']);
    expect($low['ready'])->toBeFalse()->and($low['why'])->toContain('Group 2')->and($fine['ready'])->toBeTrue()
        ->and($fine['actions'][0])->toMatchArray(['action' => 'button', 'tried' => true])->and($fine['actions'][1]['action'])->toBe('charger-pulse')->and(array_column($fine['actions'], 'action'))->toHaveCount(6);
});

it('lifts only the low groups to the fullest, by amp-hours, and has no such way on phosphate', function (): void {
    $plan = level([0.8, 0.5, 0.795]);
    expect($plan->level()['order'])->toHaveCount(1)->and($plan->level()['order'][0])->toMatchArray(['group' => 2, 'ah' => 3.0, 'by_ah' => true])->and($plan->level()['hours'])->toBeLessThan($plan->single()['hours'])
        ->and(level([0.8, 0.5], ['chemistry' => 'lfp'])->level()['hours'])->toBeNull();
    $pack = new LivePack(RestCurve::of(Chemistry::Nmc), array_map(fn (float $x): LiveGroup => new LiveGroup($x, 10.0, 0.006, 0.002, 0.002), [0.8, 0.5, 0.795]));
    balanced($pack, new BalanceRun($plan->level()['order'], $plan->fullV(), 2.0));
    expect($pack->groups[1]->charge)->toEqualWithDelta(0.8, 0.003);
});

it('puts no supply on for balancing while a group is under the pre-charge voltage', function (): void {
    $spec = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 3, 'parallel' => 1, 'cell' => ['capacity_ah' => 10]]));
    $plan = new BalancePlan($spec, [0.3, 0.0, 0.3], [10, 10, 10], [0.01, 0.01, 0.01], BalanceMeans::of($spec), [3.6, 2.2, 3.6]);
    expect($plan->refuses())->toContain('Group 2')->and(level([0.3, 0.3])->refuses())->toBeNull();
});
