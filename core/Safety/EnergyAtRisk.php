<?php

declare(strict_types=1);

namespace Heartwood\Core\Safety;

use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Record\PackSpec;

/** What a pack could do to a person now: the energy in it and the current of a short (handbook "Gates on work"). */
final readonly class EnergyAtRisk
{
    /** No group has less, milliohm. */
    private const LEAST_MOHM = 0.01;

    private function __construct(public float $wattHours, public float $shortCircuitA) {}

    /** @return self|null null while no group has been read or nothing tells the capacity; unread groups count as the middle one */
    public static function of(PackSpec $pack, PackEvidence $evidence): ?self
    {
        $capacity = $pack->groupCapacityAh();
        if ($capacity === null || $evidence->middleV === null) {
            return null;
        }
        $wh = $volts = 0.0;
        foreach ($evidence->groups as $e) {
            $v = max(0.0, $e->restV ?? $evidence->middleV);
            $wh += $evidence->curve->socAt($v) * $capacity * $v;
            $volts += $v;
        }
        $ohm = ($pack->series * max($pack->groupResistanceMohm(), self::LEAST_MOHM)) / 1000;

        return new self($wh, $volts / $ohm);
    }

    public function sentence(): string
    {
        return sprintf('About %.0f Wh in it now; a short would draw some %.0f A (derived).', $this->wattHours, $this->shortCircuitA);
    }
}
