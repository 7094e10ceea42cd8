<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Pack;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class Aged extends Fault
{
    public const CODE = 'pack.aged';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The whole pack has aged alike',
            'The whole pack has worn: every part holds less than it did.',
            'a logged discharge from full gives over 80 % of the label, or one part alone falls behind',
        );
    }

    public function tests(): array
    {
        return [TestKind::CapacityPack, TestKind::CapacityGroup, TestKind::FullDischargeWatch];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [
            new Option(
                RepairAction::Rebuild,
                [],
                $case->pack->groupCapacityAh(),
                [],
                'New cells throughout: every group has worn alike.',
                $case->pack->series * ($case->pack->parallel ?? 1),
            ),
            new Option(
                RepairAction::LighterDuty,
                [],
                $case->capacityWithout([]),
                [self::CODE],
                'It holds less but nothing stands out: at a lower current it serves on.',
            ),
        ];
    }
}
