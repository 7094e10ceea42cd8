<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

/** The order of work for a chosen action, with the cautions at the steps where they apply. */
final class WorkPlan
{
    /** @return list<WorkStep> */
    public static function for(RepairAction $action): array
    {
        $isolate = new WorkStep(
            'isolate',
            'Unplug charger, load and sibling packs; prove zero current',
            'Nothing is clipped on or loosened before that.',
            'Current read, A',
        );
        $open = new WorkStep(
            'open',
            'Open the case: count fasteners, photograph, note wire colours and where they go',
            'Rings off, insulated tools, eye protection. Knife away from the cells.',
            'Fasteners, wire colours',
        );
        $close = new WorkStep('close', 'Close it the way it came: pads, tapes, strain relief, fasteners counted', '', 'Fasteners back');
        $pins = new WorkStep(
            'pin-check',
            'Pin check of the sense plug before it goes in',
            'Anything but right is a stop.',
            'Pins, V, from the negative end',
        );
        $reread = new WorkStep('reread', 'Read every group again at rest');
        $middle = match ($action) {
            RepairAction::ChargeGroup => [
                new WorkStep(
                    'voltage',
                    'Set the supply to one group\'s full voltage and its current limit, output off',
                    'Never past full; never below 0 degC.',
                    'Volts, amps set',
                ),
                new WorkStep(
                    'fill',
                    'Charge the one group to its neighbours\' rest voltage',
                    'Stay with it; temperature readable.',
                    'Ah put in, minutes, degC',
                ),
            ],
            RepairAction::Balance => [
                new WorkStep(
                    'singly',
                    'Top each low group singly, the lowest first',
                    'Never as a pack over the spread limit. Stay with it.',
                    'Group, Ah, minutes',
                ),
            ],
            RepairAction::RecoverGroup => [
                new WorkStep(
                    'place',
                    'Fire-safe place, extinguishing means, thermometer on the group',
                    'Attended from start to end; not across closing time.',
                    'Place, ambient degC',
                ),
                new WorkStep(
                    'slow',
                    'A twentieth of capacity per hour up to the pre-charge voltage',
                    'Stop if it falls, hangs, warms by 5 degC or takes more than 8 % of capacity.',
                    'Start V, end V, minutes, Ah, degC',
                    true,
                ),
                new WorkStep('rest-60', 'Rest 60 minutes and read', 'Still falling: reject it.', 'V after 60 min'),
                new WorkStep('raise', 'Raise it to its neighbours, then start the hold test', '', 'V, Ah'),
            ],
            RepairAction::ReplaceCell, RepairAction::ReplaceGroup => [
                new WorkStep('cells', 'Choose tested cells: capacity, resistance, hold test, one lot', '', 'Cells, Ah, mohm'),
                new WorkStep(
                    'join',
                    'Bring old and new to one voltage before they are joined',
                    'Not by letting them equalise through the joint.',
                    'Volts of both sides',
                ),
                new WorkStep(
                    'weld',
                    'Series links first, parallel next; measure the gap before each strip that would bridge it',
                    'No heat on cells: weld, or solder on tabs only.',
                    'Weld setting, pulled test piece',
                    true,
                ),
                new WorkStep('insulate', 'Rings on the positive ends, tape, padding', 'The rim is negative.', ''),
                new WorkStep(
                    'fill',
                    'Bring the new group to its neighbours\' charge',
                    'On phosphate fill every group singly first.',
                    'V, Ah',
                ),
                $pins,
            ],
            RepairAction::ChargePack => [
                new WorkStep(
                    'watch',
                    'Charge it at a tenth of capacity or less, every group read',
                    'Stop when a group stands off the others. Never below 0 degC.',
                    'Amps, highest and lowest group, minutes, degC',
                ),
                new WorkStep('handed', 'Hand it to its charger once every group is past its pre-charge voltage', '', 'Lowest group, V'),
            ],
            RepairAction::RecoverPack => [
                new WorkStep(
                    'eligible',
                    'Read every group: none below its floor, none reversed',
                    'A senior answers for it in words.',
                    'Lowest group, V',
                ),
                new WorkStep(
                    'place',
                    'Fire-safe place, extinguishing means, thermometer on the pack',
                    'Attended from start to end; not across closing time.',
                    'Place, ambient degC',
                ),
                new WorkStep(
                    'slow',
                    'A twentieth of capacity per hour, every group read once a minute',
                    'Stop if one falls, hangs or warms by 5 degC.',
                    'Start V, end V, minutes, Ah, degC',
                    true,
                ),
                new WorkStep(
                    'handed',
                    'Hand it to the board when every group is above its release voltage, then the hold test',
                    '',
                    'Lowest group, V',
                ),
            ],
            RepairAction::Rebuild, RepairAction::Build => [
                new WorkStep('cells', 'Choose and match tested cells: capacity, resistance, hold test, one lot', '', 'Cells, Ah, mohm'),
                new WorkStep(
                    'join',
                    'Bring all cells of a group to one voltage before they are joined',
                    'Not by letting them equalise through the joint.',
                    'Highest and lowest, V',
                ),
                new WorkStep(
                    'weld',
                    'Series links first, parallel next; measure the gap before each strip that would bridge it',
                    'No heat on cells: weld, or solder on tabs only.',
                    'Weld setting, pulled test piece',
                    true,
                ),
                new WorkStep('insulate', 'Rings on the positive ends, tape, padding', 'The rim is negative.', ''),
                new WorkStep('fill', 'Fill every group singly to one charge', '', 'Highest and lowest, V'),
                $pins,
            ],
            RepairAction::Reweld => [
                new WorkStep('weld', 'Clean and weld the cell again, tug it', 'No heat on cells.', 'Weld setting, tug', true),
                $pins,
            ],
            RepairAction::CleanJoint => [
                new WorkStep(
                    'joint',
                    'Clean, like metals, torque between minimum and maximum',
                    'One conductor at a time.',
                    'Torque, Nm',
                    true,
                ),
            ],
            RepairAction::RepairSense => [new WorkStep('lead', 'Repair the lead, check it tap by tap', '', 'Tap, V', true), $pins],
            RepairAction::RepairPath => [
                new WorkStep('cause', 'Find out why it failed', 'A fuse is never bridged.', 'Cause'),
                new WorkStep('part', 'Fit the new part: DC rating over full pack voltage', '', 'Part, rating', true),
            ],
            RepairAction::WakeBoard => [
                new WorkStep(
                    'wake',
                    'Charger, button, enable wire, reconnect, in that order',
                    'Every group past its release voltage first.',
                    'What woke it',
                ),
            ],
            RepairAction::ReplaceBoard => [
                new WorkStep('match', 'Series count, limits, current, sense order, sensor, port, wake method match', '', 'Board'),
                $pins,
                new WorkStep('plug', 'Negative first, sense plug, then positive', '', '', true),
            ],
            RepairAction::ReplaceCharger => [
                new WorkStep('charger', 'Take the old charger out of use; check the new one open and loaded', '', 'Open V, loaded V'),
            ],
            RepairAction::RepairLoad => [
                new WorkStep('load', 'Repair harness or device, run it on a limited supply', '', 'What was found'),
            ],
            RepairAction::RelearnGauge => [
                new WorkStep(
                    'relearn',
                    'Full charge, 2 h rest, discharge to zero, 5 h rest, full charge',
                    'Stay with it.',
                    'Gauge before and after',
                ),
            ],
            RepairAction::Relabel => [new WorkStep('label', 'Put the true figures on the label', '', 'Figures')],
            RepairAction::KeepWithTopup => [
                new WorkStep('told', 'Tell the customer the interval and have it signed', '', 'Interval, who signed'),
            ],
            RepairAction::LighterDuty => [new WorkStep('limit', 'Lower the current limit', '', 'Limit, A')],
            RepairAction::Donor => [
                new WorkStep('take', 'Take the good groups out, test each, label them', 'Cut no two leads at once.', 'Groups kept'),
            ],
            RepairAction::Recycle, RepairAction::Quarantine => [
                new WorkStep(
                    'away',
                    'Terminals taped, to the recycler by the local rules',
                    'Damaged lithium is dangerous goods: never in the bin or the post.',
                    'Where to',
                ),
            ],
            RepairAction::None => [],
        };
        if (
            in_array(
                $action,
                [
                    RepairAction::None,
                    RepairAction::ReplaceCharger,
                    RepairAction::RepairLoad,
                    RepairAction::Relabel,
                    RepairAction::KeepWithTopup,
                    RepairAction::Recycle,
                    RepairAction::Quarantine,
                    RepairAction::WakeBoard,
                    RepairAction::RelearnGauge,
                    RepairAction::LighterDuty,
                    RepairAction::ChargePack,
                ],
                true,
            )
        ) {
            return $middle;
        }

        // Nothing is connected to what is not built yet, and there is no case to open.
        return $action === RepairAction::Build ? [...$middle, $reread, $close] : [$isolate, $open, ...$middle, $reread, $close];
    }
}
