<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Maths\Tiny;

/** What the supply or the load must be doing now: output, set volts, set amps (positive into the pack). */
final readonly class Order
{
    private function __construct(public bool $on, public float $volts, public float $amps, public Phase $phase) {}

    public static function drive(float $volts, float $amps, Phase $phase): self
    {
        return new self(true, $volts, $amps, $phase);
    }

    /** Off, with the set-points that the coming phase will want, so that they can be read back first. */
    public static function off(Phase $phase, float $volts = 0.0, float $amps = 0.0): self
    {
        return new self(false, $volts, $amps, $phase);
    }

    public function equals(self $other): bool
    {
        return $this->on === $other->on &&
            $this->phase === $other->phase &&
            abs($this->volts - $other->volts) < Tiny::SUM &&
            abs($this->amps - $other->amps) < Tiny::SUM;
    }

    /** Whether the supply has set-points of this order to show. */
    public function hasSetPoints(): bool
    {
        return abs($this->amps) > 0.0;
    }
}
