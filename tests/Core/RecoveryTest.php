<?php

declare(strict_types=1);

use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Recovery\Attendance;
use Heartwood\Core\Recovery\BypassRun;
use Heartwood\Core\Recovery\BypassWatch;
use Heartwood\Core\Recovery\HoldTest;
use Heartwood\Core\Recovery\Phase;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Recovery\RecoveryPolicy;
use Heartwood\Core\Recovery\RecoveryRun;
use Heartwood\Core\Recovery\Sample;
use Heartwood\Core\Twin\LiveGroup;
use Heartwood\Core\Twin\LivePack;

const NEIGHBOURS = [3.70, 3.71, 3.70];

function ten(string $chemistry = 'nmc'): PackSpec
{
    return PackSpec::from(new Fields(['chemistry' => $chemistry, 'series' => 4, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]]));
}

/** A run fed by hand: volts as a function of seconds, sampled every 10 s. */
function feed(RecoveryRun $run, float $from, float $to, Closure $volts, ?Closure $temp = null): RecoveryRun
{
    for ($t = $from; $t <= $to; $t += 10) {
        $order = $run->order();
        $run->take(Sample::of($t, $volts($t), $order->on ? $order->amps : 0.0, $temp === null ? 20.0 : $temp($t)));
    }

    return $run;
}

/** A recovery of a modelled group until it is over. @return array{RecoveryRun, LivePack} */
function recovered(LiveGroup $low, float $hours = 30.0, string $chemistry = 'nmc', float $resolution = 0.001): array
{
    $pack = new LivePack(RestCurve::of(Chemistry::from($chemistry)), [$low]);
    $run = new RecoveryRun(RecoveryPlan::of(ten($chemistry), 1, $pack->volts(1), NEIGHBOURS, resolutionV: $resolution));
    $order = $run->order();
    while (! $run->isOver() && $pack->seconds < $hours * 3600) {
        $pack->step(10.0, 0.0, $order->on ? [1 => ['volts' => $order->volts, 'amps' => $order->amps]] : []);
        $order = $run->take(Sample::of($pack->seconds, round($pack->volts(1), 3), $pack->amps(1), $low->c));
    }

    return [$run, $pack];
}

dataset('refused', [
    'reversed' => [-0.4, [], null, 'A', '', 'reversed'],
    'under half a volt, whoever asks' => [0.4, [], 1.0, 'A', 'It is a museum piece', 'copper'],
    'under the floor for nobody knows how long' => [1.2, [], null, 'A', 'A reason in words', 'floor'],
    'under the floor for nine days' => [1.2, [], 9.0, 'A', 'A reason in words', 'floor'],
    'under the floor for two days, no reason given' => [1.2, [], 2.0, 'A', '', 'senior'],
    'near the floor in a shop that replaces' => [1.8, [], null, 'B', '', 'replaces'],
    'shorted by the verdict' => [2.2, ['group.dead'], null, 'A', '', 'never recovered'],
    'swollen' => [2.2, ['cell.swollen'], null, 'A', '', 'never recovered'],
    'level with its neighbours' => [3.71, [], null, 'A', '', 'nothing to bring up'],
]);

it('refuses and says why', function (float $v, array $codes, ?float $days, string $school, string $reason, string $says): void {
    $plan = RecoveryPlan::of(ten(), 2, $v, NEIGHBOURS, $codes, $days, new RecoveryPolicy($school), override: $reason);
    expect($plan->isAllowed())->toBeFalse()->and(implode(' ', $plan->refusals))->toContain($says);
    $run = new RecoveryRun($plan);
    expect($run->isOver())->toBeTrue()->and($run->order()->on)->toBeFalse();
})->with('refused');

it('lets a senior answer for two days under the floor, with the reason kept', function (): void {
    $plan = RecoveryPlan::of(ten(), 2, 1.2, NEIGHBOURS, [], 2.0, override: 'Left on over a weekend, seen daily');
    expect($plan->isAllowed())->toBeTrue()->and($plan->overridable)->not->toBe([]);
});

it('sets a twentieth of the capacity, the limit of one group, and never over a tenth', function (): void {
    $plan = RecoveryPlan::of(ten(), 2, 2.1, NEIGHBOURS);
    expect($plan->prechargeA)->toBe(0.5)->and($plan->supplyV)->toBe(4.2)->and(RecoveryPlan::of(ten(), 2, 2.1, NEIGHBOURS, amps: 5.0)->prechargeA)->toBe(1.0);
});

it('takes the board\'s early cut into the limit of the supply', function (): void {
    $spec = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 4, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5], 'bms' => ['high_cut_v' => 4.15]]));
    expect(RecoveryPlan::of($spec, 2, 2.1, NEIGHBOURS)->supplyV)->toEqualWithDelta(4.10, 1e-9);
});

it('brings a good group to its neighbours and leaves the last word to the hold test', function (): void {
    [$run, $pack] = recovered(new LiveGroup(-0.03, 9.4, 0.010, 0.004, 0.006));
    expect($run->phase())->toBe(Phase::Hold)->and($pack->volts(1))->toEqualWithDelta(3.70, 0.012)->and($run->view()['text'])->toContain('hold test');
});

it('stops a hard short long before much is in', function (): void {
    [$run] = recovered(new LiveGroup(-0.03, 9.4, shortOhm: 2.0));
    expect($run->stoppedBy())->toBeIn(['falls', 'hangs', 'warm'])->and($run->ahIn())->toBeLessThan(0.08 * 10);
});

it('does not let a leak of C/100 through the rest', function (): void {
    [$run] = recovered(new LiveGroup(-0.02, 9.4, leakA: 0.1));
    expect($run->stoppedBy())->toBeIn(['falls-at-rest', 'leaks-at-rest']);
});

it('stops when volts fall 20 mV in three minutes at constant current, not when the current was changed', function (): void {
    $falling = feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS)), 0, 400, fn (float $t): float => 2.4 - 0.00015 * $t);
    expect($falling->stoppedBy())->toBe('falls');
    $run = new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS));
    foreach ([[0, 2.40, 0.5], [10, 2.41, 0.5], [20, 2.36, 0.2], [30, 2.36, 0.2]] as [$t, $v, $a]) {
        $run->take(Sample::of($t, $v, $a, 20.0));
    }
    expect($run->stoppedBy())->toBeNull();
});

it('cannot use the falling rule with a coarse meter and says so', function (): void {
    $plan = RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS, resolutionV: 0.01);
    $run = feed(new RecoveryRun($plan), 0, 400, fn (float $t): float => 2.4 - 0.00015 * $t);
    expect($run->stoppedBy())->toBeNull()->and(implode(' ', $plan->cautions))->toContain('2 mV');
});

it('stops a group that hangs, at the tenth minute and not before', function (): void {
    $run = feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS)), 0, 590, fn (float $t): float => 2.35 + 0.00005 * $t);
    expect($run->stoppedBy())->toBeNull();
    feed($run, 600, 700, fn (float $t): float => 2.35 + 0.00005 * $t);
    expect($run->stoppedBy())->toBe('hangs')->and($run->view()['text'])->toContain('50 mV');
});

it('gives a group twice the time at half the current', function (): void {
    $run = feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS, amps: 0.25)), 0, 1150, fn (float $t): float => 2.35 + 0.00003 * $t);
    expect($run->stoppedBy())->toBeNull();
});

it('stops at five kelvin over ambient, with volts or without', function (): void {
    $warm = fn (float $t): float => 20.0 + $t * 0.02;
    expect(feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS)), 0, 400, fn (float $t): float => 2.35 + 0.0005 * $t, $warm)->stoppedBy())->toBe('warm')
        ->and(feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS)), 0, 400, fn (float $t): ?float => $t < 20 ? 2.35 : null, fn (float $t): float => 20 + 0.05 * $t)->stoppedBy())->toBe('warm');
});

it('stops when nothing whole was read for three minutes', function (?float $v, ?float $c): void {
    $run = new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS));
    $run->take(Sample::of(10, 2.31, 0.5, 20.0));
    $run->take(Sample::of(180, $v, 0.5, $c));
    expect($run->stoppedBy())->toBeNull();
    $run->take(Sample::of(195, $v, 0.5, $c));
    expect($run->stoppedBy())->toBe('missing')->and($run->order()->on)->toBeFalse();
})->with(['no volts' => [null, 20.0], 'meter in overload' => [9.9e37, 20.0], 'thermistor open' => [2.35, -273.0], 'no temperature' => [2.35, null]]);

it('stops by the clock alone when no sample comes at all', function (): void {
    $run = new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS));
    $run->take(Sample::of(10, 2.31, 0.5, 20.0));
    expect($run->tick(100)->on)->toBeTrue()->and($run->tick(191)->on)->toBeFalse()->and($run->stoppedBy())->toBe('missing');
});

it('stops when a lead falls off, in charge and at rest', function (): void {
    $run = feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS)), 0, 100, fn (float $t): float => $t < 60 ? 2.35 + 0.0005 * $t : 0.001);
    expect($run->stoppedBy())->toBe('jump');
    $rest = feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS)), 0, 60, fn (): float => 3.01);
    expect($rest->phase())->toBe(Phase::Rest);
    feed($rest, 70, 4000, fn (float $t): float => $t < 2000 ? 2.99 : 0.0);
    expect($rest->stoppedBy())->toBe('jump');
});

it('rejects what falls more than 30 mV in the last quarter of the hour', function (): void {
    $run = feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS)), 0, 60, fn (): float => 3.01);
    feed($run, 70, 4000, fn (float $t): float => 2.99 - 0.00004 * $t);
    expect($run->stoppedBy())->toBe('falls-at-rest');
});

it('takes relaxing for relaxing: it slows down', function (): void {
    $run = feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS)), 0, 60, fn (): float => 3.01);
    feed($run, 70, 3700, fn (float $t): float => 2.93 + 0.06 * exp(-$t / 900));
    expect($run->phase())->toBe(Phase::Raise);
});

it('stops when more goes in than the gap to the neighbours holds', function (): void {
    $run = feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 3.2, NEIGHBOURS)), 0, 4 * 3600, fn (): float => 3.3);
    expect($run->stoppedBy())->toBe('more-than-the-gap')->and($run->ahIn())->toBeLessThan(1.15 * 0.47 * 10);
});

it('is off while paused, starts its windows anew, and does not count a rest that nobody watched', function (): void {
    $run = feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS)), 0, 60, fn (): float => 3.01);
    $run->pause(500, 'the runner was away');
    expect($run->order()->on)->toBeFalse()->and($run->take(Sample::of(600, 2.9, 0, 20))->on)->toBeFalse();
    $run->resume(5000);
    feed($run, 5010, 8500, fn (): float => 2.99);
    expect($run->phase())->toBe(Phase::Rest);
    feed($run, 8510, 8700, fn (): float => 2.99);
    expect($run->phase())->toBe(Phase::Raise);
});

it('comes out the same from the same samples: it can be built again from its journal', function (): void {
    $plan = RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS);
    $samples = array_map(fn (int $i): Sample => Sample::of(10 * $i, 2.35 + 0.001 * $i, 0.5, 20.0 + 0.001 * $i), range(0, 300));
    [$a, $b] = [new RecoveryRun($plan), new RecoveryRun(RecoveryPlan::fromArray(json_decode((string) json_encode($plan->toArray()), true)))];
    foreach ($samples as $s) {
        $a->take($s);
        $b->take($s);
    }
    expect($b->view())->toBe($a->view());
});

it('does not take a sample from the past', function (): void {
    $run = feed(new RecoveryRun(RecoveryPlan::of(ten(), 1, 2.3, NEIGHBOURS)), 0, 100, fn (float $t): float => 2.35 + 0.0005 * $t);
    $before = $run->ahIn();
    $run->take(Sample::of(50, 2.0, 5.0, 20.0));
    expect($run->ahIn())->toBe($before)->and($run->stoppedBy())->toBeNull();
});

it('fills phosphate to its tail, since its plateau tells nothing', function (): void {
    [$run, $pack] = recovered(new LiveGroup(-0.01, 10.0, 0.008, 0.003, 0.003), 40.0, 'lfp');
    expect($run->phase())->toBe(Phase::Hold)->and($pack->groups[0]->charge)->toBeGreaterThan(0.97);
});

it('never drives past full, whatever the target says', function (): void {
    $plan = RecoveryPlan::of(ten(), 1, 3.0, [4.19, 4.19, 4.19]);
    expect($plan->targetV)->toBeLessThan(4.2)->and($plan->supplyV)->toBe(4.2);
});

$hold = fn (float $before, float $after, float $hours, float $others = 0.001): array => [
    ['h' => 2.0, 'v' => $before + 0.01, 'others' => [3.7, 3.7, 3.7]], ['h' => 6.0, 'v' => $before, 'others' => [3.7, 3.7, 3.7]],
    ['h' => 6.0 + $hours, 'v' => $after, 'others' => array_fill(0, 3, 3.7 - $others)],
];

it('passes only what holds for a day within its uncertainty', function () use ($hold): void {
    expect(HoldTest::judge($hold(3.700, 3.699, 24), Chemistry::Nmc)->outcome)->toBe('pass')
        ->and(HoldTest::judge($hold(3.700, 3.699, 12), Chemistry::Nmc)->outcome)->toBe('cannot-tell-yet')
        ->and(HoldTest::judge($hold(3.700, 3.692, 24), Chemistry::Nmc)->outcome)->toBe('reject')
        ->and(HoldTest::judge($hold(3.700, 3.696, 24), Chemistry::Nmc)->outcome)->toBe('cannot-tell-yet');
});

it('takes the neighbours\' own sinking off', function () use ($hold): void {
    expect(HoldTest::judge($hold(3.700, 3.692, 24, 0.008), Chemistry::Nmc)->outcome)->toBe('pass');
});

it('does not count readings from the first six hours, nor a coarse meter, nor phosphate', function () use ($hold): void {
    expect(HoldTest::judge([['h' => 0.5, 'v' => 3.72, 'others' => [3.7]]], Chemistry::Nmc)->readAgainInH)->toEqualWithDelta(5.5, 1e-9)
        ->and(HoldTest::judge($hold(3.70, 3.70, 24), Chemistry::Nmc, 0.01)->outcome)->toBe('cannot-tell-yet')
        ->and(HoldTest::judge($hold(3.33, 3.33, 24), Chemistry::Lfp)->text)->toContain('refills');
});

it('asks for a person at intervals and is off when nobody answers or the shop closes', function (): void {
    $there = new Attendance(new RecoveryPolicy('A', 30, 3 * 3600), 0);
    expect($there->refuses(1800))->toBeNull()->and($there->refuses(1800 + 121))->toContain('nobody');
    $there->confirm(1900);
    expect($there->refuses(3000))->toBeNull()->and($there->dueIn(3000))->toEqualWithDelta(700, 1e-9)->and($there->refuses(3 * 3600))->toContain('closes')
        ->and($there->refusesStart(0, 4))->toContain('closing time')->and($there->refusesStart(0, 2))->toBeNull();
});

it('keeps the bypass for a senior, with a reason, every group read and none ineligible', function (): void {
    $ok = [3.1, 2.7, 3.2, 3.3];
    $why = 'Board gone, customer waits for a ferry';
    expect(BypassWatch::refuses(ten(), $ok, [], true, $why, 0.5))->toBe([])
        ->and(BypassWatch::refuses(ten(), $ok, [], false, $why, 0.5))->not->toBe([])
        ->and(BypassWatch::refuses(ten(), $ok, [], true, 'no', 0.5))->not->toBe([])
        ->and(BypassWatch::refuses(ten(), [3.1, null, 3.2, 3.3], [], true, $why, 0.5))->not->toBe([])
        ->and(BypassWatch::refuses(ten(), [3.1, 1.3, 3.2, 3.3], [], true, $why, 0.5))->not->toBe([])
        ->and(BypassWatch::refuses(ten(), $ok, [2], true, $why, 0.5))->not->toBe([])
        ->and(BypassWatch::refuses(ten(), $ok, [], true, $why, 0.8))->not->toBe([]);
});

it('switches the bypass off at a full group, an old reading, warmth, and hands over past the release voltage', function (): void {
    $ok = [3.0, 2.9, 3.0, 3.0];
    expect(BypassWatch::check(ten(), $ok, 5, 21.0, 20)['off'])->toBeFalse()
        ->and(BypassWatch::check(ten(), [4.2, 2.9, 3.0, 3.0], 5, 21.0, 20)['off'])->toBeTrue()
        ->and(BypassWatch::check(ten(), $ok, 61, 21.0, 20)['off'])->toBeTrue()
        ->and(BypassWatch::check(ten(), $ok, 5, null, 20)['off'])->toBeTrue()
        ->and(BypassWatch::check(ten(), $ok, 5, 25.5, 20)['off'])->toBeTrue()
        ->and(BypassWatch::check(ten(), [3.2, 3.2, 3.11, 3.2], 5, 21.0, 20)['handOver'])->toBeTrue();
});

it('conserves charge in the live pack, with a supply on one group and current through all', function (): void {
    $pack = new LivePack(RestCurve::of(Chemistry::Nmc), [new LiveGroup(0.4, 8), new LiveGroup(0.5, 8), new LiveGroup(0.6, 8, leakA: 0.02)]);
    $put = [0.0, 0.0, 0.0];
    for ($i = 0; $i < 500; $i++) {
        $pack->step(5, -0.3, [2 => ['volts' => 4.2, 'amps' => 1.5]]);
        foreach ([0, 1, 2] as $k) {
            $put[$k] += $pack->amps($k + 1) * 5 / 3600;
        }
    }
    expect(($pack->groups[0]->charge - 0.4) * 8)->toEqualWithDelta($put[0], 1e-9)->and(($pack->groups[1]->charge - 0.5) * 8)->toEqualWithDelta($put[1], 1e-9)
        ->and(($pack->groups[2]->charge - 0.6) * 8)->toEqualWithDelta($put[2] - 0.02 * 2500 / 3600, 1e-9)->and($pack->tap(3))->toEqualWithDelta($pack->volts(1) + $pack->volts(2) + $pack->volts(3), 1e-12);
});

it('runs the exception until the board takes over, a group is full, falls, or is not seen for a minute', function (): void {
    $run = fn (): BypassRun => new BypassRun(ten(), 0.5);
    $feed = function (BypassRun $r, callable $groups, float $to = 200.0, float $c = 20.0): BypassRun {
        for ($t = 10.0; $t <= $to && ! $r->isOver(); $t += 10.0) {
            $r->take(Sample::of($t, null, 0.5, $c, $groups($t)));
        }

        return $r;
    };
    $over = $feed($run(), fn (float $t): array => [3.0 + $t / 1000, 3.05 + $t / 1000, 3.2, 3.2]);
    $full = $feed($run(), fn (float $t): array => [3.0, 2.9, 4.1 + $t / 1000, 3.2]);
    $falls = $feed($run(), fn (float $t): array => [3.0, 2.9 - $t / 5000, 3.2, 3.2]);
    $unseen = $run();
    $unseen->take(Sample::of(10, null, 0.5, 20.0, [3.0, 2.9, 3.2, 3.2]));
    $unseen->take(Sample::of(75, null, 0.5, 20.0, [3.0, 2.9, 3.2]));
    expect($over->view()['stopped_by'])->toBe('done')->and($over->view()['text'])->toContain('board takes over')->and($full->view()['text'])->toContain('Group 3')->and($falls->view()['stopped_by'])->toBe('falls')
        ->and($unseen->view()['stopped_by'])->toBe('missing')->and($unseen->order()->on)->toBeFalse()->and($feed($run(), fn (): array => [3.0, 2.9, 3.2, 3.2], 50, 26.0)->view()['stopped_by'])->toBe('limit')
        ->and($run()->order()->volts)->toEqualWithDelta(16.8, 1e-9);
});
