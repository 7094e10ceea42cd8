<?php

declare(strict_types=1);

namespace Heartwood\Core;

/** The version of the rules: a hash of what they say (written by bin/rules.php). A verdict is kept with the version that gave it. */
final class Rules
{
    public const VERSION = '990a618b3729';
}
