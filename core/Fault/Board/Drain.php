<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Board;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairCase;

final class Drain extends Fault
{
    public const CODE = 'bms.drain';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The board feeds from the groups at one end',
            'The protection board feeds from one end of the pack while it is stored.',
            'the same groups sink with the sense plug out',
        );
    }

    public function severity(): Severity
    {
        return Severity::Watch;
    }

    public function tests(): array
    {
        return [TestKind::SenseUnpluggedRest];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return $case->replaceBoard($finding);
    }
}
