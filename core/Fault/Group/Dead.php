<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Group;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\GroupFault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\Chance;
use Heartwood\Core\Inference\Law;
use Heartwood\Core\Inference\RestLaw;
use Heartwood\Core\Inference\Signature;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Repair\RepairCase;

final class Dead extends GroupFault
{
    public const CODE = 'group.dead';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Group %d is dead',
            'One part of the pack is finished and is never revived.',
            'a reading straight across it shows a voltage',
            'Groups %s are dead',
        );
    }

    public function share(): float
    {
        return 0.06;
    }

    public function severity(): Severity
    {
        return Severity::Stop;
    }

    public function tests(): array
    {
        return [TestKind::GroupReading, TestKind::RecoveryTrial];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            // A short can still show a voltage while it was charged lately.
            FeatureKind::Rest => new RestLaw(
                $situation,
                null,
                Law::over()
                    ->flat(0.5, -0.02, 0.5)
                    ->flat(0.3, 0.0, $situation->floorV)
                    ->flat(0.2, $situation->floorV, $situation->lowCutV),
            ),
            FeatureKind::Strips => new Chance(['one draws' => 0.2, 'none draws' => 0.8]),
            // Current goes in and the voltage does not come up: shorted, whatever it showed at rest.
            FeatureKind::Recovery => new Chance(['rises' => 0.06, 'hangs' => 0.5, 'falls' => 0.32, 'sinks' => 0.12]),
            FeatureKind::Leak => Law::over()
                ->bell(0.5, 0.0, 0.0005)
                ->flat(0.5, -0.3, 0.3),
            FeatureKind::Resistance => Law::over()->flat(1.0, -0.5, 6.0),
            FeatureKind::Capacity => Law::over()->flat(1.0, 0.0, 0.5),
            FeatureKind::Cells => Law::over(0.0002)->flat(1.0, -0.2, 5.0),
            FeatureKind::Top => Law::over(0.004)->flat(1.0, -0.6, -0.02),
            FeatureKind::Bottom => Law::over(0.004)->flat(1.0, 0.1, 1.2),
            FeatureKind::Jump => Law::over(0.01)->flat(1.0, 0.05, 3.0),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->replace($finding, 'Never revived: the short and the copper stay.')];
    }
}
