<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Rule;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Run\Broken;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\StopRule;
use Heartwood\Core\Run\Why;

/** The output is on and nothing flows, though the supply has not reached its voltage: a wire, a fuse, a clip. */
final class NoCurrent implements StopRule
{
    private ?float $since = null;

    public function check(Moment $m): ?Broken
    {
        $a = $m->along();
        if (!$m->on || $a === null) {
            if (!$m->on) {
                $this->since = null;
            }

            return null;
        }
        $set = abs($m->order->amps);
        $v = $m->s->supplyV ?? $m->s->v;
        $margin = max(RunLimits::UNDER_SET_V, RunLimits::UNDER_SET_SHARE * $m->order->volts);
        $short =
            $v !== null &&
            ($m->plan->charges() ? $v < $m->order->volts - $margin - Tiny::SLACK : $v > $m->order->volts + $margin + Tiny::SLACK);
        if (!$short || $m->isBlind() || $a >= max(RunLimits::NO_CURRENT_SHARE * $set, $m->plan->resolutionA / 2)) {
            $this->since = null;

            return null;
        }
        $this->since ??= $m->s->t;

        return $m->s->t - $this->since >= RunLimits::NO_CURRENT_S - Tiny::SLACK
            ? new Broken(
                Why::SupplyNoCurrent,
                sprintf(
                    '%.3f A of %.3f A for 2 min, with %.2f V where %.2f V are set: a lead, a fuse or a clip',
                    $a,
                    $set,
                    $v,
                    $m->order->volts,
                ),
            )
            : null;
    }
}
