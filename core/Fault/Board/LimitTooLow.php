<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Board;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
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
        return $case->replaceBoard($finding);
    }
}
