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
use Heartwood\Core\Repair\TopUp;

final class SelfDischarge extends GroupFault
{
    public const CODE = 'group.self-discharge';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Group %d leaks',
            'One part of the pack loses charge by itself. It comes back after charging and sinks again.',
            'it stays level over days, or sinks only with the sense plug in',
            'Groups %s leak',
        );
    }

    public function share(): float
    {
        return 0.16;
    }

    public function tests(): array
    {
        return [TestKind::RestAgain, TestKind::SenseUnpluggedRest, TestKind::Refill];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            // A leaking group that was filled lately is as full as the others.
            FeatureKind::Rest => new RestLaw(
                $situation,
                Law::over()
                    ->bell(0.3, 0.0, 0.014)
                    ->flat(0.7, -0.6, 0.0),
                Law::over()
                    ->flat($situation->lowTogether ? 0.01 : 0.05, $situation->floorV, $situation->lowCutV)
                    ->flat(0.02, 0.0, $situation->floorV)
                    ->also(
                        $situation->emptyV > $situation->lowCutV ? 0.1 : 0.0,
                        Law::over()->flat(1.0, $situation->lowCutV, max($situation->lowCutV + 0.02, $situation->emptyV + 0.02)),
                    ),
                nearShare: 0.75,
            ),
            // From a month's 3 % to all in a day, evenly by its logarithm (handbook "Self-discharge").
            FeatureKind::Leak, FeatureKind::Refill => Law::over()
                ->flat(0.2, 0.001, 0.004)
                ->flat(0.3, 0.003, 0.02)
                ->flat(0.3, 0.01, 0.1)
                ->flat(0.2, 0.05, 1.0),
            FeatureKind::Resistance => Law::over()->bell(1.0, 0.04, 0.14),
            FeatureKind::Strips => new Chance(['one draws' => 0.7, 'none draws' => 0.3]),
            FeatureKind::Recovery => new Chance(['rises' => 0.6, 'hangs' => 0.015, 'falls' => 0.015, 'sinks' => 0.37]),
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
        $topUp = TopUp::of($case, $k);
        if (is_string($topUp)) {
            return [$case->replace($finding, "A leaking cell does not heal. It is not kept with a top-up: $topUp.")];
        }
        $keep = new Option(
            RepairAction::KeepWithTopup,
            [$finding->place],
            $case->window === null ? null : $case->capacityWithout([]),
            [self::CODE],
            $topUp->sentence(),
            topUps: [$topUp],
        );

        return [$case->replace($finding, 'A leaking cell does not heal.'), $keep];
    }
}
