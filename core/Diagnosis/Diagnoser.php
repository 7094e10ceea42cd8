<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Reading\Suspicion;
use Heartwood\Core\Record\BenchTest;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\Options;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Safety\Triage;

/** From the evidence of a job to its verdict. Pure: the same record gives the same verdict. */
final class Diagnoser
{
    /** How much of the prior for a second faulty group falls away once one is found (assumed). */
    private const EXPLAINED = 0.65;

    /** @param  Triage|null  $triage the safety state as it stands when people have decided about it; from the record when null */
    public static function diagnose(JobRecord $record, string $inputHash = '', ?Priors $priors = null, ?Triage $triage = null): Verdict
    {
        $evidence = new PackEvidence($record);
        $triage ??= Triage::assess($record->inspection, $record->symptoms, $record->pack->fullVolts());
        $engine = new GroupEngine($record->pack, $evidence->curve->emptyV(), $evidence->middleV, $evidence->middleCharge ?? 0.5, $priors, self::complaint($record, $evidence), $evidence->lowTogether);
        $posteriors = self::oneExplains($engine, array_map($engine->posterior(...), $evidence->groups));
        $suspicions = self::suspicions($evidence);
        $senses = [...(new SenseChecks($record, $evidence))->findings(), ...self::readingFindings($suspicions)];
        $sense = self::mostProbable($senses, ['sense.open', 'sense.shifted']);
        $output = new OutputEngine($record, $evidence, self::outside($record, $posteriors), $sense);
        $spread = $evidence->rest === null ? null : RestSpread::of($evidence->rest, $record->pack->chemistry);
        $ledger = new GroupLedger($record->pack, $evidence);
        $charge = new ChargeEngine($record, $evidence, $posteriors, $output, $spread, self::highOutside($record, $posteriors), $sense);
        $path = new LivePath($record, $evidence, $output);

        $findings = [
            ...$ledger->findings($posteriors),
            ...self::spreadFinding($spread, $evidence),
            ...$output->findings(),
            ...$path->findings(),
            ...$charge->findings(),
            ...(new BoardEngine($record, $evidence, $posteriors))->findings(),
            ...$senses,
            ...(new OutsideChecks($record))->findings(),
            ...self::phantom($evidence, $output),
        ];
        $findings = self::settled(self::once($findings), $evidence);
        $findings = array_values(array_filter($findings, fn (Finding $f): bool => $f->probability >= Finding::LISTED));
        $joints = [];
        foreach ($findings as $f) {
            $joints += $f->code === 'joint.high-resistance' ? [$f->place->number => $f->probability] : [];
        }
        usort($findings, fn (Finding $a, Finding $b): int => self::order($a, $joints) <=> self::order($b, $joints));
        $window = UsableWindow::of($record->pack, $evidence->groups, $evidence->curve);

        return new Verdict(
            $triage,
            array_map(fn (GroupPosterior $p): array => self::groupRow($p, $evidence), $posteriors),
            $findings,
            $window,
            self::lacks($record, $evidence, $output),
            $triage->state === SafetyState::Quarantine ? [] : (new NextTests($record, $evidence, $engine))->rank($posteriors, $output, $suspicions, $triage->state, $spread, [...$output->tests(), ...$charge->tests(), ...$path->tests()]),
            (new Options($record->pack, $evidence, $window))->list($findings, $triage->state),
            $suspicions,
            $spread,
            $evidence->rest->redundancy ?? 0,
            $inputHash,
            ($priors ?? Priors::handbook())->name(),
            self::ledger($findings, $posteriors, $record),
            $evidence->leakReadyDays(),
            self::parallel($findings, $record, $evidence),
        );
    }

    /**
     * @param  list<Finding>  $findings
     * @return array{group: int, steps: list<string>}|null
     */
    private static function parallel(array $findings, JobRecord $record, PackEvidence $evidence): ?array
    {
        $p = $record->pack->parallel ?? 1;
        foreach ($findings as $f) {
            if ($p > 1 && $f->probability >= 0.3 && in_array($f->code, ['group.missing-cell', 'group.self-discharge'], true)) {
                $capacity = $record->pack->groupCapacityAh() ?? 5.0;
                $leak = max(0.001, ($evidence->groups[$f->place->number - 1]->leakPerDay ?? 0.01) * $capacity / 24);

                return ['group' => $f->place->number, 'steps' => ParallelPlan::of($p, $leak, $capacity / 2, 1e-5)['steps']];
            }
        }

        return null;
    }

    /** What the customer says of range and charging speaks for the groups; a dead output over sound groups against them. */
    private static function complaint(JobRecord $record, PackEvidence $evidence): float
    {
        if ($record->says('dies-early', 'low-range', 'cuts-out-under-load', 'charger-full-at-once', 'voltage-drops-off-charger', 'gauge-jumps')) {
            return 1.6;
        }
        $rated = $record->pack->groupCapacityAh();
        foreach ($record->currentTests('capacity') as $t) {
            if ($t->place->kind === 'pack' && $rated !== null && $t->data->bool('started_full') !== false && (float) $t->data->float('measured_ah') < 0.85 * $rated) {
                return 1.6;
            }
        }
        $read = array_filter($evidence->groups, fn (GroupEvidence $e): bool => $e->restV !== null);
        $outside = array_filter($read, fn (GroupEvidence $e): bool => $e->restV < $record->pack->lowReleaseV() || $e->restV > $record->pack->highReleaseV());

        // One fault explains one complaint: where the way out is the fault the groups seldom have another.
        return $record->says('dead-output', 'cuts-out-when-bumped') && $read !== [] && $outside === [] ? 0.4 : 1.0;
    }

    /**
     * @param  list<Finding>  $findings
     * @param  list<string>  $codes
     */
    private static function mostProbable(array $findings, array $codes): float
    {
        return max(0.0, 0.0, ...array_map(fn (Finding $f): float => in_array($f->code, $codes, true) ? $f->probability : 0.0, $findings));
    }

    /**
     * Where one group surely has a fault, the pack is explained: each other has less of a prior for one of its own.
     *
     * @param  list<GroupPosterior>  $posteriors
     * @return list<GroupPosterior>
     */
    private static function oneExplains(GroupEngine $engine, array $posteriors): array
    {
        $sick = array_map(fn (GroupPosterior $p): float => 1 - $p->p(GroupState::Ok), $posteriors);
        $worst = $sick === [] ? -1 : (int) array_search(max($sick), $sick, true);
        if ($worst < 0 || $sick[$worst] < 0.5) {
            return $posteriors;
        }
        foreach ($posteriors as $i => $p) {
            if ($i !== $worst) {
                $p->evidence->priorShare = 1 - self::EXPLAINED * $sick[$worst];
                $posteriors[$i] = $engine->posterior($p->evidence);
            }
        }

        return $posteriors;
    }

    /**
     * Each code once at a place: what two rules found alike stands as the surer one with the evidence of both.
     *
     * @param  list<Finding>  $findings
     * @return list<Finding>
     */
    private static function once(array $findings): array
    {
        $out = [];
        foreach ($findings as $f) {
            $key = $f->code.'@'.$f->place->key();
            $other = $out[$key] ?? null;
            if ($other === null) {
                $out[$key] = $f;

                continue;
            }
            [$best, $also] = $f->probability > $other->probability ? [$f, $other] : [$other, $f];
            $out[$key] = new Finding($best->code, $best->title, $best->place, $best->probability, $best->severity, array_values(array_unique([...$best->evidence, ...$also->evidence], SORT_REGULAR)));
        }

        return array_values($out);
    }

    /**
     * @param  list<Finding>  $findings
     * @param  list<GroupPosterior>  $posteriors
     * @return list<array{plain: string, missing: list<string>, overturn: string}>
     */
    private static function ledger(array $findings, array $posteriors, JobRecord $record): array
    {
        $tests = array_values(array_unique(array_map(fn (BenchTest $t): string => $t->kind, $record->currentTests())));

        return array_map(function (Finding $f) use ($posteriors, $tests): array {
            $k = match ($f->place->kind) {
                'group' => $f->place->number,
                'joint' => max(1, $f->place->number),
                default => 0,
            };

            return [
                'plain' => Catalogue::plain($f->code),
                'missing' => Catalogue::missing($f->code, array_keys($posteriors[$k - 1]->features ?? []), $tests),
                'overturn' => Catalogue::overturn($f->code),
            ];
        }, $findings);
    }

    /**
     * Findings that another one explains step back: a leak that goes with the sense plug is the board's; groups that
     * are low because the board feeds from them are not faults of their own.
     *
     * @param  list<Finding>  $findings
     * @return list<Finding>
     */
    private static function settled(array $findings, PackEvidence $evidence): array
    {
        $drain = 0.0;
        foreach ($findings as $f) {
            $drain = $f->code === 'bms.drain' ? max($drain, $f->probability) : $drain;
        }
        $run = $drain > 0 ? $evidence->lowEnd() : null;

        return array_map(function (Finding $f) use ($run, $drain, $evidence): Finding {
            $k = $f->place->kind === 'group' ? $f->place->number : 0;
            $factor = 1.0;
            $inRun = $run !== null && $k >= $run[0] && $k <= $run[1];
            if (($inRun && in_array($f->code, ['group.undercharged', 'group.self-discharge', 'group.low-capacity'], true)) || ($run !== null && ! $inRun && $f->code === 'group.overcharged')) {
                $factor = max(0.05, 1 - $drain - 0.05);
            }
            if (isset($evidence->bleeding[$k]) && $f->code === 'group.self-discharge') {
                $factor = 0.1;
            }

            return $factor === 1.0 ? $f : new Finding($f->code, $f->title, $f->place, $f->probability * $factor, $f->severity, $f->evidence);
        }, $findings);
    }

    /**
     * Probability that some group stands where a board refuses to charge: past the high release, or too low to be charged fast.
     *
     * @param  list<GroupPosterior>  $posteriors
     */
    private static function highOutside(JobRecord $record, array $posteriors): float
    {
        $inside = 1.0;
        foreach ($posteriors as $p) {
            $v = $p->evidence->restV;
            if ($v !== null) {
                $sigma = max(0.005, $p->evidence->restSigmaV);
                $inside *= 1 - Normal::cumulative(($v - $record->pack->highReleaseV()) / $sigma) * (1 - $p->evidence->doubtProbability);
            }
        }

        return 1 - $inside;
    }

    /**
     * @param  array<int, float>  $joints  probability by tap
     * @return array<int, float|string> severe and probable first
     */
    private static function order(Finding $f, array $joints): array
    {
        // One weak joint is spread over the two taps it may sit at: together they say how sure it is.
        $tap = $f->place->number;
        $p = $f->code === 'joint.high-resistance' ? min(1.0, $f->probability + max($joints[$tap - 1] ?? 0.0, $joints[$tap + 1] ?? 0.0)) : $f->probability;
        // The spread is what other findings bring about: it comes behind its cause.
        $weight = $f->severity->weight() * ($f->code === 'pack.spread' ? 0.5 : 1.0);

        return [-round($weight * $p, 3), $f->code, $f->place->key()];
    }

    /**
     * Probability that some group is outside the limits at which a sound board stays off.
     *
     * @param  list<GroupPosterior>  $posteriors
     */
    private static function outside(JobRecord $record, array $posteriors): float
    {
        $inside = 1.0;
        foreach ($posteriors as $p) {
            $v = $p->evidence->restV;
            if ($v === null) {
                continue;
            }
            $sigma = max(0.005, $p->evidence->restSigmaV);
            $out = Normal::cumulative(($record->pack->lowReleaseV() - $v) / $sigma) + Normal::cumulative(($v - $record->pack->highReleaseV()) / $sigma) * 0.3;
            $inside *= 1 - min(1.0, $out) * (1 - $p->evidence->doubtProbability);
        }

        return 1 - $inside;
    }

    /** @return list<Suspicion> */
    private static function suspicions(PackEvidence $evidence): array
    {
        $out = [];
        foreach ($evidence->solutions as $solution) {
            foreach ($solution->suspicions as $s) {
                $out[$s->kind.'/'.$s->text] = $s;
            }
        }

        return array_values($out);
    }

    /** @return list<Finding> */
    private static function spreadFinding(?RestSpread $spread, PackEvidence $evidence): array
    {
        if ($spread === null || $evidence->relaxing) {
            return [];
        }

        return [new Finding(
            'pack.spread', 'Groups too far apart to charge as a pack', Place::pack(), $spread->overLast, Severity::Stop,
            [new Evidence($spread->sentence(), 10 * log10(max(1e-3, $spread->overLast) / max(1e-3, 1 - $spread->overLast)), 'derived')],
        )];
    }

    /**
     * @param  list<Suspicion>  $suspicions
     * @return list<Finding>
     */
    private static function readingFindings(array $suspicions): array
    {
        $out = [];
        foreach ($suspicions as $s) {
            $board = $s->kind === 'sense-lead';
            $place = $s->tap !== null ? Place::tap($s->tap) : ($s->groups !== [] ? Place::group($s->groups[0]) : Place::pack());
            $out[] = new Finding(
                $board ? 'sense.open' : 'reading.inconsistent',
                $board ? "The board's sense lead at tap {$s->tap} is broken or loose" : (count($s->readings) > 1 && $s->kind === 'closure-tie' ? 'Readings contradict one another' : 'A reading is off or the probe slipped'),
                $place,
                $s->probability,
                $board ? Severity::Fix : Severity::Note,
                [new Evidence(trim($s->text.' '.($s->kind === 'closure-tie' ? $s->settleText() : '')), 10 * log10($s->probability / max(0.01, 1 - $s->probability)))],
            );
        }

        return $out;
    }

    /** @return list<Finding> */
    private static function phantom(PackEvidence $evidence, OutputEngine $output): array
    {
        $v = $evidence->outputV;
        $sum = $evidence->rest?->packV;
        if (! $output->dead || $output->alive || $v === null || $sum === null || $v < 0.02 * $sum || $evidence->outputInput === 'low') {
            return [];
        }
        $low = $evidence->outputLowImpedanceV;
        $p = $low === null ? 0.7 : ($low < 0.3 * $v ? 0.97 : 0.1);

        return [new Finding(
            'reading.phantom', 'The output voltage only floats', Place::pack(), $p, Severity::Note,
            [new Evidence($low === null ? sprintf('%.2f V on a high-impedance meter, %.2f V in the cells', $v, $sum) : sprintf('%.2f V at high impedance, %.2f V at low', $v, $low), $low === null ? 4.0 : 15.0)],
        )];
    }

    /** @return array<string, mixed> */
    private static function groupRow(GroupPosterior $p, PackEvidence $evidence): array
    {
        $e = $p->evidence;
        // A joint loads the group but is no state of it: the group itself counts as good then.
        $states = $p->probabilities;
        $states[GroupState::Ok->value] += $states[GroupState::Joint->value];
        unset($states[GroupState::Joint->value]);
        arsort($states);
        $state = (string) array_key_first($states);
        if ($e->restV === null) {
            $state = GroupState::Ok->value;
        }

        return [
            'group' => $e->group,
            'v' => $e->restV === null ? null : round($e->restV, 4),
            'sigma_v' => $e->restV === null ? null : round($e->restSigmaV, 4),
            'soc' => $e->restV === null || $e->restV < 0 ? null : $evidence->curve->soc($e->restV, $e->restSigmaV)->toArray(),
            'state' => $state,
            'probability' => round($states[$state], 3),
            'basis' => $e->across ? 'measured' : 'derived',
            'across' => $e->across,
            'doubt' => $e->doubt,
            'states' => array_map(fn (float $x): float => round($x, 4), $states),
        ];
    }

    /** @return list<string> */
    private static function lacks(JobRecord $record, PackEvidence $evidence, OutputEngine $output): array
    {
        $out = [];
        $unread = array_values(array_filter($evidence->groups, fn (GroupEvidence $e): bool => $e->restV === null));
        if (count($unread) === count($evidence->groups)) {
            $out[] = 'no rest voltages';
        } elseif ($unread !== []) {
            $out[] = 'no reading of group '.implode(', ', array_map(fn (GroupEvidence $e): string => (string) $e->group, $unread));
        }
        if ($evidence->restFromBoard) {
            $out[] = 'group voltages come from the board only: no meter reading beside them';
        }
        if ($evidence->relaxing) {
            $out[] = sprintf('the rest reading was taken before %.0f minutes of rest', $record->pack->chemistry->restMinutes());
        }
        if ($evidence->rest !== null && $evidence->rest->redundancy === 0 && $unread !== $evidence->groups) {
            $out[] = 'no redundant reading: a slip cannot be told from a fault';
        }
        if (! $evidence->underLoad && ! $evidence->onCharge) {
            $out[] = 'no reading under load';
        }
        if ($evidence->leakDays < 0.5) {
            $out[] = 'no second rest reading: a leak cannot be told yet';
        }
        if (array_filter($evidence->groups, fn (GroupEvidence $e): bool => $e->capacity !== null) === []) {
            $out[] = 'no measured capacity';
        }
        if ($evidence->outputV === null && $evidence->outputLowImpedanceV === null) {
            $out[] = 'no reading of the output';
        }
        if ($record->pack->groupCapacityAh() === null) {
            $out[] = 'neither label nor cells tell the capacity';
        }
        if ($evidence->middleV !== null && $evidence->curve->onPlateau($evidence->middleV)) {
            $out[] = 'charge cannot be read from voltage on the flat part of a phosphate curve';
        }

        return $out;
    }
}
