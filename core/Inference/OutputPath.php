<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Diagnosis\Evidence;
use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\NextTest;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\Priors;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Maths\Odds;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Record\BenchTest;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;

/**
 * The way out: board, fuse, switch, connector, contacts, sensor; and whether the output lives. A board that switched
 * off because a group is outside its limits is doing its job (handbook "Verdicts"); what was measured of an element
 * stands by itself whatever else explains the dead output.
 */
final class OutputPath
{
    /** Under this no group is suspected of being outside its limits. */
    private const NOT_OUTSIDE = 0.05;

    /** From here a low group explains a dead output. */
    private const EXPLAINED = 0.9;

    /** Even odds. */
    private const EVEN = 0.5;

    /** Ways of waking that are tried before waking is given up. */
    private const WAKES = 3;

    /** A dead output that shows more is read again at low impedance. */
    private const PHANTOM_V = 0.5;

    /** What that is worth (assumed). */
    private const PHANTOM_BITS = 0.15;

    /** Words of the ledger without a density of their own, and what counts as measured. */
    private const SAYS_SOME_DB = 3.0;

    /** See above. */
    private const SAYS_MUCH_DB = 5.0;

    /** What is said of a probability in the ledger goes to a hundred to one. */
    private const WORDS_LEAST = 0.01;

    /** The board switched off over what it reads, which is not what is there: told by the finding about its sense leads. */
    private const MISREAD = 'sense';

    /** Share of the string's voltage from which an output lives, and under which it is dead. */
    private const ALIVE = 0.93;

    private const DEAD = 0.6;

    /** How often a board misses a group that is outside its limits, and how often it is misled by a wrong lead (assumed). */
    private const PROTECTS = 0.97;

    private const MISLED = 0.95;

    /** Chance of a dead output with none of the causes (assumed). */
    private const STRAY = 0.004;

    /** The same where the dead output was read here, and is not only told (assumed). */
    private const STRAY_READ = 0.0005;

    public readonly bool $dead;

    public readonly bool $alive;

    public readonly Switching $net;

    /**
     * @param  float  $outside  probability that a group is past the limit at which the board switches off or not yet back past its release
     * @param  float  $sense  probability that the board reads its groups wrongly
     */
    public function __construct(
        private readonly JobRecord $record,
        private readonly PackEvidence $evidence,
        Situation $situation,
        Priors $priors,
        public readonly float $outside,
        float $sense,
    ) {
        $sum = $evidence->rest?->packV;
        $v = $evidence->outputLowImpedanceV ?? $evidence->outputV;
        $this->alive = $sum !== null && $v !== null && $sum > 1.0 && $v > self::ALIVE * $sum;
        // An output that lives since it was woken was dead all the same: why it was is the question.
        $woken = array_filter($record->currentTests('wake'), fn(BenchTest $t): bool => $t->data->bool('woke') === true) !== [];
        $this->dead =
            $woken && $this->alive
                ? $record->says('dead-output') ||
                    ($sum !== null && $evidence->outputLowestV !== null && $evidence->outputLowestV < self::DEAD * $sum)
                : !$this->alive &&
                    (($sum !== null && $v !== null && $v < self::DEAD * $sum) ||
                        ($v === null && $record->says('dead-output') && !$evidence->underLoad));
        $net = $this->net = new Switching($situation);
        $net->cause('bms.protecting', Odds::inside($outside), self::PROTECTS);
        $net->cause(self::MISREAD, Odds::inside($sense, Tiny::DIVISOR), self::MISLED);
        foreach (Faults::all() as $code => $fault) {
            if ($fault->deadens() !== null && $fault->fitted($record->pack)) {
                $net->cause($code, $priors->cause($code), $fault->deadens(), $fault->excludes());
            }
        }
        foreach (
            [
                ...PathFeatures::told($record),
                ...PathFeatures::flags($evidence),
                ...PathFeatures::tested($record, $evidence),
                ...PathFeatures::underLoad($evidence, $this->alive),
            ]
            as $feature
        ) {
            // Waking an output that lived all along says nothing.
            if ($this->dead || !in_array($feature->outcome, ['woke', 'nothing'], true)) {
                $net->see($feature);
            }
        }
        if ($this->alive && !$woken) {
            $net->see(Feature::outcome(FeatureKind::Alive, 'alive', 'the output lives on the bench'));
        }
        if ($this->dead) {
            $net->complaint($v !== null && !$this->alive ? self::STRAY_READ : self::STRAY);
            $this->words();
        }
        $net->solve();
    }

    private function words(): void
    {
        if ($this->outside > self::NOT_OUTSIDE) {
            $this->net->note(
                'bms.protecting',
                sprintf('a group is outside its limits (%.0f %% sure), which switches any sound board off', 100 * $this->outside),
                Odds::decibans($this->outside, self::WORDS_LEAST),
                'derived',
            );
        } elseif ($this->evidence->rest !== null) {
            foreach (['bms.latched', 'bms.asleep'] as $code) {
                $this->net->note($code, 'every group that was read is past its release voltage', self::SAYS_SOME_DB, 'derived');
            }
        }
        $proved = array_filter(
            PathFeatures::tested($this->record, $this->evidence),
            fn(Feature $f): bool => in_array($f->outcome, ['conducts', 'right', 'same', 'nothing'], true),
        );
        if ($proved !== []) {
            $this->net->note(
                'bms.output-dead',
                'proved good or without effect: ' . implode('; ', array_map(fn(Feature $f): string => $f->words, $proved)),
                10 * log10(1 + count($proved)),
                'derived',
            );
        }
    }

    /** Probability that something of the way out is at fault, not counting a board that does its job. */
    public function sick(): float
    {
        $fine = 1.0;
        foreach ($this->net->probabilities() as $code => $p) {
            $fine *= in_array($code, ['bms.protecting', self::MISREAD], true) ? 1.0 : 1 - $p;
        }

        return 1 - $fine;
    }

    /** @return list<Finding> */
    public function findings(): array
    {
        $out = [];
        foreach ($this->net->probabilities() as $code => $p) {
            $measured = array_filter($this->net->evidence($code), fn(Evidence $e): bool => $e->decibans > self::SAYS_MUCH_DB) !== [];
            if ($code === self::MISREAD || $p < Finding::LISTED || (!$this->dead && !$measured)) {
                continue;
            }
            if ($code === 'bms.protecting' && !$this->dead) {
                continue;
            }
            $out[] = new Finding(
                $code,
                Faults::of($code)->words()->title,
                Place::pack(),
                $p,
                Faults::of($code)->severity(),
                $this->net->evidence($code) ?: [
                    new Evidence('the output is dead, and nothing measured yet speaks for or against it', 0.0, 'assumed'),
                ],
            );
        }

        return $out;
    }

    /** @return list<NextTest> */
    public function tests(): array
    {
        if (
            !$this->dead ||
            ($this->outside > self::EXPLAINED && $this->sick() < self::EVEN) ||
            $this->net->entropyBits() < Switching::SETTLED_BITS
        ) {
            // A dead output that a low group explains is not chased through the board first.
            return [];
        }
        $done = [];
        foreach ($this->record->currentTests() as $t) {
            $done[$t->kind . ($t->kind === 'continuity' ? '/' . $t->data->string('element') : '')] = true;
        }
        $out = [];
        if (count($this->record->currentTests('wake')) < self::WAKES) {
            $out[] = $this->net->offer(
                TestKind::Wake,
                'Try to wake the board: charger, button, enable wire, reconnect.',
                FeatureKind::Pulse,
                ['woke', 'nothing'],
            );
        }
        foreach (
            [
                'fuse' => [FeatureKind::Fuse, 'Measure the fuse: ohms with the circuit dead, or the drop across it under a small load.'],
                'switch' => [FeatureKind::Switch, 'Measure the switch and the enable wire.'],
                'connector' => [FeatureKind::Connector, 'Measure through the connector.'],
            ]
            as $element => [$kind, $why]
        ) {
            if (!isset($done["continuity/$element"])) {
                $out[] = $this->net->offer(TestKind::Continuity, $why, $kind, ['open', 'conducts']);
                break;
            }
        }
        if (!isset($done['flex'])) {
            $out[] = $this->net->offer(TestKind::Flex, 'Move wires and connectors while reading.', FeatureKind::Flex, ['changes', 'same']);
        }
        if ($this->net->has('sensor.temperature') && !isset($done['sensor'])) {
            $out[] = $this->net->offer(TestKind::Sensor, 'Measure the temperature sensor against its curve.', FeatureKind::Sensor, [
                'off',
                'right',
            ]);
        }
        if (
            $this->outside < self::EXPLAINED &&
            $this->evidence->outputLowImpedanceV === null &&
            $this->evidence->outputV !== null &&
            $this->evidence->outputV > self::PHANTOM_V
        ) {
            $out[] = new NextTest(
                TestKind::LowImpedanceTerminal,
                Place::pack(),
                'Read the output again at low impedance: a floating voltage collapses.',
                TestKind::LowImpedanceTerminal->minutes(),
                self::PHANTOM_BITS,
            );
        }

        return $out;
    }
}
