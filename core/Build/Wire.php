<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Record\Fields;

/**
 * One way of a main lead: what its wires carry for good (handbook "Current budget": silicone, conservative, free air; less inside a
 * bundle; parallel wires share only with equal length). Odd sizes lie between their neighbours, never above the thicker; sizes over the
 * table count as its thickest, under it as unknown.
 */
final readonly class Wire
{
    /** A by AWG. */
    private const CARRIES = [8 => 70.0, 10 => 50.0, 12 => 35.0, 14 => 25.0, 16 => 18.0, 18 => 13.0, 20 => 9.0, 22 => 6.0];

    private const BUNDLED = 0.7;

    private const THICKEST = 8;

    private const THINNEST = 22;

    /** Diameter of AWG 36, mm; of each size to the next; sizes below it (ASTM B258). */
    private const AWG36_MM = 0.127;

    private const FROM = 36;

    private const TINY = 1e-9;

    private const RATIO = 92.0;

    private const SIZES = 39.0;

    private function __construct(public ?float $amps, public ?float $mm2, public string $note) {}

    /** @param  Fields  $w  awg, or mm2; parallel, equal_length, bundled; null where no size is entered */
    public static function of(Fields $w): ?self
    {
        $awg = $w->float('awg');
        $mm2 = $w->float('mm2');
        if ($awg === null && $mm2 === null) {
            return null;
        }
        $named = $awg === null ? sprintf('%.3g mm2', $mm2) : sprintf('AWG %g', $awg);
        $awg ??= self::size((float) $mm2);
        $mm2 ??= self::area($awg);
        $each = self::carries($awg);
        if ($each === null) {
            return new self(null, $mm2, "$named: thinner than any whose current is known");
        }
        $n = max(1, (int) ($w->float('parallel') ?? 1));
        $shares = $n === 1 || ($w->bool('equal_length') ?? false);
        $bundled = $w->bool('bundled') ?? true;

        return new self(
            $each * ($shares ? $n : 1) * ($bundled ? self::BUNDLED : 1.0),
            $mm2 * ($shares ? $n : 1),
            sprintf(
                '%s%s%s',
                $named,
                $n > 1 ? ($shares ? ", $n of equal length" : ", $n of unequal length: counted as one") : '',
                $bundled ? ', bundled inside the pack' : ', free air',
            ),
        );
    }

    private static function carries(float $awg): ?float
    {
        if ($awg > self::THINNEST + self::TINY) {
            return null;
        }
        $awg = max((float) self::THICKEST, $awg);
        $thick = (int) (2 * floor($awg / 2));
        $share = ($awg - $thick) / 2;
        if ($share < self::TINY || !isset(self::CARRIES[$thick + 2])) {
            return self::CARRIES[$thick];
        }

        return self::CARRIES[$thick] ** (1 - $share) * self::CARRIES[$thick + 2] ** $share;
    }

    private static function area(float $awg): float
    {
        $mm = self::AWG36_MM * self::RATIO ** ((self::FROM - $awg) / self::SIZES);

        return M_PI * ($mm / 2) ** 2;
    }

    private static function size(float $mm2): float
    {
        $mm = 2 * sqrt(max(self::TINY, $mm2) / M_PI);

        return self::FROM - (self::SIZES * log($mm / self::AWG36_MM)) / log(self::RATIO);
    }
}
