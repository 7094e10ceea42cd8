<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Fault\Group\Dead;
use Heartwood\Core\Fault\Group\Ok;
use Heartwood\Core\Fault\Group\SelfDischarge;
use Heartwood\Core\Fault\Joint\HighResistance as WeakJoint;
use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Feature\RestFeature;
use Heartwood\Core\Inference\Dice;
use Heartwood\Core\Inference\GroupBeliefs;
use Heartwood\Core\Inference\GroupChain;
use Heartwood\Core\Inference\OutputPath;
use Heartwood\Core\Inference\WholePack;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Reading\Suspicion;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Safety\SafetyState;

/**
 * Which test next: the expected drop of entropy per minute. Each test's outcome is drawn from the signatures that also
 * diagnose, under every state the group may be in (handbook "Verdicts"); ties go to the less invasive.
 */
final class NextTests
{
    /** Under this no test is worth a minute: enough is known. */
    private const WORTH_BITS = 0.05;

    /** Beliefs with less entropy than this are settled. */
    private const SETTLED_BITS = 0.004;

    /** Outcomes drawn under each state. */
    private const DRAWS = 2;

    /** A state under this probability is not drawn from. */
    private const LEAST = 0.01;

    /** Volts that a group strays from the others between two rests on the plateau from which a refill is asked for (assumed). */
    private const STRAYS_V = 0.003;

    /** What it is worth to settle a leak that cannot be told yet, bits (assumed). */
    private const UNTOLD_BITS = 0.3;

    /** A leak is undecided from this probability, and up to as much under certainty. */
    private const OPEN = 0.08;

    /** A group less probably sound than this stands out, and is the question then; one sounder than that is none of it. */
    private const STANDS_OUT = 0.5;

    private const ASKED = 0.9;

    /** What a bit about the others counts for then. */
    private const BESIDE = 0.25;

    /** What is asked for at the most. */
    private const LISTED = 6;

    private readonly PackSpec $pack;

    /** @var array<string, float> bits by test and what is believed */
    private array $gains = [];

    /** @var array<int, string> what is believed of a group, to a fiftieth */
    private array $alike = [];

    public function __construct(
        private readonly JobRecord $record,
        private readonly PackEvidence $evidence,
        private readonly GroupChain $chain,
    ) {
        $this->pack = $record->pack;
    }

    /**
     * @param  list<Suspicion>  $suspicions
     * @param  list<Finding>  $findings
     * @param  list<NextTest>  $causes  tests that tell the causes of a complaint apart
     * @return list<NextTest> best first
     */
    public function rank(
        WholePack $pack,
        OutputPath $output,
        array $suspicions,
        SafetyState $safety,
        ?RestSpread $spread,
        array $findings,
        array $causes,
    ): array {
        $beliefs = $pack->groups;
        $tests = [];
        foreach ($suspicions as $s) {
            if ($s->settle !== null) {
                $across = abs($s->settle['to'] - $s->settle['from']) === 1;
                $tests[] = new NextTest(
                    $across ? TestKind::GroupReading : TestKind::HalfString,
                    $across ? Place::group(max($s->settle['from'], $s->settle['to'])) : Place::pack(),
                    rtrim($s->text, '.') . '. ' . $s->settleText(),
                    1,
                    max(0.5, log(max(2, count($s->readings)), 2)),
                );
            }
        }
        $unread = array_values(array_filter($this->evidence->groups, fn(GroupEvidence $e): bool => $e->restV === null));
        if ($unread !== []) {
            $tests[] = new NextTest(
                count($unread) === 1 ? TestKind::GroupReading : TestKind::RestTaps,
                count($unread) === 1 ? Place::group($unread[0]->group) : Place::pack(),
                count($unread) === 1 ? "Group {$unread[0]->group} has no reading yet." : count($unread) . ' groups have no reading yet.',
                max(1, min(10, (int) ceil(count($unread) / 4))),
                count($unread) * 0.6,
            );
        }
        // Where one group stands out, it is the question; that the others are sound is asked when none does.
        $open = array_filter($beliefs, fn(GroupBeliefs $g): bool => $g->p(Ok::CODE) < self::STANDS_OUT);
        $asked = $open === [] ? $beliefs : array_filter($beliefs, fn(GroupBeliefs $g): bool => $g->p(Ok::CODE) < self::ASKED);
        foreach (
            [
                [TestKind::RestAgain, 'Read the groups again after a day or more: a leak shows, a plain imbalance does not.'],
                [TestKind::LoadStep, 'Read the groups under a known load: a weak joint or cell sags with the current.'],
                [TestKind::ChargeStep, 'Read the groups on charge: the sign turns for resistance and not for imbalance.'],
            ]
            as [$kind, $why]
        ) {
            if ($kind === TestKind::RestAgain ? $this->anyUnderCut() : !$this->currentAllowed($output, $spread, $kind)) {
                continue;
            }
            $gain = array_sum(
                array_map(fn(GroupBeliefs $g): float => $this->gain($kind, $g) * (isset($asked[$g->group]) ? 1.0 : self::BESIDE), $beliefs),
            );
            $again = $kind === TestKind::RestAgain ? 0.0 : 1.5 * count(array_unique($this->evidence->unreadJoints));
            $tests[] = new NextTest(
                $kind,
                Place::pack(),
                $again > 0.0 ? 'Read the groups under current again: a joint was re-tightened since.' : $why,
                $kind->minutes(),
                $gain + $again,
            );
        }
        foreach (
            [
                [TestKind::CapacityGroup, 'Measure what group %d holds: an aged group shows, a low one does not.'],
                [
                    TestKind::Refill,
                    'Charge all groups full, wait a week, measure what group %d takes to be full again: on phosphate the voltage ' .
                    'does not tell.',
                ],
                [
                    TestKind::RelaxingRead,
                    'Stop the charge and read again at once: what stays over the others at group %d is charge, what vanishes is ' .
                    'resistance.',
                ],
                [TestKind::ResistanceCell, 'Measure the cells of group %d by themselves, four-wire: the joint is left out then.'],
                [TestKind::StripMillivolt, 'Read the millivolts along the strips of group %d under load: a dead branch carries none.'],
                [TestKind::TugWeld, 'Tug the welds of group %d: a weld can look whole and hold nothing.'],
                [TestKind::RecoveryTrial, 'Feed group %d a small current and watch: a shorted one hangs or falls.'],
                [TestKind::GroupReading, 'Put the probes across group %d itself: a slip and a dead group look alike from B-.'],
            ]
            as [$kind, $why]
        ) {
            $best = null;
            foreach ($beliefs as $g) {
                $gain = $this->gain($kind, $g);
                if ($gain > self::WORTH_BITS && ($best === null || $gain > $best->gainBits)) {
                    $best = new NextTest($kind, Place::group($g->group), sprintf($why, $g->group), $kind->minutes(), $gain);
                }
            }
            if ($best !== null) {
                $tests[] = $best;
            }
        }
        $tests = [
            ...$tests,
            ...$causes,
            ...$this->whichJoint($beliefs),
            ...$this->boardOrCell($beliefs),
            ...$this->always($findings, $pack, $output, $spread),
        ];
        $tests = array_values(
            array_filter($tests, fn(NextTest $t): bool => $t->gainBits >= self::WORTH_BITS && $t->test->allowed($safety)),
        );
        usort(
            $tests,
            fn(NextTest $a, NextTest $b): int => [round($b->gainBits / $b->minutes, 3), $a->test->invasiveness(), $a->test->value] <=> [
                round($a->gainBits / $a->minutes, 3),
                $b->test->invasiveness(),
                $b->test->value,
            ],
        );
        $seen = [];

        return array_slice(
            array_values(
                array_filter($tests, function (NextTest $t) use (&$seen): bool {
                    $key = $t->test->value . $t->place->key();

                    return isset($seen[$key]) ? false : ($seen[$key] = true);
                }),
            ),
            0,
            self::LISTED,
        );
    }

    /**
     * Neither a leak nor "not a leak" yet: that wants leak and 2 sigma under 10 % a month, and healthy is under 3 (handbook
     * "Self-discharge").
     */
    private function leakOpen(GroupEvidence $e, float $p): bool
    {
        return $e->leakPerDay !== null &&
            $p < 1 - self::OPEN &&
            ($p > self::OPEN ||
                ($e->leakPerDay > VerdictLimits::HEALTHY_A_MONTH / 30 &&
                    $e->leakPerDay + 2 * $e->leakNoise >= VerdictLimits::LEAK_A_MONTH / 30));
    }

    /** Waiting does a group that is too low no good. */
    private function anyUnderCut(): bool
    {
        return array_filter(
            $this->evidence->groups,
            fn(GroupEvidence $e): bool => $e->restV !== null &&
                $e->doubt === null &&
                $e->restV < $this->pack->lowCutV() &&
                $e->restV >= $this->pack->profile()->floorV,
        ) !== [];
    }

    /**
     * Current through the pack only while every group that was read is inside its limits, the output lives, and,
     * on charge, the groups are not too far apart.
     */
    private function currentAllowed(OutputPath $output, ?RestSpread $spread, TestKind $kind): bool
    {
        if ($output->dead && !$output->alive) {
            return false;
        }
        foreach ($this->evidence->groups as $e) {
            if ($e->restV !== null && ($e->restV < $this->pack->lowCutV() || $e->restV > $this->pack->highCutV())) {
                return false;
            }
        }

        return $kind === TestKind::LoadStep || $spread === null || $spread->overLast < 0.1;
    }

    /**
     * Which of the two joints of a group, or its cells: the drop across the likelier joint itself.
     *
     * @param  array<int, GroupBeliefs>  $beliefs
     * @return list<NextTest>
     */
    private function whichJoint(array $beliefs): array
    {
        $best = null;
        foreach ($beliefs as $g) {
            if ($g->p(WeakJoint::CODE) > ($best === null ? 0.1 : $best->p(WeakJoint::CODE))) {
                $best = $g;
            }
        }
        if ($best === null) {
            return [];
        }
        $open = array_values(
            array_filter([$best->group - 1, $best->group], fn(int $tap): bool => !isset($this->evidence->jointDrop[$tap])),
        );
        if ($open === []) {
            return [];
        }
        $p = $best->p(WeakJoint::CODE);
        // Here, at the other end, or in the cells: one drop tells the first from the rest.
        $here = $p / count($open);
        $bits = self::bits($here);

        return [
            new NextTest(
                TestKind::Continuity,
                Place::joint($open[0]),
                "Measure the drop across the joint at tap {$open[0]} itself under current, terminal to bar: joint or cell.",
                TestKind::Continuity->minutes(),
                0.9 * $bits,
            ),
        ];
    }

    /**
     * A group that sinks with the sense plug in may be bled by the board: before a leak is put on a cell.
     *
     * @param  array<int, GroupBeliefs>  $beliefs
     * @return list<NextTest>
     */
    private function boardOrCell(array $beliefs): array
    {
        if ($this->evidence->unpluggedDays > 0.0) {
            return [];
        }
        foreach ($beliefs as $k => $g) {
            if ($this->evidence->groups[$k - 1]->leakPerDay !== null && $g->p(SelfDischarge::CODE) > 0.4) {
                return [
                    new NextTest(
                        TestKind::SenseUnpluggedRest,
                        Place::pack(),
                        "Let it rest with the sense plug out and read again: group $k may be bled by the board.",
                        TestKind::SenseUnpluggedRest->minutes(),
                        self::bits(0.12),
                    ),
                ];
            }
        }

        return [];
    }

    /**
     * What is open and told apart by one test alone.
     *
     * @param  list<Finding>  $findings
     * @return list<NextTest>
     */
    private function always(array $findings, WholePack $pack, OutputPath $output, ?RestSpread $spread): array
    {
        $out = [];
        $says = fn(TestKind $kind, float $bits, string $why, ?Place $where = null): NextTest => new NextTest(
            $kind,
            $where ?? Place::pack(),
            $why,
            $kind->minutes(),
            $bits,
        );
        $found = fn(string ...$codes): bool => array_filter(
            $findings,
            fn(Finding $f): bool => in_array($f->code, $codes, true) && $f->probability >= 0.2,
        ) !== [];
        $tested = fn(string $kind): bool => $this->record->currentTests($kind) !== [];
        $packCapacity = $this->evidence->packCapacityAh !== null;
        if (($this->record->says('gauge-wrong', 'gauge-jumps') || $tested('gauge')) && !$packCapacity) {
            $out[] = $says(TestKind::CapacityPack, 0.9, 'Log a full discharge and hold it against what the gauge believes.');
        } elseif ($found('gauge.stale')) {
            $out[] = $says(TestKind::GaugeRelearn, 0.4, 'Teach the gauge: full, rest, empty, rest, full; then read it again.');
        }
        if (($found('sense.open', 'sense.shifted') || $this->record->says('modified')) && !$tested('pin-check')) {
            $out[] = $says(TestKind::PinCheck, 0.6, 'Pin by pin at the sense plug against the staircase, before it is plugged in again.');
        }
        if ($this->record->inspection->bool('metal_case') === true && !$tested('insulation')) {
            $out[] = $says(TestKind::Insulation, 0.3, 'The case is metal: measure the insulation from the case to the terminals first.');
        }
        if ($found('pack.deep-discharged') && $pack->alike !== [] && !$tested('recovery')) {
            $lowest = $pack->alike[0];
            foreach ($pack->alike as $k) {
                $lowest = $this->evidence->groups[$k - 1]->restV < $this->evidence->groups[$lowest - 1]->restV ? $k : $lowest;
            }
            $out[] = $says(
                TestKind::RecoveryTrial,
                1.0,
                "Feed the lowest of them, group $lowest, a small current and watch: it rises, or it hangs.",
                Place::group($lowest),
            );
        }
        foreach ($this->evidence->groups as $e) {
            $p = $pack->groups[$e->group]->p(SelfDischarge::CODE);
            if ($this->leakOpen($e, $p)) {
                // The pair of readings did not decide: longer.
                $out[] = $says(
                    TestKind::RestAgain,
                    max(self::UNTOLD_BITS, self::bits($p)),
                    sprintf(
                        'Read again %.0f days after the last time: group %d cannot be told yet.',
                        max(3.0, 2 * $e->leakDays),
                        $e->group,
                    ),
                );
                break;
            }
        }
        $fell = $this->evidence->fellOnPlateau;
        arsort($fell);
        $most = array_key_first($fell);
        if ($most !== null && !$tested('refill')) {
            if ($fell[$most] - Robust::median(array_values($fell)) > self::STRAYS_V) {
                $out[] = $says(
                    TestKind::Refill,
                    self::UNTOLD_BITS,
                    "Two readings on the flat part do not tell of group $most: fill all, wait a week or more, measure the refill.",
                    Place::group($most),
                );
            }
        }
        $clear = $this->currentAllowed($output, $spread, TestKind::ChargeStep);
        if (
            $clear &&
            !$tested('charge') &&
            $this->record->says(
                'charger-full-at-once',
                'charger-blinks-fault',
                'voltage-drops-off-charger',
                'hot-on-charge',
                'will-not-charge',
            )
        ) {
            $out[] = $says(TestKind::FullChargeWatch, 1.0, 'Charge it full and watch every group: which one ends the charge, and how.');
        }
        if (
            $clear &&
            !$output->dead &&
            !$tested('discharge') &&
            $this->record->says('dies-early', 'low-range', 'cuts-out-under-load', 'cuts-out-until-reconnected', 'hot-in-use')
        ) {
            $out[] = $says(TestKind::FullDischargeWatch, 1.0, 'Discharge it and watch every group: which one ends it, at what current.');
        }
        if (!$packCapacity && $this->evidence->packCapacity === null && $this->record->says('low-range', 'dies-early') && $clear) {
            $out[] = $says(TestKind::CapacityPack, 0.8, 'Log a full discharge: whether the whole pack has aged.');
        }

        return $out;
    }

    /** Expected drop of entropy, bits, of one group's states. */
    private function gain(TestKind $kind, GroupBeliefs $now): float
    {
        $before = $now->entropyBits();
        $like = $before < self::SETTLED_BITS ? null : $this->like($kind, $now);
        if ($like === null) {
            return 0.0;
        }
        // Groups believed alike gain alike: the many sound ones are worked out once.
        $key =
            $kind->value .
            '/' .
            round($like->sigma, 3) .
            '/' .
            ($this->alike[$now->group] ??= implode('/', array_map(fn(float $p): int => (int) round(50 * $p), $now->probabilities)));

        return $this->gains[$key] ??= $this->expected($now, $like, $before);
    }

    /** Bits that a feature like this one is expected to take away. */
    private function expected(GroupBeliefs $now, Feature $like, float $before): float
    {
        $after = 0.0;
        $laws = [];
        foreach ($now->probabilities as $code => $p) {
            $laws[$code] = $this->chain->law($code, $like->kind);
        }
        foreach ($now->probabilities as $code => $p) {
            if ($p < self::LEAST) {
                $after += $p * $before;

                continue;
            }
            $dice = new Dice();
            for ($i = 0; $i < self::DRAWS; $i++) {
                $seen = $laws[$code]->sample($dice, $like);
                // States that look like a sound group share its law: each law is asked once.
                $density = [];
                $after +=
                    ($p / self::DRAWS) *
                    $now
                        ->after(function (string $c) use ($laws, $seen, &$density): float {
                            return $density[spl_object_id($laws[$c])] ??= $laws[$c]->density($seen);
                        })
                        ->entropyBits();
            }
        }

        return max(0.0, $before - $after);
    }

    /** The feature as the test would give it, with its uncertainty; null when the test adds nothing new or is not for this group. */
    private function like(TestKind $kind, GroupBeliefs $g): ?Feature
    {
        $e = $this->evidence->groups[$g->group - 1];
        $low = $e->restV !== null && $e->restV < $this->pack->lowCutV();

        return match ($kind) {
            // Waiting does a deep-discharged group no good.
            TestKind::RestAgain => $e->restV === null || $low || ($e->leakPerDay !== null && $e->leakDays >= 3.0)
                ? null
                : new Feature(FeatureKind::Leak, 0.0, ($noise = max(1e-4, 0.003 / $this->slopeAt($e)) / 2.0), $noise),
            TestKind::LoadStep => $e->resistance !== null || $e->restV === null || $low
                ? null
                : new Feature(FeatureKind::Resistance, 0.0, 0.08),
            TestKind::ChargeStep => $e->resistance !== null || $e->restV === null || $low
                ? null
                : new Feature(FeatureKind::Resistance, 0.0, 0.12),
            // It means filling the group: never one that was too low, or may be shorted.
            TestKind::CapacityGroup => $e->capacity !== null || $low || $g->p(Dead::CODE) > 0.1
                ? null
                : new Feature(FeatureKind::Capacity, 1.0, 0.02),
            TestKind::Refill => $e->restV === null || $e->leakPerDay !== null || !$this->evidence->curve->onPlateau($e->restV)
                ? null
                : new Feature(FeatureKind::Refill, 0.0, 0.001, 0.0005),
            TestKind::RelaxingRead => $e->staysAtTop !== null || !$this->evidence->onCharge || $e->resistance !== null
                ? null
                : new Feature(FeatureKind::Stays, 0.0, 0.006, 0.0),
            TestKind::ResistanceCell => $e->cellResistance !== null || $e->resistance === null || $e->resistance < 0.15
                ? null
                : new Feature(FeatureKind::Cells, 0.0, 0.02),
            TestKind::StripMillivolt => ($this->pack->parallel ?? 1) < 2 ||
            $e->tugLoose !== null ||
            $e->stripDead !== null ||
            $e->restV === null
                ? null
                : new Feature(FeatureKind::Weld),
            TestKind::TugWeld => ($this->pack->parallel ?? 2) < 2 || $e->tugLoose !== null || $e->stripDead !== null
                ? null
                : new Feature(FeatureKind::Weld),
            TestKind::RecoveryTrial => $e->recovery !== null || $e->restV === null || $e->restV < $this->pack->profile()->floorV || !$low
                ? null
                : new Feature(FeatureKind::Recovery),
            TestKind::GroupReading => $e->doubt === null || $e->restV === null
                ? null
                : new RestFeature($e->restV, 0.002, $e->charge, 0.005),
            default => null,
        };
    }

    private static function bits(float $p): float
    {
        return $p <= 0.0 || $p >= 1.0 ? 0.0 : -$p * log($p, 2) - (1 - $p) * log(1 - $p, 2);
    }

    private function slopeAt(GroupEvidence $e): float
    {
        return $this->evidence->curve->slope($this->evidence->curve->socAt((float) $e->restV));
    }
}
