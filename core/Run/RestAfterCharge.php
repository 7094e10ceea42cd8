<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;

/** An hour of rest after pre-charge: does the group hold (handbook "Recovery of a deep-discharged group")? */
final class RestAfterCharge
{
    /** A reading this little later than a quarter of an hour ago still counts as of then. */
    private const EARLY_S = 1.0;

    /**
     * @param  list<array{float, float}>  $rest  seconds since the current stopped, volts; by time
     * @param  float  $capacityAh  of the group
     * @param  float  $resolutionV  of the meter
     * @return string|null in words why it does not hold; null when it does
     */
    public static function falls(array $rest, Chemistry $chemistry, float $capacityAh, float $resolutionV): ?string
    {
        [$since, $v] = $rest[count($rest) - 1] ?? [0.0, 0.0];
        $before = self::at($rest, $since - RunLimits::REST_WINDOW_S);
        $earlier = self::at($rest, $since - 2 * RunLimits::REST_WINDOW_S);
        $fall = self::fall($rest);
        if ($fall > RunLimits::REST_FALL_V) {
            return sprintf('Still falling at rest: %.0f mV in the last 15 min', 1000 * $fall);
        }
        // Relaxing slows down from one quarter of an hour to the next; a leak does not.
        $fallBefore = $before !== null && $earlier !== null ? $earlier - $before : 0.0;
        $curve = RestCurve::of($chemistry);
        $leakA = (($fall / $curve->slope($curve->socAt($v))) * $capacityAh) / (RunLimits::REST_WINDOW_S / 3600);

        return $fall > RunLimits::FALL_COUNTS * $resolutionV &&
            $fall > RunLimits::REST_SLOWS * $fallBefore &&
            $leakA > RunLimits::REST_LEAK_SHARE * RunLimits::REST_LEAK_C * $capacityAh
            ? sprintf('Falls %.0f mV in 15 min and does not slow down: a leak of about %.0f mA', 1000 * $fall, 1000 * $leakA)
            : null;
    }

    /** @param  list<array{float, float}>  $rest  volts lost in the last quarter of an hour */
    public static function fall(array $rest): float
    {
        [$since, $v] = $rest[count($rest) - 1] ?? [0.0, 0.0];
        $before = self::at($rest, $since - RunLimits::REST_WINDOW_S);

        return $before === null ? 0.0 : $before - $v;
    }

    /** @param  list<array{float, float}>  $rest */
    private static function at(array $rest, float $seconds): ?float
    {
        $out = null;
        foreach ($rest as [$t, $v]) {
            if ($t > $seconds + self::EARLY_S) {
                break;
            }
            $out = $v;
        }

        return $out;
    }
}
