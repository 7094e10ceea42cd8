<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;

/**
 * Contacts of a pack whose output is not dead: one that fails when moved, one that drops too much under load; and a
 * complaint of a dead output that the bench does not confirm (handbook "Protection, path, sensing").
 */
final readonly class LivePath
{
    /** How many packs have such a contact, nothing said about it (assumed). */
    private const PRIOR = 0.03;

    /** Ohms from the taps to the terminals from which a contact is suspect; board, shunt and wire stay well under it. */
    private const PATH_OHM = 0.06;

    /** Ohms of a connector by itself that no sound one has. */
    private const CONNECTOR_OHM = 0.03;

    private Causes $bumped;

    private Causes $sagging;

    private Causes $elsewhere;

    public function __construct(private JobRecord $record, private PackEvidence $evidence, private OutputEngine $output)
    {
        $this->bumped = new Causes(['path.intermittent' => self::PRIOR, 'other' => 1 - self::PRIOR]);
        $this->sagging = new Causes(['path.connector' => self::PRIOR, 'other' => 1 - self::PRIOR]);
        $this->elsewhere = new Causes(['load.dead' => 0.45, 'path.intermittent' => 0.15, 'woken' => 0.25, 'other' => 0.15]);
        if (! $this->gone()) {
            $this->weighBumps();
            $this->weighDrop();
        }
    }

    /** Whether there is no output to speak of. */
    private function gone(): bool
    {
        return $this->output->dead && ! $this->output->alive;
    }

    private function weighBumps(): void
    {
        if ($this->record->says('cuts-out-when-bumped')) {
            $this->bumped->multiply(['path.intermittent' => 40.0], 'it cuts out when bumped');
        }
        if ($this->record->says('gauge-jumps')) {
            $this->bumped->multiply(['path.intermittent' => 1.5], 'its gauge jumps');
        }
        foreach ($this->record->currentTests('flex') as $t) {
            $where = str_replace('-', ' ', $t->data->string('element') ?? 'wiring');
            $t->data->bool('changed') === true
                ? $this->bumped->multiply(['path.intermittent' => 80.0], "the reading changes when the $where is flexed")
                : $this->bumped->multiply(['path.intermittent' => 0.4], "nothing changes when the $where is flexed");
        }
    }

    private function weighDrop(): void
    {
        $ohm = $this->pathOhm();
        if ($ohm !== null) {
            [$r, $sigma] = $ohm;
            $bad = Normal::cumulative(($r - self::PATH_OHM) / hypot(0.02, $sigma));
            $this->sagging->multiply(['path.connector' => max(0.1, min(300.0, $bad / max(1e-6, 1 - $bad)))], sprintf('from the taps to the terminals %.0f mohm are lost under load, the groups do not sag with it', 1000 * $r), 'derived');
        }
        foreach ($this->record->currentTests('continuity') as $t) {
            if ($t->data->string('element') !== 'connector') {
                continue;
            }
            $amps = abs($t->data->float('current_a') ?? 0.0);
            $drop = $t->data->float('drop_v');
            $r = $t->data->float('ohm') ?? ($drop !== null && $amps > 0.2 ? abs($drop) / $amps : null);
            if ($r !== null) {
                $this->sagging->multiply(['path.connector' => $r > self::CONNECTOR_OHM ? 300.0 : 0.05], sprintf('the connector by itself measures %.0f mohm', 1000 * $r));
            }
        }
    }

    /**
     * Resistance between the taps and the terminals: what the output loses against the string when current flows, less
     * what it loses at rest.
     *
     * @return array{float, float}|null ohms and 1 sigma
     */
    private function pathOhm(): ?array
    {
        $worst = null;
        foreach ($this->record->current() as $m) {
            if (! $m->underCurrent() || $m->fromBoard) {
                continue;
            }
            $string = $this->evidence->solved($m)->packV;
            foreach ($m->readings as $r) {
                if ($string === null || ! $r->isOutput()) {
                    continue;
                }
                $lost = $string - abs($r->volts);
                $atRest = $this->evidence->rest?->packV !== null && $this->evidence->outputV !== null && $this->output->alive ? $this->evidence->rest->packV - $this->evidence->outputV : 0.0;
                $ohm = -($lost - $atRest) / $m->currentA;
                // One meter for both: its gain cancels but for what the string itself moved.
                $sigma = hypot(0.02, 0.0005 * $string) / abs($m->currentA);
                if ($worst === null || $ohm > $worst[0]) {
                    $worst = [$ohm, $sigma];
                }
            }
        }

        return $worst;
    }

    /** @return list<Finding> */
    public function findings(): array
    {
        if ($this->gone()) {
            return [];
        }
        $found = [
            ['path.intermittent', 'A contact fails when moved', $this->bumped->p('path.intermittent'), $this->bumped->evidence('path.intermittent')],
            ['path.connector', 'A terminal or connector is burnt or loose', $this->sagging->p('path.connector'), $this->sagging->evidence('path.connector')],
        ];
        if ($this->livesAgainstComplaint()) {
            $found[] = ['load.dead', 'The pack delivers: the device or its wiring is to be looked at', $this->elsewhere->p('load.dead'), [new Evidence('the customer finds it dead, the output lives on the bench', 6.0)]];
        }

        return array_values(array_map(
            fn (array $f): Finding => new Finding($f[0], $f[1], Place::pack(), $f[2], Severity::of($f[0]), $f[3]),
            array_filter($found, fn (array $f): bool => $f[2] >= Finding::LISTED && $f[3] !== []),
        ));
    }

    private function livesAgainstComplaint(): bool
    {
        return $this->output->alive && $this->record->says('dead-output') && $this->record->currentTests('load-check') === [] && $this->record->currentTests('wake') === [];
    }

    /** @return list<NextTest> */
    public function tests(): array
    {
        if ($this->gone()) {
            return [];
        }
        $out = [];
        if ($this->record->currentTests('flex') === [] && $this->bumped->p('path.intermittent') > self::PRIOR) {
            $out[] = $this->bumped->offer(TestKind::Flex, 'Move wires and connectors while reading: a contact that fails shows.', ['path.intermittent' => 0.8]);
        }
        if (($this->record->says('cuts-out-under-load') || $this->sagging->p('path.connector') > self::PRIOR) && array_filter($this->record->currentTests('continuity'), fn ($t): bool => $t->data->string('element') === 'connector') === []) {
            $out[] = $this->sagging->offer(TestKind::Continuity, 'Measure the drop across the connector under load.', ['path.connector' => 0.9]);
        }
        if ($this->livesAgainstComplaint()) {
            $out[] = $this->elsewhere->offer(TestKind::LoadCheck, 'Try the device on a good supply and measure its harness: the pack itself delivers.', ['load.dead' => 0.95]);
        }

        return $out;
    }
}
