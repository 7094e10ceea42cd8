<?php

declare(strict_types=1);

namespace Heartwood\Core\Recovery;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Twin\Twin;

/**
 * How one low group is brought up, or why it is not (handbook "Recovery of a deep-discharged group"). Everything in
 * volts of the group, amps into it, amp-hours, degC, minutes.
 */
final readonly class RecoveryPlan
{
    /** Volts to which a group comes up quickly, if it comes up at all. */
    private const EARLY_V = ['lfp' => 1.8, 'lto' => 1.2];

    private const EARLY_ELSE_V = 2.0;

    /** What keeps a group from any supply, and its word: code of the catalogue by code. */
    private const NEVER_WORDS = [
        'group.dead' => 'shorted or dead',
        'group.reversed' => 'reversed',
        'cell.swollen' => 'swollen',
        'cell.leaking' => 'leaking',
        'cell.hot' => 'hot',
    ];

    /** Letters that a reason has at least. */
    private const REASON = 5;

    /** Volts over the floor under which a shop of school B replaces (handbook "Recovery of a deep-discharged group"). */
    private const SCHOOL_B_V = 0.5;

    /** A recovery ends this much under full at the latest, and is needless this little under its target. */
    private const UNDER_FULL_V = 0.03;

    /** See above. */
    private const LEVEL_V = 0.015;

    /**
     * @param  list<string>  $refusals  why it may not be done; empty when it may
     * @param  list<string>  $overridable  reasons that a senior may answer for, in words
     * @param  list<string>  $cautions
     */
    public function __construct(
        public int $group,
        public Chemistry $chemistry,
        public float $capacityAh,
        public float $startV,
        public float $prechargeA,
        public float $raiseA,
        public float $supplyV,
        public float $prechargeV,
        public float $earlyV,
        public float $targetV,
        public bool $toFull,
        public float $ambientC,
        public float $resolutionV,
        public array $refusals,
        public array $overridable,
        public array $cautions,
    ) {}

    /**
     * @param  float  $v  the group at rest
     * @param  list<float>  $neighbours  rest voltages of the other groups; the target is their middle
     * @param  list<string>  $codes  what the verdict says of this group, codes of the catalogue
     * @param  float|null  $belowFloorDays  days under the floor as far as known; null when not known
     * @param  float  $resolutionV  of the voltage reading
     * @param  string|null  $override  a senior's reason in words
     * @param  float|null  $amps  another pre-charge current than C/20, never over C/10
     */
    public static function of(
        PackSpec $pack,
        int $group,
        float $v,
        array $neighbours,
        array $codes = [],
        ?float $belowFloorDays = null,
        RecoveryPolicy $policy = new RecoveryPolicy(),
        float $ambientC = 20.0,
        float $resolutionV = 0.001,
        ?string $override = null,
        ?float $amps = null,
    ): self {
        $profile = $pack->profile();
        $floor = $profile->floorV;
        $capacity = $pack->groupCapacityAh();
        $refusals = $overridable = [];
        $reason = trim($override ?? '');
        if ($capacity === null) {
            $refusals[] = 'The capacity of a group is not known: enter the cells or the label first, the current is set from it.';
        }
        if ($v < 0.0) {
            $refusals[] = sprintf('Group %d is reversed (%.2f V): it is replaced, never charged.', $group, $v);
        } elseif ($v < RunLimits::NEVER_BELOW_V) {
            $refusals[] = sprintf(
                'Group %d stands at %.2f V, under %.1f V: copper has dissolved and plates out as a short. It is replaced.',
                $group,
                $v,
                RunLimits::NEVER_BELOW_V,
            );
        } elseif ($v < $floor) {
            if ($policy->school === 'B') {
                $refusals[] = sprintf('This shop replaces what stands under %.2f V.', $floor + self::SCHOOL_B_V);
            } elseif ($belowFloorDays === null || $belowFloorDays <= 0.0 || $belowFloorDays >= RunLimits::BELOW_FLOOR_DAYS) {
                $refusals[] = sprintf(
                    'Group %d stands at %.2f V, under the floor of %.2f V, and is not known to have been there for less than a ' .
                        'week: replace it.',
                    $group,
                    $v,
                    $floor,
                );
            } else {
                $overridable[] = sprintf(
                    'Under the floor of %.2f V for %.1f days: only with a senior\'s reason in words.',
                    $floor,
                    $belowFloorDays,
                );
                if (mb_strlen($reason) < self::REASON) {
                    $refusals[] = $overridable[0];
                }
            }
        } elseif ($policy->school === 'B' && $v < $floor + self::SCHOOL_B_V) {
            $refusals[] = sprintf(
                'This shop replaces what stands under %.2f V; its policy can be changed by the owner.',
                $floor + self::SCHOOL_B_V,
            );
        }
        foreach (self::NEVER_WORDS as $code => $word) {
            if (in_array($code, $codes, true) && !($code === 'group.reversed' && $v < 0.0)) {
                $refusals[] = "Group $group is $word: it is never recovered.";
            }
        }
        if ($ambientC < RunLimits::CHARGE_COLDEST_C || $ambientC > RunLimits::SINGLE_HOTTEST_C - RunLimits::SINGLE_OVER_AMBIENT_K) {
            $refusals[] = sprintf(
                'At %.0f degC around it: charge between %.0f and %.0f degC, so that %.0f degC can still be seen as too warm.',
                $ambientC,
                RunLimits::CHARGE_COLDEST_C,
                RunLimits::SINGLE_HOTTEST_C - RunLimits::SINGLE_OVER_AMBIENT_K,
                RunLimits::SINGLE_HOTTEST_C,
            );
        }
        $full = min($profile->fullV, $pack->workingFullV());
        $middle = $neighbours === [] ? $profile->storageV : Robust::median($neighbours);
        // A phosphate plateau says nothing of charge: there the target is full, for this group and its neighbours.
        $toFull = $pack->chemistry->isPhosphate();
        $target = min($middle, $full - self::UNDER_FULL_V);
        if ($v >= $target - self::LEVEL_V && !$toFull) {
            $refusals[] = sprintf(
                'Group %d stands at %.3f V and its neighbours at %.3f V: there is nothing to bring up.',
                $group,
                $v,
                $middle,
            );
        }
        $c = $capacity ?? 1.0;
        $precharge = min($amps ?? RunLimits::SLOW_C * $c, RunLimits::SLOW_MOST_C * $c);
        $cautions = [
            'One group, one supply, its limit set to one group. Clip on with the output off; isolate charger, load and sibling ' .
            'packs first.',
        ];
        if ($resolutionV > RunLimits::COARSEST_V) {
            $refusals[] = sprintf(
                'A meter that shows steps of %.0f mV cannot see a group hang: use one with %.0f mV or finer.',
                1000 * $resolutionV,
                1000 * RunLimits::COARSEST_V,
            );
        } elseif (RunLimits::FALL_COUNTS * $resolutionV > RunLimits::FALL_V) {
            $cautions[] = sprintf(
                'This meter shows steps of %.0f mV: a fall is seen from %.0f mV on only. A finer one sees it sooner.',
                1000 * $resolutionV,
                1000 * RunLimits::FALL_COUNTS * $resolutionV,
            );
        }
        $cautions[] = 'Stay with it. Fire-safe place, temperature probe on the group, extinguishing means at hand.';

        return new self(
            $group,
            $pack->chemistry,
            $c,
            $v,
            $precharge,
            min(
                RunLimits::RAISE_C * $c,
                $pack->cell->float('max_charge_a') !== null && $pack->parallel !== null
                    ? $pack->cell->float('max_charge_a') * $pack->parallel
                    : INF,
            ),
            $full,
            $profile->prechargeV,
            self::EARLY_V[$pack->chemistry->value] ?? self::EARLY_ELSE_V,
            $target,
            $toFull,
            $ambientC,
            $resolutionV,
            $refusals,
            $overridable,
            $cautions,
        );
    }

    /**
     * @param  list<string>  $codes  of one group
     * @return bool whether one of them keeps it from any supply
     */
    public static function isNever(array $codes): bool
    {
        return array_intersect($codes, array_keys(self::NEVER_WORDS)) !== [];
    }

    public function isAllowed(): bool
    {
        return $this->refusals === [];
    }

    /** Hours that the whole of it takes when all goes well, without the hold test. */
    public function hours(): float
    {
        $curve = RestCurve::of($this->chemistry);
        $toPrecharge = ((max(0.0, $this->prechargeV - $this->startV) / Twin::BELOW_V) * $this->capacityAh) / $this->prechargeA;
        $gap =
            ($this->toFull ? 1.0 : $curve->socAt($this->targetV)) -
            $curve->socAt(max($this->startV, min($this->prechargeV, $this->targetV)));

        return $toPrecharge +
            ($this->startV < $this->prechargeV ? 1.0 : 0.0) +
            (max(0.0, $gap) * $this->capacityAh) / $this->raiseA +
            ($this->chemistry->restMinutes() / 60) * 2;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'group' => $this->group,
            'chemistry' => $this->chemistry->value,
            'capacity_ah' => $this->capacityAh,
            'start_v' => $this->startV,
            'precharge_a' => round($this->prechargeA, 4),
            'raise_a' => round($this->raiseA, 4),
            'supply_v' => $this->supplyV,
            'precharge_v' => $this->prechargeV,
            'early_v' => $this->earlyV,
            'target_v' => round($this->targetV, 4),
            'to_full' => $this->toFull,
            'ambient_c' => $this->ambientC,
            'resolution_v' => $this->resolutionV,
            'refusals' => $this->refusals,
            'overridable' => $this->overridable,
            'cautions' => $this->cautions,
            'hours' => round($this->hours(), 1),
        ];
    }

    /** @param  array<string, mixed>  $a  as `toArray()` gave it */
    public static function fromArray(array $a): self
    {
        $f = fn(string $k): float => is_numeric($a[$k] ?? null)
            ? (float) $a[$k]
            : throw new \InvalidArgumentException("recovery plan lacks $k");
        /** @return list<string> */
        $s = fn(string $k): array => array_values(array_filter((array) ($a[$k] ?? []), is_string(...)));

        return new self(
            (int) $f('group'),
            Chemistry::from(is_string($a['chemistry'] ?? null) ? $a['chemistry'] : ''),
            $f('capacity_ah'),
            $f('start_v'),
            $f('precharge_a'),
            $f('raise_a'),
            $f('supply_v'),
            $f('precharge_v'),
            $f('early_v'),
            $f('target_v'),
            (bool) ($a['to_full'] ?? false),
            $f('ambient_c'),
            $f('resolution_v'),
            $s('refusals'),
            $s('overridable'),
            $s('cautions'),
        );
    }
}
