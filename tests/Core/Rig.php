<?php

declare(strict_types=1);

namespace Tests\Core;

use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Run\Order;
use Heartwood\Core\Run\RunPlan;
use Heartwood\Core\Run\Said;
use Heartwood\Core\Run\Sample;
use Heartwood\Core\Run\SupervisedRun;
use Heartwood\Core\Twin\LiveGroup;
use Heartwood\Core\Twin\LivePack;

/**
 * A run closed over a simulated pack, a supply with a mind of its own and a hand that clips: what is ordered is done, or
 * not, and what comes of it is what the run sees next.
 */
final class Rig
{
    public LivePack $pack;

    public ?SupervisedRun $run = null;

    /** @var list<array{t: float, on: bool, phase: string}> every change of the output and phase */
    public array $orders = [];

    /** Seconds for which the output was ordered on. */
    public float $onS = 0.0;

    public float $mostV = 0.0;

    public float $warmest = 20.0;

    /** @var list<Sample> */
    public array $samples = [];

    /** @var \Closure(float): int group that the clips sit on at a time, from 1; 0 in the air */
    public \Closure $clip;

    /** @var \Closure(float, float): ?float what the meter makes of the volts at a time */
    public \Closure $meter;

    /** @var \Closure(float, float): ?float what the ammeter makes of the amps */
    public \Closure $ammeter;

    /** @var \Closure(float, float): ?float what the thermometer makes of the degrees */
    public \Closure $thermometer;

    /** @var \Closure(float, Order): array{0: float, 1: float} what the supply is really set to */
    public \Closure $supply;

    /** @var \Closure(float, float): ?float what the supply shows of a set-point */
    public \Closure $shows;

    /** @var \Closure(float, list<float>): (list<float|null>|null) what a scanner says of every group */
    public \Closure $scanner;

    public bool $gives = true;

    /** @param  list<LiveGroup>  $groups */
    public function __construct(array $groups, string $chemistry = 'nmc', public float $dt = 5.0, float $belowV = 35.0)
    {
        $this->pack = new LivePack(RestCurve::of(Chemistry::from($chemistry)), $groups, 20.0, $belowV);
        $this->clip = fn(float $t): int => 1;
        $this->meter = fn(float $t, float $v): float => round($v, 3);
        $this->ammeter = fn(float $t, float $a): float => round($a, 2);
        $this->thermometer = fn(float $t, float $c): float => round($c, 1);
        $this->supply = fn(float $t, Order $o): array => [$o->volts, $o->amps];
        $this->shows = fn(float $t, float $x): float => round($x, 3);
        $this->scanner = fn(float $t, array $v): ?array => null;
    }

    /** Four groups of ten amp-hours; the first one as given. */
    public static function of(LiveGroup $low, float $othersV = 3.7, string $chemistry = 'nmc'): self
    {
        $curve = RestCurve::of(Chemistry::from($chemistry));

        return new self(
            [$low, ...array_map(fn(int $i): LiveGroup => new LiveGroup($curve->socAt($othersV), 10.0), range(1, 3))],
            $chemistry,
        );
    }

    /** @return array<string, mixed> the pack that `of()` makes, as a record has it */
    public static function packData(string $chemistry = 'nmc', array $bms = []): array
    {
        return ['chemistry' => $chemistry, 'series' => 4, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]] +
            ($bms === [] ? [] : ['bms' => $bms]);
    }

    /** @param  array<string, mixed>  $more */
    public static function plan(array $more = [], string $chemistry = 'nmc', array $bms = []): RunPlan
    {
        return RunPlan::fromArray(
            $more + ['kind' => 'recovery', 'pack' => self::packData($chemistry, $bms), 'group' => 1, 'plan_v' => 2.3, 'target_v' => 3.7],
        );
    }

    /** @param  list<Said>  $says */
    public function drive(RunPlan $plan, array $says = [], float $hours = 40.0): self
    {
        $run = $this->run = new SupervisedRun($plan);
        $order = Order::off($run->phase());
        $whole = !in_array($plan->kind, ['recovery', 'balance'], true);
        $n = count($this->pack->groups);
        [$set, $on, $next] = [[0.0, 0.0], false, 0];
        while (!$run->isOver() && $this->pack->seconds < $hours * 3600) {
            $t = $this->pack->seconds;
            $k = ($this->clip)($t);
            while ($next < count($says) && $says[$next]->t <= $t) {
                $run->hear($says[$next++]);
            }
            $a = $whole ? $this->pack->amps(1) : ($k > 0 ? $this->pack->amps($k) : 0.0);
            $v = $whole ? $this->pack->tap($n) : ($k > 0 ? $this->pack->volts($k) : 0.002);
            $s = Sample::of(
                $t,
                ($this->meter)($t, $v),
                ($this->ammeter)($t, $a),
                ($this->thermometer)($t, max(array_map(fn(LiveGroup $g): float => $g->c, $this->pack->groups))),
                $plan->byHand ? null : ($this->shows)($t, $set[0]),
                $plan->byHand ? null : ($this->shows)($t, $set[1]),
                ($this->scanner)($t, array_map(fn(int $i): float => round($this->pack->volts($i), 3), range(1, $n))),
            );
            $this->samples[] = $s;
            $order = $run->take($s);
            $set = ($this->supply)($t, $order);
            $on = $order->on;
            if ($this->orders === [] || end($this->orders)['on'] !== $on || end($this->orders)['phase'] !== $order->phase->value) {
                $this->orders[] = ['t' => $t, 'on' => $on, 'phase' => $order->phase->value];
            }
            $this->onS += $on ? $this->dt : 0.0;
            $drives = $on && $this->gives;
            $this->mostV = max($this->mostV, $v);
            match (true) {
                !$drives || (!$whole && $k === 0) => $this->pack->step($this->dt),
                $plan->kind === 'discharge' => $this->pack->step($this->dt, $v > $set[0] ? $set[1] : 0.0),
                $whole => $this->pack->step($this->dt, $this->pack->across($set[0], $set[1])),
                default => $this->pack->step($this->dt, 0.0, [$k => ['volts' => $set[0], 'amps' => $set[1]]]),
            };
            $this->warmest = max($this->warmest, ...array_map(fn(LiveGroup $g): float => $g->c, $this->pack->groups));
        }

        return $this;
    }

    public function why(): ?string
    {
        return $this->run?->ended()?->why->value;
    }

    public function everOn(): bool
    {
        return $this->onS > 0.0;
    }
}
