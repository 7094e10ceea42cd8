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

final class Wiring extends Fault
{
    public const CODE = 'load.wiring';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words('The harness is open or loses too much', 'A wire of the device is broken.', 'the harness conducts');
    }

    public function family(): Family
    {
        return Family::Outside;
    }

    public function share(): float
    {
        return 0.05;
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
