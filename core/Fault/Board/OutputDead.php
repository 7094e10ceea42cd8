<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Board;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\Chance;
use Heartwood\Core\Inference\Signature;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Repair\RepairCase;

final class OutputDead extends Fault
{
    public const CODE = 'bms.output-dead';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The board\'s discharge switch or logic has failed',
            'The protection board no longer lets current out.',
            'voltage stands behind the board, or a wake action helps',
        );
    }

    public function family(): Family
    {
        return Family::Board;
    }

    public function share(): float
    {
        return 0.24;
    }

    public function deadens(): float
    {
        return 1.0;
    }

    public function excludes(): string
    {
        return 'board';
    }

    public function tests(): array
    {
        return [TestKind::Wake, TestKind::Continuity];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Pulse,
            FeatureKind::Button,
            FeatureKind::Enable,
            FeatureKind::Device,
            FeatureKind::Bridge,
            FeatureKind::Reconnect
                => new Chance(['woke' => 0.01, 'nothing' => 0.99]),
            FeatureKind::ShortCircuited => new Chance(['said' => 0.08]),
            FeatureKind::Alive, FeatureKind::GaveCurrent => new Chance(['alive' => 0.005, 'flowed' => 0.005]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return $case->replaceBoard($finding);
    }
}
