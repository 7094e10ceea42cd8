<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Reading\Suspicion;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Safety\SafetyState;

/**
 * Which test next: the expected drop of entropy per minute. Each test's outcome is simulated under every state the
 * group may be in and the posterior is worked out again (handbook "Verdicts"); ties go to the less invasive.
 */
final readonly class NextTests
{
    /** Under this no test is worth a minute: enough is known. */
    private const WORTH_BITS = 0.05;

    private PackSpec $pack;

    public function __construct(private JobRecord $record, private PackEvidence $evidence, private GroupEngine $engine)
    {
        $this->pack = $record->pack;
    }

    /**
     * @param  list<GroupPosterior>  $posteriors
     * @param  list<Suspicion>  $suspicions
     * @param  list<NextTest>  $causes  tests that tell the causes of a complaint apart
     * @return list<NextTest> best first
     */
    public function rank(array $posteriors, OutputEngine $output, array $suspicions, SafetyState $safety, ?RestSpread $spread, array $causes): array
    {
        $tests = [];
        foreach ($suspicions as $s) {
            if ($s->settle !== null) {
                $across = abs($s->settle['to'] - $s->settle['from']) === 1;
                $tests[] = new NextTest(
                    $across ? TestKind::GroupReading : TestKind::HalfString,
                    $across ? Place::group(max($s->settle['from'], $s->settle['to'])) : Place::pack(),
                    rtrim($s->text, '.').'. '.$s->settleText(),
                    1,
                    max(0.5, log(max(2, count($s->readings)), 2)),
                );
            }
        }
        $unread = array_values(array_filter($posteriors, fn (GroupPosterior $p): bool => $p->evidence->restV === null));
        if ($unread !== []) {
            $tests[] = new NextTest(
                count($unread) === 1 ? TestKind::GroupReading : TestKind::RestTaps,
                count($unread) === 1 ? Place::group($unread[0]->evidence->group) : Place::pack(),
                count($unread) === 1 ? "Group {$unread[0]->evidence->group} has no reading yet." : count($unread).' groups have no reading yet.',
                max(1, min(10, (int) ceil(count($unread) / 4))),
                count($unread) * 0.6,
            );
        }
        foreach ([
            [TestKind::RestAgain, 'Read the groups again after a day or more: a leak shows, a plain imbalance does not.'],
            [TestKind::LoadStep, 'Read the groups under a known load: a weak joint or cell sags with the current.'],
            [TestKind::ChargeStep, 'Read the groups on charge: the sign turns for resistance and not for imbalance.'],
        ] as [$kind, $why]) {
            if ($kind !== TestKind::RestAgain && ! $this->currentAllowed($posteriors, $output, $spread, $kind)) {
                continue;
            }
            $gain = array_sum(array_map(fn (GroupPosterior $p): float => $this->gain($kind, $p), $posteriors));
            $again = $kind === TestKind::RestAgain ? 0.0 : 1.5 * count(array_unique($this->evidence->unreadJoints));
            $tests[] = new NextTest($kind, Place::pack(), $again > 0.0 ? 'Read the groups under current again: a joint was re-tightened since.' : $why, $kind->minutes(), $gain + $again);
        }
        foreach ([
            [TestKind::CapacityGroup, 'Measure what group %d holds: an aged group shows, a low one does not.'],
            [TestKind::Refill, 'Charge all groups full, wait a week, measure what group %d takes to be full again: on phosphate the voltage does not tell.'],
            [TestKind::RelaxingRead, 'Stop the charge and read again at once: what stays over the others at group %d is charge, what vanishes is resistance.'],
            [TestKind::ResistanceCell, 'Measure the cells of group %d by themselves, four-wire: the joint is left out then.'],
            [TestKind::StripMillivolt, 'Read the millivolts along the strips of group %d under load: a dead branch carries none.'],
            [TestKind::TugWeld, 'Tug the welds of group %d: a weld can look whole and hold nothing.'],
            [TestKind::RecoveryTrial, 'Feed group %d a small current and watch: a shorted one hangs or falls.'],
            [TestKind::GroupReading, 'Put the probes across group %d itself: a slip and a dead group look alike from B-.'],
        ] as [$kind, $why]) {
            $best = null;
            foreach ($posteriors as $p) {
                $gain = $this->gain($kind, $p);
                if ($gain > self::WORTH_BITS && ($best === null || $gain > $best->gainBits)) {
                    $best = new NextTest($kind, Place::group($p->evidence->group), sprintf($why, $p->evidence->group), $kind->minutes(), $gain);
                }
            }
            if ($best !== null) {
                $tests[] = $best;
            }
        }
        $tests = [...$tests, ...$causes, ...$this->whichJoint($posteriors), ...$this->boardOrCell($posteriors), ...$this->gauge()];
        $tests = array_values(array_filter($tests, fn (NextTest $t): bool => $t->gainBits >= self::WORTH_BITS && $t->test->allowed($safety)));
        usort($tests, fn (NextTest $a, NextTest $b): int => [round($b->gainBits / $b->minutes, 3), $a->test->invasiveness(), $a->test->value] <=> [round($a->gainBits / $a->minutes, 3), $b->test->invasiveness(), $b->test->value]);
        $seen = [];

        return array_slice(array_values(array_filter($tests, function (NextTest $t) use (&$seen): bool {
            $key = $t->test->value.$t->place->key();

            return isset($seen[$key]) ? false : $seen[$key] = true;
        })), 0, 6);
    }

    /**
     * Current through the pack only while every group that was read is inside its limits, the output lives, and,
     * on charge, the groups are not too far apart.
     *
     * @param  list<GroupPosterior>  $posteriors
     */
    private function currentAllowed(array $posteriors, OutputEngine $output, ?RestSpread $spread, TestKind $kind): bool
    {
        if ($output->dead && ! $output->alive && $kind === TestKind::LoadStep) {
            return false;
        }
        foreach ($posteriors as $p) {
            $v = $p->evidence->restV;
            if ($v !== null && ($v < $this->pack->lowCutV() || $v > $this->pack->highCutV())) {
                return false;
            }
        }

        return $kind === TestKind::LoadStep || $spread === null || $spread->overLast < 0.1;
    }

    /**
     * Which of the two joints of a group, or its cells: the drop across the likelier joint itself.
     *
     * @param  list<GroupPosterior>  $posteriors
     * @return list<NextTest>
     */
    private function whichJoint(array $posteriors): array
    {
        $best = null;
        foreach ($posteriors as $p) {
            if ($p->p(GroupState::Joint) > ($best === null ? 0.1 : $best->p(GroupState::Joint))) {
                $best = $p;
            }
        }
        if ($best === null) {
            return [];
        }
        $open = array_values(array_filter([$best->evidence->group - 1, $best->evidence->group], fn (int $tap): bool => ! isset($this->evidence->jointDrop[$tap])));
        if ($open === []) {
            return [];
        }
        $joint = $best->p(GroupState::Joint) / count($open);
        $tap = $open[0];

        return [(new Causes(['here' => $joint, 'other-joint' => count($open) > 1 ? $joint : 0.0, 'cells' => 1 - $best->p(GroupState::Joint)]))
            ->offer(TestKind::Continuity, "Measure the drop across the joint at tap $tap itself under current, terminal to bar: joint or cell.", ['here' => 0.95], Place::joint($tap))];
    }

    /**
     * A group that sinks with the sense plug in may be bled by the board: before a leak is put on a cell.
     *
     * @param  list<GroupPosterior>  $posteriors
     * @return list<NextTest>
     */
    private function boardOrCell(array $posteriors): array
    {
        if ($this->evidence->unpluggedDays > 0.0) {
            return [];
        }
        foreach ($posteriors as $p) {
            if ($p->evidence->leakPerDay !== null && $p->p(GroupState::SelfDischarge) > 0.4) {
                return [(new Causes(['cell' => 0.88, 'board' => 0.12]))
                    ->offer(TestKind::SenseUnpluggedRest, "Let it rest with the sense plug out and read again: group {$p->evidence->group} may be bled by the board.", ['cell' => 0.95])];
            }
        }

        return [];
    }

    /** @return list<NextTest> */
    private function gauge(): array
    {
        $asked = $this->record->says('gauge-wrong', 'gauge-jumps') || $this->record->currentTests('gauge') !== [];
        foreach ($this->record->currentTests('capacity') as $t) {
            $asked = $asked && $t->place->kind !== 'pack';
        }

        return $asked ? [(new Causes(['stale' => 0.5, 'right' => 0.5]))->offer(TestKind::CapacityPack, 'Log a full discharge and hold it against what the gauge believes.', ['stale' => 0.95])] : [];
    }

    /** Expected drop of entropy, bits, of one group's states. */
    private function gain(TestKind $kind, GroupPosterior $now): float
    {
        $before = $now->entropyBits();
        if ($before < 0.004) {
            return 0.0;
        }
        $after = 0.0;
        foreach ($now->probabilities as $code => $p) {
            if ($p < 0.01) {
                $after += $p * $before;

                continue;
            }
            $simulated = $this->outcome($kind, GroupState::from($code), $now->evidence);
            if ($simulated === null) {
                return 0.0;
            }
            $after += $p * $this->engine->posterior($simulated)->entropyBits();
        }

        return max(0.0, $before - $after);
    }

    /** The evidence as it would be if the group were in $state and the test were done; null when the test adds nothing new. */
    private function outcome(TestKind $kind, GroupState $state, GroupEvidence $evidence): ?GroupEvidence
    {
        $e = clone $evidence;
        switch ($kind) {
            case TestKind::RestAgain:
                // Waiting does a deep-discharged group no good.
                if ($e->restV === null || $e->restV < $this->pack->lowCutV() || ($e->leakPerDay !== null && $e->leakDays >= 3.0)) {
                    return null;
                }
                $days = 2.0;
                $e->leakPerDay = $state === GroupState::SelfDischarge ? 0.03 : 0.0;
                $e->leakNoise = max(1e-4, 0.003 / $this->slopeAt($e)) / $days;
                $e->leakSigma = hypot($e->leakNoise, 0.25 * $e->leakPerDay);
                break;
            case TestKind::LoadStep:
            case TestKind::ChargeStep:
                if ($e->resistance !== null || $e->restV === null || $e->restV < $this->pack->lowCutV()) {
                    return null;
                }
                $e->resistance = match ($state) {
                    GroupState::Joint => 0.9,
                    GroupState::HighResistance => 0.6,
                    GroupState::MissingCell => 1 / max(1, ($this->pack->parallel ?? 3) - 1),
                    GroupState::LowCapacity => 0.4,
                    default => 0.0,
                };
                $e->resistanceSigma = $kind === TestKind::LoadStep ? 0.08 : 0.12;
                break;
            case TestKind::CapacityGroup:
                // It means filling the group: never one that was too low, or may be shorted.
                if ($e->capacity !== null || ($e->restV !== null && $e->restV < $this->pack->lowCutV())) {
                    return null;
                }
                $e->capacity = match ($state) {
                    GroupState::LowCapacity => 0.65,
                    GroupState::MissingCell => 1 - 1 / max(2, $this->pack->parallel ?? 3),
                    GroupState::Dead, GroupState::Reversed => 0.1,
                    default => 1.0,
                };
                $e->capacitySigma = 0.02;
                break;
            case TestKind::Refill:
                if ($e->restV === null || $e->leakPerDay !== null || ! $this->evidence->curve->onPlateau($e->restV)) {
                    return null;
                }
                $e->leakPerDay = $state === GroupState::SelfDischarge ? 0.01 : 0.0;
                $e->leakNoise = 0.0005;
                $e->leakSigma = 0.001;
                $e->refillAh = 0.1;
                break;
            case TestKind::RelaxingRead:
                if ($e->staysAtTop !== null || ! $this->evidence->onCharge || $e->resistance !== null) {
                    return null;
                }
                $e->staysAtTop = $state === GroupState::Overcharged ? 0.06 : 0.0;
                break;
            case TestKind::ResistanceCell:
                if ($e->cellResistance !== null || $e->resistance === null || $e->resistance < 0.15) {
                    return null;
                }
                $e->cellResistance = match ($state) {
                    GroupState::HighResistance => 0.6,
                    GroupState::LowCapacity => 0.35,
                    GroupState::MissingCell => 1 / max(1, ($this->pack->parallel ?? 3) - 1),
                    default => 0.0,
                };
                break;
            case TestKind::StripMillivolt:
                if (($this->pack->parallel ?? 1) < 2 || $e->tugLoose !== null || $e->stripDead !== null || $e->restV === null) {
                    return null;
                }
                $e->stripDead = $state === GroupState::MissingCell;
                break;
            case TestKind::TugWeld:
                if ($e->tugLoose !== null || $e->stripDead !== null) {
                    return null;
                }
                $e->tugLoose = $state === GroupState::MissingCell;
                break;
            case TestKind::RecoveryTrial:
                $floor = $this->pack->profile()->floorV;
                if ($e->recovery !== null || $e->restV === null || $e->restV < $floor || $e->restV >= $this->pack->lowCutV()) {
                    return null;
                }
                $e->recovery = in_array($state, [GroupState::Dead, GroupState::Reversed], true) ? 'hangs' : 'rises';
                break;
            case TestKind::GroupReading:
                if ($e->doubt === null || $e->restV === null) {
                    return null;
                }
                $e->doubt = null;
                $e->doubtProbability = 0.0;
                $e->across = true;
                if (! in_array($state, [GroupState::Dead, GroupState::Reversed], true) && $this->evidence->middleV !== null) {
                    $e->restV = $this->evidence->middleV;
                    $e->charge = 0.0;
                    $e->chargeSigma = 0.01;
                }
                break;
            default:
                return null;
        }

        return $e;
    }

    private function slopeAt(GroupEvidence $e): float
    {
        return $this->evidence->curve->slope($this->evidence->curve->socAt((float) $e->restV));
    }
}
