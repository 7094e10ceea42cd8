<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

/** Sizes of round cells by their format, with the sleeve (IEC 61960-3 names them; the maker's drawing wins). */
final class CellFormat
{
    /** Diameter and length, mm. */
    private const SIZES = [
        '18650' => [18.4, 65.0],
        '21700' => [21.4, 70.0],
        '26650' => [26.3, 65.5],
        '26700' => [26.4, 70.0],
        '14500' => [14.3, 50.0],
    ];

    private const USUAL = '18650';

    /** @return array{float, float} diameter and length, mm; of the usual format where it is not said */
    public static function size(?string $format): array
    {
        return self::SIZES[$format ?? self::USUAL] ?? self::SIZES[self::USUAL];
    }
}
