<?php

declare(strict_types=1);

namespace Heartwood\Core\Work;

use Heartwood\Core\Repair\RepairAction;

/** What proves that a step of the work is done (handbook "Work steps are closed by evidence"). Nothing else closes it but a reason. */
enum ClosedBy: string
{
    /** Nothing can prove it: a person's word, and whose. */
    case Word = 'word';
    /** The clamp or meter shows no current: the figure is typed and judged. */
    case NoCurrent = 'no-current';
    /** The teardown was written down. */
    case Teardown = 'teardown';
    /** All is back, the counts agree, the checks of the way back are done. */
    case WayBack = 'way-back';
    /** Every place of the groups has its cell out of the drawer. */
    case Cells = 'cells';
    /** The cells of a group stand close enough to be joined by the join rule. */
    case Join = 'join';
    /** A set at rest of every group that shows them level, or each was charged by itself. */
    case Level = 'level';
    /** The plug was read and is right. */
    case Pins = 'pins';
    /** Every group read at rest since the pack was altered. */
    case RestSet = 'rest-set';
    /** A run at the supply was started for it, with every line of its place confirmed. */
    case RunStarted = 'run-started';
    /** Each group was charged by itself. */
    case Charged = 'charged';
    /** The recovery trial was done and its answer kept. */
    case Trial = 'trial';
    /** Read an hour or more after the current ended. */
    case Rested = 'rested';
    /** The pack's charge was watched to its end. */
    case PackCharge = 'pack-charge';
    /** The joint was set to its torque, and recorded. */
    case Joint = 'joint';
    /** A wake action worked. */
    case Woke = 'woke';
    /** The charger was measured. */
    case Charger = 'charger';
    /** The device or harness was measured. */
    case LoadCheck = 'load-check';
    /** The gauge was read beside what the cells gave. */
    case Gauge = 'gauge';

    /** What closes a step of a plan, by the step's code. */
    public static function of(RepairAction $action, string $code): self
    {
        return match ($code) {
            'isolate' => self::NoCurrent,
            'open' => self::Teardown,
            'close' => self::WayBack,
            'cells' => self::Cells,
            'join' => self::Join,
            'pin-check' => self::Pins,
            'reread', 'eligible' => self::RestSet,
            'voltage', 'place' => self::RunStarted,
            'singly' => self::Charged,
            'fill' => $action === RepairAction::ChargeGroup ? self::Charged : self::Level,
            'raise' => self::Level,
            'slow' => self::Trial,
            'rest-60' => self::Rested,
            'watch' => self::PackCharge,
            'joint' => self::Joint,
            'wake' => self::Woke,
            'charger' => self::Charger,
            'load' => self::LoadCheck,
            'relearn' => self::Gauge,
            default => self::Word,
        };
    }

    /** Whether a person's word may close it. */
    public function isWord(): bool
    {
        return $this === self::Word || $this === self::NoCurrent;
    }

    /** Where its evidence is taken, or what it goes by is drawn: a room of the job, empty where it is the bench itself. */
    public function room(RepairAction $action, string $code = ''): string
    {
        return match ($this) {
            self::Word => match ($code) {
                'weld' => 'build?do=sheet',
                'match' => 'build?do=checks',
                'label', 'told' => 'intake',
                default => '',
            },
            self::NoCurrent => '',
            self::Teardown, self::WayBack => 'teardown',
            self::Cells => 'build?do=match',
            self::Join, self::Joint => 'build?do=checks',
            self::Pins => 'build?do=pins',
            self::RestSet, self::Rested => 'probe',
            self::Level, self::Charged => 'supply?do=balance',
            self::PackCharge => 'supply?do=charge',
            self::Trial, self::RunStarted => in_array($action, [RepairAction::RecoverGroup, RepairAction::RecoverPack], true)
                ? 'supply?do=recover'
                : 'supply?do=balance',
            self::Woke => 'supply?do=wake',
            self::Charger => 'probe?test=charger-check',
            self::LoadCheck => 'probe?test=load-check',
            self::Gauge => 'guided?start=gauge-relearn',
        };
    }

    /** What the way to that room is called. */
    public function door(string $code = ''): string
    {
        return match ($this) {
            self::Word => match ($code) {
                'weld' => 'The build sheet',
                'match' => 'Does the board fit?',
                'label' => 'What the label says',
                'told' => 'What was agreed',
                default => '',
            },
            self::NoCurrent => '',
            self::Teardown => 'Write the teardown',
            self::WayBack => 'The way back',
            self::Cells => 'Deal the cells',
            self::Join => 'Join them by the rule',
            self::Level, self::Charged => 'Charge them singly',
            self::Pins => 'Check the plug',
            self::RestSet, self::Rested => 'Read the groups',
            self::RunStarted, self::Trial => 'At the supply',
            self::PackCharge => 'Watch the charge',
            self::Joint => 'Set the joint',
            self::Woke => 'Wake the board',
            self::Charger => 'Measure the charger',
            self::LoadCheck => 'Measure the device',
            self::Gauge => 'Teach it, guided',
        };
    }
}
