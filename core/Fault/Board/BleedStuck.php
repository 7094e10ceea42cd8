<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Board;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\RepairCase;

final class BleedStuck extends Fault
{
    public const CODE = 'bms.bleed-stuck';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The balance switch of a group is stuck on',
            'The protection board drains one part of the pack all the time.',
            'the group sinks with the plug out as well',
        );
    }

    public function tests(): array
    {
        return [TestKind::SenseUnpluggedRest];
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return $case->replaceBoard($finding);
    }
}
