<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

/** How much goes in before the first group is full and comes out before the first is empty (handbook "The usable window"). */
final readonly class UsableWindow
{
    /** A reading that has slipped rather than not says nothing of what a pack gives. */
    private const DOUBTED = 0.5;

    public function __construct(
        public float $chargeAh,
        public float $dischargeAh,
        public int $firstFull,
        public int $firstEmpty,
        public float $apparentSoc,
        public string $capacityBasis,
    ) {}

    /** @return self|null null while a group is unread, its reading is doubted, or nothing tells the capacity */
    public static function of(PackEvidence $evidence): ?self
    {
        [$groups, $curve] = [$evidence->groups, $evidence->curve];
        $measured = false;
        $charge = $discharge = INF;
        $firstFull = $firstEmpty = 1;
        $sum = 0.0;
        foreach ($groups as $e) {
            $capacity = $evidence->holdsAh($e);
            if ($e->restV === null || $capacity === null || $e->doubtProbability >= self::DOUBTED) {
                return null;
            }
            $measured = $measured || $e->capacity !== null || $evidence->packCapacityAh !== null;
            $soc = $curve->socAt($e->restV);
            $sum += $e->restV;
            if ((1 - $soc) * $capacity < $charge - 1e-9) {
                $charge = (1 - $soc) * $capacity;
                $firstFull = $e->group;
            }
            if ($soc * $capacity < $discharge - 1e-9) {
                $discharge = $soc * $capacity;
                $firstEmpty = $e->group;
            }
        }

        return new self(
            $charge,
            $discharge,
            $firstFull,
            $firstEmpty,
            $curve->socAt($sum / max(1, count($groups))),
            $measured ? 'measured' : 'assumed',
        );
    }

    public function sentence(): string
    {
        return sprintf(
            'The gauge would show about %.0f %%. The charger stops after %.1f Ah because group %d is full; it is empty after ' .
                '%.1f Ah because of group %d.',
            100 * $this->apparentSoc,
            $this->chargeAh,
            $this->firstFull,
            $this->dischargeAh,
            $this->firstEmpty,
        );
    }

    /** @return array{charge_ah: float, discharge_ah: float, first_full: int, first_empty: int, apparent_soc: float} */
    public function toArray(): array
    {
        return [
            'charge_ah' => round($this->chargeAh, 2),
            'discharge_ah' => round($this->dischargeAh, 2),
            'first_full' => $this->firstFull,
            'first_empty' => $this->firstEmpty,
            'apparent_soc' => round($this->apparentSoc, 3),
        ];
    }
}
