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
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class Latched extends Fault
{
    public const CODE = 'bms.latched';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The board is still latched off',
            'The protection board is still switched off although the reason is gone.',
            'nothing wakes it although the path is good',
        );
    }

    public function family(): Family
    {
        return Family::Board;
    }

    public function share(): float
    {
        return 0.36;
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
            // A charger wakes most latched boards; a bridge from the cells' end to the output, a reconnect, a button others.
            FeatureKind::Pulse => new Chance(['woke' => 0.8, 'nothing' => 0.2]),
            FeatureKind::Button, FeatureKind::Bridge, FeatureKind::Reconnect, FeatureKind::Device => new Chance([
                'woke' => 0.5,
                'nothing' => 0.5,
            ]),
            FeatureKind::Enable => new Chance(['woke' => 0.08, 'nothing' => 0.92]),
            FeatureKind::OverCurrent => new Chance(['reported' => 0.4]),
            FeatureKind::Stored => new Chance(['said' => 0.2]),
            FeatureKind::Reconnected => new Chance(['said' => 0.3]),
            FeatureKind::Alive => new Chance(['alive' => 0.02]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::WakeBoard, $finding, 'In order: charger, button, enable wire, reconnect.')];
    }
}
