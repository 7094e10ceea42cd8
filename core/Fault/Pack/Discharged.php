<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Pack;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class Discharged extends Fault
{
    public const CODE = 'pack.discharged';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'Every group is low alike: it is empty',
            'The pack is simply empty, every part alike.',
            'one part stays behind while it is charged',
        );
    }

    public function severity(): Severity
    {
        return Severity::Note;
    }

    public function tests(): array
    {
        return [TestKind::FullChargeWatch, TestKind::RestAgain];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        // Through the board, never past it: no group under its low cut, none too far from the others.
        return $case->anyDead() || !$case->allAbove($case->pack->lowCutV()) || $case->found(Finding::LISTED, 'pack.spread')
            ? []
            : [
                $case->act(
                    RepairAction::ChargePack,
                    $finding,
                    'At a tenth of capacity or less, every group read, until each is past its pre-charge voltage.',
                ),
            ];
    }
}
