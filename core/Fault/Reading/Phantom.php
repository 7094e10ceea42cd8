<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Reading;

use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;

final class Phantom extends Fault
{
    public const CODE = 'reading.phantom';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The output voltage only floats',
            'The voltage at the output only floats: nothing stands behind it.',
            'it stands under a small load',
        );
    }

    public function severity(): Severity
    {
        return Severity::Note;
    }

    public function tests(): array
    {
        return [TestKind::LowImpedanceTerminal];
    }
}
