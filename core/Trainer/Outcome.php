<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\Place;

/** What a test comes to on the pack as it truly is; it takes as long as it takes, and leaves what it moved. */
final readonly class Outcome
{
    /** A cell tester's own error, as a share. */
    private const TESTER = 0.005;

    /** Ohms and millivolts of a hand meter, as a share. */
    private const OHMS = 0.02;

    /** A good path, ohms. */
    private const GOOD_OHM = 0.01;

    /** Amps by which the drop across a joint is measured, as a share of the capacity. */
    private const DROP_SHARE = 0.3;

    private const SENSOR_OHM = 10_000;

    private const INSULATION_MOHM = 500;

    private const AMBIENT_C = 20.0;

    private const DAY_H = 24;

    /** What can be moved while the output is read. */
    private const MOVED = ['connector', 'main lead', 'fuse', 'switch', 'joint'];

    /** Charge and discharge that are watched or measured: C/5; a trial: C/20. */
    private const RATE = 0.2;

    private const TRICKLE = 0.05;

    /** A stretch that is watched ends at the latest, hours. */
    private const WATCH_H = 12;

    /** A dead group rises by this and hangs, volts, within so many minutes. */
    private const HANGS_V = 0.01;

    private const HANGS_MIN = 3.0;

    /** Days between a fill and a refill where nobody says, and at most. */
    private const REFILL_DAYS = 9.0;

    private const REFILL_MOST_DAYS = 30.0;

    /** Seconds between two samples of a trial, in steps of. */
    private const EVERY_S = 120;

    private const STEP_S = 5.0;

    /** Samples of a recovery trial: every two minutes, for so long. */
    private const TRIAL_MIN = 30;

    public function __construct(private Patient $p, private Meter $meter, private Luck $luck) {}

    /** The test of the closed set that a kind of entry in a record is. */
    public static function asTest(string $kind): ?TestKind
    {
        return match ($kind) {
            'capacity' => TestKind::CapacityGroup,
            'resistance' => TestKind::ResistanceCell,
            'charge' => TestKind::FullChargeWatch,
            'discharge' => TestKind::FullDischargeWatch,
            'recovery' => TestKind::RecoveryTrial,
            'charger' => TestKind::ChargerCheck,
            'gauge' => TestKind::GaugeRelearn,
            default => TestKind::tryFrom($kind),
        };
    }

    /** @return array<string, mixed> the test as the record has it, without its kind */
    public function of(Fields $asked): array
    {
        return match ($asked->string('kind')) {
            'capacity' => $this->capacity($asked),
            'resistance' => $this->resistance($asked),
            'charge' => $this->stretch(true),
            'discharge' => $this->stretch(false),
            'recovery' => $this->recovery($this->groupOf($asked)),
            'refill' => $this->refill($asked),
            'wake' => $this->wake((string) $asked->string('action')),
            'continuity' => $this->continuity($asked),
            'flex' => $this->flex((string) $asked->string('element')),
            'tug-weld' => ['where' => ['group' => ($k = $this->groupOf($asked))], 'loose' => $this->p->weldGroup === $k],
            'sensor' => ['ohm' => round($this->p->sensorOhm * $this->strays(self::OHMS)), 'expected_ohm' => self::SENSOR_OHM],
            'insulation' => ['mohm' => self::INSULATION_MOHM],
            'pin-check' => ['pins_v' => $this->pins()],
            'charger' => $this->charger(),
            'gauge' => $this->gauge(),
            'strip-millivolt' => $this->strips($this->groupOf($asked)),
            'load-check' => ['harness_ohm' => $this->p->harnessOhm, 'device_ok' => $this->p->device],
            default => throw new InVain('There is nothing here to do that test with.'),
        };
    }

    private function groupOf(Fields $asked): int
    {
        $k = $asked->object('scope')->int('group') ?? $asked->object('where')->int('group');
        if ($k === null || $k < 1 || $k > $this->p->spec->series) {
            throw new InVain("Say which group: 1 to {$this->p->spec->series}.");
        }

        return $k;
    }

    private function strays(float $share): float
    {
        return 1 + $this->luck->normal($share);
    }

    /** @return array<string, mixed> the tester puts back what it took */
    private function capacity(Fields $asked): array
    {
        $rate = self::RATE * (float) $this->p->spec->groupCapacityAh();
        $of = fn(int $k): float => $this->p->capacityAh($k);
        $whole = $asked->string('scope') === 'pack' || !$asked->has('scope');
        if ($whole && !$this->p->isAlive()) {
            throw new InVain('Nothing can be drawn: the output is off.');
        }
        $ah = $whole ? $this->p->givesAh() : $of($this->groupOf($asked));
        $this->p->rests((2 * 3600 * $ah) / $rate);

        return [
            'scope' => $whole ? 'pack' : ['group' => $this->groupOf($asked)],
            'measured_ah' => round($ah * $this->strays(self::TESTER), 2),
            'rate_a' => round($rate, 2),
            'started_full' => true,
            'ambient_c' => self::AMBIENT_C,
        ];
    }

    /** @return array<string, mixed> */
    private function resistance(Fields $asked): array
    {
        $k = $this->groupOf($asked);
        $g = $this->p->group($k);

        return [
            'scope' => ['group' => $k],
            'mohm' => round(1000 * ($g->ohm + $g->quickOhm) * $this->strays(self::OHMS), 2),
            'method' => 'four-wire',
        ];
    }

    /** @return array<string, mixed> a whole charge or discharge, every group watched */
    private function stretch(bool $charge): array
    {
        $ah = (float) $this->p->spec->groupCapacityAh();
        $amps = $charge ? self::RATE * $ah : -(float) $this->p->spec->load->float('controller_limit_a');
        $supply = $charge ? $this->p->spec->workingFullV() * $this->p->spec->series : INF;
        $went = $this->p->flows($amps, 3600 * self::WATCH_H, $supply, $charge);
        $volts = array_map(
            fn(int $k): float => $this->meter->shows($this->p->across($k), $this->luck)['v'],
            range(1, $this->p->spec->series),
        );

        return [
            'stopped_by' => $went['taper'] ? 'charger' : 'bms',
            'after_ah' => round(abs($went['ah']), 2),
            'groups_v' => $volts,
            'current_a' => round($amps, 2),
        ];
    }

    /** @return array<string, mixed> */
    private function recovery(int $k): array
    {
        $p = $this->p;
        $amps = self::TRICKLE * (float) $p->spec->groupCapacityAh();
        $samples = [];
        for ($min = 0; $min <= self::TRIAL_MIN; $min += 2) {
            $v = isset($p->fixedV[$k]) ? $p->fixedV[$k] + self::HANGS_V * (1 - exp(-$min / self::HANGS_MIN)) : $p->across($k);
            $samples[] = [
                'min' => $min,
                'v' => round($v + $this->luck->normal(0.001), 3),
                'a' => round($amps, 2),
                'c' => self::AMBIENT_C + round(0.02 * $min, 1),
            ];
            for ($s = 0; $s < self::EVERY_S; $s += self::STEP_S) {
                $p->cells->step(
                    self::STEP_S,
                    0.0,
                    isset($p->fixedV[$k]) ? [] : [$k => ['volts' => $p->spec->profile()->fullV, 'amps' => $amps]],
                );
            }
            $p->clockS += self::EVERY_S;
        }
        $p->restedS = 0.0;
        $p->rests(1.0);

        return ['scope' => ['group' => $k], 'current_a' => round($amps, 2), 'ambient_c' => self::AMBIENT_C, 'samples' => $samples];
    }

    /** @return array<string, mixed> */
    private function refill(Fields $asked): array
    {
        $k = $this->groupOf($asked);
        $days = $asked->float('days') ?? self::REFILL_DAYS;
        if ($days < 1 || $days > self::REFILL_MOST_DAYS) {
            throw new InVain('Wait between a day and a month before it is filled again.');
        }
        $g = $this->p->group($k);
        $daily =
            ($g->leakA * self::DAY_H) / $g->capacityAh + ($this->p->plugged ? $this->p->drainPerDay[$k] ?? 0.0 : 0.0) + Patient::SOUND_LEAK;
        // All groups stand through the same days: who has waited for one has waited for the others.
        $stood = min($this->p->restedS, $this->p->clockS);
        $this->p->rests(max(0.0, 3600 * self::DAY_H * $days - $stood));

        return [
            'scope' => ['group' => $k],
            'days' => $days,
            'refill_ah' => round($days * $daily * $g->capacityAh * $this->strays(0.04), 3),
        ];
    }

    /** @return array<string, mixed> */
    private function wake(string $action): array
    {
        if (!in_array($action, ['charger-pulse', 'button', 'enable-wire', 'bridge', 'reconnect', 'device'], true)) {
            throw new InVain('There is no such way to wake it.');
        }
        if (in_array($action, $this->p->wokenBy, true) && $this->p->conducts()) {
            $this->p->gives = true;
        }

        return ['action' => $action, 'woke' => $this->p->isAlive()];
    }

    /** @return array<string, mixed> */
    private function continuity(Fields $asked): array
    {
        $element = (string) $asked->string('element');
        if ($element === 'joint') {
            $place = Place::from($asked->object('where'));
            if ($place->kind !== 'joint' || $place->number < 1 || $place->number >= $this->p->spec->series) {
                throw new InVain('Say which joint: the one above tap 1 to ' . ($this->p->spec->series - 1) . '.');
            }
            $amps = self::DROP_SHARE * (float) $this->p->spec->groupCapacityAh();

            return [
                'element' => 'joint',
                'where' => ['joint' => $place->number],
                'drop_v' => round($this->p->jointOhm[$place->number] * $amps + $this->luck->normal(0.0001), 4),
                'current_a' => -round($amps, 2),
            ];
        }
        $ohm = $this->p->elementOhm[$element] ?? throw new InVain('Check the fuse, the switch, the connector or a joint.');

        return ['element' => $element, 'ohm' => $ohm > 1 ? $ohm : round(max($ohm, self::GOOD_OHM), 3)];
    }

    /** @return array<string, mixed> */
    private function flex(string $element): array
    {
        if (!in_array($element, self::MOVED, true)) {
            throw new InVain('Move the connector, the main lead, the fuse, the switch or a joint.');
        }

        return ['element' => $element, 'changed' => in_array($element, $this->p->loose, true)];
    }

    /** @return list<float> volts of every pin of the sense plug against the first */
    private function pins(): array
    {
        $volts = array_map(fn(int $t): float => round($this->p->tapV($t), 2), range(0, $this->p->spec->series));
        if ($this->p->swapped !== null) {
            [$a, $b] = $this->p->swapped;
            [$volts[$a], $volts[$b]] = [$volts[$b], $volts[$a]];
        }

        return array_values($volts);
    }

    /** @return array<string, mixed> */
    private function charger(): array
    {
        $full = $this->p->spec->profile()->fullV * $this->p->spec->series * $this->p->chargerShare;

        return [
            'open_v' => round($full * $this->strays(0.001), 2),
            'loaded_v' => round($this->p->charger ? $full * 0.996 : $this->luck->between(0.1, 1.5), 2),
            'stages' => $this->p->charger ? $this->p->chargerStages : [],
        ];
    }

    /** @return array<string, mixed> */
    private function gauge(): array
    {
        $wh = $this->p->spec->profile()->nominalV * $this->p->spec->series;

        return [
            'full_charge_wh' => round($this->p->givesAh() * $wh * $this->p->gauge, 1),
            'design_wh' => round((float) $this->p->spec->groupCapacityAh() * $wh, 1),
        ];
    }

    /** @return array<string, mixed> */
    private function strips(int $k): array
    {
        $n = $this->p->spec->parallel ?? 1;
        $amps = self::DROP_SHARE * (float) $this->p->spec->groupCapacityAh();
        $mv = array_map(fn(): float => round(-1.4 * $this->strays(0.1), 2), range(1, $n));
        if ($this->p->weldGroup === $k) {
            $mv[$this->luck->whole(0, $n - 1)] = round($this->luck->normal(0.03), 2);
        }

        return ['scope' => ['group' => $k], 'cells_mv' => $mv, 'current_a' => -round($amps, 1)];
    }
}
