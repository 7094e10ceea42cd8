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
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class Undercharged extends GroupFault
{
    public const CODE = 'group.undercharged';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Group %d holds less charge than its neighbours',
            'One part of the pack is emptier than the rest. It looks healthy otherwise.',
            'it falls again on its own within days, sags more than its neighbours, or holds less',
            'Groups %s hold less charge than their neighbours',
        );
    }

    public function share(): float
    {
        return 0.22;
    }

    public function tests(): array
    {
        return [TestKind::RestAgain, TestKind::LoadStep, TestKind::CapacityGroup];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Rest => new RestLaw(
                $situation,
                Law::over()
                    ->flat(0.6, -0.3, -0.04)
                    ->flat(0.4, -0.8, -0.04),
                $situation->emptyV > $situation->lowCutV ? Law::over()->flat(0.08, $situation->lowCutV, $situation->emptyV + 0.02) : null,
                nearShare: 0.92,
            ),
            // A group low in charge sags a little more.
            FeatureKind::Resistance => Law::over()->bell(1.0, 0.04, 0.14),
            FeatureKind::Top => Law::over(0.004)
                ->bell(0.1, 0.0, 0.02)
                ->flat(0.9, -0.6, -0.02),
            FeatureKind::Bottom => Law::over(0.004)->bell(0.2, 0.0, 0.05)->flat(0.8, 0.1, 1.2),
            FeatureKind::Stays => Law::over(0.001)
                ->bell(0.6, 0.0, 0.008)
                ->flat(0.4, -0.3, -0.01),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        $k = $finding->place->number;

        return $case->mayBeDead($k) || $case->belowFloor($k)
            ? [$case->replace($finding, 'It may be shorted: not charged.')]
            : [
                $case->act(
                    RepairAction::ChargeGroup,
                    $finding,
                    'It holds less charge but nothing else is wrong with it: top it singly, then watch.',
                    hours: $case->fillHours($k),
                ),
            ];
    }
}
