<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

/**
 * What readers gather of one group while evidence is assembled; `GroupEvidence` is what comes of it.
 * Volts at rest; charge against the pack's middle as a fraction, its sigma without the curve's slope; leak as a fraction of capacity
 * a day beyond the
 * median group; resistance beyond the median group over a healthy group's; capacity over what the group should hold.
 */
final class GroupDraft
{
    public ?float $restV = null;

    public float $restSigmaV = 0.0;

    public bool $across = false;

    public ?string $doubt = null;

    public float $doubtProbability = 0.0;

    public ?float $charge = null;

    public float $chargeSigma = 0.0;

    public ?float $leakPerDay = null;

    public bool $leakGrew = false;

    public float $leakSigma = 0.0;

    /** The part of leakSigma that is there even when nothing leaks: meter and rounding, not the curve's slope. */
    public float $leakNoise = 0.0;

    public float $leakDays = 0.0;

    /** Charge that left the whole pack while the leak was watched, fraction of capacity a day; negative when it was charged. */
    public float $throughput = 0.0;

    public float $fellMv = 0.0;

    public float $othersFellMv = 0.0;

    public ?float $resistance = null;

    public float $resistanceSigma = 0.0;

    public float $resistanceMohm = 0.0;

    public ?float $capacity = null;

    public float $capacitySigma = 0.0;

    public float $capacityAh = 0.0;

    /** How far the pack's own groups stray in capacity, 1 sigma as a fraction; null while most are not measured. */
    public ?float $capacitySpread = null;

    public ?bool $tugLoose = null;

    public ?bool $stripDead = null;

    public ?string $recovery = null;

    public ?bool $stripLeaks = null;

    public float $refillAh = 0.0;

    /** Resistance of the group's cells by themselves beyond a healthy group's, as a share. */
    public ?float $cellResistance = null;

    /** Volts ahead of the median when a charge (top) or a discharge (bottom) was stopped. */
    public ?float $aheadAtTop = null;

    public ?float $aheadAtBottom = null;

    /**
     * What would have to resist to explain that by the discharge current alone, over a healthy group's resistance; null when the
     * current is not known.
     */
    public ?float $bottomAsResistance = null;

    /** Volts over the median that stay once a charge current has stopped. */
    public ?float $staysAtTop = null;

    /** Volts that it rises on charge beyond what the others rise. */
    public ?float $jump = null;

    public function __construct(public readonly int $group) {}
}
