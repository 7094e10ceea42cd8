<?php

declare(strict_types=1);

namespace Heartwood\Core\Maths;

/** What the steps of a display cost: an even spread over one step (GUM, JCGM 100:2008, 4.3.7). */
final class Step
{
    private const EVEN = 12.0;

    private const DIFFERENCE = 6.0;

    /** 1 sigma of one reading. */
    public static function sigma(float $resolution): float
    {
        return $resolution / sqrt(self::EVEN);
    }

    /** 1 sigma of the difference of two. */
    public static function ofTwo(float $resolution): float
    {
        return $resolution / sqrt(self::DIFFERENCE);
    }
}
