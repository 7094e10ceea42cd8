<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;

/** How a low group answered a small current (handbook "Recovery of a deep-discharged group"). */
final class RecoveryResponse
{
    /** Minutes of current under which nothing but a fall is told. */
    private const LEAST_MIN = 2.0;

    /** @return 'rises'|'hangs'|'falls'|null null when too little was seen */
    public static function judge(Fields $test, PackSpec $pack): ?string
    {
        $samples = array_values(array_filter($test->objects('samples'), fn (Fields $s): bool => $s->float('min') !== null && $s->float('v') !== null && ($s->float('a') === null || $s->float('a') > 0.0)));
        if (count($samples) < 2) {
            return null;
        }
        $first = $samples[0];
        $last = $samples[count($samples) - 1];
        $minutes = (float) $last->float('min') - (float) $first->float('min');
        $rise = (float) $last->float('v') - (float) $first->float('v');
        foreach ($samples as $i => $s) {
            foreach (array_slice($samples, $i + 1) as $later) {
                if ((float) $later->float('min') - (float) $s->float('min') <= RunLimits::FALL_S / 60 && (float) $s->float('v') - (float) $later->float('v') > RunLimits::FALL_V && self::steady($s, $later)) {
                    return 'falls';
                }
            }
        }
        if ($minutes < self::LEAST_MIN) {
            return null;
        }
        if ((float) $last->float('v') >= $pack->profile()->prechargeV || $rise >= RunLimits::RISE_V * max(1.0, 60 * $minutes / RunLimits::RISE_S)) {
            return 'rises';
        }

        return 60 * $minutes >= RunLimits::RISE_S ? 'hangs' : null;
    }

    /** Volts that fall because the current was lowered say nothing. */
    private static function steady(Fields $a, Fields $b): bool
    {
        [$x, $y] = [$a->float('a'), $b->float('a')];

        return $x === null || $y === null || abs($x - $y) <= max(RunLimits::CONSTANT_SHARE * abs($y), RunLimits::CONSTANT_A);
    }
}
