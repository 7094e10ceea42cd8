<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Path;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\Chance;
use Heartwood\Core\Inference\Signature;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class Intermittent extends Fault
{
    public const CODE = 'path.intermittent';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words('A contact fails when moved', 'A contact fails when the pack is moved.', 'nothing changes however it is moved');
    }

    public function family(): Family
    {
        return Family::Path;
    }

    public function share(): float
    {
        return 0.11;
    }

    public function deadens(): float
    {
        return 0.5;
    }

    public function tests(): array
    {
        return [TestKind::Flex];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Flex => new Chance(['changes' => 0.85, 'same' => 0.15]),
            FeatureKind::Bumped => new Chance(['said' => 0.7]),
            FeatureKind::GaugeJumps => new Chance(['said' => 0.08]),
            FeatureKind::Pulse, FeatureKind::Button, FeatureKind::Enable, FeatureKind::Device, FeatureKind::Bridge => new Chance([
                'woke' => 0.03,
                'nothing' => 0.97,
            ]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::RepairPath, $finding, 'Repair the contact and write down what was found.')];
    }
}
