<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Pack\Chemistry;

/** What stands around the cells of a round where nobody says otherwise: board, device, charger, by what the cells can bear (assumed). */
final class Parts
{
    /** Amps of one cell, out and in. */
    public const CELL_A = 8.0;

    public const CELL_CHARGE_A = 1.5;

    /** Amps of the board out, and of the device, per cell side by side; the board takes what the cells take. */
    private const BOARD_OUT_A = 6.0;

    private const DEVICE_A = 4.5;

    private const BLEED_A = 0.06;

    /** Amps of the charger, as a share of the capacity in amp-hours. */
    private const CHARGER_RATE = 0.3;

    /** @return array{bms: array<string, mixed>, load: array<string, mixed>, charger: array<string, mixed>} as the record has them */
    public static function around(Chemistry $chemistry, int $series, int $parallel, float $cellAh): array
    {
        $p = $chemistry->profile();

        return [
            'bms' => [
                'series' => $series,
                'discharge_limit_a' => round(self::BOARD_OUT_A * $parallel, 1),
                'charge_limit_a' => round(self::CELL_CHARGE_A * $parallel, 1),
                'high_cut_v' => $p->boardHighV,
                'low_cut_v' => $p->boardLowV,
                'balance' => 'passive',
                'balance_current_a' => self::BLEED_A,
                'wake' => 'charger',
                'temperature_sensor' => true,
            ],
            'load' => ['controller_limit_a' => round(self::DEVICE_A * $parallel, 1)],
            'charger' => ['cv_v' => round($p->fullV * $series, 1), 'cc_a' => round(self::CHARGER_RATE * $cellAh * $parallel, 1)],
        ];
    }
}
