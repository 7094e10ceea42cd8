<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Pack;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class Spread extends Fault
{
    public const CODE = 'pack.spread';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Groups too far apart to charge as a pack',
            'The parts of the pack are too far apart to be charged together.',
            'each has been brought up singly',
        );
    }

    public function severity(): Severity
    {
        return Severity::Stop;
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::Balance, $finding, 'Each group singly first: never charged as a pack at this spread.')];
    }
}
