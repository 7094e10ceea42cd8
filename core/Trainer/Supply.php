<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Limits\TrainerLimits;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Recovery\BypassRules;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Run\Order;
use Heartwood\Core\Run\Phase;
use Heartwood\Core\Run\RunPlan;
use Heartwood\Core\Run\Sample;
use Heartwood\Core\Run\SupervisedRun;

/**
 * A run at the simulated bench's supply, on the pack of a round: proved, driven, watched and ended by the very rules that drive a real
 * one (handbook "Recovery of a deep-discharged group", "Gates on work").
 */
final class Supply
{
    /** Seconds between two samples. */
    private const EVERY_S = 20.0;

    private const ROOM_C = 20.0;

    /** What an ammeter shows at the least, amps; a meter counts for no finer than this in a run, volts. */
    private const FINE_A = 0.001;

    private const FINE_V = 0.001;

    /** Points of a curve that is drawn small. */
    private const POINTS = 48;

    /** Samples of a recovery in the record: one in so many seconds of its first hour. */
    private const KEPT_S = 120.0;

    private const KEPT_MOST = 31;

    /** Said for whoever would have to answer for it at a real bench. */
    private const REASON = 'practised on a pack that cannot burn';

    /** @var list<array{t: float, v: float, a: float, c: float, slow: bool}> slow: under its pre-charge, with current */
    private array $seen = [];

    public function __construct(private readonly Patient $p, private readonly Meter $meter, private readonly Luck $luck) {}

    /**
     * What the room of the supply says of one group that is to be brought up, as far as it has been read.
     *
     * @param  list<float|null>  $known  volts at rest of every group
     * @param  float  $v  of this one, at its clips
     * @param  list<string>  $codes  what was said of it
     * @param  float|null  $amps  of the slow part; null: as the plan has it
     */
    public static function plan(PackSpec $pack, int $k, float $v, array $known, array $codes, ?float $amps): RecoveryPlan
    {
        $others = [];
        foreach ($known as $i => $of) {
            if ($of !== null && $i + 1 !== $k) {
                $others[] = $of;
            }
        }

        return RecoveryPlan::of($pack, $k, $v, $others, $codes, ambientC: self::ROOM_C, resolutionV: self::FINE_V, amps: $amps);
    }

    /**
     * @param  list<float|null>  $known
     * @param  list<int>  $ineligible  groups that were said to be dead or reversed
     * @return list<string> why the whole string is not charged past its board
     */
    public static function refusesPast(PackSpec $pack, array $known, array $ineligible, float $amps): array
    {
        return BypassRules::refuses($pack, $known, $ineligible, true, self::REASON, $amps, true);
    }

    /**
     * @param  list<float|null>  $known
     * @return array{why: string, text: string, good: bool, v: float, ah: float, seconds: float, warmest_c: float,
     *   curve: list<array{min: float, v: float, a: float}>, slow: list<array{min: float, v: float, a: float, c: float}>} `slow`: the
     *   samples under pre-charge, for the record
     */
    public function up(RecoveryPlan $plan, array $known): array
    {
        return $this->drive([
            'kind' => 'recovery',
            'group' => $plan->group,
            'plan_v' => $plan->startV,
            'target_v' => $plan->toFull ? null : $plan->targetV,
            'plan_a' => $plan->prechargeA,
            'known_v' => $known,
        ]);
    }

    /**
     * One group to full, by its tail.
     *
     * @param  list<float|null>  $known
     * @return array{why: string, text: string, good: bool, v: float, ah: float, seconds: float, warmest_c: float,
     *   curve: list<array{min: float, v: float, a: float}>, slow: list<array{min: float, v: float, a: float, c: float}>}
     */
    public function fill(int $k, float $v, array $known, ?float $amps): array
    {
        return $this->drive(['kind' => 'balance', 'group' => $k, 'plan_v' => $v, 'plan_a' => $amps, 'known_v' => $known]);
    }

    /**
     * The whole string past its board, until the board takes over.
     *
     * @param  float  $v  of the whole string
     * @return array{why: string, text: string, good: bool, v: float, ah: float, seconds: float, warmest_c: float,
     *   curve: list<array{min: float, v: float, a: float}>, slow: list<array{min: float, v: float, a: float, c: float}>}
     */
    public function past(float $v, float $amps): array
    {
        return $this->drive(['kind' => 'bypass', 'group' => null, 'plan_v' => $v, 'plan_a' => $amps]);
    }

    /**
     * @param  array<string, mixed>  $plan
     * @return array{why: string, text: string, good: bool, v: float, ah: float, seconds: float, warmest_c: float,
     *   curve: list<array{min: float, v: float, a: float}>, slow: list<array{min: float, v: float, a: float, c: float}>}
     */
    private function drive(array $plan): array
    {
        $run = new SupervisedRun(
            RunPlan::fromArray(
                $plan + [
                    'pack' => $this->p->pack,
                    'ambient_c' => self::ROOM_C,
                    'resolution_v' => self::FINE_V,
                    'resolution_a' => self::FINE_A,
                ],
            ),
        );
        $k = $run->plan()->group;
        $this->p->clipsOn($k);
        $began = $this->p->clockS;
        $order = Order::off(Phase::Prove);
        while (!$run->isWatchedOut() && $this->p->clockS - $began < 3600 * TrainerLimits::SUPPLY_H) {
            $sample = $this->look($k, $this->p->clockS - $began, $order, $run->plan()->kind === 'bypass');
            $order = $run->take($sample);
            $this->p->fed(self::EVERY_S, $order->volts, $order->on ? $order->amps : 0.0);
        }
        $this->p->clipsOff();
        $end = $run->ended();

        return [
            'why' => $end === null ? 'person' : $end->why->value,
            'text' => $end === null ? 'Nothing came of it in all that time.' : "{$end->text}.",
            'good' => $end?->why->isGood() === true,
            'v' => $this->seen === [] ? 0.0 : $this->seen[count($this->seen) - 1]['v'],
            'ah' => round($run->ahIn(), 3),
            'seconds' => $this->p->clockS - $began,
            'warmest_c' => round($run->warmestC(), 1),
            'curve' => $this->curve(),
            'slow' => $this->slow(),
        ];
    }

    /** @param  bool  $all  every group is read too */
    private function look(?int $k, float $t, Order $order, bool $all): Sample
    {
        $shown = fn(float $v): float => $this->meter->shows($v, $this->luck)['v'];
        $groups = $k === null ? array_map($this->p->across(...), range(1, $this->p->spec->series)) : [];
        $v = $shown($k === null ? array_sum($groups) : $this->p->across($k));
        // One that holds nothing of its own lets the current through and hangs where it is.
        $hangs = $k !== null && isset($this->p->fixedV[$k]);
        $at = $this->p->atClips();
        $a = $hangs ? ($order->on ? $order->amps : 0.0) : round($at['a'], 3);
        $c = round($at['c'], 1);
        $this->seen[] = [
            't' => $t,
            'v' => $v,
            'a' => $a,
            'c' => $c,
            'slow' => $order->on && $order->phase === Phase::Precharge,
        ];

        return Sample::of($t, $v, $a, $c, $order->volts, $order->amps, $all ? array_map($shown, $groups) : null);
    }

    /** @return list<array{min: float, v: float, a: float}> evenly in time, both ends with it */
    private function curve(): array
    {
        $last = count($this->seen) - 1;
        $out = [];
        for ($n = 0; $n < self::POINTS && $last > 0; $n++) {
            $s = $this->seen[(int) round(($n * $last) / (self::POINTS - 1))];
            $out[] = ['min' => round($s['t'] / 60, 1), 'v' => $s['v'], 'a' => $s['a']];
        }

        return $out;
    }

    /** @return list<array{min: float, v: float, a: float, c: float}> */
    private function slow(): array
    {
        $slow = array_values(array_filter($this->seen, fn(array $s): bool => $s['slow'] && $s['a'] > 0.0));
        $out = [];
        foreach ($slow as $s) {
            $min = ($s['t'] - $slow[0]['t']) / 60;
            if ($out === [] || (60 * ($min - $out[count($out) - 1]['min']) >= self::KEPT_S && count($out) < self::KEPT_MOST)) {
                $out[] = ['min' => round($min, 1), 'v' => $s['v'], 'a' => $s['a'], 'c' => $s['c']];
            }
        }

        return $out;
    }
}
