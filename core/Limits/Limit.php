<?php

declare(strict_types=1);

namespace Heartwood\Core\Limits;

/** What every number of the register says of itself: its unit, and where it comes from. */
#[\Attribute(\Attribute::TARGET_CLASS_CONSTANT)]
final readonly class Limit
{
    /** Share by which `bench/limits` moves a number, where its own attribute states no other. */
    public const STEP = 0.05;

    public function __construct(public string $unit, public string $source, public float $step = self::STEP) {}
}
