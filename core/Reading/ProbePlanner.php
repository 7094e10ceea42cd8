<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

use Heartwood\Core\Record\Instrument;
use Heartwood\Core\Record\Reading;

/**
 * For long strings: whether a coarse reading can see a deviation of a given size in one of its groups with this meter,
 * and the shortest way to find it. Equal faults in both halves stay unseen by comparing halves.
 */
final class ProbePlanner
{
    /** A deviation counts as seen from this many sigma. */
    private const SEEN = 3.0;

    /**
     * @param  float  $cellV  typical group voltage
     * @param  float  $deviationV  what one group is off by, at the least
     * @param  float  $spreadV  how far healthy groups stray, 1 sigma
     * @return array{sees: list<array{groups: int, sigma_v: float, seen: bool}>, coarse_from: int|null, readings: int, text: string}
     *               `sees` for stretches of whole, half, quarter ... down to one; `coarse_from` the longest that sees it
     */
    public static function plan(Instrument $meter, int $series, float $cellV, float $deviationV, float $spreadV = 0.004): array
    {
        $sees = [];
        $from = null;
        for ($n = $series; $n >= 1; $n = $n === 1 ? 0 : intdiv($n + 1, 2)) {
            $resolution = $meter->resolutionOf(new Reading('T0', 'T' . $n, round($n * $cellV, $n * $cellV > 10 ? 2 : 3), null, null, ''));
            // Two stretches are compared: the gain is shared and cancels, counts and the groups' own spread do not.
            $sigma = sqrt(2.0) * hypot($meter->countSigma($resolution), sqrt((float) $n) * $spreadV);
            $seen = $n < $series && $deviationV >= self::SEEN * $sigma;
            $sees[] = ['groups' => $n, 'sigma_v' => round($sigma, 4), 'seen' => $seen];
            if ($seen && $from === null) {
                $from = $n;
            }
        }
        $coarse = $from === null || $from === 1 ? $series : (int) ceil($series / $from) + (int) ceil(log($from, 2)) * 2;
        $text =
            $from === null || $from === 1
                ? sprintf('With this meter only readings across each group show %.0f mV: %d readings.', 1000 * $deviationV, $series)
                : sprintf(
                    'Stretches of %d groups show %.0f mV in one of them: about %d readings instead of %d. Equal faults in two ' .
                        'stretches would hide.',
                    $from,
                    1000 * $deviationV,
                    min($coarse, $series),
                    $series,
                );

        return ['sees' => $sees, 'coarse_from' => $from, 'readings' => min($coarse, $series), 'text' => $text];
    }
}
