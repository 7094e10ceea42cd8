<?php

declare(strict_types=1);

use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Run\Broken;
use Heartwood\Core\Run\Order;
use Heartwood\Core\Run\RunPlan;
use Heartwood\Core\Run\Said;
use Heartwood\Core\Run\Sample;
use Heartwood\Core\Run\SupervisedRun;
use Heartwood\Core\Run\Watch;
use Heartwood\Core\Run\Why;
use Heartwood\Core\Twin\LiveGroup;
use Tests\Core\Rig;

/*
 * What holds of every run, whatever it is fed: laws, tried on samples that no bench would give.
 */

/** A number that is usually near another, and sometimes anything. */
function wild(float $near, float $by): ?float
{
    return match (mt_rand(0, 60)) {
        0 => null,
        1 => 9.9e37,
        2 => -$near,
        3 => 0.0,
        4 => $near + 10 * $by,
        5 => $near * 2,
        default => $near + $by * (mt_rand(-100, 100) / 100),
    };
}

/** @return list<Sample|Said> a stretch of samples and words, obedient to a run that is driven along, or not */
function wildStretch(RunPlan $plan, int $samples): array
{
    $run = new SupervisedRun($plan);
    $out = [];
    [$t, $v] = [0.0, $plan->planV];
    for ($i = 0; $i < $samples; $i++) {
        $t += mt_rand(0, 12) === 0 ? mt_rand(10, 250) : 5.0;
        $o = $run->order();
        $obeys = mt_rand(0, 25) > 0;
        $v += $o->on ? $plan->sign() * 0.0008 * $plan->n() : 0.0;
        $groups = mt_rand(0, 30) === 0 ? null : array_map(fn(int $k): ?float => wild($v / max(1, $plan->n()), 0.002), range(1, 4));
        $s = Sample::of(
            $t,
            wild($v, 0.0005),
            $o->on && $obeys ? $o->amps : ($obeys ? 0.0 : wild(0.5, 1.0)),
            wild(20.5, 0.4),
            $obeys ? $o->volts : wild($o->volts, 0.1),
            $obeys ? $o->amps : wild($o->amps, 0.1),
            $groups,
        );
        $out[] = $s;
        $run->take($s);
        if (mt_rand(0, 80) === 0) {
            $said = Said::of($t, ['pause', 'resume', 'present', 'plan', 'resume'][mt_rand(0, 4)], $v);
            $out[] = $said;
            $run->hear($said);
        }
    }

    return $out;
}

dataset('kinds of run', [
    'recovery' => [['plan_v' => 2.3]],
    'recovery at the top' => [['plan_v' => 3.4, 'target_v' => 3.7]],
    'balance' => [['kind' => 'balance', 'plan_v' => 3.6, 'target_v' => null]],
    'bypass' => [['kind' => 'bypass', 'group' => null, 'plan_v' => 11.6, 'target_v' => null]],
    'charge' => [['kind' => 'charge', 'group' => null, 'plan_v' => 14.4, 'target_v' => null]],
    'discharge' => [['kind' => 'discharge', 'group' => null, 'plan_v' => 14.8, 'target_v' => null]],
    'by hand' => [['plan_v' => 2.3, 'by_hand' => true]],
    'lowered limits' => [['kind' => 'balance', 'plan_v' => 3.6, 'target_v' => null, 'limit_a' => 0.3, 'limit_v' => 4.0]],
]);

it('never orders more than its plan allows, nor on before three samples, nor after its end', function (array $plan): void {
    mt_srand(7);
    for ($round = 0; $round < 40; $round++) {
        $p = Rig::plan($plan);
        $most = [];
        foreach (Heartwood\Core\Run\Phase::cases() as $phase) {
            $most[$phase->value] = abs($p->amps($phase));
        }
        $run = new SupervisedRun($p);
        $whole = 0;
        $ended = false;
        foreach (wildStretch($p, 150) as $x) {
            $order = $x instanceof Sample ? $run->take($x) : $run->hear($x);
            $whole += $x instanceof Sample && $x->hasVoltsAndAmps() && $x->c !== null ? 1 : 0;
            if ($order->on) {
                expect(abs($order->amps))
                    ->toBeLessThanOrEqual($most[$order->phase->value] + 1e-9)
                    ->and($order->volts)
                    ->toBe($p->volts())
                    ->and($whole)
                    ->toBeGreaterThanOrEqual(3)
                    ->and($order->amps * $p->sign())
                    ->toBeGreaterThan(0.0);
            }
            expect($ended && $order->on)->toBeFalse();
            $ended = $ended || $run->isOver();
        }
        expect(json_encode($run->view()))->toBeJson();
    }
})->with('kinds of run');

it('is the same run up to any point, whatever comes after', function (array $plan): void {
    mt_srand(11);
    $p = Rig::plan($plan);
    $all = wildStretch($p, 120);
    $samples = array_values(array_filter($all, fn(object $x): bool => $x instanceof Sample));
    $says = array_values(array_filter($all, fn(object $x): bool => $x instanceof Said));
    $whole = Watch::of($p, $samples, $says);
    foreach ([1, 2, 3, 10, 60, 119] as $n) {
        $part = Watch::of($p, array_slice($samples, 0, $n), $says);
        $until = $samples[$n - 1]->t;
        expect($part->orders)
            ->toBe(array_values(array_filter($whole->orders, fn(array $o): bool => $o['at_s'] <= $until)))
            ->and($part->end)
            ->toBe($whole->end !== null && $whole->end['at_s'] <= $until ? $whole->end : null);
    }
})->with('kinds of run');

it('counts the charge that flowed', function (): void {
    $rig = Rig::of(new LiveGroup(0.3, 9.4));
    $rig->ammeter = fn(float $t, float $a): float => $a;
    $rig->drive(Rig::plan(['kind' => 'balance', 'plan_v' => 3.6, 'target_v' => null]));
    expect($rig->run->ahIn())->toEqualWithDelta(9.4 * ($rig->pack->groups[0]->charge - 0.3), 0.01);
});

it('counts what leaves the pack as negative', function (): void {
    $rig = new Rig(array_map(fn(): LiveGroup => new LiveGroup(0.9, 9.4), range(1, 4)));
    $rig->ammeter = fn(float $t, float $a): float => $a;
    $rig->drive(Rig::plan(['kind' => 'discharge', 'group' => null, 'plan_v' => $rig->pack->tap(4), 'target_v' => null]));
    expect($rig->run->ahIn())
        ->toEqualWithDelta(9.4 * ($rig->pack->groups[0]->charge - 0.9), 0.02)
        ->toBeLessThan(-8.0);
});

it('names the first of several broken rules, in whatever order they are found', function (): void {
    $all = array_map(fn(Why $w): Broken => new Broken($w, 'x'), Why::cases());
    mt_srand(3);
    for ($n = 0; $n < 50; $n++) {
        shuffle($all);
        $some = array_slice($all, 0, mt_rand(1, count($all)));
        $first = min(array_map(fn(Broken $b): int => $b->why->rank(), $some));
        expect(Broken::first([null, ...$some, null])?->why->rank())->toBe($first);
    }
    expect(Broken::first([null]))->toBeNull();
});

it('keeps to the order of naming that the format promises', function (): void {
    $order = [
        'person',
        'clips.reversed',
        'group.below-floor',
        'group.past-full',
        'voltage.past-full',
        'supply.over-voltage',
        'temperature',
        'supply',
        'clips.open',
        'clips.below-floor',
        'clips.wrong-group',
        'voltage.falls',
        'voltage.hangs',
        'charge.too-much',
        'rest.falls',
        'reading.missing',
        'nobody-present',
        'closing-time',
        'target-reached',
        'done',
    ];
    $seen = [];
    foreach (Why::cases() as $w) {
        $name = in_array($w->value, $order, true) ? $w->value : explode('.', $w->value)[0];
        if (end($seen) !== $name) {
            $seen[] = $name;
        }
    }
    expect($seen)->toBe($order);
});

it('brings up a low group of every chemistry, and never past full', function (string $chemistry): void {
    $c = Chemistry::from($chemistry);
    $curve = RestCurve::of($c);
    $profile = $c->profile();
    $start = $profile->floorV + 0.5 * ($profile->prechargeV - $profile->floorV);
    $rig = Rig::of(new LiveGroup(($start - $curve->emptyV()) / 35, 9.4, 0.01, 0.004, 0.006), $curve->volts(0.5), $chemistry);
    $rig->drive(Rig::plan(['plan_v' => $rig->pack->volts(1), 'target_v' => $curve->volts(0.5)], $chemistry));
    expect($rig->why())
        ->toBe('target-reached', (string) $rig->run->ended()?->text)
        ->and($rig->mostV)
        ->toBeLessThanOrEqual($profile->fullV + 0.002)
        ->and($rig->pack->groups[0]->charge)
        ->toBeGreaterThan($c->isPhosphate() ? 0.97 : 0.45);
})->with(['nmc', 'nca', 'lco', 'lco-hv', 'lmo', 'lfp', 'lto']);

it('stops a short of every chemistry with little in', function (string $chemistry): void {
    $c = Chemistry::from($chemistry);
    $curve = RestCurve::of($c);
    $start = $c->profile()->floorV + 0.4 * ($c->profile()->prechargeV - $c->profile()->floorV);
    $rig = Rig::of(
        new LiveGroup(($start - $curve->emptyV()) / 35, 9.4, 0.01, 0.004, 0.006, shortOhm: (0.8 * $start) / 0.5),
        $curve->volts(0.5),
        $chemistry,
    );
    $rig->drive(Rig::plan(['plan_v' => $rig->pack->volts(1), 'target_v' => $curve->volts(0.5)], $chemistry));
    expect($rig->run->ended()?->why->isGood())
        ->toBeFalse()
        ->and($rig->run->ahIn())
        ->toBeLessThan(0.8)
        ->and($rig->warmest)
        ->toBeLessThan(26.0);
})->with(['nmc', 'nca', 'lco', 'lco-hv', 'lmo', 'lfp', 'lto']);

it('reads back every plan that it writes', function (array $plan): void {
    $p = Rig::plan($plan);
    expect(RunPlan::fromArray(json_decode((string) json_encode($p->toArray()), true))->toArray())->toEqual($p->toArray());
})->with('kinds of run');

it('tells two orders apart by what they would do', function (): void {
    $a = Order::drive(4.2, 0.5, Heartwood\Core\Run\Phase::Fill);
    expect($a->equals(Order::drive(4.2, 0.5, Heartwood\Core\Run\Phase::Fill)))
        ->toBeTrue()
        ->and($a->equals(Order::drive(4.2, 0.51, Heartwood\Core\Run\Phase::Fill)))
        ->toBeFalse()
        ->and($a->equals(Order::off(Heartwood\Core\Run\Phase::Fill, 4.2, 0.5)))
        ->toBeFalse()
        ->and(Order::off(Heartwood\Core\Run\Phase::Rest)->hasSetPoints())
        ->toBeFalse();
});
