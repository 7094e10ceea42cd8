<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

/** Numbers spread evenly over 0..1, the same every time: the next test is simulated with a few, and no verdict depends on chance. */
final class Dice
{
    /** Scale of a logistic variable with a standard deviation of one: the square root of three over pi. */
    private const LOGISTIC = 0.5513;

    /** No roll is further out. */
    private const TAIL = 1e-3;

    private float $at = 0.5;

    /** The golden ratio's fractional part: each number falls into the largest gap so far (a Weyl sequence). */
    private const STEP = 0.6180339887498949;

    public function roll(): float
    {
        $this->at = fmod($this->at + self::STEP, 1.0);

        return $this->at;
    }

    /** Standard normal, by the tangent approximation of its quantile: within 0.02 up to 2 sigma. */
    public function normal(): float
    {
        return self::LOGISTIC * log(max(self::TAIL, $u = $this->roll()) / max(self::TAIL, 1 - $u));
    }
}
