<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** What every number of the register says of itself: its unit, and where it comes from. */
#[\Attribute(\Attribute::TARGET_CLASS_CONSTANT)]
final readonly class Limit
{
    public function __construct(public string $unit, public string $source)
    {
    }
}
