<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Twin\LiveGroup;

/**
 * What a pack of a round may suffer from: a code of the catalogue that evidence can tell, from which level on it comes, and what it
 * does to a pack. A board that does its job and a pack that nothing ails are among them.
 */
enum Ailment: string
{
    case Nothing = 'nothing';
    case Undercharged = 'group.undercharged';
    case SelfDischarge = 'group.self-discharge';
    case LowCapacity = 'group.low-capacity';
    case Dead = 'group.dead';
    case DeepDischarged = 'group.deep-discharged';
    case Joint = 'joint.high-resistance';
    case Fuse = 'path.fuse-open';
    case Latched = 'bms.latched';
    case ChargerDead = 'charger.dead';
    case Discharged = 'pack.discharged';
    case DeviceDead = 'load.dead';
    case Wiring = 'load.wiring';
    case MissingCell = 'group.missing-cell';
    case HighResistance = 'group.high-resistance';
    case Overcharged = 'group.overcharged';
    case Aged = 'pack.aged';
    case Switch = 'path.switch-or-enable';
    case Intermittent = 'path.intermittent';
    case ChargerVoltage = 'charger.wrong-voltage';
    case ChargerProfile = 'charger.wrong-profile';
    case Sensor = 'sensor.temperature';
    case Gauge = 'gauge.stale';
    case ChargeDead = 'bms.charge-dead';
    case OutputDead = 'bms.output-dead';
    case TripsEarly = 'bms.trips-early';
    case BleedStuck = 'bms.bleed-stuck';
    case Connector = 'path.connector';
    case Label = 'label.inconsistent';
    case Reversed = 'group.reversed';
    case Shifted = 'sense.shifted';
    case Swollen = 'cell.swollen';
    case Leaking = 'cell.leaking';

    /** How strong it is, from and to (assumed: clearly there, and not so plain that one look tells). */
    private const STRENGTH = [
        // Charge that a group lacks, or has too much, as a share of what it holds.
        'group.undercharged' => [0.16, 0.3],
        'group.overcharged' => [0.14, 0.22],
        // Share of its charge in a day.
        'group.self-discharge' => [0.012, 0.04],
        'bms.bleed-stuck' => [0.012, 0.03],
        // Share of its capacity that is left, not what the loss of one cell would leave.
        'group.low-capacity' => [0.42, 0.58],
        'pack.aged' => [0.45, 0.68],
        // Times a sound group's resistance.
        'group.high-resistance' => [1.7, 2.4],
        'joint.high-resistance' => [0.9, 2.4],
        // Volts that are left, and volts the wrong way round.
        'group.dead' => [0.02, 0.4],
        'group.reversed' => [0.15, 1.4],
        // Ohms; share of the current that it is rated for.
        'path.connector' => [0.12, 0.35],
        'bms.trips-early' => [0.35, 0.6],
    ];

    /** No group is taken below, or above, by its ailment alone (charge as a share). */
    private const NOT_EMPTY = 0.12;

    private const NOT_FULL = 0.985;

    private const DAY_H = 24;

    /** The level of what is neither plain nor common. */
    private const LATER = 3;

    /** Cells of a group that may have lost some of its capacity and not all of it. */
    private const SIDE_BY_SIDE = 3;

    /** What a leak has taken until it was brought in, as a share. */
    private const SUNK = [0.03, 0.12];

    /** A group that has lost capacity resists more, by so many times. */
    private const WORN_OHM = [1.1, 1.4];

    /** A low group stands so far over the floor, and so far under the cut-off, volts. */
    private const OVER_FLOOR_V = 0.25;

    private const UNDER_CUT_V = 0.15;

    /** A sensor that is torn off, shorted, or of another kind, ohms. */
    private const SENSOR_OHM = [1.0e6, 3.0, 48_000.0];

    /** A charger for another pack, against the right voltage. */
    private const CHARGER_SHARE = [[1.04, 1.1], [0.85, 0.92]];

    /** A harness with a broken lead, ohms. */
    private const HARNESS_OHM = 2.0e5;

    /** What a gauge believes against what it holds. */
    private const GAUGE = [0.6, 0.7, 1.35];

    private const LABEL_LIES = 1.4;

    /** A pack that ran down, or aged, as a whole: its groups alike within this, volts and as a share. */
    private const ALIKE_V = 0.006;

    private const ALIKE = 0.008;

    /** Resistance that comes with lost capacity, for all of it. */
    private const AGE_OHM = 1.2;

    /** So far above its cut-off an empty pack stands once it has rested, volts. */
    private const JUST_ABOVE_V = 0.05;

    /** A joint that resists as much as this is no good one, ohms. */
    private const BAD_JOINT_OHM = 0.0005;

    /** Level with the others is who stands no further from their middle than this, as a share of charge. */
    private const LEVEL = 0.05;

    /** New enough is who holds more than this share of its rating, and resists less than so many times its own. */
    private const HOLDS = 0.8;

    private const WORN = 1.4;

    /** The first level whose rounds have it. */
    public function level(): int
    {
        return match ($this) {
            self::Nothing,
            self::Undercharged,
            self::SelfDischarge,
            self::LowCapacity,
            self::Dead,
            self::DeepDischarged,
            self::Joint,
            self::Fuse,
            self::Latched,
            self::ChargerDead,
            self::Discharged,
            self::DeviceDead
                => 1,
            self::Wiring,
            self::MissingCell,
            self::HighResistance,
            self::Overcharged,
            self::Aged,
            self::Switch,
            self::Intermittent,
            self::ChargerVoltage,
            self::ChargerProfile,
            self::Sensor,
            self::Gauge,
            self::Swollen
                => 2,
            default => self::LATER,
        };
    }

    /** Whether it is said with the number of a group. */
    public function isAtGroup(): bool
    {
        return str_starts_with($this->value, 'group.');
    }

    /** Whether it sits in one group, so that another ailment beside it can be told apart from it. */
    public function isOfGroup(): bool
    {
        return in_array(
            $this,
            [self::Undercharged, self::SelfDischarge, self::LowCapacity, self::Dead, self::HighResistance, self::Overcharged, self::Joint],
            true,
        );
    }

    /** Whether it may come beside one that sits in a group, and each is still told. */
    public function mayComeWithAnother(): bool
    {
        return in_array(
            $this,
            [
                self::Joint,
                self::LowCapacity,
                self::HighResistance,
                self::ChargerDead,
                self::ChargerVoltage,
                self::Intermittent,
                self::Gauge,
                self::Label,
                self::Wiring,
            ],
            true,
        );
    }

    /** Whether it is told by volts at rest, which the flat part of a curve hides. */
    public function wantsSlope(): bool
    {
        return in_array($this, [self::Undercharged, self::Overcharged, self::SelfDischarge, self::BleedStuck], true);
    }

    /** @return list<Chemistry> that a pack with it may have */
    public function chemistries(): array
    {
        return $this->wantsSlope()
            ? [Chemistry::from('nmc'), Chemistry::from('nmc'), Chemistry::from('nca'), Chemistry::from('lco')]
            : [Chemistry::from('nmc'), Chemistry::from('nmc'), Chemistry::from('nca'), Chemistry::from('lco'), Chemistry::from('lfp')];
    }

    /** Cells side by side that a pack with it has at the least. */
    public function parallel(): int
    {
        return match ($this) {
            self::MissingCell => 2,
            self::LowCapacity => self::SIDE_BY_SIDE,
            default => 1,
        };
    }

    /**
     * Makes the pack so: its cells, its board, what is said of it.
     *
     * @param  int  $k  the group, or the tap below a joint, that it sits at where it sits at one
     */
    public function befall(Patient $p, Luck $luck, int $k): void
    {
        match ($this) {
            self::Undercharged,
            self::SelfDischarge,
            self::LowCapacity,
            self::MissingCell,
            self::HighResistance,
            self::Overcharged,
            self::Dead,
            self::DeepDischarged,
            self::Reversed
                => $this->inGroup($p, $luck, $k),
            self::Joint => ($p->jointOhm[$k] += ($this->drawn($luck) * $p->spec->groupResistanceMohm()) / 1000),
            self::Discharged => $this->allSinkTo($p, $luck, $p->spec->lowCutV() + self::JUST_ABOVE_V),
            self::Aged => $this->ages($p, $luck, $this->drawn($luck)),
            self::BleedStuck => $this->bleeds($p, $luck, $k),
            self::Shifted => ($p->swapped = [min($k, $p->spec->series - 1), min($k, $p->spec->series - 1) + 1]),
            self::Label => ($p->pack['label'] = [
                'nominal_v' => round($p->spec->profile()->nominalV * $p->spec->series, 1),
                'capacity_ah' => round(self::LABEL_LIES * (float) $p->spec->groupCapacityAh(), 1),
            ]),
            self::Swollen => ($p->inspection['swollen'] = true),
            self::Leaking => ($p->inspection[$luck->pick(['leaking', 'venting'])] = true),
            self::Nothing => null,
            default => $this->outsideGroups($p, $luck),
        };
        if ($this !== self::Nothing) {
            $where = match (true) {
                $this === self::Joint => ['joint' => $k],
                $this->isAtGroup() => ['group' => $k],
                default => null,
            };
            $p->truth[] = ['code' => $this->value, 'where' => $where];
        }
        if ($this === self::Dead || $this === self::DeepDischarged || $this === self::Reversed) {
            // The board does its job: the output is off because of the group.
            $p->gives = false;
            $p->truth[] = ['code' => Attempt::PROTECTING, 'where' => null];
        }
        $p->symptoms = array_values(array_unique([...$p->symptoms, ...$this->complaints($luck)]));
    }

    /**
     * Whether a pack is rid of it, as it truly is now.
     *
     * @param  int|null  $k  the group, or the tap of the joint, that it sat at; null where it sits at none
     */
    public function isGone(Patient $p, ?int $k): bool
    {
        return match (true) {
            $this === self::Joint => $p->jointOhm[(int) $k] < self::BAD_JOINT_OHM,
            $this->isAtGroup() => $this->isGoneFrom($p, (int) $k),
            default => $this->isGoneOutside($p),
        };
    }

    private function isGoneFrom(Patient $p, int $k): bool
    {
        $g = $p->group($k);
        $charges = array_map(fn(LiveGroup $o): float => $o->charge, $p->cells->groups);
        sort($charges);
        $off = $g->charge - $charges[intdiv(count($charges), 2)];
        $alive = !isset($p->fixedV[$k]);

        return match ($this) {
            self::Undercharged => $alive && $off > -self::LEVEL,
            self::Overcharged => $alive && $off < self::LEVEL,
            self::DeepDischarged => $alive && $p->across($k) >= $p->spec->lowCutV(),
            self::SelfDischarge => ($g->leakA * self::DAY_H) / $g->capacityAh < self::STRENGTH[$this->value][0] / 2,
            self::LowCapacity => $g->capacityAh > self::HOLDS * (float) $p->spec->groupCapacityAh(),
            self::MissingCell => $p->weldGroup !== $k,
            self::HighResistance => 1000 * ($g->ohm + $g->quickOhm + $g->slowOhm) < self::WORN * $p->spec->groupResistanceMohm(),
            default => $alive,
        };
    }

    private function isGoneOutside(Patient $p): bool
    {
        $holds = min(INF, ...array_map(fn(LiveGroup $g): float => $g->capacityAh, $p->cells->groups));

        return match ($this) {
            self::Aged => $holds > self::HOLDS * (float) $p->spec->groupCapacityAh(),
            self::Discharged => min(array_map($p->across(...), range(1, $p->spec->series))) > $p->spec->lowCutV() + 2 * self::JUST_ABOVE_V,
            self::Fuse, self::Switch, self::Connector => max($p->elementOhm) <= max(Patient::SOUND_OHM),
            self::Intermittent => $p->loose === [],
            self::Latched => $p->gives,
            self::OutputDead => $p->boardGives,
            self::ChargeDead => $p->boardTakes,
            self::Sensor => $p->sensorOhm === Patient::SENSOR_OHM,
            self::TripsEarly => $p->tripsA === INF,
            self::BleedStuck => $p->drainPerDay === [],
            self::Shifted => $p->swapped === null,
            self::ChargerDead => $p->charger,
            self::ChargerVoltage => $p->chargerShare === 1.0,
            self::ChargerProfile => $p->chargerStages === Patient::STAGES,
            self::DeviceDead => $p->device,
            self::Wiring => $p->harnessOhm === Patient::HARNESS_OHM,
            self::Gauge => $p->gauge === 1.0,
            self::Label => !self::lies($p),
            // Neither swelling nor a leak is mended: such a pack ends.
            self::Swollen, self::Leaking => false,
            default => true,
        };
    }

    private static function lies(Patient $p): bool
    {
        $label = $p->pack['label'] ?? [];
        $says = is_array($label) ? $label['capacity_ah'] ?? null : null;

        return is_numeric($says) && $says > (1 + (self::LABEL_LIES - 1) / 2) * (float) $p->spec->groupCapacityAh();
    }

    private function inGroup(Patient $p, Luck $luck, int $k): void
    {
        $g = $p->group($k);
        $floor = $p->spec->profile()->floorV;
        if ($this === self::Undercharged) {
            $g->charge = max(self::NOT_EMPTY, $g->charge - $this->drawn($luck));
        } elseif ($this === self::Overcharged) {
            $g->charge = min(self::NOT_FULL, $g->charge + $this->drawn($luck));
        } elseif ($this === self::SelfDischarge) {
            $g->leakA = ($this->drawn($luck) * $g->capacityAh) / self::DAY_H;
            $g->charge -= $luck->between(...self::SUNK);
        } elseif ($this === self::LowCapacity) {
            $g->capacityAh *= $this->drawn($luck);
            $g->ohm *= $luck->between(...self::WORN_OHM);
        } elseif ($this === self::MissingCell) {
            $left = 1 - 1 / (int) $p->spec->parallel;
            $g->capacityAh *= $left;
            $this->resists($g, 1 / $left);
            $p->weldGroup = $k;
        } elseif ($this === self::HighResistance) {
            $this->resists($g, $this->drawn($luck));
        } elseif ($this === self::Dead) {
            $p->fixedV[$k] = $this->drawn($luck);
        } elseif ($this === self::Reversed) {
            $p->fixedV[$k] = -$this->drawn($luck);
        } else {
            $p->stands($k, $luck->between($floor + self::OVER_FLOOR_V, $p->spec->lowCutV() - self::UNDER_CUT_V));
        }
    }

    /** Path, board, charger, device and gauge. */
    private function outsideGroups(Patient $p, Luck $luck): void
    {
        if ($this === self::Fuse) {
            $p->elementOhm['fuse'] = Patient::OPEN_OHM;
        } elseif ($this === self::Switch) {
            $p->elementOhm['switch'] = Patient::OPEN_OHM;
        } elseif ($this === self::Connector) {
            $p->elementOhm['connector'] = $this->drawn($luck);
        } elseif ($this === self::Intermittent) {
            $p->loose = [$luck->pick(['connector', 'main lead'])];
        } elseif ($this === self::Latched) {
            $p->gives = false;
            $p->wokenBy = ['charger-pulse', 'reconnect'];
        } elseif ($this === self::OutputDead) {
            $p->gives = $p->boardGives = false;
        } elseif ($this === self::ChargeDead || $this === self::Sensor) {
            // A sensor that says nonsense keeps the board from taking charge.
            $p->takes = $p->boardTakes = false;
            $p->sensorOhm = $this === self::Sensor ? $luck->pick(self::SENSOR_OHM) : $p->sensorOhm;
        } elseif ($this === self::TripsEarly) {
            $p->tripsA = $this->drawn($luck) * (float) $p->spec->bms->float('discharge_limit_a');
        } elseif ($this === self::ChargerDead) {
            $p->charger = false;
        } elseif ($this === self::ChargerVoltage) {
            $p->chargerShare = $luck->between(...$luck->pick(self::CHARGER_SHARE));
        } elseif ($this === self::ChargerProfile) {
            $p->chargerStages = ['cc', 'cv', $luck->pick(['desulphate', 'equalise', 'pulse'])];
        } elseif ($this === self::DeviceDead) {
            $p->device = false;
        } elseif ($this === self::Wiring) {
            $p->harnessOhm = self::HARNESS_OHM;
        } elseif ($this === self::Gauge) {
            $p->gauge = $luck->pick(self::GAUGE);
        }
    }

    /** @return list<string> symptoms that whoever brought it reports; several ailments share each */
    private function complaints(Luck $luck): array
    {
        return match ($this) {
            // People bring sound packs too, and not without a reason.
            self::Nothing => $luck->pick([[], [], ['low-range'], ['dies-early'], ['gauge-wrong'], ['modified'], ['charger-blinks-fault']]),
            self::Undercharged, self::SelfDischarge, self::BleedStuck, self::Aged, self::Label => ['low-range'],
            self::LowCapacity, self::MissingCell => ['dies-early'],
            self::Dead, self::OutputDead, self::Reversed, self::Fuse, self::Switch, self::DeviceDead, self::Wiring => ['dead-output'],
            self::DeepDischarged => ['dead-output', 'stored-long'],
            self::Joint, self::HighResistance, self::TripsEarly, self::Connector => ['cuts-out-under-load'],
            self::Latched => ['cuts-out-until-reconnected', 'dead-output'],
            self::ChargerDead, self::ChargeDead, self::Sensor, self::ChargerVoltage => ['will-not-charge'],
            self::ChargerProfile => ['charger-blinks-fault'],
            self::Discharged => [$luck->pick(['stored-long', 'dies-early'])],
            self::Overcharged => ['charger-full-at-once'],
            self::Intermittent => ['cuts-out-when-bumped'],
            self::Gauge => ['gauge-wrong'],
            self::Shifted => ['modified'],
            self::Swollen, self::Leaking => [$luck->pick(['low-range', 'will-not-charge', 'dies-early'])],
        };
    }

    private function drawn(Luck $luck): float
    {
        return $luck->between(...self::STRENGTH[$this->value] ?? throw new \LogicException("{$this->value} has no strength"));
    }

    private function resists(LiveGroup $g, float $times): void
    {
        $g->ohm *= $times;
        $g->quickOhm *= $times;
        $g->slowOhm *= $times;
    }

    private function bleeds(Patient $p, Luck $luck, int $k): void
    {
        $p->drainPerDay[$k] = $this->drawn($luck);
        $p->group($k)->charge -= $luck->between(...self::SUNK);
    }

    private function allSinkTo(Patient $p, Luck $luck, float $volts): void
    {
        for ($k = 1; $k <= $p->spec->series; $k++) {
            $p->stands($k, $volts + $luck->normal(self::ALIKE_V));
        }
    }

    private function ages(Patient $p, Luck $luck, float $left): void
    {
        foreach ($p->cells->groups as $g) {
            $g->capacityAh *= $left * (1 + $luck->normal(self::ALIKE));
            $this->resists($g, 1 + self::AGE_OHM * (1 - $left));
        }
    }
}
