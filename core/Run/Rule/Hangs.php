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

/** Under pre-charge: no rise to speak of in ten minutes of current, or more taken in than such a group can hold. */
final class Hangs implements StopRule
{
    public function check(Moment $m): ?Broken
    {
        $v = $m->s->v;
        if (!$m->on || $m->working !== Phase::Precharge || $v === null || $v >= $m->plan->pack->profile()->prechargeV) {
            return null;
        }
        $span = self::span($m->plan->capacityAh(), abs($m->plan->amps(Phase::Precharge)));
        $then = $m->history->voltsBefore($span);
        if ($then !== null) {
            $rise = $v - (float) $m->s->a * $m->plan->ohm() - $then;
            if ($rise < RunLimits::RISE_V - Tiny::SLACK) {
                return new Broken(
                    Why::VoltageHangs,
                    sprintf(
                        '%s %.0f mV in %.0f min of current, %.0f mV expected: it hangs',
                        $rise >= 0 ? 'Risen' : 'Fallen',
                        1000 * abs($rise),
                        $span / 60,
                        1000 * RunLimits::RISE_V,
                    ),
                );
            }
        }

        return null;
    }

    /** Seconds of current in which the rise must be seen: the handbook's hold for C/20 and stretch as the current shrinks. */
    public static function span(float $capacityAh, float $amps): float
    {
        return (RunLimits::RISE_S * RunLimits::SLOW_C * $capacityAh) / max(Tiny::SUM, $amps);
    }
}
