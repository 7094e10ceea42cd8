<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Load;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class ExceedsCells extends Fault
{
    public const CODE = 'load.exceeds-cells';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The device draws more than the cells are rated for',
            'The device takes more current than these cells are made for.',
            'the controller\'s limit is lower than written',
        );
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
