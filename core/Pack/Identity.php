<?php

declare(strict_types=1);

namespace Heartwood\Core\Pack;

/** How many groups in series a voltage can mean (handbook "Identity of a pack"). */
final class Identity
{
    /** Typical "fresh off the charger" rest voltage per cell that some labels print as nominal. */
    private const FRESH_V = 4.0;

    /**
     * Every reading of the voltage that fits within 3 %, best first, at most one per chemistry and series count;
     * with each exact winner its neighbours S-1 and S+1 when they are close.
     *
     * @param  float  $volts  as printed on the label or the charger
     * @param  list<Chemistry>|null  $among  all chemistries when null
     * @return list<SeriesGuess>
     */
    public static function guess(float $volts, ?array $among = null, int $most = 8): array
    {
        if ($volts <= 0.0) {
            return [];
        }
        $best = [];
        foreach (
            $among ?? [Chemistry::Nmc, Chemistry::Lco, Chemistry::LcoHv, Chemistry::Lmo, Chemistry::Lfp, Chemistry::Lto]
            as $chemistry
        ) {
            $profile = $chemistry->profile();
            $readings = ['full' => $profile->fullV, 'nominal' => $profile->nominalV];
            if ($profile->fullV > self::FRESH_V) {
                $readings['fresh off the charger'] = self::FRESH_V;
            }
            foreach ($readings as $reading => $perCell) {
                $middle = max(1, (int) round($volts / $perCell));
                for ($series = max(1, $middle - 1); $series <= $middle + 1; $series++) {
                    $misfit = abs($volts / ($series * $perCell) - 1.0);
                    $key = $chemistry->value . '/' . $series;
                    if ($misfit <= 0.03 && (!isset($best[$key]) || $misfit < $best[$key]->misfit)) {
                        $best[$key] = new SeriesGuess($chemistry, $series, $reading, $volts / $series, $misfit);
                    }
                }
            }
        }
        $guesses = array_values($best);
        usort(
            $guesses,
            fn(SeriesGuess $a, SeriesGuess $b): int => [round($a->misfit, 4), $a->series, $a->chemistry->value] <=> [
                round($b->misfit, 4),
                $b->series,
                $b->chemistry->value,
            ],
        );

        return array_slice($guesses, 0, $most);
    }
}
