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

    /** A group that holds nothing still moves, Ah. */
    private const LEAST_AH = 0.05;

    public const FADE_PER_CYCLE = 0.0004;

    public const GROWTH_PER_CYCLE = 0.0006;

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
    ) {}

    /**
     * @param  bool  $asAWhole  whether what the whole pack gave is laid to every group that was not measured by itself; not, where
     *                          one of them is to be replaced that may alone have been the reason
     * @return self|null the pack as the job's evidence has it; null while a group is unread or no capacity is known
     */
    public static function estimate(PackSpec $pack, PackEvidence $evidence, bool $asAWhole = true): ?self
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
            $capacity[] = max(
                self::LEAST_AH,
                ($asAWhole ? $evidence->holdsAh($e) : ($e->capacity !== null ? $e->capacityAh : null)) ?? $rated,
            );
            $ohm[] = max(0.0001, ($milliohm * (1 - self::SLOW_SHARE) + self::excess($e)) / 1000);
            $slow[] = ($milliohm * self::SLOW_SHARE) / 1000;
            $leak[] = self::leaks($e) ? ((float) $e->leakPerDay * $rated) / 24 : 0.0;
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

    /**
     * The pack some full cycles later. A small group is cycled deeper than its neighbours and fades in proportion.
     * The rates are assumed (typical datasheet figures: 80 % after 500 cycles), never measured.
     */
    public function aged(int $cycles, float $fade = self::FADE_PER_CYCLE, float $growth = self::GROWTH_PER_CYCLE): self
    {
        if ($this->capacityAh === []) {
            return $this;
        }
        $mean = array_sum($this->capacityAh) / count($this->capacityAh);
        $capacity = $ohm = $slow = [];
        foreach ($this->capacityAh as $k => $c) {
            $deeper = $mean / $c;
            $capacity[] = $c * (1 - min(0.5, $fade * $deeper)) ** $cycles;
            $ohm[] = $this->ohm[$k] * (1 + $growth * $deeper) ** $cycles;
            $slow[] = $this->slowOhm[$k] * (1 + $growth * $deeper) ** $cycles;
        }

        return new self($this->curve, $this->charge, $capacity, $ohm, $slow, $this->leakA, $this->board);
    }

    /**
     * @param  list<float>|null  $slowV  what the RC pairs still hold
     * @return list<float> volts of every group with no current flowing
     */
    public function restVolts(?array $slowV = null): array
    {
        $table = Twin::table($this->curve);
        $out = [];
        foreach ($this->charge as $k => $x) {
            $out[] = Twin::volts($table, $x) + ($slowV[$k] ?? 0.0);
        }

        return $out;
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

        return new self(
            $this->curve,
            array_values($charge),
            array_values($capacity),
            array_values($ohm),
            $this->slowOhm,
            array_values($leak),
            $this->board,
        );
    }

    /** @param  list<float>  $charge */
    public function at(array $charge): self
    {
        return new self($this->curve, $charge, $this->capacityAh, $this->ohm, $this->slowOhm, $this->leakA, $this->board);
    }
}
