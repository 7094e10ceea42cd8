<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Diagnosis\Evidence;
use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Fault\Group\LowCapacity;
use Heartwood\Core\Fault\Group\MissingCell;
use Heartwood\Core\Fault\Group\Ok;
use Heartwood\Core\Fault\Pack\Aged;
use Heartwood\Core\Fault\Pack\DeepDischarged;
use Heartwood\Core\Fault\Pack\Discharged;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Maths\Odds;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;

/** Findings about the pack as a whole: worn alike, empty alike, left empty alike (handbook "The fault catalogue"). */
final readonly class PackChecks
{
    /** No capacity is known better, as a share. */
    private const CAPACITY_LEAST_SIGMA = 0.005;

    /** How much likelier an even sag, and none, is of an aged pack than of a fresh one (assumed). */
    private const SAGS_RATIO = 4.0;

    /** See above. */
    private const FRESH_RATIO = 0.5;

    /** How often something else that is even takes capacity: cold, a wrong rating (assumed). */
    private const BESIDE = 0.2;

    /** Words of the ledger without a density of their own. */
    private const SAYS_SOME_DB = 3.0;

    /** See above: all groups alike. */
    private const LEVEL_DB = 12.0;

    /** How often a pack has worn alike (assumed). */
    private const PRIOR = 0.4;

    /**
     * Months at which a pack is of the usual age, and how much likelier at the most, and less at the least, its age makes wear
     * (assumed).
     */
    private const USUAL_MONTHS = 36.0;

    private const OLD = 2.0;

    private const YOUNG = 0.3;

    /**
     * Resistance over the promised one from which an even sag says that the cells have worn, and under which it says that they have
     * not (assumed).
     */
    private const SAGS = 1.5;

    private const FRESH = 1.15;

    public function __construct(private JobRecord $record, private PackEvidence $evidence, private WholePack $pack) {}

    /** @return list<Finding> */
    public function findings(): array
    {
        return [...$this->aged(), ...$this->empty()];
    }

    /** @return list<Finding> */
    private function aged(): array
    {
        $x = $this->evidence->packCapacity;
        if ($x === null) {
            return [];
        }
        $low = Normal::cumulative((VerdictLimits::AGED_SHARE - $x) / max(self::CAPACITY_LEAST_SIGMA, $this->evidence->packCapacitySigma));
        $measured = array_filter($this->evidence->groups, fn($e): bool => $e->capacity !== null);
        $evidence = [
            new Evidence(
                sprintf(
                    '%s %.0f %% of the rated capacity',
                    $this->evidence->packCapacityAh === null ? 'the middle group holds' : 'the whole pack gave',
                    100 * $x,
                ),
                Odds::decibans($low),
                'measured',
            ),
        ];
        $p = $low;
        if (2 * count($measured) < $this->record->pack->series) {
            // One weak group spoils the capacity of the pack just as well: how surely is there none?
            $weak = 0.0;
            foreach ($this->pack->groups as $g) {
                $weak = max($weak, 1 - $g->states()[Ok::CODE], $g->p(LowCapacity::CODE) + $g->p(MissingCell::CODE));
            }
            $sag = $this->evenSag();
            $ratio = match (true) {
                $sag === null => 1.0,
                $sag > self::SAGS => self::SAGS_RATIO,
                $sag < self::FRESH => self::FRESH_RATIO,
                default => 1.0,
            };
            $months = $this->record->pack->ageMonths;
            $old = $months === null ? 1.0 : max(self::YOUNG, min(self::OLD, $months / self::USUAL_MONTHS));
            $prior = self::PRIOR * $ratio * $old;
            if ($sag !== null) {
                $evidence[] = new Evidence(
                    sprintf('all groups sag alike, %.0f %% of what their cells promise', 100 * $sag),
                    10 * log10($ratio),
                    'derived',
                );
            }
            if ($months !== null) {
                $evidence[] = new Evidence(sprintf('it is %d months old', $months), 10 * log10($old), 'reported');
            }
            $p = ($low * $prior) / ($prior + self::BESIDE * self::PRIOR + $weak * (1 - $prior));
        }
        if ($this->evidence->underLoad && $x < VerdictLimits::AGED_SHARE) {
            $evidence[] = new Evidence('no group stands out from the others', self::SAYS_SOME_DB, 'derived');
        }
        $fault = Faults::of(Aged::CODE);

        return $p < Finding::LISTED
            ? []
            : [
                new Finding(
                    Aged::CODE,
                    $fault->words()->title,
                    Place::pack(),
                    $p,
                    $x < VerdictLimits::WORN_OUT_SHARE ? Severity::Fix : Severity::Watch,
                    $evidence,
                ),
            ];
    }

    /** Resistance of the middle group over what its cells promise; null where it was not read or nobody told the promise. */
    private function evenSag(): ?float
    {
        $r = $this->evidence->middleResistanceMohm;

        return $r === null || $this->record->pack->cell->float('resistance_mohm') === null || $this->record->pack->parallel === null
            ? null
            : $r / $this->record->pack->groupResistanceMohm();
    }

    /** @return list<Finding> */
    private function empty(): array
    {
        $out = [];
        if ($this->pack->leftEmpty >= Finding::LISTED) {
            $fault = Faults::of(DeepDischarged::CODE);
            $out[] = new Finding(DeepDischarged::CODE, $fault->words()->title, Place::pack(), $this->pack->leftEmpty, $fault->severity(), [
                new Evidence(
                    sprintf(
                        '%d of %d groups lie alike under the board\'s low cut of %.2f V and above the floor',
                        count($this->pack->alike),
                        $this->record->pack->series,
                        $this->record->pack->lowCutV(),
                    ),
                    self::LEVEL_DB,
                    'derived',
                ),
            ]);
        }
        $p = $this->pack->discharged($this->evidence) * $this->pack->even();
        if ($p >= Finding::LISTED) {
            $fault = Faults::of(Discharged::CODE);
            $out[] = new Finding(Discharged::CODE, $fault->words()->title, Place::pack(), $p, $fault->severity(), [
                new Evidence(
                    sprintf(
                        'the middle group rests at %.3f V, all of them level, above the board\'s low cut of %.2f V',
                        (float) $this->evidence->middleV,
                        $this->record->pack->lowCutV(),
                    ),
                    self::LEVEL_DB,
                    'derived',
                ),
            ]);
        }

        return $out;
    }
}
