<?php

declare(strict_types=1);

namespace Heartwood\Core\Pack;

/** Volts per cell. */
final readonly class ChemistryProfile
{
    public function __construct(
        public float $nominalV,
        public float $fullV,
        public float $testCutoffV,
        public float $boardLowV,
        public float $boardHighV,
        public float $releaseLowV,
        public float $releaseHighV,
        public float $prechargeV,
        public float $floorV,
        public float $storageV,
    ) {}
}
