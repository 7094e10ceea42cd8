<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Random\Engine\Xoshiro256StarStar;
use Random\Randomizer;

/** What falls by chance in a round, the same for the same words: no clock and no global state are asked. */
final class Luck
{
    /** Numbers from 0 to 1 that a float tells apart (IEEE 754, double). */
    private const STEPS = 1 << 53;

    private Randomizer $from;

    /** @param  string  ...$words  what it is drawn from: the level and the seed, and what it is for */
    public function __construct(string ...$words)
    {
        $this->from = new Randomizer(new Xoshiro256StarStar(hash('sha256', implode("\0", $words), true)));
    }

    /** Evenly, from low to high. */
    public function between(float $low, float $high): float
    {
        return $low + ($high - $low) * $this->unit();
    }

    /** A whole number, both ends with it. */
    public function whole(int $low, int $high): int
    {
        return $this->from->getInt($low, $high);
    }

    /** Normal about zero (Box and Muller). */
    public function normal(float $sigma): float
    {
        return $sigma * sqrt(-2 * log(1 - $this->unit())) * cos(2 * M_PI * $this->unit());
    }

    public function happens(float $chance): bool
    {
        return $this->unit() < $chance;
    }

    /**
     * @template T
     *
     * @param  non-empty-list<T>  $of
     * @return T
     */
    public function pick(array $of): mixed
    {
        return $of[$this->from->getInt(0, count($of) - 1)];
    }

    /** From 0 up to, and without, 1. */
    private function unit(): float
    {
        return $this->from->getInt(0, self::STEPS - 1) / self::STEPS;
    }
}
