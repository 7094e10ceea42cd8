<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;

/** Another board for a pack: point by point (handbook "Build sheet", board swap). What is not known is asked, never passed. */
final class BoardSwap
{
    private const ASKED = [
        'sense_order' => 'Sense order: the new board\'s pin 0 is B-, or the other way round',
        'sensor_type' => 'Temperature sensor of the same resistance and kind',
        'separate_port' => 'Common or separate charge port as before',
        'wake' => 'Wakes the same way',
        'communication' => 'Speaks to the device with the same protocol and address',
        'size' => 'Fits its place',
        'low_temperature_cut' => 'Cuts charge in the cold',
        'plug_order' => 'Order of plugging known: main leads, then sense',
        'gauge_lock' => 'Gauge does not lock when power is lost',
    ];

    /**
     * @param  Fields  $board  series, discharge_limit_a, peak_limit_a, high_cut_v, low_cut_v and the answers to what is asked
     * @param  float|null  $cellsA  what the cells carry for good; null: nobody knows
     * @return list<array{point: string, state: 'right'|'wrong'|'unknown', text: string}>
     */
    public static function check(PackSpec $pack, Fields $board, float $loadA, float $peakA, ?float $cellsA = null): array
    {
        $profile = $pack->profile();
        $out = [];
        $say = function (string $point, ?bool $right, string $text) use (&$out): void {
            $out[] = ['point' => $point, 'state' => $right === null ? 'unknown' : ($right ? 'right' : 'wrong'), 'text' => $text];
        };
        $series = $board->int('series');
        $say(
            'series',
            $series === null ? null : $series === $pack->series,
            $series === null ? 'groups not entered' : "$series groups, the pack has {$pack->series}",
        );
        $high = $board->float('high_cut_v');
        $say(
            'high_cut',
            $high === null ? null : $high <= $profile->boardHighV + 0.03 && $high >= $profile->fullV - 0.15,
            $high === null
                ? 'high cut not entered'
                : sprintf('high cut %.2f V, about %.2f V for this chemistry', $high, $profile->boardHighV),
        );
        $low = $board->float('low_cut_v');
        $say(
            'low_cut',
            $low === null ? null : $low >= $profile->testCutoffV - 0.05 && $low <= $profile->boardLowV + 0.4,
            $low === null ? 'low cut not entered' : sprintf('low cut %.2f V, about %.2f V for this chemistry', $low, $profile->boardLowV),
        );
        $limit = $board->float('discharge_limit_a');
        $say(
            'continuous',
            $limit === null || $loadA <= 0 ? null : $limit >= $loadA,
            match (true) {
                $limit === null => 'continuous current not entered',
                $loadA <= 0 => sprintf('%.0f A, and what the load draws is not known: enter it under Intake', $limit),
                default => sprintf('%.0f A, the load draws %.1f A', $limit, $loadA),
            },
        );
        if ($limit !== null && $cellsA !== null) {
            $say(
                'cells',
                $limit <= $cellsA,
                $limit <= $cellsA
                    ? sprintf('%.0f A, the cells carry %.0f A', $limit, $cellsA)
                    : sprintf('%.0f A, and the cells carry %.0f A: it would not save them', $limit, $cellsA),
            );
        }
        $peak = $board->float('peak_limit_a');
        $say(
            'peak',
            $peak === null || $peakA <= 0 ? null : $peak >= $peakA,
            match (true) {
                $peak === null => 'peak current not entered',
                $peakA <= 0 => sprintf('%.0f A, and the peaks of the load are not known', $peak),
                default => sprintf('%.0f A, peaks of %.1f A', $peak, $peakA),
            },
        );
        foreach (self::ASKED as $name => $text) {
            $say($name, $board->bool($name), $text);
        }

        return $out;
    }

    /**
     * What a board for this pack must be, before one is looked for: groups, amps from what the device draws up to what the cells
     * carry, and what else in the path must grow with it (a larger one only if the cells allow it).
     *
     * @return list<string>
     */
    public static function wanted(PackSpec $pack, CurrentBudget $budget): array
    {
        $chain = array_column($budget->chain, null, 'element');
        $cells = $chain['cells']['continuous_a'];
        $load = $budget->loadA;
        $profile = $pack->profile();
        $out = [
            sprintf(
                '%d groups of %s: high cut about %.2f V, low cut about %.2f V.',
                $pack->series,
                $pack->chemistry->value,
                $profile->boardHighV,
                $profile->boardLowV,
            ),
            match (true) {
                $load <= 0.0 && $cells === null
                    => 'Neither what the device draws nor what the cells carry is known: both are said under Intake.',
                $load <= 0.0 => sprintf(
                    'At most %.0f A: that is what the cells carry. What the device draws is not known: it is said under Intake.',
                    $cells,
                ),
                $cells === null => sprintf(
                    'At least %.0f A (%s). What the cells carry is not known: say the model of cell under Intake.',
                    $load,
                    $budget->how,
                ),
                $cells < $load => sprintf(
                    'None: the device draws %.0f A (%s) and the cells carry %.0f A. A lower limit of the device, or a larger pack.',
                    $load,
                    $budget->how,
                    $cells,
                ),
                default => sprintf(
                    'Between %.0f A (%s) and %.0f A, which the cells carry (%s).',
                    $load,
                    $budget->how,
                    $cells,
                    $chain['cells']['note'],
                ),
            },
        ];
        $short = $unknown = [];
        foreach ($chain as $element => $link) {
            if (in_array($element, ['cells', 'bms', 'fuse', 'switch', 'joints'], true)) {
                continue;
            }
            if ($link['continuous_a'] === null) {
                $unknown[] = lcfirst($link['title']);
            } elseif ($cells === null || $link['continuous_a'] < $cells) {
                $short[] = sprintf('%s (%.0f A)', lcfirst($link['title']), $link['continuous_a']);
            }
        }
        if ($short !== []) {
            $out[] =
                'No board lets through more for good than the least of these: ' .
                implode(', ', $short) .
                '. With a larger board they grow too.';
        }
        if ($unknown !== []) {
            $out[] = 'Not entered in the budget, and to be looked at before a larger board: ' . implode(', ', $unknown) . '.';
        }

        return $out;
    }
}
