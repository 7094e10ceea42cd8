<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Group;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\GroupFault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\Chance;
use Heartwood\Core\Inference\Law;
use Heartwood\Core\Inference\RestLaw;
use Heartwood\Core\Inference\Signature;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class MissingCell extends GroupFault
{
    public const CODE = 'group.missing-cell';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Group %d has lost a cell',
            'A cell inside has come loose, so one part holds less and sags more.',
            'every strip carries its share and every weld holds',
            'Groups %s have each lost a cell',
        );
    }

    public function share(): float
    {
        return 0.06;
    }

    public function tests(): array
    {
        return [TestKind::TugWeld, TestKind::StripMillivolt, TestKind::CapacityGroup];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Rest => new RestLaw(
                $situation,
                Law::over()
                    ->bell(0.8, 0.0, 0.025)
                    ->flat(0.2, -0.3, 0.1),
            ),
            FeatureKind::Leak => Law::over()->bell(1.0, $situation->lostShare(), 0.0005, through: true),
            FeatureKind::Resistance => Law::over()->bell(1.0, $situation->lostShare(), hypot(0.08, 0.15 * $situation->lostShare())),
            FeatureKind::Capacity => Law::over()->bell(1.0, 1 - $situation->lostCapacity(), 0.025),
            // A weld that comes off, or a strip that carries nothing, is the fault itself before the eye.
            FeatureKind::Weld => new Chance(['loose' => 0.88, 'holds' => 0.12]),
            FeatureKind::Cells => Law::over(0.0002)->bell(1.0, $situation->lostShare(), 0.1),
            FeatureKind::Top => Law::over(0.004)
                ->bell(0.45, 0.0, 0.02)
                ->flat(0.45, 0.02, 0.5)
                ->flat(0.1, -0.6, -0.02),
            FeatureKind::Bottom => Law::over(0.004)->bell(0.4, 0.0, 0.05)->flat(0.6, 0.1, 1.2),
            FeatureKind::Jump => Law::over(0.01)->bell(0.7, 0.0, 0.05)->flat(0.3, 0.05, 2.0),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        $whole = $case->capacityWithout([$finding->place->number]);

        return [
            new Option(RepairAction::Reweld, [$finding->place], $whole, [], 'If the cell itself proves good.'),
            new Option(RepairAction::ReplaceCell, [$finding->place], $whole, [], 'One cell, when the rest of the group prove good.', 1),
        ];
    }
}
