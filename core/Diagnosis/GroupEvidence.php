<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

/**
 * What has been measured about one group, each with 1 sigma, null where nothing was. Never written again.
 * Volts at rest; charge against the pack's middle as a fraction, its sigma without the curve's slope; leak as a fraction of capacity
 * a day beyond the
 * median group; resistance beyond the median group over a healthy group's; capacity over what the group should hold.
 */
final readonly class GroupEvidence
{
    public int $group;

    public ?float $restV;

    public float $restSigmaV;

    public bool $across;

    public ?string $doubt;

    public float $doubtProbability;

    public ?float $charge;

    public float $chargeSigma;

    public ?float $leakPerDay;

    /** Whether it leaked more, beyond its noise, in a later stretch than in one before. */
    public bool $leakGrew;

    public float $leakSigma;

    /** The part of leakSigma that is there even when nothing leaks: meter and rounding, not the curve's slope. */
    public float $leakNoise;

    public float $leakDays;

    /** Charge that left the whole pack while the leak was watched, fraction of capacity a day; negative when it was charged. */
    public float $throughput;

    public float $fellMv;

    public float $othersFellMv;

    public ?float $resistance;

    public float $resistanceSigma;

    public float $resistanceMohm;

    public ?float $capacity;

    public float $capacitySigma;

    public float $capacityAh;

    /** How far the pack's own groups stray in capacity, 1 sigma as a fraction; null while most are not measured. */
    public ?float $capacitySpread;

    public ?bool $tugLoose;

    public ?bool $stripDead;

    public ?string $recovery;

    public ?bool $stripLeaks;

    public float $refillAh;

    /** Resistance of the group's cells by themselves beyond a healthy group's, as a share. */
    public ?float $cellResistance;

    /** Volts ahead of the median when a charge (top) or a discharge (bottom) was stopped. */
    public ?float $aheadAtTop;

    public ?float $aheadAtBottom;

    /**
     * What would have to resist to explain that by the discharge current alone, over a healthy group's resistance; null when the
     * current is not known.
     */
    public ?float $bottomAsResistance;

    /** Volts over the median that stay once a charge current has stopped. */
    public ?float $staysAtTop;

    /** Volts that it rises on charge beyond what the others rise. */
    public ?float $jump;

    public function __construct(GroupDraft $draft)
    {
        $this->group = $draft->group;
        $this->restV = $draft->restV;
        $this->restSigmaV = $draft->restSigmaV;
        $this->across = $draft->across;
        $this->doubt = $draft->doubt;
        $this->doubtProbability = $draft->doubtProbability;
        $this->charge = $draft->charge;
        $this->chargeSigma = $draft->chargeSigma;
        $this->leakPerDay = $draft->leakPerDay;
        $this->leakGrew = $draft->leakGrew;
        $this->leakSigma = $draft->leakSigma;
        $this->leakNoise = $draft->leakNoise;
        $this->leakDays = $draft->leakDays;
        $this->throughput = $draft->throughput;
        $this->fellMv = $draft->fellMv;
        $this->othersFellMv = $draft->othersFellMv;
        $this->resistance = $draft->resistance;
        $this->resistanceSigma = $draft->resistanceSigma;
        $this->resistanceMohm = $draft->resistanceMohm;
        $this->capacity = $draft->capacity;
        $this->capacitySigma = $draft->capacitySigma;
        $this->capacityAh = $draft->capacityAh;
        $this->capacitySpread = $draft->capacitySpread;
        $this->tugLoose = $draft->tugLoose;
        $this->stripDead = $draft->stripDead;
        $this->recovery = $draft->recovery;
        $this->stripLeaks = $draft->stripLeaks;
        $this->refillAh = $draft->refillAh;
        $this->cellResistance = $draft->cellResistance;
        $this->aheadAtTop = $draft->aheadAtTop;
        $this->aheadAtBottom = $draft->aheadAtBottom;
        $this->bottomAsResistance = $draft->bottomAsResistance;
        $this->staysAtTop = $draft->staysAtTop;
        $this->jump = $draft->jump;
    }
}
