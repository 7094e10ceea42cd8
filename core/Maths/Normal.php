<?php

declare(strict_types=1);

namespace Heartwood\Core\Maths;

/** The normal distribution, and the flat and half-flat shapes blurred by it. */
final class Normal
{
    public static function density(float $x, float $mean, float $sigma): float
    {
        $z = ($x - $mean) / $sigma;

        return exp(-0.5 * $z * $z) / ($sigma * 2.5066282746310002);
    }

    /** Abramowitz and Stegun 7.1.26 on the error function; absolute error under 1.5e-7. */
    public static function cumulative(float $z): float
    {
        $x = abs($z) / 1.4142135623730951;
        $t = 1 / (1 + 0.3275911 * $x);
        $erf = 1 - ((((1.061405429 * $t - 1.453152027) * $t + 1.421413741) * $t - 0.284496736) * $t + 0.254829592) * $t * exp(-$x * $x);

        return $z >= 0 ? (1 + $erf) / 2 : (1 - $erf) / 2;
    }

    /** Density at $x of a value spread evenly over $low..$high and read with $sigma. */
    public static function blurredFlat(float $x, float $low, float $high, float $sigma): float
    {
        return max(0.0, self::cumulative(($high - $x) / $sigma) - self::cumulative(($low - $x) / $sigma)) / ($high - $low);
    }
}
