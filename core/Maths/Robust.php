<?php

declare(strict_types=1);

namespace Heartwood\Core\Maths;

/** Centre and spread that a few wild values cannot move (handbook "Readings as a network"). */
final class Robust
{
    /** Root of the sum of squares: independent uncertainties together. */
    public static function quadrature(float ...$sigmas): float
    {
        return sqrt(array_sum(array_map(fn(float $s): float => $s * $s, $sigmas)));
    }

    /** @param  non-empty-list<float>  $values */
    public static function median(array $values): float
    {
        sort($values);
        $n = count($values);
        $mid = intdiv($n, 2);

        return $n % 2 === 1 ? $values[$mid] : ($values[$mid - 1] + $values[$mid]) / 2;
    }

    /**
     * 1.4826 times the median absolute deviation, never below $floor.
     *
     * @param  non-empty-list<float>  $values
     */
    public static function spread(array $values, float $floor): float
    {
        $centre = self::median($values);

        return max($floor, 1.4826 * self::median(array_map(fn(float $v): float => abs($v - $centre), $values)));
    }
}
