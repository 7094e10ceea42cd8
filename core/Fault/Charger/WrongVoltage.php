<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Charger;

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

final class WrongVoltage extends Fault
{
    public const CODE = 'charger.wrong-voltage';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The charger\'s voltage is wrong',
            'This charger gives the wrong voltage for this pack.',
            'it measures right under load',
        );
    }

    public function family(): Family
    {
        return Family::Outside;
    }

    public function share(): float
    {
        return 0.2;
    }

    public function refusesCharge(): float
    {
        return 0.6;
    }

    public function excludes(): string
    {
        return 'charger';
    }

    public function tests(): array
    {
        return [TestKind::ChargerCheck];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::ReplaceCharger, $finding, 'Take this charger out of use.')];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Charger => new Chance(['good' => 0.03, 'dead' => 0.02, 'wrong' => 0.95]),
            default => null,
        };
    }
}
