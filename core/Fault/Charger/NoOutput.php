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

final class NoOutput extends Fault
{
    public const CODE = 'charger.dead';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words('The charger gives nothing', 'The charger gives nothing.', 'it gives its voltage under load');
    }

    public function family(): Family
    {
        return Family::Outside;
    }

    public function share(): float
    {
        return 0.4;
    }

    public function refusesCharge(): float
    {
        return 1.0;
    }

    public function excludes(): string
    {
        return 'charger';
    }

    public function tests(): array
    {
        return [TestKind::ChargerCheck];
    }

    public function signature(FeatureKind $kind, Situation $situation): ?Signature
    {
        return match ($kind) {
            FeatureKind::Charger => new Chance(['good' => 0.01, 'dead' => 0.95, 'wrong' => 0.04]),
            FeatureKind::BoardStopped => new Chance(['board' => 0.05]),
            default => null,
        };
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::ReplaceCharger, $finding, 'Take this charger out of use.')];
    }
}
