<?php

declare(strict_types=1);

namespace Heartwood\Core\Drift;

/** What an owner is told of a reading, at once. */
enum Answer: string
{
    case Fine = 'fine';
    case Again = 'again';
    case Stop = 'stop';
}
