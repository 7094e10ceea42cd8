<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Record\BenchTest;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;

/**
 * Why the output is dead: exclusive causes, linked to the groups by the rule that a board that switched off because
 * a group is outside its limits is doing its job (handbook "Verdicts").
 */
final class OutputEngine
{
    /** The board switched off over what it reads, which is not what is there: told by the finding about its sense leads. */
    private const MISREAD = 'sense';

    /** Prior of each cause once no group explains the dead output (assumed). */
    private const CAUSES = [
        'bms.latched' => 0.24, 'bms.asleep' => 0.14, 'bms.output-dead' => 0.16, 'path.fuse-open' => 0.16,
        'path.switch-or-enable' => 0.12, 'path.connector' => 0.08, 'path.intermittent' => 0.05, 'sensor.temperature' => 0.05,
    ];

    private const TITLES = [
        'bms.protecting' => 'The board is doing its job: a group is outside its limits',
        'bms.latched' => 'The board is still latched off',
        'bms.asleep' => 'The board is asleep',
        'bms.output-dead' => 'The board\'s discharge switch or logic has failed',
        'path.fuse-open' => 'The fuse is open, missing or bypassed',
        'path.switch-or-enable' => 'Key switch or enable wire keeps the output off',
        'path.connector' => 'A terminal or connector is burnt or loose',
        'path.intermittent' => 'A contact fails when moved',
        'sensor.temperature' => 'The temperature sensor keeps the board off',
    ];

    /** @var array<string, float> */
    public array $probabilities = [];

    private readonly Causes $causes;

    /** Whether the output was seen or reported dead; it may live again since a wake action. */
    public readonly bool $dead;

    public readonly bool $alive;

    /**
     * @param  float  $outside  probability that a group is past the limit at which the board switches off or not yet back past its release
     * @param  float  $sense  probability that the board reads its groups wrongly: a lead off or on the wrong place
     */
    public function __construct(private readonly JobRecord $record, private readonly PackEvidence $evidence, public readonly float $outside, private readonly float $sense = 0.0)
    {
        $sum = $evidence->rest?->packV;
        $v = $evidence->outputLowImpedanceV ?? $evidence->outputV;
        $this->alive = $sum !== null && $v !== null && $sum > 1.0 && $v > 0.93 * $sum;
        // An output that lives since it was woken was dead all the same: why it was is the question.
        $woken = array_filter($record->currentTests('wake'), fn (BenchTest $t): bool => $t->data->bool('woke') === true) !== [];
        $this->dead = $woken && $this->alive
            ? $record->says('dead-output') || ($sum !== null && $evidence->outputLowestV !== null && $evidence->outputLowestV < 0.6 * $sum)
            : ! $this->alive && (($sum !== null && $v !== null && $v < 0.6 * $sum) || ($v === null && $record->says('dead-output')));
        $unexplained = (1 - 0.97 * $outside) * (1 - 0.95 * $sense);
        $this->causes = new Causes(['bms.protecting' => 0.97 * $outside, self::MISREAD => (1 - 0.97 * $outside) * 0.95 * $sense] + array_map(fn (float $prior): float => $prior * $unexplained, self::CAUSES));
        $this->weigh();
        $this->probabilities = $this->dead ? $this->causes->probabilities() : [];
        unset($this->probabilities[self::MISREAD]);
    }

    private function weigh(): void
    {
        $causes = $this->causes;
        if ($this->outside > 0.05) {
            $causes->note('bms.protecting', sprintf('a group is outside its limits (%.0f %% sure), which switches any sound board off', 100 * $this->outside), 10 * log10(max(0.01, $this->outside) / max(0.01, 1 - $this->outside)), 'derived');
        } elseif ($this->evidence->rest !== null) {
            foreach (['bms.latched', 'bms.asleep'] as $code) {
                $causes->note($code, 'every group that was read is past its release voltage', 3.0);
            }
        }
        foreach ([
            'cuts-out-when-bumped' => [['path.intermittent' => 8.0, 'path.connector' => 2.0], 'it cuts out when bumped'],
            'stored-long' => [['bms.asleep' => 2.0, 'bms.latched' => 1.3], 'it was stored for long'],
            'short-circuited' => [['path.fuse-open' => 4.0, 'bms.output-dead' => 1.5], 'it was short-circuited'],
            'cuts-out-until-reconnected' => [['bms.latched' => 3.0], 'it came back before when it was reconnected'],
        ] as $symptom => [$factors, $text]) {
            if ($this->record->says($symptom)) {
                $causes->multiply($factors, $text);
            }
        }
        if (array_intersect(['under-temperature', 'over-temperature'], $this->evidence->boardFlags) !== [] && $this->evidence->temperate()) {
            $causes->multiply(['sensor.temperature' => 15.0], 'the board reports a temperature that is not there');
        }
        if (in_array('over-current', $this->evidence->boardFlags, true)) {
            $causes->multiply(['bms.latched' => 4.0], 'the board reports an over-current');
        }
        foreach ($this->record->currentTests() as $t) {
            match ($t->kind) {
                'wake' => $this->wake($t),
                'continuity' => $this->continuity($t),
                'flex' => $this->flex($t),
                'sensor' => $this->sensor($t),
                default => null,
            };
        }
    }

    private function wake(BenchTest $t): void
    {
        $action = (string) $t->data->string('action');
        $name = str_replace('-', ' ', $action);
        if ($t->data->bool('woke') === true) {
            $factors = ['bms.output-dead' => 0.02, 'path.fuse-open' => 0.01, 'path.connector' => 0.05, 'sensor.temperature' => 0.1, 'path.intermittent' => 0.2, 'bms.protecting' => 0.3];
            $factors['path.switch-or-enable'] = $action === 'enable-wire' ? 8.0 : 0.1;
            $this->causes->multiply($factors, "it woke with: $name");
            foreach (['bms.latched', 'bms.asleep'] as $code) {
                $this->causes->note($code, "it woke with: $name", 14.0);
            }

            return;
        }
        $this->causes->multiply(['bms.latched' => $action === 'charger-pulse' ? 0.3 : 0.55, 'bms.asleep' => 0.5], "it did not wake with: $name");
    }

    private function continuity(BenchTest $t): void
    {
        $element = (string) $t->data->string('element');
        $code = ['fuse' => 'path.fuse-open', 'switch' => 'path.switch-or-enable', 'connector' => 'path.connector'][$element] ?? null;
        if ($code === null) {
            return;
        }
        $ohm = $t->data->float('ohm');
        $drop = $t->data->float('drop_v');
        $current = abs($t->data->float('current_a') ?? 0.0);
        $pack = max(1.0, $this->evidence->rest->packV ?? $this->record->pack->fullVolts());
        if ($ohm !== null) {
            $ohm > 5.0
                ? $this->causes->multiply([$code => 60.0], sprintf('%s measures %.3g ohm with the circuit dead', $element, $ohm))
                : $this->causes->multiply([$code => 0.02], sprintf('%s measures %.3g ohm: it conducts', $element, $ohm));
        } elseif ($drop !== null && abs($drop) > 0.3 * $pack) {
            $this->causes->multiply([$code => 100.0], sprintf('%.1f V stands across the %s', abs($drop), $element));
        } elseif ($drop !== null && $current > 0.001 && abs($drop) < 0.05 * $pack) {
            $this->causes->multiply([$code => 0.02], sprintf('only %.2f V across the %s with a load on', abs($drop), $element));
        }
    }

    private function flex(BenchTest $t): void
    {
        $t->data->bool('changed') === true
            ? $this->causes->multiply(['path.intermittent' => 40.0, 'path.connector' => 3.0], 'the reading changes when it is flexed')
            : $this->causes->multiply(['path.intermittent' => 0.3], 'nothing changes when it is flexed');
    }

    private function sensor(BenchTest $t): void
    {
        $off = $t->sensorOff();
        if ($off !== null) {
            $this->causes->multiply(['sensor.temperature' => $off ? 60.0 : 0.05], sprintf('the sensor measures %.0f ohm where %.0f are expected', (float) $t->data->float('ohm'), (float) $t->data->float('expected_ohm')));
        }
    }

    /** @return list<Finding> */
    public function findings(): array
    {
        $out = [];
        foreach ($this->probabilities as $code => $p) {
            if ($p >= Finding::LISTED) {
                $out[] = new Finding($code, self::TITLES[$code], Place::pack(), $p, Severity::of($code), $this->causes->evidence($code) ?: [new Evidence('the output is dead, and nothing measured yet speaks for or against it', 0.0, 'assumed')]);
            }
        }

        return $out;
    }

    /**
     * Tests that split the causes: each an outcome with its chance under every cause, and the entropy it is expected to take away.
     *
     * @return list<NextTest>
     */
    public function tests(): array
    {
        if (! $this->dead || $this->causes->entropyBits() < 0.05) {
            return [];
        }
        $done = [];
        foreach ($this->record->currentTests() as $t) {
            $done[$t->kind.($t->kind === 'continuity' ? '/'.$t->data->string('element') : '')] = true;
        }
        $wake = $this->record->currentTests('wake');
        $out = [];
        if (count($wake) < 3) {
            $out[] = $this->causes->offer(TestKind::Wake, 'Try to wake the board: charger, button, enable wire, reconnect.', ['bms.latched' => 0.7, 'bms.asleep' => 0.7, 'path.switch-or-enable' => 0.2]);
        }
        if (! isset($done['continuity/fuse'])) {
            $out[] = $this->causes->offer(TestKind::Continuity, 'Measure the fuse: ohms with the circuit dead, or the drop across it under a small load.', ['path.fuse-open' => 0.97]);
        } elseif (! isset($done['continuity/switch'])) {
            $out[] = $this->causes->offer(TestKind::Continuity, 'Measure the switch and the enable wire.', ['path.switch-or-enable' => 0.9]);
        } elseif (! isset($done['continuity/connector'])) {
            $out[] = $this->causes->offer(TestKind::Continuity, 'Measure through the connector.', ['path.connector' => 0.9]);
        }
        if (! isset($done['flex'])) {
            $out[] = $this->causes->offer(TestKind::Flex, 'Move wires and connectors while reading.', ['path.intermittent' => 0.8, 'path.connector' => 0.4]);
        }
        if ($this->record->pack->bms->bool('temperature_sensor') !== false && ! isset($done['sensor'])) {
            $out[] = $this->causes->offer(TestKind::Sensor, 'Measure the temperature sensor against its curve.', ['sensor.temperature' => 0.95]);
        }
        if ($this->outside < 0.9 && $this->evidence->outputLowImpedanceV === null && $this->evidence->outputV !== null && $this->evidence->outputV > 0.5) {
            $out[] = new NextTest(TestKind::LowImpedanceTerminal, Place::pack(), 'Read the output again at low impedance: a floating voltage collapses.', 1, 0.15);
        }

        return $out;
    }
}
