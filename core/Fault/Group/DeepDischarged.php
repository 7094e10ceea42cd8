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
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class DeepDischarged extends GroupFault
{
    public const CODE = 'group.deep-discharged';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Group %d is deep-discharged',
            'One part of the pack was emptied too far. It may come back if it is brought up slowly.',
            'it hangs or falls while a small current flows',
            'Groups %s are deep-discharged',
        );
    }

    public function share(): float
    {
        return 0.09;
    }

    public function tests(): array
    {
        return [TestKind::RecoveryTrial, TestKind::RestAgain];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Rest => new RestLaw($situation, null, Law::over()->flat(1.0, $situation->floorV, $situation->lowCutV)),
            FeatureKind::Leak => Law::over()
                ->bell(0.5, 0.0, 0.0005)
                ->flat(0.5, -0.3, 0.3),
            FeatureKind::Resistance => Law::over()->flat(1.0, -0.5, 6.0),
            FeatureKind::Capacity => Law::over()->flat(1.0, 0.3, 1.05),
            FeatureKind::Strips => new Chance(['one draws' => 0.2, 'none draws' => 0.8]),
            FeatureKind::Cells => Law::over(0.0002)->flat(1.0, -0.2, 5.0),
            FeatureKind::Top => Law::over(0.004)->flat(1.0, -0.6, -0.02),
            FeatureKind::Bottom => Law::over(0.004)->flat(1.0, 0.1, 1.2),
            FeatureKind::Recovery => new Chance(['rises' => 0.985, 'hangs' => 0.006, 'falls' => 0.004, 'sinks' => 0.005]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        $k = $finding->place->number;

        return $case->volts($k) !== null && !$case->belowFloor($k) && !$case->mayBeDead($k)
            ? [
                $case->act(RepairAction::RecoverGroup, $finding, 'Slowly, attended, and proved by the hold test afterwards.'),
                $case->replace($finding, 'The other school: replace anything that was that low.'),
            ]
            : [$case->replace($finding, 'Below the floor: never revived.')];
    }
}
