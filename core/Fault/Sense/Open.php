<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Sense;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class Open extends Fault
{
    public const CODE = 'sense.open';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The board\'s sense lead at tap %d is broken or loose',
            'A thin measuring wire inside is broken: the board sees what is not there.',
            'the meter straight across the groups shows the same',
        );
    }

    public function placeKind(): string
    {
        return 'tap';
    }

    public function tests(): array
    {
        return [TestKind::BoardReport, TestKind::GroupReading];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::RepairSense, $finding, 'Pin check before the board is plugged in.')];
    }
}
