<?php

declare(strict_types=1);

namespace Heartwood\Core\Twin;

/** One group of a pack that is run live. Charge 0..1, Ah, ohms, amps, degC. */
final class LiveGroup
{
    /** Volts left on the quick and on the slow RC pair. */
    public float $quickV = 0.0;

    public float $slowV = 0.0;

    public float $c;

    /**
     * @param  float  $shortOhm  an internal short across the group; INF for none
     * @param  float  $leakA  a leak that does not depend on voltage
     */
    public function __construct(
        public float $charge,
        public float $capacityAh,
        public float $ohm = 0.01,
        public float $quickOhm = 0.004,
        public float $slowOhm = 0.003,
        public float $shortOhm = INF,
        public float $leakA = 0.0,
        float $c = 20.0,
    ) {
        $this->c = $c;
    }
}
