<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Cell;

use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;

final class Leaking extends Fault
{
    public const CODE = 'cell.leaking';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words('A cell leaks or vents', 'A cell leaks or vents. It is not worked on.', 'what was seen came from outside');
    }

    public function severity(): Severity
    {
        return Severity::Stop;
    }
}
