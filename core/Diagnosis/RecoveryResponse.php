<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Run\RestAfterCharge;

/** How a low group answered a small current (handbook "Recovery of a deep-discharged group"). */
final class RecoveryResponse
{
    /** Minutes of current under which nothing but a fall is told. */
    private const LEAST_MIN = 2.0;

    /** Steps of a meter that nobody described, volts (assumed). */
    private const FINE_V = 0.001;

    /** Share of the current under which none flows any more: the group rests. */
    private const RESTS_SHARE = 0.1;

    /** @return 'rises'|'hangs'|'falls'|'sinks'|null null when too little was seen; sinks: rose, and still falls after an hour of rest */
    public static function judge(Fields $test, PackSpec $pack): ?string
    {
        $all = array_values(
            array_filter($test->objects('samples'), fn(Fields $s): bool => $s->float('min') !== null && $s->float('v') !== null),
        );
        $rests = self::RESTS_SHARE * max([0.0, ...array_map(fn(Fields $s): float => $s->float('a') ?? 0.0, $all)]);
        $samples = array_values(array_filter($all, fn(Fields $s): bool => $s->float('a') === null || $s->float('a') > $rests));
        if (count($samples) < 2) {
            return null;
        }
        $first = $samples[0];
        $last = $samples[count($samples) - 1];
        $minutes = (float) $last->float('min') - (float) $first->float('min');
        $rise = (float) $last->float('v') - (float) $first->float('v');
        foreach ($samples as $i => $s) {
            foreach (array_slice($samples, $i + 1) as $later) {
                if (
                    (float) $later->float('min') - (float) $s->float('min') <= RunLimits::FALL_S / 60 &&
                    (float) $s->float('v') - (float) $later->float('v') > RunLimits::FALL_V &&
                    self::steady($s, $later)
                ) {
                    return 'falls';
                }
            }
        }
        if ($minutes < self::LEAST_MIN) {
            return null;
        }
        if (
            (float) $last->float('v') >= $pack->profile()->prechargeV ||
            $rise >= RunLimits::RISE_V * max(1.0, (60 * $minutes) / RunLimits::RISE_S)
        ) {
            return self::sinks($all, (float) $last->float('min'), $pack) ? 'sinks' : 'rises';
        }

        return 60 * $minutes >= RunLimits::RISE_S ? 'hangs' : null;
    }

    /** @param  list<Fields>  $samples  those after the last with current are the rest */
    private static function sinks(array $samples, float $fromMin, PackSpec $pack): bool
    {
        $rest = array_map(
            fn(Fields $s): array => [60 * ((float) $s->float('min') - $fromMin), (float) $s->float('v')],
            array_values(array_filter($samples, fn(Fields $s): bool => $s->float('min') > $fromMin)),
        );

        return $rest !== [] &&
            $rest[count($rest) - 1][0] >= RunLimits::REST_S - RunLimits::MISSING_S &&
            RestAfterCharge::falls($rest, $pack->chemistry, $pack->groupCapacityAh() ?? PackSpec::UNKNOWN_AH, self::FINE_V) !== null;
    }

    /** Volts that fall because the current was lowered say nothing. */
    private static function steady(Fields $a, Fields $b): bool
    {
        [$x, $y] = [$a->float('a'), $b->float('a')];

        return $x === null || $y === null || abs($x - $y) <= max(RunLimits::CONSTANT_SHARE * abs($y), RunLimits::CONSTANT_A);
    }
}
