<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Rule;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Run\Broken;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\StopRule;
use Heartwood\Core\Run\Why;

/** A supply that gives more volts than it was set to, on two samples. */
final class SupplyVolts implements StopRule
{
    private int $inARow = 0;

    public function check(Moment $m): ?Broken
    {
        $v = $m->s->supplyV ?? $m->s->v;
        if (!$m->on || !$m->plan->charges() || $v === null) {
            $this->inARow = 0;

            return null;
        }
        $most = $m->order->volts + max(RunLimits::UNDER_SET_V, RunLimits::UNDER_SET_SHARE * $m->order->volts);
        $this->inARow = $v > $most + Tiny::SLACK ? $this->inARow + 1 : 0;

        return $this->inARow >= 2
            ? new Broken(Why::SupplyOverVoltage, sprintf('The supply gives %.2f V, %.2f V was ordered', $v, $m->order->volts))
            : null;
    }
}
