<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Reading\RestSpread;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;

/**
 * Why it takes no charge: exclusive causes, the board doing its job before all others (handbook "Protection, path,
 * sensing" and "Outside the pack").
 */
final class ChargeEngine
{
    /** Share of a group's capacity under which a charge that the board stops counts as refused. */
    private const REFUSED = 0.02;

    /** Causes that other findings speak of, or that have no name of their own. */
    private const MISREAD = 'sense';

    private const APART = 'spread';

    private const OTHER = 'other';

    private readonly bool $refuses;

    private ?float $stoppedAh = null;

    /** Null when no charger was measured. */
    private ?bool $chargerGood = null;

    private readonly Causes $causes;

    /**
     * @param  list<GroupPosterior>  $posteriors
     * @param  float  $outside  probability that a group is past the limit at which a board refuses charge
     * @param  float  $sense  probability that the board reads its groups wrongly
     */
    public function __construct(
        private readonly JobRecord $record,
        private readonly PackEvidence $evidence,
        private readonly array $posteriors,
        private readonly OutputEngine $output,
        private readonly ?RestSpread $spread,
        float $outside,
        float $sense,
    ) {
        foreach ($record->currentTests('charge') as $t) {
            $ah = $t->data->float('after_ah');
            if ($t->data->string('stopped_by') === 'bms' && $ah !== null && $ah < self::REFUSED * ($record->pack->groupCapacityAh() ?? 5.0)) {
                $this->stoppedAh = $ah;
            }
        }
        $this->readCharger();
        $this->refuses = $record->says('will-not-charge', 'charger-blinks-fault') || in_array('charge-off', $evidence->boardFlags, true);
        // A group past full stops a charge for good reason; one that is too low only on some boards.
        $explained = max($outside, 0.8 * $this->lowOutside());
        $left = (1 - 0.95 * $explained) * (1 - 0.95 * $sense);
        $this->causes = new Causes([
            'bms.protecting' => 0.95 * $explained,
            self::MISREAD => (1 - 0.95 * $explained) * 0.95 * $sense,
            'bms.charge-dead' => 0.30 * $left,
            'charger.dead' => 0.25 * $left,
            'sensor.temperature' => ($record->pack->bms->bool('temperature_sensor') === false ? 0.005 : 0.10) * $left,
            // Many chargers and boards refuse a pack whose groups are far apart.
            self::APART => 1.5 * ($this->spread->overLast ?? 0.0) * $left,
            self::OTHER => 0.12 * $left * ($output->dead ? 3.0 : 1.0),
        ]);
        if ($this->heard()) {
            $this->weigh($explained);
        }
    }

    /** Whether anything says that it takes no charge. */
    private function heard(): bool
    {
        return $this->refuses || $this->stoppedAh !== null;
    }

    private function readCharger(): void
    {
        $pack = $this->record->pack;
        foreach ($this->record->currentTests('charger') as $t) {
            $loaded = $t->data->float('loaded_v');
            $open = $t->data->float('open_v') ?? $loaded;
            if ($open !== null) {
                // Under a load it comes down to what the load lets it: only a charger that gives nothing is told by that.
                $this->chargerGood = $open >= $pack->chargerLeastV() && $open <= $pack->chargerMostV() && ($loaded === null || $loaded >= OutsideChecks::CHARGER_DEAD * $pack->fullVolts());
            }
        }
    }

    private function lowOutside(): float
    {
        foreach ($this->posteriors as $p) {
            if ($p->evidence->restV !== null && $p->evidence->doubt === null && $p->evidence->restV < $this->record->pack->lowCutV()) {
                return 1.0;
            }
        }

        return 0.0;
    }

    private function weigh(float $explained): void
    {
        $causes = $this->causes;
        foreach (['bms.protecting', 'bms.charge-dead', 'sensor.temperature', 'charger.dead'] as $code) {
            if ($this->refuses) {
                $causes->note($code, 'it takes no charge', 6.0);
            }
            if ($this->stoppedAh !== null) {
                $causes->note($code, sprintf('the board stops the charge after %.2f Ah', $this->stoppedAh), 6.0);
            }
        }
        $causes->note('bms.protecting', sprintf('a group is outside its limits (%.0f %% sure)', 100 * $explained), 10 * log10(max(0.01, $explained) / max(0.01, 1 - $explained)), 'derived');
        if ($explained < 0.1 && $this->evidence->rest !== null) {
            $causes->note('bms.charge-dead', 'every group that was read is inside its limits', 4.0, 'derived');
        }
        if ($this->chargerGood !== null) {
            $causes->multiply(['charger.dead' => $this->chargerGood ? 0.04 : 8.0], $this->chargerGood ? 'the charger is good' : 'the charger is not right');
        }
        if ($this->chargerGood === true) {
            $causes->note('bms.charge-dead', 'the charger is good', 5.0);
        }
        if ($this->stoppedAh !== null) {
            $causes->multiply(['charger.dead' => 0.3], 'it is the board that stops it');
        }
        foreach ($this->record->currentTests('sensor') as $t) {
            $off = $t->sensorOff();
            if ($off !== null) {
                $causes->multiply(['sensor.temperature' => $off ? 30.0 : 0.05], $off ? 'the sensor is far off its expected value' : 'the sensor measures as it should');
            }
        }
        if (array_intersect(['under-temperature', 'over-temperature'], $this->evidence->boardFlags) !== []) {
            $this->evidence->temperate()
                ? $causes->multiply(['sensor.temperature' => 15.0], 'the board reports a temperature that is not there')
                : $causes->multiply([self::OTHER => 15.0], 'it is too cold or too hot to be charged');
        }
        if ($this->evidence->portV !== null && $this->evidence->rest?->packV !== null && $this->chargerGood === true) {
            // With a good charger on, a port at charger voltage and no current says that the switch behind it is open.
            $this->evidence->portV > $this->evidence->rest->packV + 0.3
                ? $causes->multiply(['bms.charge-dead' => 4.0], 'the charger\'s voltage stands at the port and nothing flows')
                : $causes->multiply(['bms.charge-dead' => 0.7], 'the charger\'s voltage does not stand at the port');
        }
        if ($this->output->alive && $this->chargerGood === true) {
            $causes->multiply(['bms.charge-dead' => 2.0], 'the output lives: only the way in is shut', 'derived');
        }
    }

    /** @return list<Finding> */
    public function findings(): array
    {
        if (! $this->heard()) {
            return [];
        }
        $titles = [
            'bms.protecting' => 'The board is doing its job: a group is outside its limits',
            'bms.charge-dead' => 'The board\'s charge switch has failed',
            'sensor.temperature' => 'The temperature sensor keeps the charge off',
            'charger.dead' => 'The charger may give nothing',
        ];
        if ($this->output->dead) {
            // The dead output names the sensor already.
            unset($titles['sensor.temperature']);
        }
        if ($this->chargerGood === false) {
            // What was measured of the charger is a finding of its own.
            unset($titles['charger.dead']);
        }
        $out = [];
        foreach ($titles as $code => $title) {
            $p = $this->causes->p($code);
            if ($p >= Finding::LISTED && ($code !== 'bms.protecting' || ($this->output->probabilities[$code] ?? 0.0) < $p)) {
                $out[] = new Finding($code, $title, Place::pack(), $p, Severity::of($code), $this->causes->evidence($code) ?: [new Evidence('only how often packs fail this way', 0.0, 'assumed')]);
            }
        }

        return $out;
    }

    /** @return list<NextTest> */
    public function tests(): array
    {
        if (! $this->heard() || $this->causes->entropyBits() < 0.05) {
            return [];
        }
        $out = [];
        if ($this->chargerGood === null) {
            $out[] = $this->causes->offer(TestKind::ChargerCheck, 'Measure the charger, open and with a load on it.', ['charger.dead' => 0.95]);
        }
        if ($this->record->currentTests('sensor') === [] && $this->record->pack->bms->bool('temperature_sensor') !== false) {
            $out[] = $this->causes->offer(TestKind::Sensor, 'Measure the temperature sensor against its curve.', ['sensor.temperature' => 0.95]);
        }
        if ($this->evidence->boardRest === null && $this->evidence->boardFlags === []) {
            $out[] = $this->causes->offer(TestKind::BoardReport, 'Read what the board itself reports: its flags say why it refuses.', ['sensor.temperature' => 0.7, 'bms.protecting' => 0.8]);
        }

        return $out;
    }
}
