<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Board;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\Severity;
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

final class Asleep extends Fault
{
    public const CODE = 'bms.asleep';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The board is asleep',
            'The protection board sleeps and wants to be woken.',
            'its device wakes it and it dies again',
        );
    }

    public function family(): Family
    {
        return Family::Board;
    }

    public function share(): float
    {
        return 0.2;
    }

    public function severity(): Severity
    {
        return Severity::Note;
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
        return [TestKind::Wake];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Pulse => new Chance(['woke' => 0.65, 'nothing' => 0.35]),
            FeatureKind::Button, FeatureKind::Device, FeatureKind::Bridge, FeatureKind::Reconnect => new Chance([
                'woke' => 0.5,
                'nothing' => 0.5,
            ]),
            FeatureKind::Enable => new Chance(['woke' => 0.15, 'nothing' => 0.85]),
            FeatureKind::Stored => new Chance(['said' => 0.3]),
            FeatureKind::Alive => new Chance(['alive' => 0.02]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::WakeBoard, $finding, 'In order: charger, button, enable wire, reconnect.')];
    }
}
