<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Reading;

use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;

final class Inconsistent extends Fault
{
    public const CODE = 'reading.inconsistent';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'A reading is off or the probe slipped',
            'One reading does not fit the others and is taken again.',
            'the repeated reading says the same',
        );
    }

    public function severity(): Severity
    {
        return Severity::Note;
    }

    public function tests(): array
    {
        return [TestKind::GroupReading, TestKind::HalfString];
    }
}
