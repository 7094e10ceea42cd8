<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Board;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairCase;

final class TripsEarly extends Fault
{
    public const CODE = 'bms.trips-early';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The board cuts out below its rating',
            'The protection board cuts out too soon.',
            'a group touches its limit at the moment of the cut',
        );
    }

    public function tests(): array
    {
        return [TestKind::LoadStep, TestKind::FullDischargeWatch];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return $case->replaceBoard($finding);
    }
}
