<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Fault\Group\DeepDischarged;
use Heartwood\Core\Fault\Group\Ok;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Feature\GroupFeatures;
use Heartwood\Core\Inference\Blocks;
use Heartwood\Core\Inference\ChargePath;
use Heartwood\Core\Inference\GroupBeliefs;
use Heartwood\Core\Inference\GroupChain;
use Heartwood\Core\Inference\OutputPath;
use Heartwood\Core\Inference\PackChecks;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Inference\WholePack;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Maths\Odds;
use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Reading\Suspicion;
use Heartwood\Core\Record\BenchTest;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Record\Places;
use Heartwood\Core\Record\Reading;
use Heartwood\Core\Repair\Options;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Safety\Triage;

/** From the evidence of a job to its verdict. Pure: the same record gives the same verdict. */
final class Diagnoser
{
    /** Complaints that sound groups and joints do not bring about. */
    private const NOT_OF_GROUPS = [
        'dead-output',
        'cuts-out-when-bumped',
        'will-not-charge',
        'charger-blinks-fault',
        'gauge-wrong',
        'modified',
    ];

    /** Neighbours that make a run, and how sure each must be. */
    private const RUN = 3;

    private const RUN_SURE = VerdictLimits::TOGETHER;

    /** How surely such a complaint has its cause elsewhere (assumed). */
    private const ELSEWHERE = 0.9;

    /** Findings that others bring about, and how much less they weigh in the order. */
    private const FOLLOWS = ['pack.spread', 'bms.balance-insufficient', 'charger.outruns-balance'];

    private const BEHIND = 0.5;

    /** A reading that slipped this probably decides whether a spread is one. */
    private const DOUBTED = 0.3;

    /** @param  Triage|null  $triage the safety state as it stands when people have decided about it; from the record when null */
    public static function diagnose(JobRecord $record, string $inputHash = '', ?Priors $priors = null, ?Triage $triage = null): Verdict
    {
        $priors ??= Priors::handbook();
        $evidence = new PackEvidence($record);
        $triage ??= Triage::assess($record->inspection, $record->symptoms, $record->pack->fullVolts());
        $situation = new Situation(
            $record->pack,
            $evidence->middleV,
            $evidence->middleCharge ?? 0.5,
            $evidence->lowTogether,
            $evidence->middleAtTopV,
        );
        $suspicions = self::suspicions($evidence);
        $senses = [...(new SenseChecks($record, $evidence))->findings(), ...self::readingFindings($suspicions)];
        if (array_filter($senses, fn(Finding $f): bool => $f->code === 'sense.shifted') !== []) {
            // All leads one place off: no single one is broken beside it.
            $senses = array_values(array_filter($senses, fn(Finding $f): bool => $f->code !== 'sense.open'));
        }
        $sense = self::mostProbable($senses, ['sense.open', 'sense.shifted']);
        $spread = $evidence->rest === null ? null : RestSpread::of($evidence->rest, $record->pack->chemistry);
        $output = new OutputPath($record, $evidence, $situation, $priors, self::outside($evidence, true), $sense);
        $charge = new ChargePath(
            $record,
            $evidence,
            $situation,
            $priors,
            $output,
            $spread,
            self::outside($evidence, false),
            self::underCut($evidence),
            $sense,
        );
        $live = new LivePath($record, $evidence, $output);
        $outside = [...$live->findings(), ...(new OutsideChecks($record, $evidence))->findings()];

        $features = GroupFeatures::of($evidence);
        $chain = new GroupChain($situation, $priors);
        $elsewhere =
            1 -
            (1 - $output->sick()) *
                (1 - $charge->sick()) *
                (1 - self::mostProbable($outside, array_map(fn(Finding $f): string => $f->code, $outside)));
        $pack = WholePack::believe(
            $chain,
            $features,
            $evidence,
            max($elsewhere, self::pointsElsewhere($record, self::outside($evidence, true))),
        );
        $blocks = new Blocks($evidence);
        $ledger = new GroupLedger($record->pack, $evidence, $features);

        $findings = [
            ...$ledger->findings($pack),
            ...(new PackChecks($record, $evidence, $pack))->findings(),
            ...$blocks->findings(),
            ...self::spreadFinding($spread, $evidence),
            ...$output->findings(),
            ...$charge->findings(),
            ...(new BoardEngine($record, $evidence, $pack->groups, $pack->drain))->findings(),
            ...$senses,
            ...$outside,
            ...self::phantom($evidence, $output),
        ];
        $findings = self::runs(self::settled(self::once($findings), $evidence));
        $findings = array_values(array_filter($findings, fn(Finding $f): bool => $f->probability >= Finding::LISTED));
        $joints = [];
        foreach ($findings as $f) {
            $joints += $f->code === 'joint.high-resistance' ? [$f->place->number => $f->probability] : [];
        }
        usort($findings, fn(Finding $a, Finding $b): int => self::order($a, $joints) <=> self::order($b, $joints));
        $window = UsableWindow::of($evidence);

        return new Verdict(
            $triage,
            array_map(fn(GroupBeliefs $g): array => self::groupRow($g, $evidence, $pack), array_values($pack->groups)),
            $findings,
            $window,
            self::lacks($record, $evidence),
            $triage->state === SafetyState::Quarantine
                ? []
                : (new NextTests($record, $evidence, $chain))->rank($pack, $output, $suspicions, $triage->state, $spread, $findings, [
                    ...$blocks->tests(),
                    ...$output->tests(),
                    ...$charge->tests(),
                    ...$live->tests(),
                ]),
            (new Options($record->pack, $evidence, $window))->list($findings, $triage->state),
            $suspicions,
            $spread,
            $evidence->rest->redundancy ?? 0,
            $inputHash,
            $priors->name(),
            self::ledger($findings, $ledger, $record, $evidence),
            $evidence->leakReadyDays(),
            self::parallel($findings, $record, $evidence),
        );
    }

    /**
     * How surely a complaint is none that a group or a joint brings about, while no group is outside its limits: one fault explains
     * one complaint.
     */
    private static function pointsElsewhere(JobRecord $record, float $outside): float
    {
        return $record->symptoms === [] || array_diff($record->symptoms, self::NOT_OF_GROUPS) !== []
            ? 0.0
            : self::ELSEWHERE * (1 - $outside);
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
                $capacity = $record->pack->groupCapacityAh() ?? PackSpec::UNKNOWN_AH;
                $leak = max(0.001, (($evidence->groups[$f->place->number - 1]->leakPerDay ?? 0.01) * $capacity) / 24);

                return ['group' => $f->place->number, 'steps' => ParallelPlan::of($p, $leak, $capacity / 2, 1e-5)['steps']];
            }
        }

        return null;
    }

    /**
     * @param  list<Finding>  $findings
     * @param  list<string>  $codes
     */
    private static function mostProbable(array $findings, array $codes): float
    {
        return max(0.0, 0.0, ...array_map(fn(Finding $f): float => in_array($f->code, $codes, true) ? $f->probability : 0.0, $findings));
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
            $key = $f->code . '@' . $f->place->key();
            $other = $out[$key] ?? null;
            if ($other === null) {
                $out[$key] = $f;

                continue;
            }
            [$best, $also] = $f->probability > $other->probability ? [$f, $other] : [$other, $f];
            $out[$key] = new Finding(
                $best->code,
                $best->title,
                $best->place,
                $best->probability,
                $best->severity,
                array_values(array_unique([...$best->evidence, ...$also->evidence], SORT_REGULAR)),
            );
        }

        return array_values($out);
    }

    /**
     * @param  list<Finding>  $findings
     * @return list<array{plain: string, missing: list<string>, overturn: string}>
     */
    private static function ledger(array $findings, GroupLedger $ledger, JobRecord $record, PackEvidence $evidence): array
    {
        $tests = array_values(array_unique(array_map(fn(BenchTest $t): string => $t->kind, $record->currentTests())));

        $capacities = array_filter($record->currentTests(), fn(BenchTest $t): bool => $t->kind === 'capacity');

        return array_map(function (Finding $f) use ($ledger, $tests, $capacities, $record, $evidence): array {
            $fault = Faults::of($f->code);
            $done = [
                // A group's says nothing of another group.
                ...array_map(
                    fn(BenchTest $t): TestKind => $t->place->kind === 'group' ? TestKind::CapacityGroup : TestKind::CapacityPack,
                    array_filter(
                        $capacities,
                        fn(BenchTest $t): bool => $t->place->kind !== 'group' || $t->place->key() === $f->place->key(),
                    ),
                ),
                ...array_merge([], ...array_map(fn(FeatureKind $k): array => TestKind::giving($k), $ledger->known($f->place))),
                ...TestKind::recordedAs(...$tests),
                ...self::readDirectly($record, $f->place) ? [TestKind::GroupReading] : [],
                // Under the floor no current is tried: what stays out is no gap.
                ...self::underFloor($record, $evidence, $f->place) ? [TestKind::RecoveryTrial] : [],
            ];

            return [
                'plain' => $fault->words()->plain,
                'missing' => array_values(
                    array_map(
                        fn(TestKind $t): string => $t->value,
                        array_filter($fault->tests(), fn(TestKind $t): bool => !in_array($t, $done, true)),
                    ),
                ),
                'overturn' => $fault->words()->overturn,
            ];
        }, $findings);
    }

    private static function underFloor(JobRecord $record, PackEvidence $evidence, Place $place): bool
    {
        $v = $place->kind === 'group' ? $evidence->groups[$place->number - 1]->restV ?? null : null;

        return $v !== null && $v < $record->pack->profile()->floorV;
    }

    /** Whether both probes stood on the two taps of this group, and it is no difference of two longer readings. */
    private static function readDirectly(JobRecord $record, Place $place): bool
    {
        foreach ($place->kind === 'group' ? $record->current() : [] as $set) {
            foreach ($set->readings as $r) {
                $taps = [Reading::tap($r->from), Reading::tap($r->to)];
                if (in_array($place->number, $taps, true) && in_array($place->number - 1, $taps, true)) {
                    return true;
                }
            }
        }

        return false;
    }

    /**
     * Neighbours alike are told as a run, each still with its own row.
     *
     * @param  list<Finding>  $findings
     * @return list<Finding>
     */
    private static function runs(array $findings): array
    {
        $at = [];
        foreach ($findings as $f) {
            if ($f->place->kind === 'group' && $f->probability >= self::RUN_SURE) {
                $at[$f->code][$f->place->number] = true;
            }
        }

        return array_map(function (Finding $f) use ($at): Finding {
            $own = $at[$f->code] ?? [];
            if ($f->place->kind !== 'group' || !isset($own[$f->place->number])) {
                return $f;
            }
            $from = $to = $f->place->number;
            while (isset($own[$from - 1])) {
                $from--;
            }
            while (isset($own[$to + 1])) {
                $to++;
            }

            return $to - $from + 1 < self::RUN
                ? $f
                : new Finding($f->code, $f->title, $f->place, $f->probability, $f->severity, [
                    ...$f->evidence,
                    new Evidence("groups $from to $to alike: one of a run", 0.0, 'derived'),
                ]);
        }, $findings);
    }

    /**
     * What a stuck balance switch explains is no fault of the group: it sinks, and lies lower for it.
     *
     * @param  list<Finding>  $findings
     * @return list<Finding>
     */
    private static function settled(array $findings, PackEvidence $evidence): array
    {
        return array_map(
            fn(Finding $f): Finding => in_array($f->code, ['group.self-discharge', 'group.undercharged', 'group.low-capacity'], true) &&
            isset($evidence->bleeding[$f->place->number])
                ? new Finding($f->code, $f->title, $f->place, $f->probability * 0.1, $f->severity, $f->evidence)
                : $f,
            $findings,
        );
    }

    /**
     * @param  array<int, float>  $joints  probability by tap
     * @return array<int, float|string> severe and probable first
     */
    private static function order(Finding $f, array $joints): array
    {
        // One weak joint is spread over the two taps it may sit at: together they say how sure it is.
        $tap = $f->place->number;
        $p =
            $f->code === 'joint.high-resistance'
                ? min(1.0, $f->probability + max($joints[$tap - 1] ?? 0.0, $joints[$tap + 1] ?? 0.0))
                : $f->probability;
        // What other findings bring about comes behind its cause.
        $weight = $f->severity->weight() * (in_array($f->code, self::FOLLOWS, true) ? self::BEHIND : 1.0);

        return [-round($weight * $p, 3), $f->code, $f->place->key()];
    }

    /**
     * Probability that some group stands where a sound board keeps the way out shut (under the low release, less often
     * past the high one), or the way in (past the high release).
     */
    private static function outside(PackEvidence $evidence, bool $wayOut): float
    {
        $pack = $evidence->record->pack;
        $inside = 1.0;
        foreach ($evidence->groups as $e) {
            if ($e->restV === null) {
                continue;
            }
            $sigma = max(0.005, $e->restSigmaV);
            $high = Normal::cumulative(($e->restV - $pack->highReleaseV()) / $sigma);
            $out = $wayOut ? Normal::cumulative(($pack->lowReleaseV() - $e->restV) / $sigma) + 0.3 * $high : $high;
            $inside *= 1 - min(1.0, $out) * (1 - $e->doubtProbability);
        }

        return 1 - $inside;
    }

    /** 1 when a group that is not in doubt lies under the board's low cut, where many boards and chargers do not begin. */
    private static function underCut(PackEvidence $evidence): float
    {
        foreach ($evidence->groups as $e) {
            if ($e->restV !== null && $e->doubt === null && $e->restV < $evidence->record->pack->lowCutV()) {
                return 1.0;
            }
        }

        return 0.0;
    }

    /** @return list<Suspicion> */
    private static function suspicions(PackEvidence $evidence): array
    {
        $out = [];
        foreach ($evidence->solutions as $solution) {
            foreach ($solution->suspicions as $s) {
                $out[$s->kind . '/' . $s->text] = $s;
            }
        }

        return array_values($out);
    }

    /** @return list<Finding> */
    private static function spreadFinding(?RestSpread $spread, PackEvidence $evidence): array
    {
        if ($evidence->extremes !== null) {
            $e = $evidence->extremes;
            $p = $e->over(RestSpread::lastLimit($evidence->record->pack->chemistry));

            return [
                new Finding('pack.spread', 'Groups too far apart to charge as a pack', Place::pack(), $p, Severity::Stop, [
                    new Evidence(
                        sprintf(
                            'the lowest group is given as %.3f V, the highest as %.3f V: %.0f mV apart',
                            $e->lowestV,
                            $e->highestV,
                            1000 * $e->spreadV(),
                        ),
                        Odds::decibans($p),
                        $e->reported ? 'reported' : 'measured',
                    ),
                ]),
            ];
        }
        if ($spread === null || $evidence->relaxing) {
            return [];
        }
        if (max([0.0, ...array_map(fn(GroupEvidence $g): float => $g->doubtProbability, $evidence->groups)]) >= self::DOUBTED) {
            return [
                new Finding('pack.spread', 'Groups too far apart to charge as a pack', Place::pack(), $spread->overLast, Severity::Stop, [
                    new Evidence(
                        'it hangs on a reading that is doubted: if that is right, the groups are too far apart',
                        Odds::decibans($spread->overLast),
                        'derived',
                    ),
                ]),
            ];
        }

        return [
            new Finding('pack.spread', 'Groups too far apart to charge as a pack', Place::pack(), $spread->overLast, Severity::Stop, [
                new Evidence(rtrim($spread->sentence(), '.'), Odds::decibans($spread->overLast), 'derived'),
            ]),
        ];
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
                $board
                    ? "The board's sense lead at tap {$s->tap} is broken or loose"
                    : (count($s->readings) > 1 && $s->kind === 'closure-tie'
                        ? 'Readings contradict one another'
                        : 'A reading is off or the probe slipped'),
                $place,
                $s->probability,
                $board ? Severity::Fix : Severity::Note,
                [
                    new Evidence(
                        trim($s->text . ' ' . ($s->kind === 'closure-tie' ? $s->settleText() : '')),
                        10 * log10($s->probability / max(0.01, 1 - $s->probability)),
                        $board ? 'reported' : 'derived',
                    ),
                ],
            );
        }

        return $out;
    }

    /** @return list<Finding> */
    private static function phantom(PackEvidence $evidence, OutputPath $output): array
    {
        $v = $evidence->outputV;
        $sum = $evidence->rest?->packV;
        if (!$output->dead || $output->alive || $v === null || $sum === null || $v < 0.02 * $sum || $evidence->outputInput === 'low') {
            return [];
        }
        $low = $evidence->outputLowImpedanceV;
        $p = $low === null ? 0.7 : ($low < 0.3 * $v ? 0.97 : 0.1);

        return [
            new Finding('reading.phantom', 'The output voltage only floats', Place::pack(), $p, Severity::Note, [
                new Evidence(
                    $low === null
                        ? sprintf('%.2f V on a high-impedance meter, %.2f V in the cells', $v, $sum)
                        : sprintf('%.2f V at high impedance, %.2f V at low', $v, $low),
                    $low === null ? 4.0 : 15.0,
                ),
            ]),
        ];
    }

    /** @return array<string, mixed> */
    private static function groupRow(GroupBeliefs $g, PackEvidence $evidence, WholePack $pack): array
    {
        $e = $evidence->groups[$g->group - 1];
        $states = $g->states();
        if (in_array($g->group, $pack->alike, true)) {
            // Left empty with all the others: that is its state, though it is the pack's finding and not its own.
            $moved = $pack->leftEmpty * $states[Ok::CODE];
            $states[Ok::CODE] -= $moved;
            $states[DeepDischarged::CODE] += $moved;
            arsort($states);
        }
        $state = $e->restV === null ? Ok::CODE : (string) array_key_first($states);

        return [
            'group' => $e->group,
            'v' => $e->restV === null ? null : round($e->restV, 4),
            'sigma_v' => $e->restV === null ? null : round($e->restSigmaV, 4),
            'soc' => $e->restV === null || $e->restV < 0 ? null : $evidence->curve->soc($e->restV, $e->restSigmaV)->toArray(),
            'state' => $state,
            'probability' => round(max(0.0, min(1.0, $states[$state])), 3),
            'basis' => $e->across ? 'measured' : 'derived',
            'across' => $e->across,
            'doubt' => $e->doubt,
            'mohm' => ($e->resistance ?? 0.0) > 2 * $e->resistanceSigma ? round($e->resistanceMohm, 2) : null,
            'states' => array_map(fn(float $x): float => round($x, 4), $states),
        ];
    }

    /** @return list<string> */
    private static function lacks(JobRecord $record, PackEvidence $evidence): array
    {
        $out = [];
        $unread = array_values(array_filter($evidence->groups, fn(GroupEvidence $e): bool => $e->restV === null));
        if (count($unread) === count($evidence->groups)) {
            $out[] = 'no rest voltages';
        } elseif ($unread !== []) {
            $out[] = 'no reading of ' . Places::of('group', array_map(fn(GroupEvidence $e): int => $e->group, $unread));
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
        if (!$evidence->underLoad && !$evidence->onCharge) {
            $out[] = 'no reading under load';
        }
        if ($evidence->leakDays < 0.5) {
            $out[] = 'no second rest reading: a leak cannot be told yet';
        }
        if (
            $evidence->packCapacityAh === null &&
            array_filter($evidence->groups, fn(GroupEvidence $e): bool => $e->capacity !== null) === []
        ) {
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
