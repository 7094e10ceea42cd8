<?php

declare(strict_types=1);

namespace Heartwood\Core\Feature;

use Heartwood\Core\Diagnosis\GroupEvidence;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Maths\Tiny;

/** What is known of each group and each joint, as features in a technician's words: each once, none written again. */
final readonly class GroupFeatures
{
    /** Charge against the middle group that is none. */
    private const LEVEL_CHARGE = 1e-3;

    /** Resistance over a good group that is called none (words only). */
    private const ORDINARY = 0.05;

    /** Peers never agree better than this. */
    private const CAPACITY_LEAST_SIGMA = 0.005;

    /** 1 sigma of a group beside the middle one where a charge stops: two relaxing voltages (assumed). */
    private const TOP_SIGMA_V = 0.01;

    /** The same where a discharge stops: the curve is steep there (assumed). */
    private const BOTTOM_SIGMA_V = 0.03;

    /** The same a while after the charge (assumed). */
    private const STAYS_SIGMA_V = 0.006;

    /** A smaller group moves further when charge goes through the pack; healthy ones differ by 3 % in capacity. */
    private const CAPACITY_SIGMA = 0.03;

    /**
     * @param  array<int, list<Feature>>  $groups  by group
     * @param  array<int, list<Feature>>  $joints  by tap
     */
    private function __construct(public array $groups, public array $joints) {}

    /**
     * @param  array<int, list<Feature>>  $groups  by group, from 1
     * @param  array<int, list<Feature>>  $joints  by tap, from 0
     */
    public static function from(array $groups, array $joints): self
    {
        return new self($groups, $joints);
    }

    public static function of(PackEvidence $evidence): self
    {
        $groups = $joints = [];
        foreach ($evidence->groups as $e) {
            $groups[$e->group] = self::group($e, $evidence);
        }
        for ($tap = 0; $tap <= $evidence->record->pack->series; $tap++) {
            $joints[$tap] = self::joint($tap, $evidence);
        }

        return new self($groups, $joints);
    }

    /** @return list<Feature> */
    private static function group(GroupEvidence $e, PackEvidence $evidence): array
    {
        $out = [];
        $own = $e->across ? 'measured' : 'derived';
        $board = $evidence->restFromBoard;
        if ($e->restV !== null) {
            $perCharge =
                $e->charge === null || abs($e->charge) < self::LEVEL_CHARGE || $evidence->middleV === null
                    ? 1.0
                    : abs(($e->restV - $evidence->middleV) / $e->charge);
            $out[] = new RestFeature(
                $e->restV,
                $e->restSigmaV,
                $evidence->middleV === null ? null : $e->charge,
                $e->chargeSigma,
                $perCharge,
                $e->doubtProbability,
                self::rest($e, $evidence),
                $board ? 'reported' : $own,
            );
        }
        if ($e->leakPerDay !== null) {
            $noise = hypot(max(Tiny::DIVISOR, $e->leakNoise), self::CAPACITY_SIGMA * $e->throughput);
            $sigma = hypot($e->leakSigma, self::CAPACITY_SIGMA * $e->throughput);
            $out[] =
                $e->refillAh > 0.0
                    ? new Feature(
                        FeatureKind::Refill,
                        $e->leakPerDay,
                        $sigma,
                        $noise,
                        words: sprintf('took %.2f Ah to fill again after %s', $e->refillAh, self::days($e->leakDays)),
                        basis: 'measured',
                    )
                    : new Feature(
                        FeatureKind::Leak,
                        $e->leakPerDay,
                        $sigma,
                        $noise,
                        through: $e->throughput,
                        words: sprintf(
                            'falls %.0f mV in %s, the middle group %.0f mV',
                            $e->fellMv,
                            self::days($e->leakDays),
                            $e->othersFellMv,
                        ),
                    );
        }
        if ($e->resistance !== null) {
            $out[] = new Feature(
                FeatureKind::Resistance,
                $e->resistance,
                $e->resistanceSigma,
                words: abs($e->resistance) < max(self::ORDINARY, $e->resistanceSigma)
                    ? 'follows the middle group as current changes'
                    : sprintf(
                        '%s %.1f mohm %s than the middle group as current changes',
                        $e->resistance > 0 ? 'sags' : 'stands',
                        abs($e->resistanceMohm),
                        $e->resistance > 0 ? 'more' : 'better',
                    ),
            );
        }
        if ($e->capacity !== null) {
            $out[] = new Feature(
                FeatureKind::Capacity,
                $e->capacity,
                $e->capacitySpread === null
                    ? $e->capacitySigma
                    : min($e->capacitySigma, max(self::CAPACITY_LEAST_SIGMA, $e->capacitySpread)),
                scatter: $e->capacitySpread,
                words: sprintf('gave %.2f Ah, %.0f %% of what it should', $e->capacityAh, 100 * $e->capacity),
                basis: 'measured',
            );
        }
        if (($loose = $e->tugLoose ?? $e->stripDead) !== null) {
            $out[] = Feature::outcome(
                FeatureKind::Weld,
                $loose ? 'loose' : 'holds',
                $loose
                    ? ($e->tugLoose !== null
                        ? 'a weld comes loose when tugged'
                        : 'one cell\'s strip carries nothing')
                    : 'every weld holds',
            );
        }
        if ($e->stripLeaks !== null) {
            $out[] = Feature::outcome(
                FeatureKind::Strips,
                $e->stripLeaks ? 'one draws' : 'none draws',
                $e->stripLeaks ? 'one cell draws current through its strip at rest' : 'no cell draws current from the others at rest',
            );
        }
        if ($e->cellResistance !== null) {
            $out[] = new Feature(
                FeatureKind::Cells,
                $e->cellResistance,
                0.0,
                words: sprintf(
                    'its cells by themselves measure %.0f %% %s than they should',
                    abs(100 * $e->cellResistance),
                    $e->cellResistance >= 0 ? 'more' : 'less',
                ),
                basis: 'measured',
            );
        }
        if ($e->aheadAtTop !== null) {
            $out[] = new Feature(
                FeatureKind::Top,
                $e->aheadAtTop,
                self::TOP_SIGMA_V,
                0.0,
                words: sprintf(
                    'stands %.0f mV %s the middle group when the charge stops',
                    abs(1000 * $e->aheadAtTop),
                    $e->aheadAtTop >= 0 ? 'over' : 'under',
                ),
            );
        }
        if ($e->aheadAtBottom !== null) {
            $out[] = new Feature(
                FeatureKind::Bottom,
                $e->aheadAtBottom,
                self::BOTTOM_SIGMA_V,
                0.0,
                words: sprintf(
                    'stands %.0f mV %s the middle group when the discharge stops',
                    abs(1000 * $e->aheadAtBottom),
                    $e->aheadAtBottom >= 0 ? 'under' : 'over',
                ),
            );
        }
        if ($e->staysAtTop !== null) {
            $out[] = new Feature(
                FeatureKind::Stays,
                $e->staysAtTop,
                self::STAYS_SIGMA_V,
                0.0,
                words: abs($e->staysAtTop) < self::TOP_SIGMA_V
                    ? 'what it shows on charge vanishes with the current'
                    : sprintf(
                        'stays %.0f mV %s the others after the charge stops',
                        abs(1000 * $e->staysAtTop),
                        $e->staysAtTop >= 0 ? 'over' : 'under',
                    ),
            );
        }
        if ($e->jump !== null) {
            $out[] = new Feature(
                FeatureKind::Jump,
                $e->jump,
                self::TOP_SIGMA_V,
                0.0,
                words: sprintf('rises %.2f V more than the others while charge flows', $e->jump),
            );
        }
        if ($e->recovery !== null) {
            $out[] = Feature::outcome(
                FeatureKind::Recovery,
                $e->recovery,
                match ($e->recovery) {
                    'rises' => 'rises under a small current',
                    'falls' => 'falls while current flows',
                    'sinks' => 'rises while current flows, and still falls after an hour of rest',
                    default => 'hangs while current flows',
                },
            );
        }

        return $out;
    }

    /** @return list<Feature> */
    private static function joint(int $tap, PackEvidence $evidence): array
    {
        $out = [];
        if (isset($evidence->retightened[$tap])) {
            $out[] = Feature::outcome(FeatureKind::Cure, 'cured', 're-tightening it took the sag away', 'derived');
        } elseif (isset($evidence->jointDrop[$tap])) {
            $out[] = Feature::outcome(
                FeatureKind::Drop,
                $evidence->jointDrop[$tap] ? 'bad' : 'good',
                $evidence->jointWords[$tap] ??
                    ($evidence->jointDrop[$tap] ? 'the joint itself drops too much' : 'the joint itself drops next to nothing'),
            );
        }
        if (isset($evidence->jointHeat[$tap])) {
            $hot = $evidence->jointHeat[$tap] > PackEvidence::JOINT_HOT_K;
            $out[] = Feature::outcome(
                FeatureKind::Heat,
                $hot ? 'hot' : 'cool',
                sprintf('%.0f K over ambient while current flows', $evidence->jointHeat[$tap]),
            );
        }

        return $out;
    }

    private static function rest(GroupEvidence $e, PackEvidence $evidence): string
    {
        $pack = $evidence->record->pack;
        $middle = $evidence->middleV;
        $v = (float) $e->restV;

        return match (true) {
            $v < 0 => sprintf('reads %.3f V: below zero', $v),
            $v < $pack->profile()->floorV => sprintf('rests at %.3f V, under the floor of %.2f V', $v, $pack->profile()->floorV),
            $v < $pack->lowCutV() => sprintf(
                'rests at %.3f V, under the board\'s low cut of %.2f V and above the floor',
                $v,
                $pack->lowCutV(),
            ),
            $middle === null => sprintf('rests at %.3f V', $v),
            abs($v - $middle) < self::STAYS_SIGMA_V => 'rests level with its neighbours',
            default => sprintf('rests %.0f mV %s the middle group', abs($v - $middle) * 1000, $v < $middle ? 'under' : 'over'),
        };
    }

    private static function days(float $days): string
    {
        return $days < 2 ? sprintf('%.0f h', $days * 24) : sprintf('%.0f days', $days);
    }

    /**
     * The same with some features of the groups in another light.
     *
     * @param  callable(int, Feature): Feature  $change
     */
    public function seen(callable $change): self
    {
        $groups = [];
        foreach ($this->groups as $k => $list) {
            $groups[$k] = array_map(fn(Feature $f): Feature => $change($k, $f), $list);
        }

        return new self($groups, $this->joints);
    }
}
