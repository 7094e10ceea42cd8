<?php

declare(strict_types=1);

namespace Heartwood\Core\Twin;

/** One stretch of a scenario: charge, discharge or rest, until something ends it. */
final readonly class Step
{
    /**
     * @param  'charge'|'discharge'|'rest'  $mode
     * @param  float  $amps  charger's limit, the load's current, or with a power the device's limit (0 for none); positive
     * @param  float  $watts  the load's power instead of a current; 0 for none
     * @param  float  $volts  charger's voltage, or the load's own cut-off for the whole pack; 0 for none
     * @param  float  $taperA  current at which the charger stops
     */
    private function __construct(
        public string $mode,
        public float $amps,
        public float $watts,
        public float $volts,
        public float $taperA,
        public float $maxHours,
    ) {}

    public static function charge(float $amps, float $volts, float $taperA, float $maxHours = 24.0): self
    {
        return new self('charge', $amps, 0.0, $volts, $taperA, $maxHours);
    }

    public static function discharge(float $amps, float $cutoffV = 0.0, float $maxHours = 24.0): self
    {
        return new self('discharge', $amps, 0.0, $cutoffV, 0.0, $maxHours);
    }

    /** @param  float  $limitA  the device's own current limit; 0 for none */
    public static function power(float $watts, float $cutoffV = 0.0, float $maxHours = 24.0, float $limitA = 0.0): self
    {
        return new self('discharge', $limitA, $watts, $cutoffV, 0.0, $maxHours);
    }

    public static function rest(float $hours): self
    {
        return new self('rest', 0.0, 0.0, 0.0, 0.0, $hours);
    }
}
