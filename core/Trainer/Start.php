<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

/** Where a round begins, as often as it is asked for: drawn from a level and a seed, or a closed job of the shop told again. */
final readonly class Start
{
    private function __construct(public int $level, private int $seed, private ?Told $told) {}

    public static function drawn(int $level, int $seed): self
    {
        return new self($level, $seed, null);
    }

    public static function told(Told $told, int $seed): self
    {
        return new self($told->level(), $seed, $told);
    }

    public function round(): Round
    {
        return $this->told === null ? Rounds::of($this->level, $this->seed) : Rounds::told($this->told, $this->seed);
    }
}
