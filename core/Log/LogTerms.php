<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

use Heartwood\Core\Limits\LogLimits;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Record\PackSpec;

/**
 * What the log is of: rated Ah, full and cut-off volts of so many groups in series, whether measured with four wires, lead ohms
 * to take off, the warmth of the room where nothing measured it, and whether somebody says that it was full at the beginning.
 */
final readonly class LogTerms
{
    public function __construct(
        public float $ratedAh,
        public float $fullV,
        public float $cutoffV,
        public bool $fourWire = true,
        public float $leadOhm = 0.0,
        public ?float $ambientC = null,
        public float $gainSigma = LogLimits::GAIN_SIGMA,
        public int $series = 1,
        public bool $saidFull = false,
    ) {}

    /** Amps under which nothing flows. */
    public function restA(): float
    {
        return max(LogLimits::REST_A, LogLimits::REST_SHARE * $this->ratedAh);
    }

    public static function of(
        Chemistry $chemistry,
        float $ratedAh,
        int $series = 1,
        bool $fourWire = true,
        float $leadOhm = 0.0,
        ?float $ambientC = null,
        bool $saidFull = false,
    ): self {
        return new self(
            $ratedAh,
            $chemistry->profile()->fullV * $series,
            $chemistry->profile()->testCutoffV * $series,
            $fourWire,
            $leadOhm,
            $ambientC,
            series: $series,
            saidFull: $saidFull,
        );
    }

    /**
     * The terms of a whole pack, or of one of its groups taken by itself. A whole pack is discharged down to where its board cuts:
     * lower than that nobody takes it.
     */
    public static function ofPack(PackSpec $pack, ?int $group, bool $fourWire, float $leadOhm, ?float $ambientC): self
    {
        $series = $group === null ? $pack->series : 1;
        $profile = $pack->chemistry->profile();

        return new self(
            $pack->groupCapacityAh() ?? 1.0,
            $profile->fullV * $series,
            ($group === null ? max($profile->testCutoffV, $pack->lowCutV()) : $profile->testCutoffV) * $series,
            $fourWire,
            $leadOhm,
            $ambientC,
            series: $series,
        );
    }
}
