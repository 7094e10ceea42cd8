<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Pack\Chemistry;

/** One of two that are to be joined: volts now, ohms, amp-hours, amps it may be charged with, what it is made of. */
final readonly class JoinSide
{
    public function __construct(
        public float $volts,
        public float $ohm,
        public float $capacityAh,
        public float $maxChargeA,
        public Chemistry $chemistry = Chemistry::Nmc,
    ) {}

    /**
     * @param  int  $series  groups in series
     * @return string|null why it is joined to nothing; null when it may be
     */
    public function refuses(int $series): ?string
    {
        $profile = $this->chemistry->profile();

        return match (true) {
            $this->volts < 0.0 => sprintf('One side is reversed (%.2f V): it is replaced, never joined', $this->volts),
            $this->volts < $series * $profile->floorV - Tiny::SLACK => sprintf(
                'One side stands at %.2f V, under its floor of %.2f V: whatever is joined to it would drive it. It is replaced ' .
                    'or recovered by itself first',
                $this->volts,
                $series * $profile->floorV,
            ),
            $this->volts > $series * $profile->fullV + RunLimits::JOIN_OVER_FULL_V + Tiny::SLACK => sprintf(
                'One side stands at %.3f V, over its full %.2f V: it is bled down and looked at first',
                $this->volts,
                $series * $profile->fullV,
            ),
            default => null,
        };
    }
}
