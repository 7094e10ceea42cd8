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

final class Overcharged extends GroupFault
{
    public const CODE = 'group.overcharged';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Group %d holds more charge than its neighbours',
            'One part of the pack is fuller than the rest, so charging stops too early.',
            'its cells hold less than the others: a small group runs ahead in both directions',
            'Groups %s hold more charge than their neighbours',
        );
    }

    public function share(): float
    {
        return 0.07;
    }

    public function tests(): array
    {
        return [TestKind::RestAgain, TestKind::CapacityGroup];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Rest => new RestLaw(
                $situation,
                Law::over()
                    ->flat(0.6, 0.03, max(0.05, min(0.3, $situation->room())))
                    ->flat(0.4, 0.03, max(0.05, min(0.7, $situation->room()))),
                Law::over()->flat(0.2, $situation->fullV + 0.01, $situation->fullV + 0.3),
                mayBePastFull: true,
                nearShare: 0.8,
            ),
            FeatureKind::Top => Law::over(0.004)->bell(0.1, 0.0, 0.02)->flat(0.9, 0.02, 0.5),
            FeatureKind::Bottom => Law::over(0.004)
                ->bell(0.3, 0.0, 0.05)
                ->flat(0.7, -0.8, -0.05),
            FeatureKind::Stays => Law::over(0.001)->bell(0.1, 0.0, 0.008)->flat(0.9, 0.012, 0.4),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        $k = $finding->place->number;
        if (($case->volts($k) ?? 0.0) > $case->pack->profile()->fullV) {
            return [$case->replace($finding, 'It has been past full: not kept.')];
        }

        return [$case->act(RepairAction::Balance, $finding, 'Bleed it down to its neighbours.')];
    }
}
