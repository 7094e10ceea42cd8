<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Group;

use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Fault\GroupFault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\Chance;
use Heartwood\Core\Inference\Law;
use Heartwood\Core\Inference\RestLaw;
use Heartwood\Core\Inference\Signature;
use Heartwood\Core\Inference\Situation;

/** A sound group: no fault, and what every other state looks like where it has no signature of its own. */
final class Ok extends GroupFault
{
    public const CODE = 'group.ok';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words('Group %d: nothing found', 'This part of the pack is good.', 'a test finds it outside its limits');
    }

    public function severity(): Severity
    {
        return Severity::Note;
    }

    public function signature(FeatureKind $kind, Situation $situation): Signature
    {
        return match ($kind) {
            FeatureKind::Rest => new RestLaw($situation, Law::over()->bell(0.985, 0.0, 0.014)->bell(0.015, 0.0, 0.03)),
            // Healthy self-discharge differs from group to group by about 1.5 % a month.
            FeatureKind::Leak => Law::over()->bell(0.97, 0.0, 0.0005)->bell(0.03, 0.0, 0.0012),
            FeatureKind::Refill => Law::over()->bell(0.9992, 0.0, 0.0005)->bell(0.0008, 0.0, 0.002),
            FeatureKind::Resistance => Law::over()->bell(0.93, 0.0, 0.07)->bell(0.07, 0.0, 0.12),
            FeatureKind::Capacity => Law::over()->bell(0.9, 1.0, 0.03)->bell(0.1, 0.97, 0.045),
            FeatureKind::Weld => new Chance(['loose' => 0.001, 'holds' => 0.97]),
            FeatureKind::Strips => new Chance(['one draws' => 0.005, 'none draws' => 0.95]),
            FeatureKind::Cells => Law::over(0.0002)->bell(1.0, 0.0, 0.1),
            // On phosphate a group that is a little ahead shoots up at the end; elsewhere it takes a real difference.
            FeatureKind::Top => Law::over(0.002)
                ->bell($situation->phosphate() ? 0.9 : 0.82, 0.0, 0.02)
                ->bell($situation->phosphate() ? 0.06 : 0.16, 0.0, $situation->phosphate() ? 0.04 : 0.05)
                ->flat($situation->shootsUp() ? 0.03 : 0.004, 0.02, 0.5)
                ->flat(0.002, -0.6, -0.02),
            FeatureKind::Bottom => Law::over(0.004)
                ->bell(0.97, 0.0, 0.05)
                ->flat(0.005, 0.1, 1.2)
                ->flat(0.025, -0.8, -0.05),
            FeatureKind::Stays => Law::over(0.001)->bell(0.9995, 0.0, 0.008)->flat(0.0005, 0.012, 0.4),
            FeatureKind::Jump => Law::over(0.01)->bell(1.0, 0.0, 0.05),
            FeatureKind::Recovery => new Chance(['rises' => 0.965, 'hangs' => 0.015, 'falls' => 0.01, 'sinks' => 0.01]),
            FeatureKind::Drop => new Chance(['bad' => 0.0002, 'good' => 0.9998]),
            FeatureKind::Heat => new Chance(['hot' => 0.03, 'cool' => 0.97]),
            FeatureKind::Cure => new Chance(['cured' => 0.01, 'same' => 0.9]),
            default => new Chance([]),
        };
    }
}
