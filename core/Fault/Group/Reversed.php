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

final class Reversed extends GroupFault
{
    public const CODE = 'group.reversed';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Group %d is reversed',
            'One part of the pack has been driven backwards. It is finished and dangerous to charge.',
            'the probes were swapped',
            'Groups %s are reversed',
        );
    }

    public function share(): float
    {
        return 0.01;
    }

    public function severity(): Severity
    {
        return Severity::Stop;
    }

    public function tests(): array
    {
        return [TestKind::GroupReading];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Rest => new RestLaw($situation, null, Law::over()->flat(1.0, -4.0, -0.02)),
            FeatureKind::Recovery => new Chance(['rises' => 0.2, 'hangs' => 0.35, 'falls' => 0.35, 'sinks' => 0.1]),
            // For the rest it is a dead group.
            default => (new Dead())->signature($kind, $situation),
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->replace($finding, 'Never revived: the short and the copper stay.')];
    }
}
