<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault\Board;

use Heartwood\Core\Diagnosis\Severity;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Fault;
use Heartwood\Core\Fault\Words;

final class Protecting extends Fault
{
    public const CODE = 'bms.protecting';

    public function code(): string
    {
        return self::CODE;
    }

    public function words(): Words
    {
        return new Words(
            'The board is doing its job: a group is outside its limits',
            'The protection board has switched off because something is out of limits. That is its job.',
            'every group is inside its limits and it still stays off',
        );
    }

    public function severity(): Severity
    {
        return Severity::Note;
    }

    public function tests(): array
    {
        return [TestKind::RestTaps];
    }
}
