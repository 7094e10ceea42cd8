<?php

declare(strict_types=1);

namespace Heartwood\Core\Inference;

use Heartwood\Core\Diagnosis\Evidence;
use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\NextTest;
use Heartwood\Core\Diagnosis\OutsideChecks;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\Priors;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Odds;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Record\Place;

/** The way in: why it takes no charge; the board doing its job before all others (handbook "Protection, path, sensing"). */
final class ChargePath
{
    /** How often a low group, groups far apart, or the weather make a board or a charger refuse (assumed). */
    private const LOW_REFUSED = 0.8;

    /** How often a board refuses that sees a group outside its limits (assumed). */
    private const SURELY = 0.95;

    /** Refusal for a reason not named here: beside a dead output, and without (assumed). */
    private const OTHER_DEAD = 0.03;

    /** See above. */
    private const OTHER_ALIVE = 0.003;

    /** Volts over the string that only a charger can bring to the port. */
    private const PORT_STANDS_V = 0.3;

    /** Words of the ledger without a density of their own: much, and some. */
    private const SAYS_MUCH_DB = 6.0;

    /** See above. */
    private const SAYS_SOME_DB = 4.0;

    /** What is said of a probability in the ledger goes to a hundred to one. */
    private const WORDS_LEAST = 0.01;

    /** Under this nothing of the way in is suspected. */
    private const NOT_SICK = 0.3;

    /** Share of a group's capacity under which a charge that the board stops counts as refused. */
    private const REFUSED = 0.02;

    /** A charge taken on the bench: at least this share of capacity, or this many amps through the pack. */
    private const TOOK = 0.1;

    private const MISREAD = 'sense';

    private const APART = 'spread';

    private const OTHER = 'other';

    /** Chance of the complaint with none of the causes (assumed). */
    private const STRAY = 0.003;

    /** From this probability that a group out of limits explains a refusal, charger and sensor are not chased (assumed). */
    private const EXPLAINED = 0.7;

    /** The same where charge went in here all the same: the customer's word yields to it (assumed). */
    private const REFUTED = 0.5;

    /** Amps that a bench supply may have fed past the board; more came in by the port (assumed). */
    private const BY_SUPPLY_A = 6.0;

    /** A board's limit is met within this (assumed). */
    private const OVER_LIMIT = 1.2;

    private readonly bool $heard;

    /** Null when no charger was measured. */
    private ?bool $chargerGood = null;

    private readonly Switching $net;

    /**
     * @param  float  $outside  probability that a group is past the limit at which a board refuses charge
     * @param  float  $low  probability that a group is too low for a board or a charger to begin
     * @param  float  $sense  probability that the board reads its groups wrongly
     */
    public function __construct(
        private readonly JobRecord $record,
        private readonly PackEvidence $evidence,
        Situation $situation,
        Priors $priors,
        private readonly OutputPath $output,
        ?RestSpread $spread,
        float $outside,
        float $low,
        float $sense,
    ) {
        $stopped = null;
        foreach ($record->currentTests('charge') as $t) {
            $ah = $t->data->float('after_ah');
            if (
                $t->data->string('stopped_by') === 'bms' &&
                $ah !== null &&
                $ah < self::REFUSED * ($record->pack->groupCapacityAh() ?? PackSpec::UNKNOWN_AH) &&
                !$this->stoppedAtTheTop($t->data->numbers('groups_v'))
            ) {
                $stopped = $ah;
            }
        }
        $net = $this->net = new Switching($situation);
        $explained = max($outside, self::LOW_REFUSED * $low);
        $net->cause('bms.protecting', Odds::inside($explained), self::SURELY);
        $net->cause(self::MISREAD, Odds::inside($sense, Tiny::DIVISOR), self::SURELY);
        foreach (Faults::all() as $code => $fault) {
            if ($fault->refusesCharge() !== null && $fault->fitted($record->pack)) {
                $net->cause($code, $priors->cause($code), $fault->refusesCharge(), $fault->excludes());
            }
        }
        // Many chargers and boards refuse a pack whose groups are far apart.
        $net->cause(self::APART, Odds::inside($spread->overLast ?? 0.0, Tiny::DIVISOR, self::SURELY), self::LOW_REFUSED);
        $weather = array_intersect(['under-temperature', 'over-temperature'], $evidence->boardFlags) !== [] && !$evidence->temperate();
        $net->cause(self::OTHER, $weather ? self::LOW_REFUSED : ($output->dead ? self::OTHER_DEAD : self::OTHER_ALIVE), 1.0);
        $refuses = $record->says('will-not-charge', 'charger-blinks-fault') || in_array('charge-off', $evidence->boardFlags, true);
        $flowed = $this->flowed();
        $this->heard = $refuses || $stopped !== null;
        if ($flowed !== null) {
            $net->see(Feature::outcome(FeatureKind::TookCharge, $flowed[0], $flowed[1]));
        }
        foreach (
            [
                ...PathFeatures::flags($evidence),
                ...array_filter(PathFeatures::tested($record, $evidence), fn(Feature $f): bool => $f->kind === FeatureKind::Sensor),
            ]
            as $feature
        ) {
            $net->see($feature);
        }
        $this->readCharger($net);
        if ($stopped !== null) {
            $net->see(Feature::outcome(FeatureKind::BoardStopped, 'board', sprintf('the board stops the charge after %.2f Ah', $stopped)));
        }
        if ($this->heard) {
            // The customer's word yields to current that flowed here.
            $net->complaint(($flowed[0] ?? '') === 'flowed' ? self::REFUTED : self::STRAY);
            $this->words($refuses, $explained);
        }
        $net->solve();
    }

    /** @param  list<float|null>  $volts */
    private function stoppedAtTheTop(array $volts): bool
    {
        $read = array_filter($volts, fn(?float $v): bool => $v !== null);

        return $read !== [] && max($read) >= $this->record->pack->highCutV() - VerdictLimits::AT_THE_CUT_V;
    }

    /**
     * That charge went in on this bench: so much that it came in by the port, or so little that a supply may have fed it
     * past the board. Null where none did.
     *
     * @return array{string, string}|null
     */
    private function flowed(): ?array
    {
        foreach ($this->record->current() as $m) {
            if ($m->condition->value === 'charge' && $m->currentA > self::TOOK && count($m->readings) > 0 && !$m->fromBoard) {
                // More than the board itself lets in went past it.
                $limit = $this->record->pack->bms->float('charge_limit_a') ?? INF;

                return [
                    $m->currentA > self::BY_SUPPLY_A && $m->currentA <= self::OVER_LIMIT * $limit ? 'flowed' : 'fed',
                    sprintf('%.3g A of charge flowed while it was read', $m->currentA),
                ];
            }
        }
        foreach ($this->record->currentTests('charge') as $t) {
            $ah = $t->data->float('after_ah');
            if ($ah !== null && $ah >= self::TOOK * ($this->record->pack->groupCapacityAh() ?? PackSpec::UNKNOWN_AH)) {
                return ['flowed', sprintf('it took %.2f Ah here', $ah)];
            }
        }

        return null;
    }

    private function readCharger(Switching $net): void
    {
        $pack = $this->record->pack;
        foreach ($this->record->currentTests('charger') as $t) {
            $loaded = $t->data->float('loaded_v');
            $open = $t->data->float('open_v') ?? $loaded;
            if ($open === null) {
                continue;
            }
            // Under a load it comes down to what the load lets it: only a charger that gives nothing is told by that.
            $dead =
                ($loaded !== null && $loaded < OutsideChecks::CHARGER_DEAD * $pack->fullVolts()) ||
                ($loaded === null && $open < OutsideChecks::CHARGER_NOTHING * $pack->fullVolts());
            $this->chargerGood = !$dead && $open >= $pack->chargerLeastV() && $open <= $pack->chargerMostV();
            $net->see(
                Feature::outcome(
                    FeatureKind::Charger,
                    $dead ? 'dead' : ($this->chargerGood ? 'good' : 'wrong'),
                    $this->chargerGood ? 'the charger is good' : ($dead ? 'the charger gives nothing' : 'the charger is not right'),
                ),
            );
            if ($this->chargerGood) {
                $net->note('bms.charge-dead', 'the charger is good', self::SAYS_MUCH_DB, 'measured');
            }
        }
        if ($this->evidence->portV !== null && $this->evidence->rest?->packV !== null && $this->chargerGood === true) {
            // With a good charger on, a port at charger voltage and no current says that the switch behind it is open.
            $stands = $this->evidence->portV > $this->evidence->rest->packV + self::PORT_STANDS_V;
            $net->see(
                Feature::outcome(
                    FeatureKind::Port,
                    $stands ? 'stands' : 'absent',
                    $stands
                        ? 'the charger\'s voltage stands at the port and nothing flows'
                        : 'the charger\'s voltage does not stand at the port',
                ),
            );
        }
    }

    private function words(bool $refuses, float $explained): void
    {
        foreach (['bms.protecting', 'bms.charge-dead', 'sensor.temperature', 'charger.dead'] as $code) {
            if ($refuses) {
                $this->net->note($code, 'it takes no charge', self::SAYS_MUCH_DB, 'reported');
            }
        }
        $this->net->note(
            'bms.protecting',
            sprintf('a group is outside its limits (%.0f %% sure)', 100 * $explained),
            Odds::decibans($explained, self::WORDS_LEAST),
            'derived',
        );
        if ($explained < Finding::LISTED && $this->evidence->rest !== null) {
            $this->net->note('bms.charge-dead', 'every group that was read is inside its limits', self::SAYS_SOME_DB, 'derived');
        }
        if (
            array_intersect(['under-temperature', 'over-temperature'], $this->evidence->boardFlags) !== [] &&
            !$this->evidence->temperate()
        ) {
            $this->net->note('bms.protecting', 'it is too cold or too hot to be charged', self::SAYS_MUCH_DB, 'derived');
        }
    }

    /** @return list<Finding> */
    public function findings(): array
    {
        $out = [];
        foreach ($this->net->probabilities() as $code => $p) {
            $measured =
                array_filter(
                    $this->net->evidence($code),
                    fn(Evidence $e): bool => $e->decibans >= self::SAYS_MUCH_DB && $e->basis === 'measured',
                ) !== [];
            if (
                in_array($code, [self::MISREAD, self::APART, self::OTHER, 'charger.wrong-voltage'], true) ||
                $p < Finding::LISTED ||
                (!$this->heard && !($measured && $code === 'sensor.temperature'))
            ) {
                continue;
            }
            if ($code === 'bms.protecting' && $this->output->dead && $this->output->net->p($code) >= $p) {
                continue;
            }
            $out[] = new Finding(
                $code,
                Faults::of($code)->words()->title,
                Place::pack(),
                $p,
                Faults::of($code)->severity(),
                $this->net->evidence($code) ?: [new Evidence('only how often packs fail this way', 0.0, 'assumed')],
            );
        }

        return $out;
    }

    /** Probability that something of the way in is at fault, not counting a board that does its job. */
    public function sick(): float
    {
        $fine = 1.0;
        foreach (['bms.charge-dead', 'charger.dead', 'sensor.temperature'] as $code) {
            $fine *= 1 - $this->net->p($code);
        }

        return $this->heard ? 1 - $fine : 0.0;
    }

    /** @return list<NextTest> */
    public function tests(): array
    {
        if (
            !$this->heard ||
            $this->net->entropyBits() < Switching::SETTLED_BITS ||
            ($this->net->p('bms.protecting') > self::EXPLAINED && $this->sick() < self::NOT_SICK)
        ) {
            return [];
        }
        $out = [];
        if ($this->chargerGood === null) {
            $out[] = $this->net->offer(TestKind::ChargerCheck, 'Measure the charger, open and with a load on it.', FeatureKind::Charger, [
                'good',
                'dead',
                'wrong',
            ]);
        }
        if ($this->record->currentTests('sensor') === [] && $this->net->has('sensor.temperature')) {
            $out[] = $this->net->offer(TestKind::Sensor, 'Measure the temperature sensor against its curve.', FeatureKind::Sensor, [
                'off',
                'right',
            ]);
        }
        if ($this->evidence->boardRest === null && $this->evidence->boardFlags === []) {
            $out[] = $this->net->offer(
                TestKind::BoardReport,
                'Read what the board itself reports: its flags say why it refuses.',
                FeatureKind::Flag,
                ['reported', 'none'],
            );
        }

        return $out;
    }
}
