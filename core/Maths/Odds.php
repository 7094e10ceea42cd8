<?php

declare(strict_types=1);

namespace Heartwood\Core\Maths;

/** Probabilities as odds, in decibans (ten times the logarithm to ten of the odds: A. Turing, I. J. Good). */
final class Odds
{
    /** What is said to be certain is written as a thousand to one and not more. */
    private const LEAST = 1e-3;

    public static function decibans(float $probability, float $least = self::LEAST): float
    {
        return 10 * log10(max($least, $probability) / max($least, 1 - $probability));
    }

    /** A probability that neither rules out nor is certain. */
    public static function inside(float $probability, float $least = Tiny::COARSE, float $most = 1.0): float
    {
        return max($least, min(min($most, 1 - $least), $probability));
    }
}
