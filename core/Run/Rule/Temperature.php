<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Rule;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Run\Broken;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\StopRule;
use Heartwood\Core\Run\Why;

/** Too cold, too hot, too far over the air around it, or warming too quickly: by the kind of run. */
final class Temperature implements StopRule
{
    public function check(Moment $m): ?Broken
    {
        $c = $m->s->c;
        if ($c === null) {
            return null;
        }
        $charges = $m->plan->charges();
        $single = $m->plan->isSingle() || $m->plan->kind === 'bypass';
        $coldest = $charges ? RunLimits::CHARGE_COLDEST_C : RunLimits::DISCHARGE_COLDEST_C;
        $hottest = $single ? RunLimits::SINGLE_HOTTEST_C : ($charges ? RunLimits::CHARGE_HOTTEST_C : RunLimits::DISCHARGE_HOTTEST_C);
        $over = $single
            ? RunLimits::SINGLE_OVER_AMBIENT_K
            : ($charges
                ? RunLimits::CHARGE_OVER_AMBIENT_K
                : RunLimits::DISCHARGE_OVER_AMBIENT_K);
        if ($c > $hottest) {
            return new Broken(Why::TemperatureHot, sprintf('%.1f degC, over %.0f degC', $c, $hottest));
        }
        if ($c < $coldest) {
            return new Broken(
                Why::TemperatureCold,
                sprintf('%.1f degC, under %.0f degC: no %s', $c, $coldest, $charges ? 'charge' : 'discharge'),
            );
        }
        if ($c - $m->ambientC > $over + Tiny::SLACK) {
            return new Broken(
                Why::TemperatureRises,
                sprintf('%.1f degC, %.1f K over the air around it, %.0f K allowed', $c, $c - $m->ambientC, $over),
            );
        }
        if ($single && $m->on) {
            $rise = $m->history->warming($c, RunLimits::RISES_S);
            if ($rise > RunLimits::RISES_K + Tiny::SLACK) {
                return new Broken(
                    Why::TemperatureRises,
                    sprintf('risen %.1f K within 10 min of current, %.0f K allowed', $rise, RunLimits::RISES_K),
                );
            }
        }

        return null;
    }
}
