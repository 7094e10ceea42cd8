<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/** A run that cannot even be planned: what is wrong with the input, and where. */
final class CannotRun extends \InvalidArgumentException
{
    public function __construct(public readonly string $pointer, string $message)
    {
        parent::__construct($message);
    }
}
