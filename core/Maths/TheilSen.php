<?php

declare(strict_types=1);

namespace Heartwood\Core\Maths;

use Heartwood\Core\Limits\DriftLimits;

/**
 * A slope that a few wild values cannot move, with its 90 % interval: Theil and Sen's median of all slopes between two points, and
 * Sen's interval by Kendall's variance (R. O. Gilbert, Statistical Methods for Environmental Pollution Monitoring, 16.4.2). Under four
 * points, from the sigma of the values.
 */
final readonly class TheilSen
{
    private const KENDALL = 18.0;

    private const KENDALL_ADDS = 5.0;

    private function __construct(public float $low, public float $mid, public float $high) {}

    /**
     * @param  list<float>  $t  times, in any unit
     * @param  list<float>  $y  values at those times
     * @param  float  $sigma  1 sigma of one value
     * @param  float  $rounding  1 sigma of what the display's own steps make of one value: the interval is never narrower than that
     * @return self|null unit of y a unit of t; null with fewer than two times
     */
    public static function of(array $t, array $y, float $sigma, float $rounding = 0.0): ?self
    {
        $n = count($t);
        $slopes = [];
        for ($i = 1; $i < $n; $i++) {
            for ($j = 0; $j < $i; $j++) {
                if ($t[$i] !== $t[$j]) {
                    $slopes[] = ($y[$i] - $y[$j]) / ($t[$i] - $t[$j]);
                }
            }
        }
        if ($slopes === []) {
            return null;
        }
        sort($slopes);
        $mid = Robust::median($slopes);
        $few = $n < DriftLimits::SEN_FROM;
        $reach = (DriftLimits::Z_90 * ($few ? $sigma : $rounding)) / self::root($t);
        if ($few) {
            return new self($mid - $reach, $mid, $mid + $reach);
        }
        $c = DriftLimits::Z_90 * sqrt(self::variance($t));
        $all = count($slopes);

        return new self(
            min($mid - $reach, self::ranked($slopes, ($all - $c) / 2)),
            $mid,
            max($mid + $reach, self::ranked($slopes, ($all + $c) / 2 + 1)),
        );
    }

    /**
     * Kendall's variance of the sign sum, times that are alike taken off.
     *
     * @param  list<float>  $t
     */
    private static function variance(array $t): float
    {
        $of = fn(int $n): float => $n * ($n - 1) * (2 * $n + self::KENDALL_ADDS);
        $alike = array_count_values(array_map(fn(float $x): string => sprintf('%.9F', $x), $t));

        return ($of(count($t)) - array_sum(array_map($of, $alike))) / self::KENDALL;
    }

    /** @param  list<float>  $t */
    private static function root(array $t): float
    {
        $mean = array_sum($t) / count($t);

        return sqrt(max(Tiny::SUM, array_sum(array_map(fn(float $x): float => ($x - $mean) ** 2, $t))));
    }

    /**
     * The value of a rank counted from 1, between two of them in proportion, never beyond the ends.
     *
     * @param  non-empty-list<float>  $sorted
     */
    private static function ranked(array $sorted, float $rank): float
    {
        $at = max(0.0, min(count($sorted) - 1.0, $rank - 1.0));
        $below = (int) floor($at);
        $above = min($below + 1, count($sorted) - 1);

        return $sorted[$below] + ($at - $below) * ($sorted[$above] - $sorted[$below]);
    }
}
