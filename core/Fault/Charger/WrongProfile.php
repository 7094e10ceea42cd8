<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Charger;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Family;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class WrongProfile extends Fault
{
    public const CODE = 'charger.wrong-profile';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The charger is made for another chemistry',
            'This charger is made for another kind of battery.',
            'a logged charge shows constant current, constant voltage and nothing else',
        );
    }

    public function family(): Family
    {
        return Family::Outside;
    }

    public function share(): float
    {
        return 0.07;
    }

    public function tests(): array
    {
        return [TestKind::ChargerCheck];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [$case->act(RepairAction::ReplaceCharger, $finding, 'Take this charger out of use.')];
    }
}
