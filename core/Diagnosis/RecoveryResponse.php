<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;

/** How a low group answered a small current (handbook "Recovery of a deep-discharged group"). */
final class RecoveryResponse
{
    /** @return 'rises'|'hangs'|'falls'|null null when too little was seen */
    public static function judge(Fields $test, PackSpec $pack): ?string
    {
        $samples = array_values(array_filter($test->objects('samples'), fn (Fields $s): bool => $s->float('min') !== null && $s->float('v') !== null));
        if (count($samples) < 2) {
            return null;
        }
        $first = $samples[0];
        $last = $samples[count($samples) - 1];
        $minutes = (float) $last->float('min') - (float) $first->float('min');
        $rise = (float) $last->float('v') - (float) $first->float('v');
        if ($minutes < 2) {
            return null;
        }
        foreach ($samples as $i => $s) {
            foreach (array_slice($samples, $i + 1) as $later) {
                if ((float) $later->float('min') - (float) $s->float('min') <= 3.0 && (float) $s->float('v') - (float) $later->float('v') > 0.020) {
                    return 'falls';
                }
            }
        }
        if ((float) $last->float('v') >= $pack->profile()->prechargeV || $rise >= 0.05 * max(1.0, $minutes / 10)) {
            return 'rises';
        }

        return $minutes >= 10 ? 'hangs' : null;
    }
}
