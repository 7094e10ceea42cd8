<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

/**
 * Which cell of a parallel group: what the strips should show, whether a meter can see it, and the cuts if it cannot
 * (handbook "Groups and cells").
 */
final class ParallelPlan
{
    /** Nickel, ohm metres. */
    private const RHO_NICKEL = 7.0e-8;

    /**
     * @param  int  $parallel  cells of the group
     * @param  float  $leakA  suspected leak of one cell
     * @param  float  $loadA  current through the whole group in a load step
     * @param  float  $resolutionV  the meter's, on its lowest range
     * @return array{strip_mohm: float, rest_leaking_mv: float, rest_other_mv: float, load_sound_mv: float, seen_at_rest: bool,
     *   seen_under_load: bool, cuts: int, steps: list<string>}
     */
    public static function of(
        int $parallel,
        float $leakA,
        float $loadA,
        float $resolutionV,
        float $lengthMm = 20.0,
        float $widthMm = 8.0,
        float $thickMm = 0.15,
    ): array {
        $ohm = (self::RHO_NICKEL * ($lengthMm / 1000)) / ((($widthMm / 1000) * $thickMm) / 1000);
        // At rest the leaking cell takes what leaks through its own strip from the P - 1 others.
        $leaking = (($leakA * ($parallel - 1)) / max(1, $parallel)) * $ohm;
        $other = (-$leakA / max(1, $parallel)) * $ohm;
        $sound = ($loadA / max(1, $parallel)) * $ohm;
        $cuts = $parallel > 1 ? (int) ceil(log($parallel, 2)) : 0;
        $atRest = $leaking > 3 * $resolutionV;
        $underLoad = $sound > 3 * $resolutionV;
        $steps = [];
        if ($underLoad) {
            $steps[] = sprintf(
                'Under %.1f A read the drop along each strip: a sound one shows %.2f mV, a dead branch none.',
                $loadA,
                1000 * $sound,
            );
        }
        if ($atRest) {
            $steps[] = sprintf(
                'At rest read each strip: the leaking cell\'s shows %.3f mV into it, the others %.3f mV out.',
                1000 * $leaking,
                1000 * $other,
            );
        } else {
            $steps[] = sprintf('At rest the leaking cell\'s strip would show %.4f mV: this meter cannot see it.', 1000 * $leaking);
            if ($cuts > 0) {
                $steps[] = sprintf('Halve the group, let the halves stand, read the difference, halve again: %d cuts at the most.', $cuts);
            }
        }
        $steps[] = 'Last: all apart, and the rest test of each.';

        return [
            'strip_mohm' => round(1000 * $ohm, 3),
            'rest_leaking_mv' => round(1000 * $leaking, 5),
            'rest_other_mv' => round(1000 * $other, 5),
            'load_sound_mv' => round(1000 * $sound, 4),
            'seen_at_rest' => $atRest,
            'seen_under_load' => $underLoad,
            'cuts' => $cuts,
            'steps' => $steps,
        ];
    }
}
