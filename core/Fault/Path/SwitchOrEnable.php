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

final class SwitchOrEnable extends Fault
{
    public const CODE = 'path.switch-or-enable';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Key switch or enable wire keeps the output off',
            'The key switch or its wire keeps the pack off.',
            'the wire tied by hand changes nothing',
        );
    }

    public function family(): Family
    {
        return Family::Path;
    }

    public function share(): float
    {
        return 0.26;
    }

    public function deadens(): float
    {
        return 1.0;
    }

    public function tests(): array
    {
        return [TestKind::Wake, TestKind::Continuity];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Switch => new Chance(['open' => 0.95, 'conducts' => 0.05]),
            FeatureKind::Enable => new Chance(['woke' => 0.8, 'nothing' => 0.2]),
            FeatureKind::Pulse, FeatureKind::Button, FeatureKind::Device, FeatureKind::Bridge, FeatureKind::Reconnect => new Chance([
                'woke' => 0.03,
                'nothing' => 0.97,
            ]),
            FeatureKind::Alive, FeatureKind::GaveCurrent => new Chance(['alive' => 0.02, 'flowed' => 0.02]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::RepairPath, $finding, 'Repair the contact and write down what was found.')];
    }
}
