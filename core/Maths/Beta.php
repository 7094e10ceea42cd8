<?php

declare(strict_types=1);

namespace Heartwood\Core\Maths;

/** The beta distribution of a share between 0 and 1 (NIST Digital Library of Mathematical Functions, 8.17 and 5.11). */
final class Beta
{
    private const STEPS = 500;

    private const EPS = 1e-14;

    private const HALVINGS = 80;

    /** Lanczos' series for the logarithm of the gamma function (W. H. Press and others, Numerical Recipes, 3rd edition, 6.1). */
    private const LANCZOS = [
        57.1562356658629235,
        -59.5979603554754912,
        14.1360979747417471,
        -0.491913816097620199,
        0.339946499848118887e-4,
        0.465236289270485756e-4,
        -0.983744753048795646e-4,
        0.158088703224912494e-3,
        -0.210264441724104883e-3,
        0.217439618115212643e-3,
        -0.16431810653676389e-3,
        0.844182239838527433e-4,
        -0.261908384015814087e-4,
        0.368991826595316234e-5,
    ];

    private const LANCZOS_G = 5.2421875;

    private const LANCZOS_0 = 0.999999999999997092;

    private const HALF = 0.5;

    private const SMALLEST = 1e-300;

    private const ROOT_TAU = 2.5066282746310005;

    /** How likely a share is at most x. */
    public static function atMost(float $x, float $a, float $b): float
    {
        if ($x <= 0.0 || $x >= 1.0) {
            return $x <= 0.0 ? 0.0 : 1.0;
        }
        $front = exp(self::logGamma($a + $b) - self::logGamma($a) - self::logGamma($b) + $a * log($x) + $b * log(1.0 - $x));

        return $x < ($a + 1.0) / ($a + $b + 2.0)
            ? ($front * self::fraction($x, $a, $b)) / $a
            : 1.0 - ($front * self::fraction(1.0 - $x, $b, $a)) / $b;
    }

    /** The share under which it lies as often as p says. */
    public static function quantile(float $p, float $a, float $b): float
    {
        [$low, $high] = [0.0, 1.0];
        for ($i = 0; $i < self::HALVINGS; $i++) {
            $x = ($low + $high) / 2;
            self::atMost($x, $a, $b) < $p ? ($low = $x) : ($high = $x);
        }

        return ($low + $high) / 2;
    }

    public static function logGamma(float $x): float
    {
        $y = $x;
        $t = $x + self::LANCZOS_G;
        $sum = self::LANCZOS_0;
        foreach (self::LANCZOS as $c) {
            $sum += $c / ++$y;
        }

        return ($x + self::HALF) * log($t) - $t + log((self::ROOT_TAU * $sum) / $x);
    }

    /** The continued fraction of the incomplete beta function, by Lentz's method. */
    private static function fraction(float $x, float $a, float $b): float
    {
        $c = 1.0;
        $d = 1.0 / self::apart(1.0 - (($a + $b) * $x) / ($a + 1.0));
        $h = $d;
        for ($m = 1; $m <= self::STEPS; $m++) {
            $even = ($m * ($b - $m) * $x) / (($a + 2 * $m - 1.0) * ($a + 2 * $m));
            $d = 1.0 / self::apart(1.0 + $even * $d);
            $c = self::apart(1.0 + $even / $c);
            $h *= $d * $c;
            $odd = (-($a + $m) * ($a + $b + $m) * $x) / (($a + 2 * $m) * ($a + 2 * $m + 1.0));
            $d = 1.0 / self::apart(1.0 + $odd * $d);
            $c = self::apart(1.0 + $odd / $c);
            $step = $d * $c;
            $h *= $step;
            if (abs($step - 1.0) < self::EPS) {
                break;
            }
        }

        return $h;
    }

    /** Never quite nought, by which nothing is divided. */
    private static function apart(float $x): float
    {
        return abs($x) < self::SMALLEST ? self::SMALLEST : $x;
    }
}
