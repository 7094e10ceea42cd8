<?php

declare(strict_types=1);

namespace Heartwood\Core\Drift;

/** What an owner can see, feel or smell without a meter: each alone ends the use of a pack. */
enum Sign: string
{
    case Swollen = 'swollen';
    case Hot = 'hot';
    case Smell = 'smell';
    case Wet = 'wet';
    case Dropped = 'dropped';
}
