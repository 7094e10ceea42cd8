<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Group;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\GroupFault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\Law;
use Heartwood\Core\Inference\Signature;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class HighResistance extends GroupFault
{
    public const CODE = 'group.high-resistance';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Group %d has high resistance in its cells',
            'The cells of one part let less current through: it sags under load.',
            'the cells measure normal by themselves: then it is the joint',
            'Groups %s have high resistance in their cells',
        );
    }

    public function share(): float
    {
        return 0.06;
    }

    public function tests(): array
    {
        return [TestKind::ResistanceCell, TestKind::LoadStep, TestKind::CapacityGroup];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Resistance => Law::over()->flat(0.75, 0.15, 1.0)->flat(0.25, 0.15, 2.5),
            // Cells that have aged in resistance have often lost a little capacity too; a joint has not.
            FeatureKind::Capacity => Law::over()->bell(0.27, 1.0, 0.03)->bell(0.03, 0.97, 0.045)->flat(0.7, 0.86, 1.0),
            FeatureKind::Cells => Law::over(0.0002)->flat(0.6, 0.15, 1.2)->flat(0.4, 0.15, 3.0),
            FeatureKind::Top => Law::over(0.004)->bell(0.6, 0.0, 0.02)->flat(0.4, 0.02, 0.5),
            FeatureKind::Bottom => Law::over(0.004)->bell(0.93, 0.0, 0.05)->flat(0.07, 0.1, 1.2),
            FeatureKind::Stays => Law::over(0.001)->bell(0.95, 0.0, 0.008)->flat(0.05, 0.012, 0.4),
            FeatureKind::Jump => Law::over(0.01)->bell(0.3, 0.0, 0.05)->flat(0.7, 0.05, 2.0),
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
