<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Pack;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class DeepDischarged extends Fault
{
    public const CODE = 'pack.deep-discharged';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Every group alike is deep-discharged',
            'The whole pack was left empty for too long. It may come back if it is brought up slowly.',
            'the parts hang or fall while a small current flows',
        );
    }

    public function tests(): array
    {
        return [TestKind::RecoveryTrial, TestKind::RestAgain];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        if ($case->anyDead() || !$case->allRead()) {
            return [];
        }
        $groups = array_map(Place::group(...), range(1, $case->pack->series));

        return [
            new Option(
                RepairAction::RecoverGroup,
                $groups,
                $case->capacityWithout([]),
                [],
                'Group by group, slowly, attended, each proved by its hold test.',
                minutes: $case->pack->series * RepairAction::RecoverGroup->minutes(),
            ),
            $case->act(
                RepairAction::RecoverPack,
                $finding,
                'The logged exception: every group eligible and read once a minute, a senior answers for it.',
            ),
        ];
    }
}
