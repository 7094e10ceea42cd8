<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\PackSpec;

/** What all groups of one pack share and a signature may lean on. Volts; charge as a fraction. */
final readonly class Situation
{
    /** Cells of a group whose number nobody gave (assumed). */
    private const CELLS = 3;

    /** Charge that a group can hold at most, over what its middle one does. */
    private const BRIM = 1.02;

    /** Volts of a phosphate cell on charge from which its end is near. */
    private const END_V = 3.4;

    public RestCurve $curve;

    public float $emptyV;

    public float $fullV;

    public float $lowCutV;

    public float $floorV;

    /** Cells in parallel; 3 where nobody told (assumed). */
    public int $parallel;

    public function __construct(
        public PackSpec $pack,
        public ?float $middleV,
        public float $middleCharge = 0.5,
        public bool $lowTogether = false,
        public ?float $middleAtTopV = null,
    ) {
        $this->curve = RestCurve::of($pack->chemistry);
        $this->emptyV = $this->curve->emptyV();
        $this->fullV = $pack->profile()->fullV;
        $this->lowCutV = $pack->lowCutV();
        $this->floorV = $pack->profile()->floorV;
        $this->parallel = $pack->parallel ?? self::CELLS;
    }

    /** Resistance rises by this share of itself when one of P cells is lost. */
    public function lostShare(): float
    {
        return 1 / max(1, $this->parallel - 1);
    }

    /** Capacity falls by this share when one of P cells is lost. */
    public function lostCapacity(): float
    {
        return 1 / max(2, $this->parallel);
    }

    /** How much fuller than the middle a group can be. */
    public function room(): float
    {
        return self::BRIM - $this->middleCharge;
    }

    /** Whether a group that is a little ahead may shoot up: the others are near the end of a phosphate charge too. */
    public function shootsUp(): bool
    {
        return $this->phosphate() && ($this->middleAtTopV === null || $this->middleAtTopV >= self::END_V);
    }

    public function phosphate(): bool
    {
        return $this->pack->chemistry->isPhosphate();
    }
}
