<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

use Heartwood\Core\Pack\Chemistry;

/** What the log is of: rated Ah, full and cut-off volts, whether measured with four wires, lead ohms to take off. */
final readonly class LogTerms
{
    public function __construct(
        public float $ratedAh,
        public float $fullV,
        public float $cutoffV,
        public bool $fourWire = true,
        public float $leadOhm = 0.0,
        public ?float $ambientC = null,
        public float $gainSigma = 0.005,
    ) {}

    public static function of(
        Chemistry $chemistry,
        float $ratedAh,
        int $series = 1,
        bool $fourWire = true,
        float $leadOhm = 0.0,
        ?float $ambientC = null,
    ): self {
        return new self(
            $ratedAh,
            $chemistry->profile()->fullV * $series,
            $chemistry->profile()->testCutoffV * $series,
            $fourWire,
            $leadOhm,
            $ambientC,
        );
    }
}
