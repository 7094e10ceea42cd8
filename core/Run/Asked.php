<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Limits\RunLimits;

/**
 * When a person who reads by hand is asked for the next reading: a quarter of the time to full at the rise of the last
 * minutes while a rule needs it; seldom where nothing can go wrong sooner.
 */
final class Asked
{
    /** Times the least interval at which a hand is asked before anything is known. */
    private const BEFORE = 4;

    /** Volts a second that are none. */
    private const STILL = 1e-7;

    public static function seconds(RunPlan $plan, Phase $phase, History $history, ?float $v, float $since): float
    {
        if ($phase === Phase::Prove) {
            return RunLimits::ASK_LEAST_S;
        }
        if ($phase === Phase::Rest || $phase === Phase::Settle) {
            // Never later than the end of what is waited for, nor past the beginning of the window that is judged.
            $marks =
                $phase === Phase::Rest
                    ? [RunLimits::REST_S - 2 * RunLimits::REST_WINDOW_S, RunLimits::REST_S - RunLimits::REST_WINDOW_S, RunLimits::REST_S]
                    : [60 * $plan->pack->chemistry->restMinutes()];
            $next = array_filter(array_map(fn(float $m): float => $m - $since, $marks), fn(float $s): bool => $s > 0);

            return max(RunLimits::ASK_LEAST_S, min([RunLimits::ASK_REST_S, ...array_values($next)]));
        }
        $before = $history->voltsBefore(RunLimits::FALL_S);
        if ($before === null || $v === null) {
            return self::BEFORE * RunLimits::ASK_LEAST_S;
        }
        $rise = (($v - $before) / RunLimits::FALL_S) * ($plan->charges() ? 1 : -1);
        $toEnd = ($plan->charges() ? $plan->volts() - $v : $v - $plan->volts()) / max(self::STILL, $rise);

        return min(RunLimits::ASK_MOST_S, max(RunLimits::ASK_LEAST_S, RunLimits::ASK_SHARE * $toEnd));
    }
}
