<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Cell;

use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;

final class Hot extends Fault
{
    public const CODE = 'cell.hot';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words('Warm with no current', 'It is warm with nothing connected. It is not worked on.', 'it was lying in the sun');
    }

    public function severity(): Severity
    {
        return Severity::Stop;
    }
}
