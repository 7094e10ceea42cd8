<?php

declare(strict_types=1);

namespace Heartwood\Core\Proof;

/** The acceptance checks of handbook "Acceptance", and what a person enters for those no reading gives. */
enum Check: string
{
    case FinishedVoltage = 'finished-voltage';
    case Spread = 'spread';
    case Taper = 'full-charge-by-taper';
    case HighCut = 'board-high-cut';
    case LowCut = 'board-low-cut';
    case LoadTest = 'load-test';
    case Capacity = 'capacity';
    case Temperature = 'temperature-rise';
    case Hold = 'hold-test';
    case OutputLive = 'output-live';
    case Gauge = 'gauge';
    case Insulation = 'insulation';
    case CauseNamed = 'cause-named';

    public function title(): string
    {
        return match ($this) {
            self::FinishedVoltage => 'Finished voltage, rested',
            self::Spread => 'Spread of the groups, full',
            self::Taper => 'Full charge ends by taper',
            self::HighCut => 'Board cuts at the top',
            self::LowCut => 'Board cuts at the bottom',
            self::LoadTest => 'Load test at working current',
            self::Capacity => 'Capacity, logged',
            self::Temperature => 'Temperature rise at working current',
            self::Hold => 'Hold test',
            self::OutputLive => 'Output live in the device',
            self::Gauge => 'Gauge shows the truth',
            self::Insulation => 'Insulation, case to terminals',
            self::CauseNamed => 'Cause of the short circuit named',
        };
    }

    /** @return list<array{name: string, label: string, kind: string}> empty for checks that come from readings and logged tests */
    public function fields(): array
    {
        return match ($this) {
            self::Taper => [
                ['name' => 'by_taper', 'label' => 'Ended by the charger\'s taper, not by a group\'s cut-off', 'kind' => 'yes-no'],
            ],
            self::HighCut, self::LowCut => [['name' => 'v', 'label' => 'Cut-off seen at one sense input, V', 'kind' => 'number']],
            self::Capacity => [['name' => 'ah', 'label' => 'Logged capacity, Ah', 'kind' => 'number']],
            self::Temperature => [
                ['name' => 'ambient_c', 'label' => 'Ambient, degC', 'kind' => 'number'],
                ['name' => 'hottest_c', 'label' => 'Hottest place, degC', 'kind' => 'number'],
                ['name' => 'median_c', 'label' => 'Median place, degC', 'kind' => 'number'],
            ],
            self::OutputLive => [['name' => 'live', 'label' => 'Runs in the device', 'kind' => 'yes-no']],
            self::Gauge => [['name' => 'sane', 'label' => 'Gauge agrees with what was measured', 'kind' => 'yes-no']],
            self::Insulation => [['name' => 'mohm', 'label' => 'Insulation, Mohm', 'kind' => 'number']],
            self::CauseNamed => [['name' => 'cause', 'label' => 'What caused the short', 'kind' => 'text']],
            default => [],
        };
    }
}
