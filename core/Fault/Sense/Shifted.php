<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Sense;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class Shifted extends Fault
{
    public const CODE = 'sense.shifted';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The sense leads are on the wrong places',
            'The measuring wires are on the wrong places. Nothing is plugged in like that.',
            'the staircase is right pin by pin',
        );
    }

    public function severity(): Severity
    {
        return Severity::Stop;
    }

    public function tests(): array
    {
        return [TestKind::PinCheck];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::RepairSense, $finding, 'Pin check before the board is plugged in.')];
    }
}
