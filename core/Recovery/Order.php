<?php

declare(strict_types=1);

namespace Heartwood\Core\Recovery;

/** What the supply must be doing now. */
final readonly class Order
{
    private function __construct(public bool $on, public float $volts, public float $amps)
    {
    }

    public static function drive(float $volts, float $amps): self
    {
        return new self(true, $volts, $amps);
    }

    public static function off(): self
    {
        return new self(false, 0.0, 0.0);
    }
}
