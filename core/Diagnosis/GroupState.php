<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

/** The exclusive states of one group. A joint that loads the group is told apart afterwards. */
enum GroupState: string
{
    case Ok = 'group.ok';
    case Undercharged = 'group.undercharged';
    case Overcharged = 'group.overcharged';
    case SelfDischarge = 'group.self-discharge';
    case LowCapacity = 'group.low-capacity';
    case MissingCell = 'group.missing-cell';
    case HighResistance = 'group.high-resistance';
    case Joint = 'joint.high-resistance';
    case DeepDischarged = 'group.deep-discharged';
    case Dead = 'group.dead';
    case Reversed = 'group.reversed';

    /** Share of a faulty group's prior (assumed; moved by the workshop's own closed jobs). */
    public function share(): float
    {
        return match ($this) {
            self::Ok => 0.0,
            self::Undercharged => 0.22,
            self::Overcharged => 0.07,
            self::SelfDischarge => 0.16,
            self::LowCapacity => 0.14,
            self::MissingCell => 0.06,
            self::HighResistance => 0.06,
            self::Joint => 0.13,
            self::DeepDischarged => 0.09,
            self::Dead => 0.06,
            self::Reversed => 0.01,
        };
    }

    public function title(int $k): string
    {
        return match ($this) {
            self::Ok => "Group $k: nothing found",
            self::Undercharged => "Group $k holds less charge than its neighbours",
            self::Overcharged => "Group $k holds more charge than its neighbours",
            self::SelfDischarge => "Group $k leaks",
            self::LowCapacity => "Group $k has aged: it holds less",
            self::MissingCell => "Group $k has lost a cell",
            self::HighResistance => "Group $k has high resistance in its cells",
            self::Joint => "A joint at group $k has high resistance",
            self::DeepDischarged => "Group $k is deep-discharged",
            self::Dead => "Group $k is dead",
            self::Reversed => "Group $k is reversed",
        };
    }
}
