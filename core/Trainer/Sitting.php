<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Limits\TrainerLimits;

/** A sitting of training: it has an end, and what was begun before that is played on. */
final class Sitting
{
    /** @return float when one that began then ends, seconds of the same clock */
    public static function ends(float $began): float
    {
        return $began + 60 * TrainerLimits::SESSION_MIN;
    }

    /** Whether a round that is begun now belongs to it. */
    public static function goesOn(float $began, float $now): bool
    {
        return $now < self::ends($began);
    }
}
