<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Fault\Group\Ok;
use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Feature\GroupFeatures;
use Heartwood\Core\Feature\RestFeature;
use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Maths\Robust;

/**
 * What befalls a pack as a whole, against what befalls its groups one by one: it was left empty, every group alike; its
 * board fed from the groups at one end. Under such a hypothesis the rest voltages are read in its light, and how likely
 * they are then decides between it and the groups' own faults.
 */
final readonly class WholePack
{
    /** Even odds; half a charge. */
    private const HALF = 0.5;

    /** Span between floor and low cut, at least, over which groups left empty may lie. */
    private const NARROWEST_V = 0.1;

    /** No prior of a drain is higher. */
    private const PRIOR_MOST = 0.9;

    /** How sharply a pack counts as discharged, and as above its low cut, volts. */
    private const LOW_SIGMA_V = 0.01;

    /** See above. */
    private const CUT_SIGMA_V = 0.005;

    /** How far groups that were left empty together may be from their median, volts: the curve is steep down there. */
    public const ALIKE_V = 0.25;

    /** Spread of such groups, 1 sigma, volts (assumed). */
    private const ALIKE_SIGMA_V = 0.06;

    /** Volts that count as much as all of a group's charge in that comparison (assumed). */
    private const ALIKE_V_PER_CHARGE = 6.0;

    /** Share of the groups that must be alike for the pack to be so. */
    private const MOST = 0.6;

    /** How often a pack comes in left empty, every group alike (assumed). */
    private const LEFT_EMPTY = 0.03;

    /** How often a board feeds unevenly; said to have been stored for long (assumed). */
    private const DRAINS = 0.004;

    private const DRAINS_STORED = 0.08;

    /** Spread of charge among groups that fed a board alike, 1 sigma, as a fraction (assumed). */
    private const FED_SIGMA = 0.012;

    /** How much likelier a drain is once it stopped with the sense plug out, and how much less if it did not (assumed). */
    private const PROVED = 400.0;

    private const DISPROVED = 0.05;

    /**
     * @param  array<int, GroupBeliefs>  $groups
     * @param  array<int, float>  $joints  probability by tap
     * @param  list<int>  $alike  groups that are low alike; empty when the pack is not
     */
    private function __construct(
        public array $groups,
        public array $joints,
        public float $leftEmpty,
        public float $drain,
        public array $alike,
    ) {}

    public static function believe(GroupChain $chain, GroupFeatures $features, PackEvidence $evidence, float $elsewhere): self
    {
        $plain = $chain->solve($features, $elsewhere);
        $ways = ['plain' => [$plain, 0.0]];
        $alike = self::alike($evidence);
        if ($alike !== []) {
            $middle = Robust::median(array_map(fn(int $k): float => (float) $evidence->groups[$k - 1]->restV, $alike));
            // Down there a tenth of a volt is no charge to speak of: a group is judged by how far it stands off the others.
            $ways['left empty'] = [
                $chain->solve(
                    $features->seen(
                        fn(int $k, Feature $f): Feature => $f instanceof RestFeature && in_array($k, $alike, true)
                            ? new RestFeature(
                                $chain->situation->curve->volts(self::HALF),
                                $f->sigma,
                                ($f->x - $middle) / self::ALIKE_V_PER_CHARGE,
                                self::ALIKE_SIGMA_V / self::ALIKE_V_PER_CHARGE,
                                self::ALIKE_V_PER_CHARGE,
                                $f->doubt,
                                $f->words,
                                $f->basis,
                            )
                            : $f,
                    ),
                    $elsewhere,
                ),
                log(
                    self::LEFT_EMPTY /
                        max(self::NARROWEST_V, $evidence->record->pack->lowCutV() - $evidence->record->pack->profile()->floorV),
                ),
            ];
        }
        $run = $evidence->drainRun ?? $evidence->lowEnd();
        if ($run !== null) {
            [$from, $to, $gap] = $run;
            $prior = $evidence->record->says('stored-long') ? self::DRAINS_STORED : self::DRAINS;
            $prior *= $evidence->drainByPlug === null ? 1.0 : ($evidence->drainByPlug ? self::PROVED : self::DISPROVED);
            $own = array_map(fn(int $k): float => (float) $evidence->groups[$k - 1]->charge, range($from, $to));
            $centre = Robust::median($own);
            $leaks = array_values(
                array_filter(
                    array_map(fn(int $k): ?float => $evidence->groups[$k - 1]->leakPerDay, range($from, $to)),
                    fn(?float $x): bool => $x !== null,
                ),
            );
            $sinks = $leaks === [] ? 0.0 : Robust::median($leaks);
            $ways['drain'] = [
                $chain->solve(
                    $features->seen(
                        fn(int $k, Feature $f): Feature => match (true) {
                            $k < $from || $k > $to => $f,
                            $f instanceof RestFeature && $f->charge !== null => new RestFeature(
                                $f->x,
                                $f->sigma,
                                $f->charge - $centre,
                                hypot($f->chargeSigma, self::FED_SIGMA),
                                $f->voltsPerCharge,
                                $f->doubt,
                                $f->words,
                                $f->basis,
                            ),
                            $f->kind === FeatureKind::Leak => new Feature(
                                $f->kind,
                                $f->x - $sinks,
                                $f->sigma,
                                $f->noise,
                                through: $f->through,
                                words: $f->words,
                                basis: $f->basis,
                            ),
                            default => $f,
                        },
                    ),
                    $elsewhere,
                ),
                log(min(self::PRIOR_MOST, $prior)),
            ];
        }
        if (count($ways) === 1) {
            return new self($plain['groups'], $plain['joints'], 0.0, 0.0, $alike);
        }
        $top = max(array_map(fn(array $w): float => $w[0]['log'] + $w[1], $ways));
        $mass = array_map(fn(array $w): float => exp($w[0]['log'] + $w[1] - $top), $ways);
        $total = array_sum($mass);
        $groups = $joints = [];
        foreach ($plain['groups'] as $k => $g) {
            $p = array_fill_keys(array_keys($g->probabilities), 0.0);
            foreach ($ways as $name => [$way]) {
                foreach ($way['groups'][$k]->probabilities as $code => $x) {
                    $p[$code] += (($mass[$name] ?? 0.0) / $total) * $x;
                }
            }
            $groups[$k] = new GroupBeliefs($k, $p, $g->features, $g->densities);
        }
        foreach (array_keys($plain['joints']) as $t) {
            $joints[$t] = array_sum(array_map(fn(array $w, float $m): float => ($m / $total) * $w[0]['joints'][$t], $ways, $mass));
        }

        return new self($groups, $joints, ($mass['left empty'] ?? 0.0) / $total, ($mass['drain'] ?? 0.0) / $total, $alike);
    }

    /**
     * Groups that are low alike, under the board's low cut and above the floor, when most of the pack is.
     *
     * @return list<int>
     */
    private static function alike(PackEvidence $evidence): array
    {
        $pack = $evidence->record->pack;
        $volts = [];
        foreach ($evidence->groups as $e) {
            if ($e->restV !== null && $e->restV > 0.0) {
                $volts[$e->group] = $e->restV;
            }
        }
        if ($pack->series < 2 || $volts === []) {
            return [];
        }
        $middle = Robust::median(array_values($volts));
        if ($middle >= $pack->lowCutV() || $middle < $pack->profile()->floorV) {
            return [];
        }
        $alike = array_keys(
            array_filter(
                $volts,
                fn(float $v): bool => abs($v - $middle) < self::ALIKE_V && $v >= $pack->profile()->floorV && $v < $pack->lowCutV(),
            ),
        );

        return count($alike) >= max(2, self::MOST * $pack->series) ? $alike : [];
    }

    /**
     * Probability that the pack is simply empty: every group low alike, above the board's low cut, none standing off.
     * Low is what the board would not release, or the last few percent of charge.
     */
    public function discharged(PackEvidence $evidence): float
    {
        $pack = $evidence->record->pack;
        if ($evidence->middleV === null || $pack->series < 2) {
            return 0.0;
        }
        $low = max($pack->lowReleaseV(), $evidence->curve->volts(self::EMPTY_CHARGE));
        $p =
            Normal::cumulative(($low - $evidence->middleV) / self::LOW_SIGMA_V) *
            Normal::cumulative(($evidence->middleV - $pack->lowCutV()) / self::CUT_SIGMA_V);
        foreach ($evidence->groups as $e) {
            if ($e->restV === null) {
                return 0.0;
            }
        }

        return $p;
    }

    /** Charge under which a pack counts as empty. */
    private const EMPTY_CHARGE = 0.03;

    /** How surely every group is its like: the share of them believed sound. */
    public function even(): float
    {
        $sound = array_filter($this->groups, fn(GroupBeliefs $g): bool => ($g->states()[Ok::CODE] ?? 0.0) > self::HALF);

        return count($sound) / max(1, count($this->groups));
    }
}
