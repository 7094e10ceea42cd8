<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Rule;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Run\Broken;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\StopRule;
use Heartwood\Core\Run\Why;

/** Volts that fall while a steady current flows in: copper, a short, an end. */
final class Falls implements StopRule
{
    public function check(Moment $m): ?Broken
    {
        $a = $m->s->a;
        if (!$m->on || $a === null || $m->plan->kind === 'charge' || $m->plan->kind === 'discharge') {
            return null;
        }
        $limit = max(RunLimits::FALL_V, RunLimits::FALL_COUNTS * $m->plan->resolutionV);
        $steady = max(RunLimits::CONSTANT_SHARE * abs($a), RunLimits::CONSTANT_COUNTS * $m->plan->resolutionA, RunLimits::CONSTANT_A);
        $watched = $m->plan->kind === 'bypass' ? array_keys($m->s->groups ?? []) : [null];
        foreach ($watched as $k) {
            $fall = $m->history->fall($m->s, RunLimits::FALL_S, $steady, $k);
            if ($fall > $limit + Tiny::SLACK) {
                return new Broken(
                    Why::VoltageFalls,
                    sprintf(
                        '%s fallen %.0f mV within 3 min of current',
                        $k === null ? 'Volts have' : 'Group ' . ($k + 1) . ' has',
                        1000 * $fall,
                    ),
                );
            }
        }

        return null;
    }
}
