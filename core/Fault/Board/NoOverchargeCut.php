<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Board;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairCase;

final class NoOverchargeCut extends Fault
{
    public const CODE = 'bms.no-overcharge-cut';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The board does not stop a group that is past full',
            'The protection board does not stop an overcharge. Not to be charged.',
            'the reading was taken with the board bypassed',
        );
    }

    public function severity(): Severity
    {
        return Severity::Stop;
    }

    public function tests(): array
    {
        return [TestKind::FullChargeWatch];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return $case->replaceBoard($finding);
    }
}
