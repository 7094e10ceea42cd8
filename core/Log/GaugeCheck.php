<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/** The gauge against the sum of the cells: off by over 5 % is stale (handbook "Test logs of cells and groups"). */
final class GaugeCheck
{
    public const STALE = 0.05;

    public const RELEARN = ['charge fully', 'rest 2 h', 'discharge to gauge 0 or the cut-off', 'rest 5 h', 'charge fully', 'read again'];

    /**
     * Against cells measured one by one.
     *
     * @param  list<float>  $ah  of every cell in the pack
     * @return array{off: float, stale: bool, text: string, relearn: list<string>}
     */
    public static function ofCells(float $gaugeWh, array $ah, float $nominalV): array
    {
        return self::of($gaugeWh, array_sum($ah) * $nominalV) + ['relearn' => self::RELEARN];
    }

    /** @return array{off: float, stale: bool, text: string} */
    public static function of(float $gaugeWh, float $cellsWh): array
    {
        $off = $cellsWh > 0 ? $gaugeWh / $cellsWh - 1 : 0.0;
        $stale = abs($off) > self::STALE;

        return [
            'off' => $off,
            'stale' => $stale,
            'text' => sprintf(
                'The gauge says %.1f Wh, the cells give %.1f Wh: %+.0f %%%s',
                $gaugeWh,
                $cellsWh,
                100 * $off,
                $stale ? ', stale: relearn it.' : '.',
            ),
        ];
    }
}
