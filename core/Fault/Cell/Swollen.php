<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Cell;

use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;

final class Swollen extends Fault
{
    public const CODE = 'cell.swollen';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'A cell is swollen',
            'A cell has swollen. It is not worked on.',
            'thickness measured against the drawing is within 3 %',
        );
    }

    public function severity(): Severity
    {
        return Severity::Stop;
    }
}
