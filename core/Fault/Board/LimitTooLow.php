<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Board;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class LimitTooLow extends Fault
{
    public const CODE = 'bms.limit-too-low';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The board\'s rating is under the load',
            'The protection board is too small for this device.',
            'the peak current is measured and lies under its rating',
        );
    }

    public function tests(): array
    {
        return [TestKind::FullDischargeWatch];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        // Nothing is plugged where the pins are wrong or the groups are too far apart: that comes first.
        return $case->found(0.5, 'sense.shifted', 'pack.spread') ? [] : [$case->act(RepairAction::ReplaceBoard, $finding, 60, 1.0, 'Pin check before it is plugged in.')];
    }
}
