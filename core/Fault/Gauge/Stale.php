<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Gauge;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class Stale extends Fault
{
    public const CODE = 'gauge.stale';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The gauge still holds an old capacity',
            'The charge display still believes an old figure.',
            'it agrees with a logged discharge',
        );
    }

    public function family(): Family
    {
        return Family::Outside;
    }

    public function share(): float
    {
        return 0.1;
    }

    public function severity(): Severity
    {
        return Severity::Watch;
    }

    public function tests(): array
    {
        return [TestKind::GaugeRelearn, TestKind::CapacityPack];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        // A gauge that learns from an uneven or miswired pack learns wrong.
        return $case->stands('pack.spread', 'sense.shifted', 'sense.open', 'group.dead', 'group.reversed')
            ? []
            : [$case->act(RepairAction::RelearnGauge, $finding, 'Full, rest, empty, rest, full.')];
    }
}
