<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Load;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class Shorted extends Fault
{
    public const CODE = 'load.shorted';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The device or its harness is shorted',
            'The device is shorted. It is mended before the pack goes back.',
            'the harness measures open',
        );
    }

    public function family(): Family
    {
        return Family::Outside;
    }

    public function share(): float
    {
        return 0.04;
    }

    public function tests(): array
    {
        return [TestKind::LoadCheck];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::RepairLoad, $finding, 'Before the pack goes back.')];
    }
}
