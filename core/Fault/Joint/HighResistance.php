<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Joint;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\Chance;
use Heartwood\Core\Inference\Law;
use Heartwood\Core\Inference\Signature;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class HighResistance extends Fault
{
    public const CODE = 'joint.high-resistance';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The joint at tap %d has high resistance',
            'A connection is loose or dirty: the pack sags there under load.',
            'nothing drops across the joint itself, or cleaning and torque change nothing',
        );
    }

    public function family(): Family
    {
        return Family::Joints;
    }

    public function share(): float
    {
        return 1.0;
    }

    public function placeKind(): string
    {
        return 'joint';
    }

    public function tests(): array
    {
        return [TestKind::LoadStep, TestKind::ChargeStep, TestKind::Continuity];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Resistance => Law::over()->flat(0.6, 0.15, 1.5)->flat(0.4, 0.2, 6.0),
            FeatureKind::Jump => Law::over(0.01)->flat(1.0, 0.05, 3.0),
            FeatureKind::Drop => new Chance(['bad' => 0.95, 'good' => 0.02]),
            FeatureKind::Heat => new Chance(['hot' => 0.6, 'cool' => 0.4]),
            FeatureKind::Cure => new Chance(['cured' => 0.8, 'same' => 0.15]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::CleanJoint, $finding, 'Clean, like metals, torque, read again.')];
    }
}
