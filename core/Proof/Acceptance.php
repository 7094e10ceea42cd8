<?php

declare(strict_types=1);

namespace Heartwood\Core\Proof;

use Heartwood\Core\Diagnosis\GroupEvidence;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Reading\NetworkSolution;
use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Measurement;

/**
 * Proves a repaired pack against the limits of handbook "Acceptance". What readings and logged tests of this
 * revision can show is computed; the rest is entered. Nothing that was not measured passes.
 */
final class Acceptance
{
    /** Sigmas of its own within which a group sags like the others (handbook "Acceptance"). */
    private const SAG_SIGMAS = 3.0;

    /** Of a month. */
    private const DAYS = 30;

    private const PHOSPHATE_FINISHED_V = 3.45;

    private PackEvidence $evidence;

    /**
     * @param  array<string, Fields>  $entries  what a person entered, by check code
     * @param  PackEvidence|null  $evidence  of this record, where it has been assembled already
     */
    public function __construct(
        private readonly JobRecord $record,
        private readonly array $entries,
        private readonly ?float $quotedAh = null,
        private readonly Strictness $strict = new Strictness(),
        ?PackEvidence $evidence = null,
    ) {
        $this->evidence = $evidence ?? new PackEvidence($record);
    }

    /** @return list<CheckResult> */
    public function results(): array
    {
        return array_map(
            fn(Check $c): CheckResult => match ($c) {
                Check::FinishedVoltage => $this->finishedVoltage(),
                Check::Spread => $this->spread(),
                Check::Taper => $this->taper(),
                Check::HighCut => $this->cut($c, 'high_cut_v', $this->record->pack->highCutV()),
                Check::LowCut => $this->cut($c, 'low_cut_v', $this->record->pack->lowCutV()),
                Check::LoadTest => $this->loadTest(),
                Check::Capacity => $this->capacity(),
                Check::Temperature => $this->temperature(),
                Check::Hold => $this->hold(),
                Check::OutputLive => $this->yes($c, 'live', 'live in the device'),
                Check::Gauge => $this->gauge(),
                Check::Insulation => $this->insulation(),
                Check::CauseNamed => $this->cause(),
            },
            Check::cases(),
        );
    }

    private function entry(Check $check): Fields
    {
        return $this->entries[$check->value] ?? Fields::of(null);
    }

    private function finishedVoltage(): CheckResult
    {
        $want = $this->record->pack->series * $this->record->pack->workingFullV();
        if ($this->record->pack->chemistry->isPhosphate()) {
            return $this->phosphateFinished($want);
        }
        $limit = sprintf('within 0.5 %% of %.2f V', $want);
        $v = $this->fullRest()?->packV;
        if ($v === null) {
            return CheckResult::missing(Check::FinishedVoltage, $limit, 'no rested reading of the full pack');
        }
        $short = [];
        foreach ($this->evidence->groups as $e) {
            if ($e->restV !== null && $e->restV < $this->record->pack->workingFullV() * (1 - ProofLimits::GROUP_SHORT)) {
                $short[] = sprintf('group %d at %.3f V', $e->group, $e->restV);
            }
        }

        return CheckResult::of(
            Check::FinishedVoltage,
            abs($v / $want - 1) <= ProofLimits::FINISHED,
            sprintf('%.2f V', $v) . ($short === [] ? '' : ': ' . implode(', ', array_slice($short, 0, 4))),
            $limit,
            'derived',
        );
    }

    /**
     * Rested phosphate falls back to its plateau whatever was put in: it is held at the taper end, where both schools
     * of full voltage, 3.45 V a cell held longer and the full 3.65 V, count as finished.
     */
    private function phosphateFinished(float $want): CheckResult
    {
        $least = $this->record->pack->series * self::PHOSPHATE_FINISHED_V;
        $limit = sprintf('%.2f to %.2f V at the taper end', $least, $want);
        $v = $this->taperSet()?->packV;

        return $v === null
            ? CheckResult::missing(Check::FinishedVoltage, $limit, 'no reading at the taper end')
            : CheckResult::of(
                Check::FinishedVoltage,
                $v >= (1 - ProofLimits::FINISHED) * $least && $v <= (1 + ProofLimits::FINISHED) * $want,
                sprintf('%.2f V', $v),
                $limit,
                'derived',
            );
    }

    /** The rest solution, when it was taken near the top of charge. */
    private function fullRest(): ?NetworkSolution
    {
        $middle = $this->evidence->middleV;
        $top = $this->record->pack->chemistry->isPhosphate()
            ? ProofLimits::PHOSPHATE_FULL_V
            : ProofLimits::NEARLY_FULL * $this->record->pack->workingFullV();

        return $middle !== null && $middle >= $top && $this->evidence->rest?->isComplete() === true ? $this->evidence->rest : null;
    }

    private function spread(): CheckResult
    {
        $limit = sprintf('%.3g mV', $this->strict->spreadV * 1000);
        $solution = $this->record->pack->chemistry->isPhosphate() ? $this->taperSet() : $this->fullRest();
        $spread = $solution === null ? null : RestSpread::of($solution, $this->record->pack->chemistry);
        if ($spread === null) {
            return CheckResult::missing(
                Check::Spread,
                $limit,
                $this->record->pack->chemistry->isPhosphate() ? 'no reading at the taper end' : 'no rested reading of the full pack',
            );
        }

        return CheckResult::of(
            Check::Spread,
            in_array($spread->class, ['matched', 'good'], true) && $spread->isWithin($this->strict->spreadV),
            sprintf('%.0f mV', $spread->spreadV * 1000),
            $limit,
            'derived',
        );
    }

    private function taperSet(): ?NetworkSolution
    {
        foreach (array_reverse($this->record->current()) as $m) {
            if ($m->currentA < 0) {
                continue;
            }
            $solution = $this->evidence->solved($m);
            $read = $solution->read();
            if (
                $read !== [] &&
                count($read) === $this->record->pack->series &&
                Robust::median(array_map(fn($g): float => (float) $g->volts, $read)) >= VerdictLimits::TAPER_END_V
            ) {
                return $solution;
            }
        }

        return null;
    }

    private function taper(): CheckResult
    {
        $tests = $this->record->currentTests('charge');
        $last = $tests[count($tests) - 1] ?? null;
        $by = $last?->data->string('stopped_by');
        $said = $this->entry(Check::Taper)->bool('by_taper');
        if ($by === null && $said === null) {
            return CheckResult::missing(Check::Taper, 'by taper');
        }
        $passed = $by === null ? $said === true : $by === 'charger';

        return CheckResult::of(Check::Taper, $passed, $passed ? 'the charger tapered off' : 'stopped before the taper', 'by taper');
    }

    /**
     * Against the board's own figure. Where nobody said it, a board that cuts where such boards do is right, one that lets cells past
     * what any of their kind bear is not, and of any other its sheet has to tell.
     */
    private function cut(Check $check, string $field, float $usual): CheckResult
    {
        $own = $this->record->pack->bms->float($field);
        $limit =
            $own !== null
                ? sprintf('within 50 mV of %.2f V, the board\'s own', $own)
                : sprintf('the board\'s own, which nobody said; boards of this kind cut at %.2f V', $usual);
        $v = $this->entry($check)->float('v');
        $settle = fn(CheckResult $r): CheckResult => $own === null ? $r->settledBy("pack.bms.$field", 'Say what its sheet says') : $r;
        if ($v === null) {
            return $settle(CheckResult::missing($check, $limit));
        }
        $near = abs($v - $usual) <= ProofLimits::CUT_V + Tiny::COARSE;
        $profile = $this->record->pack->profile();
        $beyond = $check === Check::HighCut ? $v > $profile->boardHighV + ProofLimits::CUT_V + Tiny::COARSE : $v < $profile->floorV;

        return $settle(
            $own === null && !$near && !$beyond
                ? CheckResult::missing($check, $limit, sprintf('%.3f V: compare it with the board\'s sheet, and say what that says', $v))
                : CheckResult::of($check, $near && ($own !== null || !$beyond), sprintf('%.3f V', $v), $limit),
        );
    }

    private function loadTest(): CheckResult
    {
        $limit = 'every sag within 15 % of the median, none below the board\'s low cut';
        $rest = $this->evidence->rest;
        $sets = array_values(
            array_filter($this->record->current(), fn(Measurement $m): bool => $m->currentA < -ProofLimits::LOADED_A && !$m->fromBoard),
        );
        $last = $sets[count($sets) - 1] ?? null;
        if ($last === null || $rest === null || !$rest->isComplete()) {
            return CheckResult::missing(Check::LoadTest, $limit, 'no groups read under load');
        }
        $solution = $this->evidence->solved($last);
        if (!$solution->isComplete() || $solution->groups === []) {
            return CheckResult::missing(Check::LoadTest, $limit, 'not every group was read under load');
        }
        $sags = $sigma = [];
        foreach ($solution->groups as $g) {
            $sags[$g->group] = (float) $rest->group($g->group)->volts - (float) $g->volts;
            $sigma[$g->group] = hypot($g->ownSigmaV, $rest->group($g->group)->ownSigmaV);
        }
        $median = Robust::median(array_values($sags));
        $bad = [];
        foreach ($sags as $k => $sag) {
            if (
                abs($sag - $median) > max(ProofLimits::SAG_SHARE * $median, self::SAG_SIGMAS * $sigma[$k], ProofLimits::SAG_V) ||
                (float) $solution->group($k)->volts < $this->record->pack->lowCutV()
            ) {
                $bad[] = sprintf('group %d sags %.0f mV, the median %.0f mV', $k, $sag * 1000, $median * 1000);
            }
        }

        return CheckResult::of(
            Check::LoadTest,
            $bad === [],
            $bad === []
                ? sprintf('median sag %.0f mV at %.1f A', $median * 1000, -$last->currentA)
                : implode('; ', array_slice($bad, 0, 3)),
            $limit,
            'derived',
        );
    }

    private function capacity(): CheckResult
    {
        $new = $this->record->pack->build === 'new';
        $own = $this->record->pack->groupCapacityAh();
        // New cells give what is written on them, or nearly; a label is as old as its pack.
        $label =
            $this->quotedAh ??
            (($new ? $own : null) ?? ($this->record->pack->label->float('capacity_ah') ?? ($own ?? 0.0))) *
                ($new ? max(CellLimits::NEW_SHARE, $this->strict->capacityShare) : $this->strict->capacityShare);
        $limit =
            $label > 0
                ? sprintf('%.2f Ah or more%s', $label, $new ? ', as a new pack gives' : '')
                : 'a label or quoted capacity to hold it against';
        $ah = $this->entry(Check::Capacity)->float('ah');
        foreach ($this->record->currentTests('capacity') as $t) {
            if ($t->place->kind === 'pack') {
                $ah = $t->data->float('measured_ah') ?? $ah;
            }
        }

        return $ah === null || $label <= 0
            ? CheckResult::missing(Check::Capacity, $limit)
            : CheckResult::of(Check::Capacity, $ah >= $label, sprintf('%.2f Ah', $ah), $limit);
    }

    private function temperature(): CheckResult
    {
        $limit = sprintf('%.3g K rise at most, no place 5 K over the median', $this->strict->warmerK);
        $e = $this->entry(Check::Temperature);
        [$ambient, $hot, $median] = [$e->float('ambient_c'), $e->float('hottest_c'), $e->float('median_c')];
        if ($ambient === null || $hot === null) {
            return CheckResult::missing(Check::Temperature, $limit);
        }

        return CheckResult::of(
            Check::Temperature,
            $hot - $ambient <= $this->strict->warmerK && ($median === null || $hot - $median <= ProofLimits::APART_K),
            sprintf('%.1f K rise', $hot - $ambient),
            $limit,
        );
    }

    private function hold(): CheckResult
    {
        $limit = sprintf('leak below %.3g %% a month, sure to 2 sigma', 100 * $this->strict->leakAMonth);
        $leaks = array_values(array_filter($this->evidence->groups, fn(GroupEvidence $e): bool => $e->leakPerDay !== null));
        if (count($leaks) < $this->record->pack->series || $this->evidence->leakDays < ProofLimits::HOLD_DAYS) {
            return CheckResult::missing(Check::Hold, $limit, 'no second rest reading a day or more later');
        }
        usort(
            $leaks,
            fn(GroupEvidence $a, GroupEvidence $b): int => (float) $b->leakPerDay + 2 * $b->leakSigma <=>
                (float) $a->leakPerDay + 2 * $a->leakSigma,
        );
        $worst = $leaks[0];
        $month = self::DAYS * ((float) $worst->leakPerDay + 2 * $worst->leakSigma);
        if (
            $month >= $this->strict->leakAMonth &&
            self::DAYS * ((float) $worst->leakPerDay - 2 * $worst->leakSigma) < $this->strict->leakAMonth
        ) {
            return CheckResult::missing(
                Check::Hold,
                $limit,
                sprintf(
                    'cannot tell yet: group %d at %.0f %% a month +- %.0f',
                    $worst->group,
                    100 * self::DAYS * (float) $worst->leakPerDay,
                    100 * self::DAYS * $worst->leakSigma,
                ),
            );
        }

        return CheckResult::of(
            Check::Hold,
            $month < $this->strict->leakAMonth,
            sprintf('group %d: %.1f %% a month', $worst->group, 100 * self::DAYS * (float) $worst->leakPerDay),
            $limit,
            'derived',
        );
    }

    private function yes(Check $check, string $field, string $limit): CheckResult
    {
        $said = $this->entry($check)->bool($field);

        return $said === null
            ? CheckResult::missing($check, $limit, 'not tried')
            : CheckResult::of($check, $said, $said ? 'yes' : 'no', $limit);
    }

    private function gauge(): CheckResult
    {
        $has =
            $this->record->pack->kind === 'laptop' ||
            $this->record->says('gauge-jumps', 'gauge-wrong') ||
            $this->record->currentTests('gauge') !== [];

        return $has || $this->entry(Check::Gauge)->has('sane')
            ? $this->yes(Check::Gauge, 'sane', 'agrees with what was measured')
            : CheckResult::notNeeded(Check::Gauge, 'no gauge in this pack');
    }

    private function insulation(): CheckResult
    {
        $metal = $this->record->inspection->bool('metal_case');
        if ($metal === false) {
            return CheckResult::notNeeded(Check::Insulation, 'no metal case');
        }
        $mohm = $this->entry(Check::Insulation)->float('mohm');
        foreach ($this->record->currentTests('insulation') as $t) {
            $mohm = $t->data->float('mohm') ?? $mohm;
        }

        $result =
            $mohm === null
                ? CheckResult::missing(
                    Check::Insulation,
                    'over 1 Mohm',
                    $metal === null ? 'not looked at: is the case of metal? Say so at the intake, or measure' : 'not measured',
                )
                : CheckResult::of(Check::Insulation, $mohm > ProofLimits::INSULATION_MOHM, sprintf('%.3g Mohm', $mohm), 'over 1 Mohm');

        return $metal === null ? $result->settledBy('metal_case', 'Say what the case is made of') : $result;
    }

    private function cause(): CheckResult
    {
        if (!$this->record->says('short-circuited')) {
            return CheckResult::notNeeded(Check::CauseNamed, 'no short circuit reported');
        }
        $cause = trim($this->entry(Check::CauseNamed)->string('cause') ?? '');

        return $cause === ''
            ? CheckResult::missing(Check::CauseNamed, 'named before return', 'not named')
            : CheckResult::of(Check::CauseNamed, true, $cause, 'named before return');
    }
}
