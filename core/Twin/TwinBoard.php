<?php

declare(strict_types=1);

namespace Heartwood\Core\Twin;

use Heartwood\Core\Record\PackSpec;

/** What the board does: cuts with a delay, releases, bleeds above a start voltage. Volts per group, seconds, amps. */
final readonly class TwinBoard
{
    public function __construct(
        public float $lowV,
        public float $highV,
        public float $lowReleaseV,
        public float $highReleaseV,
        public float $delayS,
        public float $bleedA,
        public float $bleedFromV,
        public float $fullV,
    ) {}

    public static function of(PackSpec $pack): self
    {
        $passive = ($pack->bms->string('balance') ?? 'unknown') === 'passive';

        return new self(
            $pack->lowCutV(),
            $pack->highCutV(),
            $pack->lowReleaseV(),
            $pack->highReleaseV(),
            2.0,
            $passive ? $pack->bms->float('balance_current_a') ?? 0.05 : 0.0,
            $pack->workingFullV() - 0.05,
            $pack->workingFullV(),
        );
    }
}
