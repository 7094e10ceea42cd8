<?php

declare(strict_types=1);

namespace Heartwood\Core\Money;

use Heartwood\Core\Limits\WorkLimits;
use Heartwood\Core\Maths\Robust;

/** What work takes in this shop: its own median in the place of the handbook's minutes, from the fifth time on. */
final class ShopMinutes
{
    /**
     * Minutes of one job's work by part of its plan, for one place each: what nobody timed says nothing.
     *
     * @param  list<array{action: string, state: string, minutes: float|null}>  $steps  of all parts
     * @param  array<string, int>  $places  how many each part is about
     * @return array<string, float>
     */
    public static function ofWork(array $steps, array $places): array
    {
        $out = [];
        foreach ($places as $action => $n) {
            $mine = array_filter($steps, fn(array $s): bool => $s['action'] === $action);
            $timed = array_filter($mine, fn(array $s): bool => $s['minutes'] !== null);
            $open = array_filter($mine, fn(array $s): bool => $s['state'] === 'open');
            // Half of its steps timed, and none left open: else it is no measure of the whole.
            if ($timed !== [] && $open === [] && 2 * count($timed) >= count($mine)) {
                $out[$action] = array_sum(array_column($timed, 'minutes')) / max(1, $n);
            }
        }

        return $out;
    }

    /**
     * @param  list<float>  $minutes  of a place, once a job
     * @return int|null minutes for one place; null while they are too few
     */
    public static function usual(array $minutes): ?int
    {
        return count($minutes) < WorkLimits::OWN_FROM ? null : (int) round(Robust::median($minutes));
    }
}
