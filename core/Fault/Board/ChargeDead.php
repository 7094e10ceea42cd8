<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Board;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\Chance;
use Heartwood\Core\Inference\Signature;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Repair\RepairCase;

final class ChargeDead extends Fault
{
    public const CODE = 'bms.charge-dead';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The board\'s charge switch has failed',
            'The protection board no longer lets charge in.',
            'another charger is taken, or the sensor is off its curve',
        );
    }

    public function family(): Family
    {
        return Family::Board;
    }

    public function share(): float
    {
        return 0.2;
    }

    public function refusesCharge(): float
    {
        return 1.0;
    }

    public function tests(): array
    {
        return [TestKind::ChargerCheck, TestKind::Sensor, TestKind::FullChargeWatch];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Port => new Chance(['stands' => 0.8, 'absent' => 0.2]),
            FeatureKind::TookCharge => new Chance(['flowed' => 0.01, 'fed' => 0.3]),
            FeatureKind::BoardStopped => new Chance(['board' => 0.5]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return $case->replaceBoard($finding);
    }
}
