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

final class Connector extends Fault
{
    public const CODE = 'path.connector';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'A terminal or connector is burnt or loose',
            'A terminal is burnt or loose.',
            'nothing drops across it under load',
        );
    }

    public function family(): Family
    {
        return Family::Path;
    }

    public function share(): float
    {
        return 0.17;
    }

    public function deadens(): float
    {
        return 1.0;
    }

    public function tests(): array
    {
        return [TestKind::Continuity, TestKind::Flex];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Connector => new Chance(['open' => 0.35, 'loses' => 0.6, 'conducts' => 0.05]),
            FeatureKind::Flex => new Chance(['changes' => 0.06, 'same' => 0.94]),
            FeatureKind::HotInUse => new Chance(['said' => 0.4]),
            FeatureKind::Bumped => new Chance(['said' => 0.03]),
            FeatureKind::Pulse, FeatureKind::Button, FeatureKind::Enable, FeatureKind::Device, FeatureKind::Bridge => new Chance([
                'woke' => 0.01,
                'nothing' => 0.99,
            ]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::RepairPath, $finding, 'Repair the contact and write down what was found.')];
    }
}
