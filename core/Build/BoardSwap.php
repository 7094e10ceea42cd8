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
     * @return list<array{point: string, state: 'right'|'wrong'|'unknown', text: string}>
     */
    public static function check(PackSpec $pack, Fields $board, float $loadA, float $peakA): array
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
}
