<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;

/** Whether what a supply or load shows as set is what it was ordered: within one step, and hardly over. */
final class SetPoints
{
    /** @return string|null in what they differ, in words; null when they do not, or cannot be read */
    public static function differ(RunPlan $plan, Order $order, Sample $s): ?string
    {
        if ($s->setV !== null) {
            // A load's own cut-off is dangerous when low, a supply's limit when high.
            $over = $plan->charges() ? $s->setV - $order->volts : $order->volts - $s->setV;
            if (
                $over > RunLimits::SET_OVER_V + Tiny::SLACK ||
                -$over > max(RunLimits::SET_STEP_V, RunLimits::SET_STEP_V_SHARE * $order->volts) + Tiny::SLACK
            ) {
                return sprintf('%.3f V are set, %.3f V were ordered', $s->setV, $order->volts);
            }
        }
        if ($s->setA !== null) {
            $over = ($s->setA - $order->amps) * $plan->sign();
            $set = abs($order->amps);
            if (
                $over > RunLimits::SET_OVER_A * $set + Tiny::SLACK ||
                -$over > max(RunLimits::SET_STEP_A, RunLimits::SET_STEP_SHARE * $set, $plan->resolutionA) + Tiny::SLACK
            ) {
                return sprintf('%.3f A are set, %.3f A were ordered', $s->setA, $order->amps);
            }
        }

        return null;
    }
}
