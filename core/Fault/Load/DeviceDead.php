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

final class DeviceDead extends Fault
{
    public const CODE = 'load.dead';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words('The device is at fault', 'The device itself does not run.', 'it runs on a good supply');
    }

    public function family(): Family
    {
        return Family::Outside;
    }

    public function share(): float
    {
        return 0.14;
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
