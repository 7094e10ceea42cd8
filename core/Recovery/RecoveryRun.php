<?php

declare(strict_types=1);

namespace Heartwood\Core\Recovery;

use Heartwood\Core\Pack\RestCurve;

/**
 * A recovery as a state machine, moved by samples and by nothing else: the same samples give the same run, so a run
 * is rebuilt from its journal. Every sample is checked against every rule that applies (handbook "Recovery of a
 * deep-discharged group"); the answer is what the supply must do. Between samples nothing is assumed but that current
 * flowed as before.
 */
final class RecoveryRun implements SupervisedRun
{
    private const MAX_ROUNDS = 5;

    /** A leak over C/200 seen while resting is not left to the hold test. */
    private const REST_LEAK = 1 / 200;

    /** No group moves this far from one sample to the next while the current stays as it was. */
    private const JUMP_V = 0.25;

    private Phase $phase;

    private ?string $rule = null;

    private string $text = '';

    private ?string $paused = null;

    private float $startedAt;

    private float $phaseAt;

    private float $lastT;

    private ?float $lastWhole = null;

    private ?float $lastA = null;

    private float $ah = 0.0;

    private float $phaseAh = 0.0;

    private float $phaseV;

    private float $capAh = INF;

    private int $round = 0;

    private ?float $ohm = null;

    /** What the whole of the slow answer came to at the end of a round: ohms from stop to rest. */
    private ?float $learntOhm = null;

    private float $stopV = 0.0;

    private float $stopA = 0.0;

    private ?float $lastV = null;

    private ?float $lastC = null;

    private float $warmest;

    /** @var list<array{float, float, float}> time, volts, amps: no longer back than the longest window */
    private array $window = [];

    /** @var list<array{at: float, text: string}> */
    private array $log = [];

    public function __construct(public readonly RecoveryPlan $plan, float $t = 0.0)
    {
        $this->startedAt = $this->phaseAt = $this->lastT = $t;
        $this->phaseV = $plan->startV;
        $this->warmest = $plan->ambientC;
        if (! $plan->isAllowed()) {
            $this->phase = Phase::Stopped;
            $this->rule = 'refused';
            $this->text = $plan->refusals[0];
        } elseif ($plan->startV < $plan->prechargeV) {
            $this->phase = Phase::Precharge;
        } else {
            $this->phase = Phase::Raise;
            $this->begin(Phase::Raise, $t, $plan->startV);
        }
    }

    /** Takes one sample and says what the supply must do until the next. */
    public function take(Sample $s): Order
    {
        if ($s->t < $this->lastT || $this->phase->isOver()) {
            return $this->order();
        }
        $gap = $s->t - $this->lastT;
        $this->lastT = $s->t;
        if ($this->paused !== null) {
            return $this->order();
        }
        $before = $this->lastV;
        if ($s->v !== null) {
            $this->lastV = $s->v;
        }
        if ($s->c !== null) {
            $this->lastC = $s->c;
            $this->warmest = max($this->warmest, $s->c);
        }
        if (! $s->isWhole()) {
            // A warm group must stop even when its volts are not read.
            if ($this->tooWarm($s->t) || $this->missing($s->t)) {
                return $this->order();
            }

            return $this->order();
        }
        $v = (float) $s->v;
        $a = (float) $s->a;
        if ($this->lastWhole !== null && $s->t - $this->lastWhole > RecoveryPlan::MISSING_S && $this->phase->drives()) {
            return $this->stop($s->t, 'missing', sprintf('no whole reading for %.0f min: nobody is watching', ($s->t - $this->lastWhole) / 60));
        }
        if ($before !== null && $this->lastA !== null && abs($v - $before) > self::JUMP_V && $gap <= 60 && abs($a - $this->lastA) <= 0.05 * max(0.1 * $this->plan->prechargeA, abs($a))) {
            return $this->stop($s->t, 'jump', sprintf('from %.2f V to %.2f V at one step: a lead is off, or the group has failed', $before, $v));
        }
        $put = ($this->lastA === null ? $a : ($a + $this->lastA) / 2) * $gap / 3600;
        $this->ah += $put;
        $this->phaseAh += $put;
        $this->lastA = $a;
        $this->lastWhole = $s->t;
        $this->window[] = [$s->t, $v, $a];
        while ($this->window !== [] && $s->t - $this->window[0][0] > 2 * RecoveryPlan::REST_S) {
            array_shift($this->window);
        }
        if (! $this->tooWarm($s->t)) {
            match ($this->phase) {
                Phase::Precharge => $this->precharge($s->t, $v, $a, $gap),
                Phase::Rest => $this->rest($s->t, $v),
                Phase::Raise => $this->raise($s->t, $v, $a, $gap),
                Phase::Settle => $this->settle($s->t, $v),
                default => null,
            };
        }

        return $this->order();
    }

    /** The clock went on and no sample came. */
    public function tick(float $t): Order
    {
        if (! $this->phase->isOver() && $this->paused === null) {
            $this->missing($t);
        }

        return $this->order();
    }

    /** The runner, the supply or the people were away: off, and resumable. Windows start anew. */
    public function pause(float $t, string $why): Order
    {
        if (! $this->phase->isOver() && $this->paused === null) {
            $this->paused = $why;
            $this->note($t, "paused: $why");
        }

        return Order::off();
    }

    public function resume(float $t): Order
    {
        if ($this->paused !== null) {
            $this->note($t, 'resumed');
            $this->paused = null;
            $this->lastWhole = $this->lastT = $t;
            $this->lastA = null;
            $this->window = [];
            if (! $this->phase->drives()) {
                // A rest that nobody watched proves nothing.
                $this->phaseAt = $t;
            }
        }

        return $this->order();
    }

    /** A person ends it. */
    public function abort(float $t, string $why): Order
    {
        return $this->phase->isOver() ? Order::off() : $this->stop($t, 'person', $why);
    }

    public function order(): Order
    {
        if ($this->paused !== null) {
            return Order::off();
        }

        return match ($this->phase) {
            Phase::Precharge => Order::drive($this->plan->supplyV, $this->plan->prechargeA),
            Phase::Raise => Order::drive($this->plan->supplyV, $this->raiseA()),
            default => Order::off(),
        };
    }

    public function phase(): Phase
    {
        return $this->phase;
    }

    /** A recovery sits on its one group from the start. */
    public function clipped(float $t): Order
    {
        return $this->order();
    }

    public function group(): int
    {
        return $this->plan->group;
    }

    public function isOver(): bool
    {
        return $this->phase->isOver();
    }

    public function isPaused(): bool
    {
        return $this->paused !== null;
    }

    public function stoppedBy(): ?string
    {
        return $this->rule;
    }

    public function ahIn(): float
    {
        return $this->ah;
    }

    public function warmestC(): float
    {
        return $this->warmest;
    }

    /** @return array<string, mixed> everything a screen shows, made here so that the screen decides nothing */
    public function view(): array
    {
        $since = $this->lastT - $this->phaseAt;
        $expected = $this->phase->drives() ? $this->plan->healthyV($this->phaseV, max(0.0, $this->phaseAh), $this->order()->amps, $this->ohm ?? 0.0) : null;

        return [
            'phase' => $this->phase->value, 'phase_word' => $this->phase->word(), 'paused' => $this->paused, 'over' => $this->phase->isOver(), 'stopped_by' => $this->rule, 'text' => $this->text,
            'since_s' => round($since, 1), 'run_s' => round($this->lastT - $this->startedAt, 1), 'v' => $this->lastV, 'a' => $this->lastA, 'c' => $this->lastC, 'ah_in' => round($this->ah, 4),
            'share' => round($this->ah / $this->plan->capacityAh, 4), 'expected_v' => $expected === null ? null : round($expected, 3), 'watch' => $this->watch(), 'log' => $this->log, 'group' => $this->plan->group, 'items' => [], 'remaining_h' => null,
            'order' => ['on' => $this->order()->on, 'volts' => round($this->order()->volts, 3), 'amps' => round($this->order()->amps, 3)],
        ];
    }

    private function precharge(float $t, float $v, float $a, float $gap): void
    {
        $plan = $this->plan;
        if ($this->falls($t, $v)) {
            return;
        }
        if ($v >= $plan->prechargeV) {
            $this->note($t, sprintf('pre-charge voltage %.2f V reached with %.3f Ah in', $plan->prechargeV, $this->ah));
            $this->begin(Phase::Rest, $t, $v);

            return;
        }
        // The next sample must not find more in than the limit allows.
        if ($this->ah + $a * $gap / 3600 > RecoveryPlan::SHARE_BEFORE_PRECHARGE * $plan->capacityAh) {
            $this->stop($t, 'too-much-charge', sprintf('%.1f %% of its capacity is in and it stands at %.2f V, under %.2f V', 100 * $this->ah / $plan->capacityAh, $v, $plan->prechargeV));

            return;
        }
        $span = RecoveryPlan::RISE_S * $plan->stretch();
        $then = $this->at($t - $span);
        if ($then !== null && $t - $this->phaseAt >= $span && $v - $then < RecoveryPlan::RISE_V) {
            $this->stop($t, 'hangs', sprintf('%s %.0f mV in %.0f min, a rise of 50 mV expected: it hangs', $v >= $then ? 'risen' : 'fallen', 1000 * abs($v - $then), $span / 60));
        }
    }

    private function rest(float $t, float $v): void
    {
        $since = $t - $this->phaseAt;
        if ($since < RecoveryPlan::REST_S) {
            return;
        }
        $before = $this->at($t - RecoveryPlan::REST_WINDOW_S);
        $earlier = $this->at($t - 2 * RecoveryPlan::REST_WINDOW_S);
        $fall = $before === null ? 0.0 : $before - $v;
        if ($fall > RecoveryPlan::REST_FALL_V) {
            $this->stop($t, 'falls-at-rest', sprintf('still falling at rest: %.0f mV in the last 15 min', 1000 * $fall));

            return;
        }
        // Relaxing slows down from one quarter of an hour to the next; a leak does not.
        $fallBefore = $before !== null && $earlier !== null ? $earlier - $before : 0.0;
        $leakA = $this->leakAt($v, $fall, RecoveryPlan::REST_WINDOW_S);
        if ($fall > max(0.003, 3 * $this->plan->resolutionV) && $fall > 0.65 * $fallBefore && $leakA > 0.7 * self::REST_LEAK * $this->plan->capacityAh) {
            $this->stop($t, 'leaks-at-rest', sprintf('falls %.0f mV in 15 min and does not slow down: a leak of about %.0f mA', 1000 * $fall, 1000 * $leakA));

            return;
        }
        $this->note($t, sprintf('holds at rest: %.0f mV in the last 15 min', 1000 * $fall));
        $this->begin(Phase::Raise, $t, $v);
    }

    private function raise(float $t, float $v, float $a, float $gap): void
    {
        $plan = $this->plan;
        if ($this->falls($t, $v)) {
            return;
        }
        if ($this->phaseAh + $a * $gap / 3600 > $this->capAh) {
            $this->stop($t, 'more-than-the-gap', sprintf('%.2f Ah are in, %.2f times what the gap to its neighbours holds', $this->phaseAh, RecoveryPlan::OVER_GAP));

            return;
        }
        // Resistance from the step itself, once it has had a minute; the charge put in since is taken off.
        $since = $t - $this->phaseAt;
        if ($this->ohm === null && $since >= 60 && $a > 0.2 * $this->raiseA()) {
            $curve = RestCurve::of($plan->chemistry);
            $soc = $curve->socAt($this->phaseV);
            $drift = $curve->volts(min(1.0, $soc + $this->phaseAh / $plan->capacityAh)) - $curve->volts($soc);
            $this->ohm = max(0.0, ($v - $this->phaseV - $drift) / $a);
        }
        if ($plan->toFull) {
            if ($v >= $plan->supplyV - 0.02 && $a <= $plan->capacityAh / 20 && $since > 60) {
                $this->note($t, 'full, by its tail current');
                $this->begin(Phase::Settle, $t, $v);
            }

            return;
        }
        if ($v >= min($plan->supplyV, $plan->targetV + $a * max($this->ohm ?? 0.0, $this->learntOhm ?? 0.0)) && ($this->ohm !== null || $v >= $plan->targetV + 0.08 || $since > 60)) {
            [$this->stopV, $this->stopA] = [$v, $a];
            $this->note($t, sprintf('target reached under current: %.3f V at %.2f A', $v, $a));
            $this->begin(Phase::Settle, $t, $v);
        }
    }

    private function settle(float $t, float $v): void
    {
        if ($t - $this->phaseAt < 60 * $this->plan->chemistry->restMinutes()) {
            return;
        }
        if ($this->plan->toFull || $v >= $this->plan->targetV - 0.008) {
            $this->note($t, sprintf('rests at %.3f V', $v));
            $this->begin(Phase::Hold, $t, $v);
            $this->text = sprintf('At its target after %.2f Ah. Not proved yet: the hold test decides.', $this->ah);

            return;
        }
        if (++$this->round >= self::MAX_ROUNDS) {
            $this->stop($t, 'will-not-stay', sprintf('falls back to %.3f V after every charge, %.3f V wanted', $v, $this->plan->targetV));

            return;
        }
        $this->learntOhm = $this->stopA > 0 ? max($this->learntOhm ?? 0.0, ($this->stopV - $v) / $this->stopA) : $this->learntOhm;
        $this->note($t, sprintf('rests at %.3f V, %.3f V wanted: a little more', $v, $this->plan->targetV));
        $this->begin(Phase::Raise, $t, $v);
    }

    private function begin(Phase $phase, float $t, float $v): void
    {
        $this->phase = $phase;
        $this->phaseAt = $t;
        $this->phaseV = $v;
        if ($phase === Phase::Raise) {
            $curve = RestCurve::of($this->plan->chemistry);
            $this->ohm = null;
            $gap = ($this->plan->toFull ? 1.0 : $curve->socAt($this->plan->targetV)) - $curve->socAt($v);
            // All rounds together may put in the gap of the first; a later round cannot start a new allowance.
            if ($this->capAh === INF) {
                $this->phaseAh = 0.0;
                $this->capAh = RecoveryPlan::OVER_GAP * max(0.01, $gap) * $this->plan->capacityAh;
            }
        }
        $this->window = [[$t, $v, $this->lastA ?? 0.0]];
    }

    private function raiseA(): float
    {
        return $this->plan->raiseA / ($this->round === 0 ? 1.0 : 2.0);
    }

    private function falls(float $t, float $v): bool
    {
        if ($this->plan->resolutionV > 0.002) {
            return false;
        }
        $high = $v;
        $now = $this->lastA ?? 0.0;
        foreach ($this->window as [$then, $volts, $amps]) {
            if ($then >= $t - RecoveryPlan::FALL_S && $then > $this->phaseAt && abs($amps - $now) <= 0.05 * max(1e-6, abs($now))) {
                $high = max($high, $volts);
            }
        }
        if ($high - $v > RecoveryPlan::FALL_V) {
            $this->stop($t, 'falls', sprintf('fallen %.0f mV within 3 min while current flows', 1000 * ($high - $v)));

            return true;
        }

        return false;
    }

    private function tooWarm(float $t): bool
    {
        if ($this->lastC === null || ($this->lastC <= $this->plan->ambientC + RecoveryPlan::OVER_AMBIENT_K && $this->lastC <= RecoveryPlan::TOO_HOT_C)) {
            return false;
        }
        $this->stop($t, 'warm', sprintf('%.1f degC, %.1f K over ambient', $this->lastC, $this->lastC - $this->plan->ambientC));

        return true;
    }

    private function missing(float $t): bool
    {
        $last = $this->lastWhole ?? $this->startedAt;
        if ($t - $last <= RecoveryPlan::MISSING_S) {
            return false;
        }
        if ($this->phase->drives()) {
            $this->stop($t, 'missing', sprintf('no whole reading for %.0f min: nobody is watching', ($t - $last) / 60));
        } else {
            $this->pause($t, 'no whole reading for 3 min');
        }

        return true;
    }

    private function stop(float $t, string $rule, string $text): Order
    {
        $this->phase = Phase::Stopped;
        $this->rule = $rule;
        $this->text = ucfirst($text).'.';
        $this->note($t, 'stopped: '.$text);

        return Order::off();
    }

    private function note(float $t, string $text): void
    {
        $this->log[] = ['at' => round($t, 1), 'text' => $text];
    }

    /** Volts at or just before a time, as far as the window reaches back. */
    private function at(float $t): ?float
    {
        $out = null;
        foreach ($this->window as [$then, $v]) {
            if ($then > $t + 1.0) {
                break;
            }
            $out = $v;
        }

        return $out;
    }

    private function leakAt(float $v, float $fall, float $seconds): float
    {
        $curve = RestCurve::of($this->plan->chemistry);

        return $fall / $curve->slope($curve->socAt($v)) * $this->plan->capacityAh / ($seconds / 3600);
    }

    /** @return list<array{rule: string, text: string, in_s: float|null}> the rules that apply now, and when each can decide */
    private function watch(): array
    {
        $plan = $this->plan;
        $t = $this->lastT;
        $out = [];
        if ($this->phase === Phase::Precharge) {
            $span = RecoveryPlan::RISE_S * $plan->stretch();
            $then = $this->at(max($t - $span, $this->phaseAt)) ?? $plan->startV;
            $out[] = ['rule' => 'hangs', 'text' => sprintf('risen %.0f of 50 mV', 1000 * (($this->lastV ?? $then) - $then)), 'in_s' => max(0.0, $this->phaseAt + $span - $t)];
            $left = RecoveryPlan::SHARE_BEFORE_PRECHARGE * $plan->capacityAh - $this->ah;
            $out[] = ['rule' => 'too-much-charge', 'text' => sprintf('%.1f of 8 %% of capacity in', 100 * $this->ah / $plan->capacityAh), 'in_s' => max(0.0, $left / $plan->prechargeA * 3600)];
            $early = 600 * $plan->stretch();
            if (($this->lastV ?? 0.0) < $plan->earlyV && $t - $this->phaseAt > $early) {
                $out[] = ['rule' => 'slow', 'text' => sprintf('slower than expected: %.1f V was due after %.0f min', $plan->earlyV, $early / 60), 'in_s' => null];
            }
        } elseif ($this->phase === Phase::Raise) {
            $out[] = ['rule' => 'more-than-the-gap', 'text' => sprintf('%.2f of %.2f Ah', $this->phaseAh, $this->capAh), 'in_s' => max(0.0, ($this->capAh - $this->phaseAh) / max(1e-6, $this->raiseA()) * 3600)];
        } elseif ($this->phase === Phase::Rest) {
            $out[] = ['rule' => 'falls-at-rest', 'text' => 'at most 30 mV in the last 15 min', 'in_s' => max(0.0, $this->phaseAt + RecoveryPlan::REST_S - $t)];
        } elseif ($this->phase === Phase::Settle) {
            $out[] = ['rule' => 'settle', 'text' => sprintf('then read again: %.3f V wanted', $plan->targetV), 'in_s' => max(0.0, $this->phaseAt + 60 * $plan->chemistry->restMinutes() - $t)];
        }
        if (! $this->phase->isOver()) {
            $out[] = ['rule' => 'warm', 'text' => sprintf('%.1f of 5 K over ambient', ($this->lastC ?? $plan->ambientC) - $plan->ambientC), 'in_s' => null];
            $out[] = ['rule' => 'missing', 'text' => 'a whole reading within 3 min', 'in_s' => max(0.0, ($this->lastWhole ?? $this->startedAt) + RecoveryPlan::MISSING_S - $t)];
        }

        return $out;
    }
}
