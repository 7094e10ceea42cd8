<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Rule;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Run\Broken;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\Phase;
use Heartwood\Core\Run\StopRule;
use Heartwood\Core\Run\Why;

/** More current than was ordered: much more at once, somewhat more on two samples. */
final class OverCurrent implements StopRule
{
    private int $inARow = 0;

    public function check(Moment $m): ?Broken
    {
        $a = $m->along();
        if (!$m->on || $a === null) {
            // A reading without amps says nothing of them, for or against.
            $this->inARow = $m->on ? $this->inARow : 0;

            return null;
        }
        $a -= $m->slackA();
        $set = abs($m->order->amps);
        $most = $set + max(RunLimits::OVER_SHARE * $set, RunLimits::OVER_A);
        if ($m->working === Phase::Precharge) {
            $most = max($set, min($most, RunLimits::SLOW_MOST_C * $m->plan->capacityAh()));
        }
        $this->inARow = $a > $most + Tiny::SLACK ? $this->inARow + 1 : 0;
        $atOnce = $a > (1 + RunLimits::OVER_AT_ONCE_SHARE) * $set + Tiny::SLACK && $a > $set + RunLimits::OVER_AT_ONCE_A + Tiny::SLACK;

        return $atOnce || $this->inARow >= 2
            ? new Broken(Why::SupplyOverCurrent, sprintf('%.2f A flow, %.2f A were ordered', abs((float) $m->s->a), $set))
            : null;
    }
}
