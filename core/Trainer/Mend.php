<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Repair\RepairAction;

/** What hands do to the pack of a round as it truly is, whatever it was that they took for wrong. */
final class Mend
{
    /** What hands alone do: the rest is done at a supply, a charger or the device, and a pack that ends is no more worked on. */
    public const BY_HAND = [
        RepairAction::ReplaceCell,
        RepairAction::ReplaceGroup,
        RepairAction::Reweld,
        RepairAction::CleanJoint,
        RepairAction::RepairSense,
        RepairAction::RepairPath,
        RepairAction::ReplaceBoard,
        RepairAction::ReplaceCharger,
        RepairAction::RepairLoad,
        RepairAction::RelearnGauge,
        RepairAction::Relabel,
        RepairAction::Rebuild,
        RepairAction::KeepWithTopup,
        RepairAction::LighterDuty,
    ];

    /** What puts new cells in, which have a charge of their own. */
    public const NEW_CELLS = [RepairAction::ReplaceCell, RepairAction::ReplaceGroup, RepairAction::Rebuild];

    /** A joint that was cleaned, like metals, to its torque, ohms. */
    private const CLEAN_OHM = 0.00015;

    /** @param  list<int>  $at  groups, or taps of joints, that it is done at; all groups of a rebuild, none of a whole pack */
    public static function by(RepairAction $action, array $at, Patient $p): void
    {
        match ($action) {
            RepairAction::ReplaceGroup, RepairAction::ReplaceCell, RepairAction::Rebuild => array_map($p->renew(...), $at),
            RepairAction::Reweld => array_map($p->reweld(...), $at),
            RepairAction::CleanJoint => self::joints($p, $at),
            RepairAction::RepairSense => ($p->swapped = null),
            RepairAction::RepairPath => self::path($p),
            RepairAction::ReplaceBoard => $p->newBoard(),
            RepairAction::ReplaceCharger => self::charger($p),
            RepairAction::RepairLoad => self::device($p),
            RepairAction::RelearnGauge => ($p->gauge = 1.0),
            RepairAction::Relabel => self::label($p),
            default => null,
        };
        $p->letsGo();
    }

    /** @param  list<int>  $at */
    private static function joints(Patient $p, array $at): void
    {
        foreach ($at as $tap) {
            $p->jointOhm[$tap] = min($p->jointOhm[$tap], self::CLEAN_OHM);
        }
    }

    /** Fuse, switch, connector and leads, and the sensor that hangs on them. */
    private static function path(Patient $p): void
    {
        $p->elementOhm = Patient::SOUND_OHM;
        $p->loose = [];
        $p->newSensor();
    }

    private static function charger(Patient $p): void
    {
        $p->charger = true;
        $p->chargerShare = 1.0;
        $p->chargerStages = Patient::STAGES;
    }

    private static function device(Patient $p): void
    {
        $p->device = true;
        $p->harnessOhm = Patient::HARNESS_OHM;
    }

    private static function label(Patient $p): void
    {
        $p->pack['label'] = [
            'nominal_v' => round($p->spec->profile()->nominalV * $p->spec->series, 1),
            'capacity_ah' => round((float) $p->spec->groupCapacityAh(), 1),
        ];
    }
}
