<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

/** One of two that are to be joined: volts now, ohms, amp-hours, amps it may be charged with. */
final readonly class JoinSide
{
    public function __construct(public float $volts, public float $ohm, public float $capacityAh, public float $maxChargeA)
    {
    }
}
