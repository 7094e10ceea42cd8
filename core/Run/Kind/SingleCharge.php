<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Kind;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\Phase;
use Heartwood\Core\Run\RestAfterCharge;
use Heartwood\Core\Run\RunKind;
use Heartwood\Core\Run\Step;
use Heartwood\Core\Run\Why;

/**
 * One group on one supply. Recovery: slowly to pre-charge, an hour's rest, up to the neighbours, settle, read again.
 * Balance: filled to full, to a rest voltage, or by what it lacks.
 */
final class SingleCharge extends RunKind
{
    private int $round = 0;

    private float $phaseV = 0.0;

    private float $rampAh = 0.0;

    private float $startAh = 0.0;

    private ?float $mostAh = null;

    private ?float $ohm = null;

    /** What the whole of the slow answer came to at the end of a round: ohms from stop to rest. */
    private ?float $learntOhm = null;

    private float $stopV = 0.0;

    private float $stopA = 0.0;

    /** @var list<array{float, float}> seconds of the rest, volts */
    private array $rest = [];

    public function first(): Phase
    {
        if ($this->plan->kind === 'balance') {
            return Phase::Fill;
        }

        return $this->plan->planV < $this->plan->pack->profile()->prechargeV ? Phase::Precharge : Phase::Raise;
    }

    public function began(Phase $phase, float $v, float $ah): void
    {
        $this->phaseV = $v;
        $this->rest = [];
        $this->startAh = $ah;
        if ($phase === Phase::Raise || $phase === Phase::Fill) {
            $this->ohm = null;
            // All rounds together may put in the gap of the first; a later round cannot start a new allowance.
            $this->mostAh ??= $this->gapAh($v);
        }
    }

    public function mostAh(): ?float
    {
        return $this->mostAh;
    }

    public function start(): array
    {
        return ['v' => $this->phaseV, 'ah' => $this->startAh];
    }

    public function learntOhm(): ?float
    {
        return $this->ohm === null && $this->learntOhm === null ? null : max($this->ohm ?? 0.0, $this->learntOhm ?? 0.0);
    }

    public function amps(Phase $phase): float
    {
        return parent::amps($phase) / ($phase !== Phase::Precharge && $this->round > 0 ? 2.0 : 1.0);
    }

    public function step(Moment $m, Phase $phase, float $since): Step
    {
        $v = (float) $m->s->v;

        return match ($phase) {
            Phase::Precharge => $this->precharge($m, $v),
            Phase::Rest => $this->rest($v, $since),
            Phase::Raise, Phase::Fill => $this->raise($m, $v, $since),
            Phase::Settle => $this->settle($v, $since),
            default => Step::stay(),
        };
    }

    private function precharge(Moment $m, float $v): Step
    {
        $to = $this->plan->pack->profile()->prechargeV;

        return $v >= $to
            ? Step::begin(Phase::Rest, sprintf('pre-charge voltage %.2f V reached with %.3f Ah in', $to, $m->ah))
            : Step::stay();
    }

    private function rest(float $v, float $since): Step
    {
        $this->rest[] = [$since, $v];
        if ($since < RunLimits::REST_S) {
            return Step::stay();
        }
        $falls = RestAfterCharge::falls($this->rest, $this->plan->pack->chemistry, $this->plan->capacityAh(), $this->plan->resolutionV);
        if ($falls !== null) {
            return Step::end(Why::RestFalls, $falls);
        }

        return Step::begin(Phase::Raise, sprintf('holds at rest: %.0f mV in the last 15 min', 1000 * RestAfterCharge::fall($this->rest)));
    }

    private function raise(Moment $m, float $v, float $since): Step
    {
        $a = $m->amps();
        $this->rampAh = $m->ah - $this->startAh;
        if ($this->plan->targetAh !== null && $m->gapAh + $m->nextAh / 2 >= $this->plan->targetAh) {
            return Step::end(Why::TargetReached, sprintf('%.2f Ah are in, as planned', $m->gapAh));
        }
        $c = $this->plan->capacityAh();
        $tail = min(
            RunLimits::TAIL_C * $c,
            RunLimits::TAIL_SHARE * abs($this->plan->amps($this->plan->kind === 'balance' ? Phase::Fill : Phase::Raise)),
        );
        // A coarse ammeter cannot show a current under its last digit: the voltage held is all there is to see.
        $isTail =
            $v >= $this->plan->volts() - RunLimits::AT_VOLTAGE_V - Tiny::SLACK &&
            $a <= $tail + Tiny::SLACK &&
            $since > RunLimits::SETTLED_S;
        if ($this->plan->isToFull() || $this->plan->targetAh !== null) {
            if (!$isTail) {
                return Step::stay();
            }

            return $this->plan->kind === 'balance'
                ? Step::end(Why::TargetReached, sprintf('Full: %.3f V held to %.2f A', $v, $a))
                : Step::begin(Phase::Settle, 'full, by its tail current');
        }
        $this->learn($v, $a, $since);
        $target = (float) $this->plan->targetV;
        $ohm = max($this->ohm ?? 0.0, $this->learntOhm ?? 0.0);
        $known = $this->ohm !== null || $v >= $target + RunLimits::OHM_KNOWN_V || $since > RunLimits::OHM_S;
        if (($known && $v >= $target + $a * $ohm) || $isTail) {
            [$this->stopV, $this->stopA] = [$v, $a];
            $this->ohm ??= $a > 0 && $this->learntOhm === null && $since < RunLimits::OHM_S ? max(0.0, ($v - $this->phaseV) / $a) : null;

            return Step::begin(Phase::Settle, sprintf('target reached under current: %.3f V at %.2f A', $v, $a));
        }

        return Step::stay();
    }

    /** Resistance from the step itself, once it has had a minute; the charge put in since is taken off. */
    private function learn(float $v, float $a, float $since): void
    {
        if ($this->ohm !== null || $since < RunLimits::OHM_S || $a < RunLimits::OHM_SHARE * abs($this->amps(Phase::Raise))) {
            return;
        }
        $curve = RestCurve::of($this->plan->pack->chemistry);
        if ($this->phaseV < $curve->emptyV()) {
            return; // past empty nobody knows how much of a rise is charge: the rest after this round will tell
        }
        $soc = $curve->socAt($this->phaseV);
        $drift = $curve->volts(min(1.0, $soc + $this->rampAh / $this->plan->capacityAh())) - $curve->volts($soc);
        $this->ohm = max(0.0, ($v - $this->phaseV - $drift) / $a);
    }

    private function settle(float $v, float $since): Step
    {
        if ($since < (float) $this->lasts(Phase::Settle)) {
            return Step::stay();
        }
        if ($this->plan->isToFull() || $v >= (float) $this->plan->targetV - RunLimits::AT_TARGET_V) {
            return Step::end(
                Why::TargetReached,
                sprintf('Rests at %.3f V.%s', $v, $this->plan->kind === 'recovery' ? ' Not proved yet: the hold test decides' : ''),
            );
        }
        if (++$this->round >= RunLimits::ROUNDS) {
            return Step::end(Why::RestFalls, sprintf('Falls back to %.3f V after every charge, %.3f V wanted', $v, $this->plan->targetV));
        }
        $this->learntOhm = $this->stopA > 0 ? max($this->learntOhm ?? 0.0, ($this->stopV - $v) / $this->stopA) : $this->learntOhm;

        return Step::begin(
            $this->plan->kind === 'balance' ? Phase::Fill : Phase::Raise,
            sprintf('rests at %.3f V, %.3f V wanted: a little more', $v, $this->plan->targetV),
        );
    }

    /** What may go in from rest at these volts; null where voltage says nothing of charge. */
    private function gapAh(float $v): ?float
    {
        $curve = RestCurve::of($this->plan->pack->chemistry);
        $c = $this->plan->capacityAh();
        if ($this->plan->targetAh !== null) {
            return RunLimits::OVER_GAP * $this->plan->targetAh + RunLimits::OVER_GAP_H * abs($this->plan->amps(Phase::Fill));
        }
        if ($curve->onPlateau($v)) {
            return null;
        }
        $to = $this->plan->isToFull() ? 1.0 : $curve->socAt((float) $this->plan->targetV);

        return RunLimits::OVER_GAP * max(RunLimits::GAP_LEAST, $to - $curve->socAt($v)) * $c;
    }
}
