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

final class FuseOpen extends Fault
{
    public const CODE = 'path.fuse-open';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The fuse is open, missing or bypassed',
            'The fuse is open. The reason is found before a new one goes in.',
            'the fuse conducts',
        );
    }

    public function family(): Family
    {
        return Family::Path;
    }

    public function share(): float
    {
        return 0.35;
    }

    public function deadens(): float
    {
        return 1.0;
    }

    public function tests(): array
    {
        return [TestKind::Continuity];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Fuse => new Chance(['open' => 0.99, 'conducts' => 0.01]),
            FeatureKind::ShortCircuited => new Chance(['said' => 0.2]),
            FeatureKind::Pulse,
            FeatureKind::Button,
            FeatureKind::Enable,
            FeatureKind::Device,
            FeatureKind::Bridge,
            FeatureKind::Reconnect
                => new Chance(['woke' => 0.005, 'nothing' => 0.995]),
            FeatureKind::Alive, FeatureKind::GaveCurrent => new Chance(['alive' => 0.005, 'flowed' => 0.005]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [
            $case->act(RepairAction::RepairPath, $finding, 'Find out why it opened, then a new fuse of the right rating. Never bridged.'),
        ];
    }
}
