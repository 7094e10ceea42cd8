<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

use Heartwood\Core\Limits\LogLimits;

/** What n tested out of N tell of the whole: mean and 95 % interval by Student's t with finite population correction. */
final readonly class SampleOfLot
{
    /** Student's t, two-sided 95 %, by degrees of freedom (any table of the distribution). */
    private const T = [
        1 => 12.706,
        2 => 4.303,
        3 => 3.182,
        4 => 2.776,
        5 => 2.571,
        6 => 2.447,
        7 => 2.365,
        8 => 2.306,
        9 => 2.262,
        10 => 2.228,
        12 => 2.179,
        15 => 2.131,
        20 => 2.086,
        30 => 2.042,
        60 => 2.0,
        120 => 1.98,
    ];

    /** Spread stated instead of an interval when only one was tested. */
    public const PRIOR_SPREAD = 0.15;

    /**
     * @param  non-empty-list<float>  $values
     * @return array{n: int, of: int, mean: float, low: float|null, high: float|null, text: string}
     */
    public static function of(array $values, int $population): array
    {
        $n = count($values);
        $mean = array_sum($values) / $n;
        if ($n === 1) {
            return [
                'n' => 1,
                'of' => $population,
                'mean' => $mean,
                'low' => null,
                'high' => null,
                'text' => sprintf('one tested: no interval; cells of one lot are taken to spread by %.0f %%', 100 * self::PRIOR_SPREAD),
            ];
        }
        $half = self::half($values, $n, $population);

        return [
            'n' => $n,
            'of' => $population,
            'mean' => $mean,
            'low' => $mean - $half,
            'high' => $mean + $half,
            'text' => sprintf('%d of %d tested', $n, $population),
        ];
    }

    /**
     * Half of the interval that a sample of $n would have, by the spread of those that were tested; of fewer than two by what cells
     * of one lot are taken to spread.
     *
     * @param  list<float>  $values  Ah
     * @return float Ah
     */
    public static function half(array $values, int $n, int $population): float
    {
        $tested = count($values);
        $mean = $tested === 0 ? 1.0 : array_sum($values) / $tested;
        $variance =
            $tested < 2
                ? (self::PRIOR_SPREAD * $mean) ** 2
                : array_sum(array_map(fn(float $x): float => ($x - $mean) ** 2, $values)) / ($tested - 1);
        // Samples that agree by chance are no surer than the tests themselves.
        $variance = max($variance, (LogLimits::GAIN_SIGMA * $mean) ** 2);
        $correction = $population > 1 ? sqrt(max(0.0, ($population - $n) / ($population - 1))) : 0.0;

        return self::t($n - 1) * sqrt($variance / $n) * $correction;
    }

    private static function t(int $freedom): float
    {
        $out = 12.706;
        foreach (self::T as $f => $t) {
            if ($f <= $freedom) {
                $out = $t;
            }
        }

        return $freedom > 240 ? 1.96 : $out;
    }
}
