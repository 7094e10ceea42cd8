<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Pack\RestCurve;

/** Where a run ought to stand by now, and where it is to come to: what it is drawn against. */
final class Planned
{
    /**
     * Amp-hours moved since the run began, as positive numbers.
     *
     * @return array{to_ah: float|null, by_now_ah: float, ah: float, behind_min: float}|null null while nothing is driven
     */
    public static function of(RunPlan $plan, RunFacts $f): ?array
    {
        if (!$f->phase->drives()) {
            return null;
        }
        $amps = abs($plan->amps($f->phase));
        if ($amps <= 0.0) {
            return null;
        }
        $to = self::whole($plan);
        $began = abs($f->start['ah'] ?? 0.0);
        $now = $began + ($amps * ($f->lastT - $f->phaseAt)) / 3600;
        $now = $to === null ? $now : min($to, $now);
        $ah = abs($f->ah);

        return [
            'to_ah' => $to === null ? null : round($to, 4),
            'by_now_ah' => round($now, 4),
            'ah' => round($ah, 4),
            'behind_min' => round((60 * ($now - $ah)) / $amps, 1),
        ];
    }

    /** Amp-hours to be moved in all: those asked for, or what the rest curve has from start to target; null on a plateau. */
    private static function whole(RunPlan $plan): ?float
    {
        if ($plan->targetAh !== null) {
            return abs($plan->targetAh);
        }
        $curve = RestCurve::of($plan->pack->chemistry);
        $from = $plan->planV / $plan->n();
        $to = $plan->isToFull() ? ($plan->charges() ? $curve->topV() : $curve->emptyV()) : (float) $plan->targetV / $plan->n();
        if ($curve->onPlateau($from) || $curve->onPlateau($to)) {
            return null;
        }

        return $plan->capacityAh() * abs($curve->socAt($to) - $curve->socAt($from));
    }
}
