<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Twin\Twin;

/**
 * Between which volts a sound group of this capacity would stand with this much charge in, under this current. Capacity
 * from worn to generous, resistance from new to old, and past empty the steepness that cells have been seen to have.
 */
final class HealthyBand
{
    /** Volts per unit of charge past empty: the range over makers of the steep end of discharge curves. */
    private const STEEPNESS = [15.0, 70.0];

    /** Capacity against the rated one: the 60 % line under which a group is scrapped, and a generous new one. */
    private const CAPACITY = [1.1, 0.6];

    /** Resistance against the rated one: new, and with all of the slow answer at the age of replacement. */
    private const RESISTANCE = [0.5, 6.0];

    /**
     * @param  float  $fromV  at rest, where this charge began
     * @param  float  $ah  put in since
     * @return array{float, float}|null volts; null where the start says nothing of charge
     */
    public static function of(RunPlan $plan, float $fromV, float $ah, float $amps): ?array
    {
        $curve = RestCurve::of($plan->pack->chemistry);
        if ($curve->onPlateau($fromV)) {
            return null;
        }
        $out = [];
        foreach ([0, 1] as $i) {
            $start = $fromV < $curve->emptyV() ? ($fromV - $curve->emptyV()) / self::STEEPNESS[$i] : $curve->socAt($fromV);
            $x = $start + $ah / ($plan->capacityAh() * self::CAPACITY[$i]);
            $rest = $x < 0 ? $curve->emptyV() + $x * self::STEEPNESS[$i] : Twin::volts(Twin::table($curve), min(1.0, $x));
            $out[] = min($plan->volts(), $rest + $amps * self::RESISTANCE[$i] * $plan->ohm());
        }

        return [min($out), max($out)];
    }
}
