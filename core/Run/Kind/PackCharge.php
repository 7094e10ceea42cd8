<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Kind;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\Phase;
use Heartwood\Core\Run\RunKind;
use Heartwood\Core\Run\Step;
use Heartwood\Core\Run\Why;

/** A whole pack charged through its board and watched: to its tail, or to a rest voltage that was asked for. */
final class PackCharge extends RunKind
{
    public function first(): Phase
    {
        return Phase::Charge;
    }

    public function step(Moment $m, Phase $phase, float $since): Step
    {
        [$v, $a] = [(float) $m->s->v, (float) $m->s->a];
        if ($this->plan->targetV !== null && !$this->plan->isToFull() && $v >= $this->plan->targetV + $a * $this->plan->ohm()) {
            return Step::end(Why::TargetReached, sprintf('%.2f V reached', $v));
        }
        $tail = min(RunLimits::TAIL_C * $this->plan->capacityAh(), RunLimits::TAIL_SHARE * abs($this->plan->amps(Phase::Charge)));
        if (
            $since > RunLimits::SETTLED_S &&
            $v >= $this->plan->volts() - $this->plan->n() * RunLimits::AT_VOLTAGE_V &&
            $a <= $tail + Tiny::SLACK
        ) {
            return Step::end(Why::TargetReached, sprintf('Full: %.2f V held to %.2f A', $v, $a));
        }

        return Step::stay();
    }
}
