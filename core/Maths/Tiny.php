<?php

declare(strict_types=1);

namespace Heartwood\Core\Maths;

/** Numbers that stand for "next to nothing": they keep a comparison, a quotient or a logarithm sound, and are no rule. */
final class Tiny
{
    /** What two floats may differ by and still be the same reading, set-point or share. */
    public const SLACK = 1e-9;

    /** The same for sums of many: seconds of a clock, amp-hours, coordinates. */
    public const SUM = 1e-6;

    /** A divisor that is at least this is none: ohms, siemens, volts of noise. */
    public const DIVISOR = 1e-5;

    public const COARSE = 1e-4;

    /** Probabilities and densities under these are none. */
    public const CHANCE = 1e-12;

    public const DENSITY = 1e-30;

    public const WEIGHT = 1e-300;
}
