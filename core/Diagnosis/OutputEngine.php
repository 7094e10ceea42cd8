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

    /** @var array<string, list<Evidence>> */
    private array $ledger = [];

    /** Whether the output was seen or reported dead. */
    public readonly bool $dead;

    public readonly bool $alive;

    /** @param  float  $outside probability that a group is past the limit at which the board switches off or not yet back past its release */
    public function __construct(private readonly JobRecord $record, private readonly PackEvidence $evidence, public readonly float $outside)
    {
        $sum = $evidence->rest?->packV;
        $v = $evidence->outputLowImpedanceV ?? $evidence->outputV;
        $this->alive = $sum !== null && $v !== null && $sum > 1.0 && $v > 0.93 * $sum;
        $this->dead = ! $this->alive && (($sum !== null && $v !== null && $v < 0.6 * $sum) || ($v === null && $record->says('dead-output')));
        $this->weigh();
    }

    private function weigh(): void
    {
        $p = ['bms.protecting' => 0.97 * $this->outside] + array_map(fn (float $prior): float => $prior * (1 - 0.97 * $this->outside), self::CAUSES);
        if ($this->outside > 0.05) {
            $this->note('bms.protecting', sprintf('a group is outside its limits (%.0f %% sure), which switches any sound board off', 100 * $this->outside), 10 * log10(max(0.01, $this->outside) / max(0.01, 1 - $this->outside)), 'derived');
        } elseif ($this->evidence->rest !== null) {
            foreach (['bms.latched', 'bms.asleep'] as $code) {
                $this->note($code, 'every group that was read is past its release voltage', 3.0, 'measured');
            }
        }
        if (! $this->dead) {
            $this->probabilities = array_map(fn (): float => 0.0, $p);
            if (! $this->alive && $this->record->says('cuts-out-when-bumped')) {
                $this->probabilities['path.intermittent'] = 0.6;
                $this->note('path.intermittent', 'it cuts out when bumped', 9.0, 'measured');
            }

            return;
        }
        if ($this->record->says('cuts-out-when-bumped')) {
            $this->multiply($p, ['path.intermittent' => 8.0, 'path.connector' => 2.0], 'it cuts out when bumped');
        }
        if ($this->record->says('stored-long')) {
            $this->multiply($p, ['bms.asleep' => 2.0, 'bms.latched' => 1.3], 'it was stored for long');
        }
        if ($this->record->says('short-circuited')) {
            $this->multiply($p, ['path.fuse-open' => 4.0, 'bms.output-dead' => 1.5], 'it was short-circuited');
        }
        $tried = 0;
        foreach ($this->record->currentTests() as $t) {
            match ($t->kind) {
                'wake' => $tried = $this->wake($p, $t, $tried),
                'continuity' => $this->continuity($p, $t),
                'flex' => $this->flex($p, $t),
                'sensor' => $this->sensor($p, $t),
                default => null,
            };
        }
        $sum = array_sum($p);
        $this->probabilities = array_map(fn (float $x): float => $x / max(1e-12, $sum), $p);
    }

    /** @param  array<string, float>  $p */
    private function wake(array &$p, BenchTest $t, int $tried): int
    {
        $action = (string) $t->data->string('action');
        $name = str_replace('-', ' ', $action);
        if ($t->data->bool('woke') === true) {
            $factors = ['bms.output-dead' => 0.02, 'path.fuse-open' => 0.01, 'path.connector' => 0.05, 'sensor.temperature' => 0.1, 'path.intermittent' => 0.2, 'bms.protecting' => 0.3];
            $factors['path.switch-or-enable'] = $action === 'enable-wire' ? 8.0 : 0.1;
            $this->multiply($p, $factors + ['bms.latched' => 1.0, 'bms.asleep' => 1.0], "it woke with: $name");
            foreach (['bms.latched', 'bms.asleep'] as $code) {
                $this->note($code, "it woke with: $name", 14.0, 'measured');
            }

            return $tried;
        }
        // A second action of the same kind says less than the first.
        $this->multiply($p, ['bms.latched' => $action === 'charger-pulse' ? 0.3 : 0.55, 'bms.asleep' => 0.5], "it did not wake with: $name");

        return $tried + 1;
    }

    /** @param  array<string, float>  $p */
    private function continuity(array &$p, BenchTest $t): void
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
                ? $this->multiply($p, [$code => 60.0], sprintf('%s measures %.3g ohm with the circuit dead', $element, $ohm))
                : $this->multiply($p, [$code => 0.02], sprintf('%s measures %.3g ohm: it conducts', $element, $ohm));
        } elseif ($drop !== null && $drop > 0.3 * $pack) {
            $this->multiply($p, [$code => 100.0], sprintf('%.1f V stands across the %s', $drop, $element));
        } elseif ($drop !== null && $current > 0.001 && $drop < 0.05 * $pack) {
            $this->multiply($p, [$code => 0.02], sprintf('only %.2f V across the %s with a load on', $drop, $element));
        }
    }

    /** @param  array<string, float>  $p */
    private function flex(array &$p, BenchTest $t): void
    {
        $t->data->bool('changed') === true
            ? $this->multiply($p, ['path.intermittent' => 40.0, 'path.connector' => 3.0], 'the reading changes when it is flexed')
            : $this->multiply($p, ['path.intermittent' => 0.3], 'nothing changes when it is flexed');
    }

    /** @param  array<string, float>  $p */
    private function sensor(array &$p, BenchTest $t): void
    {
        $ohm = $t->data->float('ohm');
        $expected = $t->data->float('expected_ohm');
        if ($ohm === null || $expected === null || $expected <= 0) {
            return;
        }
        $off = abs($ohm / $expected - 1) > 0.3;
        $this->multiply($p, ['sensor.temperature' => $off ? 60.0 : 0.05], sprintf('the sensor measures %.0f ohm where %.0f are expected', $ohm, $expected));
    }

    /**
     * @param  array<string, float>  $p
     * @param  array<string, float>  $factors
     */
    private function multiply(array &$p, array $factors, string $text): void
    {
        foreach ($factors as $code => $factor) {
            if (isset($p[$code]) && $factor !== 1.0) {
                $p[$code] *= $factor;
                $this->note($code, $text, 10 * log10($factor), 'measured');
            }
        }
    }

    /** @param  'measured'|'derived'|'assumed'|'predicted'  $basis */
    private function note(string $code, string $text, float $decibans, string $basis): void
    {
        $this->ledger[$code][] = new Evidence($text, $decibans, $basis);
    }

    /** @return list<Finding> */
    public function findings(): array
    {
        $out = [];
        foreach ($this->probabilities as $code => $p) {
            if ($p >= Finding::LISTED) {
                $out[] = new Finding($code, self::TITLES[$code], Place::pack(), $p, Severity::of($code), $this->ledger[$code] ?? [new Evidence('the output is dead, and nothing measured yet speaks for or against it', 0.0, 'assumed')]);
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
        if (! $this->dead || $this->entropyBits() < 0.05) {
            return [];
        }
        $done = [];
        foreach ($this->record->currentTests() as $t) {
            $done[$t->kind.'/'.($t->data->string('element') ?? '')] = true;
        }
        $wake = $this->record->currentTests('wake');
        $out = [];
        if (count($wake) < 3) {
            $out[] = $this->offer(TestKind::Wake, 'Try to wake the board: charger, button, enable wire, reconnect.', ['bms.latched' => 0.7, 'bms.asleep' => 0.7, 'path.switch-or-enable' => 0.2]);
        }
        if (! isset($done['continuity/fuse'])) {
            $out[] = $this->offer(TestKind::Continuity, 'Measure the fuse: ohms with the circuit dead, or the drop across it under a small load.', ['path.fuse-open' => 0.97]);
        } elseif (! isset($done['continuity/switch'])) {
            $out[] = $this->offer(TestKind::Continuity, 'Measure the switch and the enable wire.', ['path.switch-or-enable' => 0.9]);
        } elseif (! isset($done['continuity/connector'])) {
            $out[] = $this->offer(TestKind::Continuity, 'Measure through the connector.', ['path.connector' => 0.9]);
        }
        if (! isset($done['flex/'])) {
            $out[] = $this->offer(TestKind::Flex, 'Move wires and connectors while reading.', ['path.intermittent' => 0.8, 'path.connector' => 0.4]);
        }
        if ($this->record->pack->bms->bool('temperature_sensor') === true && ! isset($done['sensor/'])) {
            $out[] = $this->offer(TestKind::Sensor, 'Measure the temperature sensor against its curve.', ['sensor.temperature' => 0.95]);
        }
        if ($this->evidence->outputLowImpedanceV === null && $this->evidence->outputV !== null && $this->evidence->outputV > 0.5) {
            $out[] = new NextTest(TestKind::LowImpedanceTerminal, Place::pack(), 'Read the output again at low impedance: a floating voltage collapses.', 1, 0.15);
        }

        return $out;
    }

    /** @param  array<string, float>  $chance */
    private function offer(TestKind $kind, string $why, array $chance): NextTest
    {
        return new NextTest($kind, Place::pack(), $why, $kind->minutes(), $this->expectedGain($chance));
    }

    /** @param  array<string, float>  $chance of a positive outcome under each cause; 3 % under the others */
    private function expectedGain(array $chance): float
    {
        $gain = $this->entropyBits();
        foreach ([true, false] as $positive) {
            $joint = [];
            foreach ($this->probabilities as $code => $p) {
                $c = $chance[$code] ?? 0.03;
                $joint[$code] = $p * ($positive ? $c : 1 - $c);
            }
            $total = array_sum($joint);
            foreach ($joint as $j) {
                $gain += $j > 1e-12 ? $j * log($j / $total, 2) : 0.0;
            }
        }

        return max(0.0, $gain);
    }

    public function entropyBits(): float
    {
        $h = 0.0;
        foreach ($this->probabilities as $p) {
            $h -= $p > 1e-12 ? $p * log($p, 2) : 0.0;
        }

        return $h;
    }
}
