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

/** A group or a whole pack discharged and watched, down to the load's cut-off. */
final class Discharge extends RunKind
{
    private ?float $lastDrivenV = null;

    public function first(): Phase
    {
        return Phase::Discharge;
    }

    public function step(Moment $m, Phase $phase, float $since): Step
    {
        $v = (float) $m->s->v;
        $end = max($this->plan->volts(), $this->plan->targetV ?? 0.0);
        if ($v <= $end + Tiny::SLACK) {
            return Step::end(Why::TargetReached, sprintf('%.2f V reached under load, %.2f Ah taken', $v, abs($m->ah)));
        }
        $flows = (float) $m->along() >= RunLimits::NO_CURRENT_SHARE * abs($m->order->amps);
        // The load cuts by itself, and the pack springs back before it is read again.
        $margin = max($this->plan->n() * RunLimits::UNDER_SET_V, RunLimits::UNDER_SET_SHARE * $end);
        if (!$flows && $this->lastDrivenV !== null && $this->lastDrivenV <= $end + $margin) {
            return Step::end(Why::TargetReached, sprintf('The load has cut at %.2f V, %.2f Ah taken', $this->lastDrivenV, abs($m->ah)));
        }
        $this->lastDrivenV = $flows ? $v : $this->lastDrivenV;

        return Step::stay();
    }
}
