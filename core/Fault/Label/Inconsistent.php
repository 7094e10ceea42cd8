<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Label;

use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\RepairCase;

final class Inconsistent extends Fault
{
    public const CODE = 'label.inconsistent';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words('The label does not add up', 'The label does not add up.', 'the label was read wrongly');
    }

    public function severity(): Severity
    {
        return Severity::Note;
    }

    public function remedies(Finding $finding, RepairCase $case): array
    {
        return [new Option(RepairAction::Relabel, [], null, [], 'So that the next person is not misled.')];
    }
}
