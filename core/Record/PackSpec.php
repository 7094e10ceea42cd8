<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\ChemistryProfile;
use Heartwood\Core\Pack\RestCurve;

/** What is known of the pack; limits the record does not give come from the chemistry's defaults. */
final readonly class PackSpec
{
    /** Amp-hours of a group that nobody gave (assumed). */
    public const UNKNOWN_AH = 5.0;

    public function __construct(
        public string $name,
        public string $kind,
        public Chemistry $chemistry,
        public int $series,
        public ?int $parallel,
        public Fields $label,
        public Fields $cell,
        public Fields $bms,
        public Fields $charger,
        public Fields $load,
        public string $build = 'repair',
        public ?int $ageMonths = null,
    ) {}

    public static function from(Fields $pack): self
    {
        return new self(
            $pack->string('name') ?? '',
            $pack->string('kind') ?? 'other',
            Chemistry::from((string) $pack->string('chemistry')),
            (int) $pack->int('series'),
            $pack->int('parallel'),
            $pack->object('label'),
            $pack->object('cell'),
            $pack->object('bms'),
            $pack->object('charger'),
            $pack->object('load'),
            $pack->string('build') ?? 'repair',
            $pack->int('age_months'),
        );
    }

    public function profile(): ChemistryProfile
    {
        return $this->chemistry->profile();
    }

    public function lowCutV(): float
    {
        return $this->bms->float('low_cut_v') ?? $this->profile()->boardLowV;
    }

    public function highCutV(): float
    {
        return $this->bms->float('high_cut_v') ?? $this->profile()->boardHighV;
    }

    public function lowReleaseV(): float
    {
        return $this->bms->float('low_release_v') ?? max($this->lowCutV(), $this->profile()->releaseLowV);
    }

    public function highReleaseV(): float
    {
        return $this->bms->float('high_release_v') ?? min($this->highCutV(), $this->profile()->releaseHighV);
    }

    /** A target the board would cut short is no target. */
    public function workingFullV(): float
    {
        return min($this->profile()->fullV, $this->highCutV() - 0.05);
    }

    /** Rated amp-hours of one group, null when neither cells nor label tell. */
    public function groupCapacityAh(): ?float
    {
        $cell = $this->cell->float('capacity_ah');
        if ($cell !== null && $this->parallel !== null) {
            return $cell * $this->parallel;
        }

        return $this->label->float('capacity_ah');
    }

    /** Expected resistance of a healthy group, milliohm: cells and the links that every group has. */
    public function groupResistanceMohm(): float
    {
        $cell = $this->cell->float('resistance_mohm');
        if ($cell !== null && $this->parallel !== null) {
            return $cell / $this->parallel;
        }
        $ah = $this->groupCapacityAh() ?? self::UNKNOWN_AH;

        return 100.0 / max(0.2, $ah);
    }

    /**
     * Amps that the device draws at the worst point: its power at a fifth of charge through the controller's efficiency,
     * or the controller's limit where that is lower (handbook "Current budget"); null where nobody told.
     */
    public function loadAmps(): ?float
    {
        $watts = $this->load->float('power_w');
        $limit = $this->load->float('controller_limit_a');
        $low = $this->series * RestCurve::of($this->chemistry)->volts(VerdictLimits::WORST_CHARGE);
        $drawn = $watts === null ? null : $watts / (VerdictLimits::CONTROLLER_EFFICIENCY * $low);

        return $drawn === null ? $limit : min($drawn, $limit ?? INF);
    }

    public function fullVolts(): float
    {
        return $this->series * $this->profile()->fullV;
    }

    /** Open-circuit volts over which a charger is wrong: 1 % past full (handbook "Outside the pack"). */
    public function chargerMostV(): float
    {
        return (1 + VerdictLimits::CHARGER_OVER_SHARE) * $this->fullVolts();
    }

    /** Open-circuit volts under which a charger is wrong: 3 % short of full; on phosphate 3.45 V a cell is still right. */
    public function chargerLeastV(): float
    {
        return $this->chemistry->isPhosphate()
            ? 0.995 * VerdictLimits::CHARGER_PHOSPHATE_V * $this->series
            : (1 - VerdictLimits::CHARGER_UNDER_SHARE) * $this->fullVolts();
    }
}
