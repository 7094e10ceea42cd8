<?php

declare(strict_types=1);

namespace Heartwood\Core\Twin;

use Heartwood\Core\Diagnosis\GroupEvidence;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\PackSpec;

/**
 * The state and the parameters of a pack that the twin runs: one value a group, from B-. Charge 0..1, capacity Ah,
 * ohms, leak A, volts.
 */
final readonly class TwinPack
{
    /** Share of a group's resistance that answers slowly, through one RC pair. */
    private const SLOW_SHARE = 0.35;

    /** Time constant of that pair, seconds. */
    public const TAU_S = 45.0;

    /**
     * @param  list<float>  $charge
     * @param  list<float>  $capacityAh
     * @param  list<float>  $ohm  answers at once: cells, links, joint
     * @param  list<float>  $slowOhm
     * @param  list<float>  $leakA
     */
    public function __construct(
        public RestCurve $curve,
        public array $charge,
        public array $capacityAh,
        public array $ohm,
        public array $slowOhm,
        public array $leakA,
        public TwinBoard $board,
    ) {
    }

    /** @return self|null the pack as the job's evidence has it; null while a group is unread or no capacity is known */
    public static function estimate(PackSpec $pack, PackEvidence $evidence): ?self
    {
        $rated = $pack->groupCapacityAh();
        if ($rated === null) {
            return null;
        }
        $milliohm = max($pack->groupResistanceMohm(), $evidence->middleResistanceMohm ?? 0.0);
        $charge = $capacity = $ohm = $slow = $leak = [];
        foreach ($evidence->groups as $e) {
            if ($e->restV === null) {
                return null;
            }
            $charge[] = $evidence->curve->socAt($e->restV);
            $capacity[] = $e->capacity !== null ? max(0.05, $e->capacityAh) : $rated;
            $ohm[] = max(0.0001, ($milliohm * (1 - self::SLOW_SHARE) + self::excess($e)) / 1000);
            $slow[] = $milliohm * self::SLOW_SHARE / 1000;
            $leak[] = self::leaks($e) ? (float) $e->leakPerDay * $rated / 24 : 0.0;
        }

        return new self($evidence->curve, $charge, $capacity, $ohm, $slow, $leak, TwinBoard::of($pack));
    }

    private static function excess(GroupEvidence $e): float
    {
        return $e->resistance !== null && $e->resistance > 3 * $e->resistanceSigma ? $e->resistanceMohm : 0.0;
    }

    private static function leaks(GroupEvidence $e): bool
    {
        return $e->leakPerDay !== null && $e->leakPerDay > 3 * max(1e-4, $e->leakNoise) && $e->leakPerDay > 0.002;
    }

    public function series(): int
    {
        return count($this->charge);
    }

    /**
     * The same pack with some groups as they are after a repair.
     *
     * @param  list<int>  $groups  numbers from 1
     * @param  array{charge?: float, capacity?: float, ohm?: float, leak?: float}  $becomes  what each of them has then
     */
    public function with(array $groups, array $becomes): self
    {
        $charge = $this->charge;
        $capacity = $this->capacityAh;
        $ohm = $this->ohm;
        $leak = $this->leakA;
        foreach ($groups as $k) {
            $charge[$k - 1] = $becomes['charge'] ?? $charge[$k - 1];
            $capacity[$k - 1] = $becomes['capacity'] ?? $capacity[$k - 1];
            $ohm[$k - 1] = $becomes['ohm'] ?? $ohm[$k - 1];
            $leak[$k - 1] = $becomes['leak'] ?? $leak[$k - 1];
        }

        return new self($this->curve, array_values($charge), array_values($capacity), array_values($ohm), $this->slowOhm, array_values($leak), $this->board);
    }

    /** @param  list<float>  $charge */
    public function at(array $charge): self
    {
        return new self($this->curve, $charge, $this->capacityAh, $this->ohm, $this->slowOhm, $this->leakA, $this->board);
    }
}
