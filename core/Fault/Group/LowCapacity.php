<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Group;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\GroupFault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\Law;
use Heartwood\Core\Inference\RestLaw;
use Heartwood\Core\Inference\Signature;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class LowCapacity extends GroupFault
{
    public const CODE = 'group.low-capacity';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Group %d has aged: it holds less',
            'One part of the pack has aged and holds less. It decides how far the whole pack goes.',
            'a full charge and a logged discharge give what the others give',
            'Groups %s have aged: they hold less',
        );
    }

    public function share(): float
    {
        return 0.14;
    }

    public function tests(): array
    {
        return [TestKind::CapacityGroup, TestKind::FullDischargeWatch];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            // Level at the top and ever further behind below it, or level somewhere else.
            FeatureKind::Rest => new RestLaw(
                $situation,
                Law::over()
                    ->bell(0.6, 0.0, 0.03)
                    ->flat(0.25, -0.4, 0.1)
                    ->flat(0.15, -max(0.1, 1 - $situation->middleCharge), -0.1 * max(0.1, 1 - $situation->middleCharge)),
                $situation->emptyV > $situation->lowCutV ? Law::over()->flat(0.1, $situation->lowCutV, $situation->emptyV + 0.02) : null,
                nearShare: 0.9,
            ),
            // Charge through the whole pack moves a smaller group further: it looks like a leak and is none.
            FeatureKind::Leak => Law::over()->bell(0.2, 0.0, 0.0005)->flat(0.8, 0.12, 1.2, through: true),
            FeatureKind::Resistance => Law::over()->bell(0.5, 0.05, 0.1)->flat(0.42, 0.0, 0.6)->flat(0.08, 0.0, 1.5),
            FeatureKind::Capacity => Law::over()->flat(1.0, 0.2, 0.88),
            FeatureKind::Cells => Law::over(0.0002)->bell(0.6, 0.0, 0.1)->flat(0.3, 0.0, 0.7)->flat(0.1, 0.0, 1.5),
            FeatureKind::Top => Law::over($situation->phosphate() ? 0.02 : 0.004)
                ->bell(0.45, 0.0, 0.02)
                ->flat(0.45, 0.02, 0.5)
                ->flat(0.1, -0.6, -0.02),
            FeatureKind::Bottom => Law::over(0.004)->bell(0.1, 0.0, 0.05)->flat(0.9, 0.1, 1.2),
            FeatureKind::Stays => Law::over(0.001)->bell(0.8, 0.0, 0.008)->flat(0.2, 0.012, 0.4),
            FeatureKind::Jump => Law::over(0.01)->bell(0.6, 0.0, 0.05)->flat(0.4, 0.05, 2.0),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [
            $case->replace($finding, 'The weakest group sets what the pack holds.'),
            new Option(
                RepairAction::LighterDuty,
                [$finding->place],
                $case->window === null ? null : $case->capacityWithout([]),
                [self::CODE],
                'At a lower current it lasts longer; it stays the weakest.',
            ),
        ];
    }
}
