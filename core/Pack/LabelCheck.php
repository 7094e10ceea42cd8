<?php

declare(strict_types=1);

namespace Heartwood\Core\Pack;

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Record\PackSpec;

/** Whether volts, amp-hours, watt-hours and the counted cells of a label agree (handbook "Identity of a pack"). */
final class LabelCheck
{
    /** @return list<array{field: string, text: string, should_be: float}> each mismatch, with the figure the label should carry */
    public static function mismatches(PackSpec $pack, ?int $cellsCounted = null): array
    {
        $out = [];
        $label = $pack->label;
        $nominal = $label->float('nominal_v');
        $full = $label->float('full_v');
        $ah = $label->float('capacity_ah');
        $wh = $label->float('energy_wh');
        $off = fn(float $a, float $b): bool => abs($a - $b) > VerdictLimits::LABEL_SHARE * max(abs($b), 1e-9);
        $profile = $pack->profile();
        if (
            $nominal !== null &&
            $off($nominal, $pack->series * $profile->nominalV) &&
            $off($nominal, $pack->series * $profile->fullV) &&
            $off($nominal, $pack->series * 4.0) &&
            $off($nominal, $pack->series * 3.7)
        ) {
            $should = $pack->series * $profile->nominalV;
            $out[] = [
                'field' => 'nominal_v',
                'should_be' => round($should, 1),
                'text' => sprintf(
                    'The label says %.4g V; %d groups of %s are %.1f V nominal, %.1f V full.',
                    $nominal,
                    $pack->series,
                    $pack->chemistry->value,
                    $should,
                    $pack->fullVolts(),
                ),
            ];
        }
        if ($full !== null && $off($full, $pack->fullVolts())) {
            $out[] = [
                'field' => 'full_v',
                'should_be' => round($pack->fullVolts(), 2),
                'text' => sprintf(
                    'The label says %.4g V full; %d groups of %s are %.2f V full.',
                    $full,
                    $pack->series,
                    $pack->chemistry->value,
                    $pack->fullVolts(),
                ),
            ];
        }
        $volts = $nominal ?? $pack->series * $profile->nominalV;
        if (
            $ah !== null &&
            $wh !== null &&
            $off($wh, $volts * $ah) &&
            $off($wh, ($full ?? $pack->fullVolts()) * $ah) &&
            $off($wh, $pack->series * $profile->nominalV * $ah)
        ) {
            $out[] = [
                'field' => 'energy_wh',
                'should_be' => round($volts * $ah, 1),
                'text' => sprintf('The label says %.4g Wh; %.4g V times %.4g Ah are %.1f Wh.', $wh, $volts, $ah, $volts * $ah),
            ];
        }
        $cellAh = $pack->cell->float('capacity_ah');
        if ($ah !== null && $cellAh !== null && $pack->parallel !== null && $off($ah, $pack->parallel * $cellAh)) {
            $out[] = [
                'field' => 'capacity_ah',
                'should_be' => round($pack->parallel * $cellAh, 2),
                'text' => sprintf(
                    'The label says %.4g Ah; %d cells of %.4g Ah in parallel are %.2f Ah.',
                    $ah,
                    $pack->parallel,
                    $cellAh,
                    $pack->parallel * $cellAh,
                ),
            ];
        }
        if ($cellsCounted !== null && $pack->parallel !== null && $cellsCounted !== $pack->series * $pack->parallel) {
            $out[] = [
                'field' => 'cells_counted',
                'should_be' => (float) ($pack->series * $pack->parallel),
                'text' => sprintf(
                    '%d cells were counted; %dS%dP has %d.',
                    $cellsCounted,
                    $pack->series,
                    $pack->parallel,
                    $pack->series * $pack->parallel,
                ),
            ];
        }

        return $out;
    }
}
