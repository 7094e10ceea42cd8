<?php

declare(strict_types=1);

use Heartwood\Core\Balance\BalanceMeans;
use Heartwood\Core\Balance\BalancePlan;
use Heartwood\Core\Balance\Fill;
use Heartwood\Core\Cell\JoinRule;
use Heartwood\Core\Cell\JoinSide;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Repair\WakeOrder;
use Heartwood\Core\Run\RunPlan;
use Heartwood\Core\Run\Said;
use Heartwood\Core\Run\Sample;
use Heartwood\Core\Run\Sequence;
use Heartwood\Core\Twin\LiveGroup;
use Heartwood\Core\Twin\LivePack;
use Tests\Core\Rig;

function level(array $soc, array $more = [], ?BalanceMeans $means = null): BalancePlan
{
    $spec = PackSpec::from(
        new Fields(
            $more + [
                'chemistry' => 'nmc',
                'series' => count($soc),
                'parallel' => 4,
                'cell' => ['capacity_ah' => 2.5, 'max_charge_a' => 1.25],
                'bms' => ['balance' => 'passive', 'balance_current_a' => 0.1],
                'charger' => ['cc_a' => 2.0],
            ],
        ),
    );

    return new BalancePlan(
        $spec,
        $soc,
        array_fill(0, count($soc), 10.0),
        array_fill(0, count($soc), 0.01),
        $means ?? BalanceMeans::of($spec),
    );
}

it('fills from one charge to another in the hours that constant current takes, and longer at the taper', function (): void {
    $curve = RestCurve::of(Chemistry::Nmc);
    $cc = Fill::of($curve, 0.3, 0.7, 10.0, 0.01, 2.0, 4.2, 0.5);
    expect($cc->hours)->toEqualWithDelta(2.0, 1e-6)->and($cc->taperHours)->toBe(0.0);
    $full = Fill::of($curve, 0.9, 1.2, 10.0, 0.03, 2.0, 4.2, 0.5);
    expect($full->taperHours)
        ->toBeGreaterThan(0.0)
        ->and($full->reached)
        ->toBeLessThan(1.0)
        ->and($full->hours)
        ->toBeGreaterThan($full->ah / 2.0);
});

it('moves what each group lacks, by the capacities', function (): void {
    expect(level([0.8, 0.7, 0.75])->lacksAh())->toEqualWithDelta([0.0, 1.0, 0.5], 1e-9);
});

it('bleeds the highest longest, and five times as long when nothing holds the pack at the top', function (): void {
    $held = level([0.9, 0.8, 0.85]);
    $spec = PackSpec::from(
        new Fields([
            'chemistry' => 'nmc',
            'series' => 3,
            'cell' => ['capacity_ah' => 10],
            'parallel' => 1,
            'bms' => ['balance' => 'passive', 'balance_current_a' => 0.1],
        ]),
    );
    $cycled = level([0.9, 0.8, 0.85], [], BalanceMeans::of($spec, heldAtTop: false));
    expect($held->passive()['bleed_ah'])
        ->toBe([1.0, 0.0, 0.5])
        ->and($held->passive()['bleed_hours'])
        ->toEqualWithDelta(10.0, 0.1)
        ->and($cycled->passive()['bleed_hours'])
        ->toEqualWithDelta(5 * $held->passive()['bleed_hours'], 0.2);
});

it('says that a board which does not bleed does not', function (): void {
    $plan = level([0.9, 0.8], ['bms' => ['balance' => 'active', 'balance_current_a' => 1.0]]);
    expect($plan->passive()['hours'])->toBeNull()->and($plan->active()['hours'])->toBeGreaterThan(0.3);
});

it('tells when a charger of amps outruns a board of milliamps', function (): void {
    $c = level([0.95, 0.6, 0.7])->charger();
    expect($c['outruns'])
        ->toBeTrue()
        ->and($c['group'])
        ->toBe(1)
        ->and($c['lowest_group'])
        ->toBe(2)
        ->and($c['after_ah'])
        ->toEqualWithDelta(0.5, 0.05)
        ->and($c['text'])
        ->toContain('group 1 is full')
        ->and(level([0.7, 0.7, 0.7])->charger()['outruns'])
        ->toBeFalse();
});

it('does not offer joining side by side outside the join rule', function (): void {
    expect(level([0.95, 0.5, 0.6])->parallel()['allowed'])
        ->toBeFalse()
        ->and(level([0.6, 0.61, 0.6])->parallel()['allowed'])
        ->toBeTrue();
});

it('stops at a twentieth or half the set current, the lower, and at a fiftieth for a top balance', function (): void {
    $plan = level([0.5, 0.5]);
    expect($plan->taperA(10.0, 2.0))->toBe(0.5)->and($plan->taperA(10.0, 0.6))->toBe(0.3)->and($plan->taperA(10.0, 2.0, true))->toBe(0.2);
});

it('takes phosphate to 3.65 V or holds it longer at 3.50 V, as the shop has it, and warns off the plateau', function (): void {
    $spec = fn(string $school): BalancePlan => level(
        [0.5, 0.6],
        ['chemistry' => 'lfp'],
        new BalanceMeans(2.0, 0.1, 1.0, 2.0, true, $school),
    );
    expect($spec('A')->fullV())
        ->toBe(3.65)
        ->and($spec('B')->fullV())
        ->toBe(3.5)
        ->and($spec('B')->single()['order'][0]['taper_a'])
        ->toBeLessThan($spec('A')->single()['order'][0]['taper_a'])
        ->and(implode(' ', $spec('A')->cautions()))
        ->toContain('plateau')
        ->toContain('7.10 V');
});

it('sizes a resistor for one group that stands out, and none when none does', function (): void {
    $r = level([0.9, 0.6, 0.61, 0.6])->resistor(5.0);
    expect($r['group'])
        ->toBe(1)
        ->and($r['ohm'])
        ->toBeGreaterThan(3.0)
        ->toBeLessThan(3.6)
        ->and(level([0.6, 0.6, 0.6])->resistor())
        ->toBeNull();
});

/** @param  list<float>  $charges  @return array{Sequence, LivePack} a run over the groups of a plan, clips put on when asked */
function balanced(BalancePlan $plan, array $charges, ?float $pauseAt = null): array
{
    $pack = new LivePack(
        RestCurve::of(Chemistry::Nmc),
        array_map(fn(float $x): LiveGroup => new LiveGroup($x, 10.0, 0.006, 0.002, 0.002), $charges),
    );
    $order = $plan->single()['order'];
    $data = ['chemistry' => 'nmc', 'series' => count($charges), 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]];
    $run = new Sequence(
        array_map(
            fn(array $o): RunPlan => RunPlan::fromArray([
                'kind' => 'balance',
                'pack' => $data,
                'group' => $o['group'],
                'plan_v' => $pack->volts($o['group']),
                'plan_a' => 2.0,
                'asks_clip' => true,
            ]),
            $order,
        ),
        array_column($order, 'hours'),
    );
    while (!$run->isOver() && $pack->seconds < 40 * 3600) {
        $o = $run->order();
        $k = $run->group();
        $pack->step(10.0, 0.0, $o->on ? [$k => ['volts' => $o->volts, 'amps' => $o->amps]] : []);
        $run->take(Sample::of($pack->seconds, round($pack->volts($k), 3), round($pack->amps($k), 2), 20.0, $o->volts, $o->amps));
        if ($run->view()['asks_clip'] === true) {
            $run->hear(Said::of($pack->seconds, 'clipped'));
        }
        if ($pauseAt !== null && $pack->seconds >= $pauseAt) {
            $run->hear(Said::of($pack->seconds, 'pause', null, 'the supply was away'));
            expect($run->order()->on)->toBeFalse();
            $run->hear(Said::of($pack->seconds, 'resume'));
            $pauseAt = null;
        }
    }

    return [$run, $pack];
}

it('brings every group to the top, one after another, each proved for itself', function (?float $pauseAt): void {
    [$run, $pack] = balanced(level([0.9, 0.7, 0.8]), [0.9, 0.7, 0.8], $pauseAt);
    $charge = array_map(fn(LiveGroup $g): float => $g->charge, $pack->groups);
    $view = $run->view();
    expect($view['stopped_by'])
        ->toBe('done')
        ->and(max($charge) - min($charge))
        ->toBeLessThan(0.01)
        ->and(array_column($view['items'], 'state'))
        ->toBe(['full', 'full', 'full'])
        ->and($view['ah_in'])
        ->toEqualWithDelta(10 * array_sum($charge) - 24.0, 0.1)
        ->and(count(array_filter($view['log'], fn(array $l): bool => str_contains($l['text'], 'proved: '))))
        ->toBe($pauseAt === null ? 3 : 4);
})->with([
    'in one go' => [null],
    'with a pause' => [5000.0],
]);

it('ends the whole sequence at the first group that ends badly, before the clips move', function (): void {
    $plan = fn(int $k): RunPlan => RunPlan::fromArray([
        'kind' => 'balance',
        'pack' => ['chemistry' => 'nmc', 'series' => 3, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]],
        'group' => $k,
        'plan_v' => 3.7,
    ]);
    $run = new Sequence([$plan(1), $plan(2)]);
    $run->take(Sample::of(0, -3.6, 0.0, 20.0));
    expect($run->isOver())
        ->toBeTrue()
        ->and($run->view()['stopped_by'])
        ->toBe('clips.reversed')
        ->and(array_column($run->view()['items'], 'state'))
        ->toBe(['waits', 'waits']);
});

it('shows the next group as asked for, and what is left', function (): void {
    $plan = level([0.9, 0.5]);
    $order = $plan->single()['order'];
    $run = new Sequence(
        array_map(
            fn(array $o): RunPlan => RunPlan::fromArray([
                'kind' => 'balance',
                'pack' => ['chemistry' => 'nmc', 'series' => 2, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]],
                'group' => $o['group'],
                'plan_v' => 3.7,
                'asks_clip' => true,
            ]),
            $order,
        ),
        array_column($order, 'hours'),
    );
    $run->take(Sample::of(0, 3.7, 0.0, 20.0));
    $view = $run->view();
    expect($view['asks_clip'])
        ->toBeTrue()
        ->and($view['group'])
        ->toBe($order[0]['group'])
        ->and($view['remaining_h'])
        ->toEqualWithDelta(array_sum(array_column($order, 'hours')), 0.02)
        ->and($run->order()->on)
        ->toBeFalse();
});

it('bleeds nothing with a board that does not balance, and calls an active board by what it does', function (): void {
    $plan = fn(array $bms): BalancePlan => new BalancePlan(
        ($spec = PackSpec::from(
            new Fields(['chemistry' => 'nmc', 'series' => 3, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5], 'bms' => $bms]),
        )),
        [0.9, 0.7, 0.8],
        [10.0, 10.0, 10.0],
        [0.01, 0.01, 0.01],
        BalanceMeans::of($spec),
    );
    expect($plan(['balance' => 'none', 'balance_current_a' => 0.1])->passive())
        ->toMatchArray(['hours' => null, 'why' => 'This board does not balance at all.'])
        ->and($plan(['balance' => 'active', 'balance_current_a' => 2.0])->passive()['why'])
        ->toContain('moves charge')
        ->and(array_column($plan(['balance' => 'active', 'balance_current_a' => 2.0])->toArray()['methods'], 'title', 'method')['active'])
        ->toContain('The board moves charge')
        ->and($plan(['balance' => 'none'])->charger()['text'])
        ->toContain('does not balance');
});

it('carries the excess over the mean, by the balancer\'s amps and its losses', function (): void {
    $spec = PackSpec::from(
        new Fields([
            'chemistry' => 'nmc',
            'series' => 3,
            'parallel' => 4,
            'cell' => ['capacity_ah' => 2.5],
            'bms' => ['balance' => 'active', 'balance_current_a' => 2.0],
        ]),
    );
    expect(
        (new BalancePlan($spec, [0.9, 0.7, 0.8], [10.0, 10.0, 10.0], [0.01, 0.01, 0.01], BalanceMeans::of($spec)))->active()['hours'],
    )->toEqualWithDelta(1.0 / (0.85 * 2.0), 1e-9);
});

it('goes by no volts of a phosphate plateau, by any method', function (array $volts, bool $blind): void {
    $spec = PackSpec::from(
        new Fields([
            'chemistry' => 'lfp',
            'series' => 3,
            'parallel' => 1,
            'cell' => ['capacity_ah' => 100.0],
            'bms' => ['balance' => 'passive', 'balance_current_a' => 0.2],
        ]),
    );
    $curve = RestCurve::of(Chemistry::Lfp);
    $plan = (new BalancePlan(
        $spec,
        array_map($curve->socAt(...), $volts),
        [100.0, 100.0, 100.0],
        [0.001, 0.001, 0.001],
        BalanceMeans::of($spec),
        $volts,
    ))->toArray();
    $hours = array_column($plan['methods'], 'hours', 'method');
    expect($plan['blind'])
        ->toBe($blind)
        ->and($hours['level'])
        ->toBeNull()
        ->and($hours['passive'] === null)
        ->toBe($blind)
        ->and($hours['active'] === null)
        ->toBe($blind)
        ->and($plan['resistor'] === null)
        ->toBe($blind)
        ->and($hours['single'])
        ->not->toBeNull();
})->with([
    'on the plateau' => [[3.31, 3.3, 3.29], true],
    'one of them on it' => [[3.41, 3.4, 3.3], true],
    'all at the top' => [[3.42, 3.39, 3.38], false],
]);

it('joins directly within 50 mV and the charge current, else through a resistor, else not', function (): void {
    $side = fn(float $v, float $r = 0.03): JoinSide => new JoinSide($v, $r, 10.0, 5.0);
    $direct = JoinRule::check($side(3.7), $side(3.72));
    $resistor = JoinRule::check($side(3.6), $side(3.8));
    $stiff = JoinRule::check($side(3.7, 0.001), $side(3.74, 0.001));
    expect($direct->way)
        ->toBe('direct')
        ->and($direct->inrushA)
        ->toEqualWithDelta(0.02 / 0.062, 1e-9)
        ->and($resistor->way)
        ->toBe('resistor')
        ->and($resistor->ohm)
        ->toEqualWithDelta(0.2 / 2.5 - 0.06, 1e-9)
        ->and($resistor->minutes)
        ->toBeGreaterThan(10.0)
        ->and($stiff->way)
        ->not->toBe('direct');
});

it('joins nothing to a side that is reversed, flat, over full, or of another chemistry', function (
    float $v,
    Chemistry $chemistry,
    int $series,
    string $says,
): void {
    $side = fn(float $v, Chemistry $c = Chemistry::Nmc): JoinSide => new JoinSide($v, 0.03, 10.0, 5.0, $c);
    $rule = JoinRule::check($side($series * 3.7), $side($v, $chemistry), $series);
    $says === ''
        ? expect($rule->way)->not->toBe('refused')
        : expect($rule->way)
            ->toBe('refused')
            ->and($rule->text)
            ->toContain($says)
            ->and($rule->ohm)
            ->toBeNull()
            ->and(JoinRule::check($side($v, $chemistry), $side($series * 3.7), $series)->way)
            ->toBe('refused');
})->with([
    'reversed' => [-0.4, Chemistry::Nmc, 1, 'reversed'],
    'at nothing' => [0.0, Chemistry::Nmc, 1, 'floor'],
    'just under the floor' => [1.499, Chemistry::Nmc, 1, 'floor'],
    'just over the floor' => [1.501, Chemistry::Nmc, 1, ''],
    'just over full' => [4.2101, Chemistry::Nmc, 1, 'over its full'],
    'just not over full' => [4.2099, Chemistry::Nmc, 1, ''],
    'phosphate to nickel' => [3.7, Chemistry::Lfp, 1, 'only one chemistry'],
    'a pack under its floor' => [14.99, Chemistry::Nmc, 10, 'floor'],
]);

it('takes a settling of under a minute for no plan', function (float $ah, string $way, float $minutes): void {
    $rule = JoinRule::check(new JoinSide(3.7, 0.001, $ah, 5.0), new JoinSide(3.755, 0.001, $ah, 5.0));
    expect($rule->way)->toBe($way);
    $minutes === 0.0 ? expect($rule->minutes)->toBeNull() : expect($rule->minutes)->toBeLessThan($minutes);
})->with([
    'under a minute, just' => [12.4, 'charge-first', 0.0],
    'just not' => [13.6, 'resistor', 1.1],
]);

it('asks no resistor to take more than fifty watts', function (float $maxA, string $way): void {
    $rule = JoinRule::check(new JoinSide(72.0, 0.05, 20.0, $maxA), new JoinSide(80.0, 0.05, 20.0, $maxA), 20);
    expect($rule->way)->toBe($way);
})->with([
    'just' => [13.4, 'resistor'],
    'just not' => [13.9, 'charge-first'],
]);

it('joins directly up to 50 mV apart', function (float $apart, bool $direct): void {
    expect(JoinRule::check(new JoinSide(3.7, 0.05, 40.0, 5.0), new JoinSide(3.7 + $apart, 0.05, 40.0, 5.0))->way === 'direct')->toBe(
        $direct,
    );
})->with([[0.0499, true], [0.0501, false]]);

it('settles longer the further apart two sides are', function (): void {
    $minutes = fn(float $v): ?float => JoinRule::check(new JoinSide(3.55, 0.03, 10, 5), new JoinSide($v, 0.03, 10, 5))->minutes;
    expect($minutes(3.75))->toBeGreaterThan($minutes(3.65));
});

it('orders the ways of waking by the pack and refuses to call the board asleep while a group is low', function (): void {
    $spec = PackSpec::from(new Fields(['kind' => 'scooter', 'chemistry' => 'nmc', 'series' => 3, 'bms' => ['wake' => 'button']]));
    $low = WakeOrder::of($spec, [3.6, 2.6, 3.6]);
    $fine = WakeOrder::of($spec, [3.6, 3.5, 3.6], ['button']);
    expect($low['ready'])
        ->toBeFalse()
        ->and($low['why'])
        ->toContain('Group 2')
        ->and($fine['ready'])
        ->toBeTrue()
        ->and($fine['actions'][0])
        ->toMatchArray(['action' => 'button', 'tried' => true])
        ->and($fine['actions'][1]['action'])
        ->toBe('charger-pulse')
        ->and(array_column($fine['actions'], 'action'))
        ->toHaveCount(6);
});

it('lifts only the low groups to the fullest, by amp-hours, and has no such way on phosphate', function (): void {
    $plan = level([0.8, 0.5, 0.795]);
    expect($plan->level()['order'])
        ->toHaveCount(1)
        ->and($plan->level()['order'][0])
        ->toMatchArray(['group' => 2, 'ah' => 3.0, 'by_ah' => true])
        ->and($plan->level()['hours'])
        ->toBeLessThan($plan->single()['hours'])
        ->and(level([0.8, 0.5], ['chemistry' => 'lfp'])->level()['hours'])
        ->toBeNull();
    $pack = new LivePack(
        RestCurve::of(Chemistry::Nmc),
        array_map(fn(float $x): LiveGroup => new LiveGroup($x, 10.0, 0.006, 0.002, 0.002), [0.8, 0.5, 0.795]),
    );
    $rig = new Rig($pack->groups);
    $rig->clip = fn(float $t): int => 2;
    $o = $plan->level()['order'][0];
    $rig->drive(
        RunPlan::fromArray([
            'kind' => 'balance',
            'pack' => ['chemistry' => 'nmc', 'series' => 3, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]],
            'group' => $o['group'],
            'plan_v' => $pack->volts(2),
            'plan_a' => 2.0,
            'target_ah' => $o['ah'],
        ]),
    );
    expect($rig->why())->toBe('target-reached')->and($pack->groups[1]->charge)->toEqualWithDelta(0.8, 0.003);
});

it('puts no supply on for balancing while a group is under the pre-charge voltage', function (): void {
    $spec = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 3, 'parallel' => 1, 'cell' => ['capacity_ah' => 10]]));
    $plan = new BalancePlan($spec, [0.3, 0.0, 0.3], [10, 10, 10], [0.01, 0.01, 0.01], BalanceMeans::of($spec), [3.6, 2.2, 3.6]);
    expect($plan->refuses())
        ->toContain('Group 2')
        ->and(level([0.3, 0.3])->refuses())
        ->toBeNull();
});
