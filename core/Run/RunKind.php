<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Limits\RunLimits;

/** What differs from one kind of run to another: its phases, its currents, what it comes to. */
abstract class RunKind
{
    final public function __construct(protected readonly RunPlan $plan) {}

    public static function of(RunPlan $plan): self
    {
        return match ($plan->kind) {
            'recovery', 'balance' => new Kind\SingleCharge($plan),
            'bypass' => new Kind\Bypass($plan),
            'charge' => new Kind\PackCharge($plan),
            'discharge' => new Kind\Discharge($plan),
        };
    }

    /** The phase that drives first. */
    abstract public function first(): Phase;

    /**
     * A sample of a phase, with its output as ordered and no rule broken.
     *
     * @param  float  $since  seconds in this phase
     */
    abstract public function step(Moment $m, Phase $phase, float $since): Step;

    /** A phase begins at these volts, with so much put in so far. */
    public function began(Phase $phase, float $v, float $ah): void {}

    /** Whether charge put in counts towards the gap from now on; called where a phase that drives begins. */
    public function mostAh(): ?float
    {
        return null;
    }

    /**
     * @return array{v: float, ah: float}|null where the phase that drives began: volts at rest, Ah in by then; null where it is not
     * kept
     */
    public function start(): ?array
    {
        return null;
    }

    /** Ohms that the group has shown so far, slow answer included; null when not known yet. */
    public function learntOhm(): ?float
    {
        return null;
    }

    /** Amps of a phase, signed. */
    public function amps(Phase $phase): float
    {
        return $this->plan->amps($phase);
    }

    /** Seconds that a phase with the output off lasts; null for phases that end otherwise. */
    public function lasts(Phase $phase): ?float
    {
        return match ($phase) {
            Phase::Rest => RunLimits::REST_S,
            Phase::Settle => 60 * $this->plan->pack->chemistry->restMinutes(),
            default => null,
        };
    }
}
