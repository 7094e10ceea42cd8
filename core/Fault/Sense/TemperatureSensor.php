<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Sense;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Inference\Chance;
use Heartwood\Core\Inference\Signature;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class TemperatureSensor extends Fault
{
    public const CODE = 'sensor.temperature';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The temperature sensor misleads the board',
            'The temperature sensor says something wrong, so the board refuses.',
            'it measures right against its curve',
        );
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
        return 0.3;
    }

    public function refusesCharge(): float
    {
        return 0.9;
    }

    public function fitted(PackSpec $pack): bool
    {
        return $pack->bms->bool('temperature_sensor') !== false;
    }

    public function tests(): array
    {
        return [TestKind::Sensor];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Sensor => new Chance(['off' => 0.95, 'right' => 0.05]),
            FeatureKind::Flag => new Chance(['reported' => 0.7]),
            FeatureKind::TookCharge => new Chance(['flowed' => 0.1, 'fed' => 0.5]),
            FeatureKind::BoardStopped => new Chance(['board' => 0.4]),
            FeatureKind::Pulse,
            FeatureKind::Button,
            FeatureKind::Enable,
            FeatureKind::Device,
            FeatureKind::Bridge,
            FeatureKind::Reconnect
                => new Chance(['woke' => 0.02, 'nothing' => 0.98]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::RepairPath, $finding, 'Replace the sensor and refit it to the cells.')];
    }
}
