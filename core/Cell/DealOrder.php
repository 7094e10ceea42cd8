<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Maths\Tiny;

/**
 * Which of two deals is the better one (handbook "Grading and matching"): the smallest group total first, as far as the
 * tests can tell totals apart; then equal conductance; then fewer lots in a group; then like resistances in a group.
 */
final class DealOrder
{
    /** Ah by which two group totals may differ and be alike: a tenth of what the tests leave open. */
    public static function alikeAh(Deal $deal): float
    {
        return CellLimits::ALIKE_SIGMAS * $deal->sigmaTotal();
    }

    /** Differences of conductance under the limit are none. */
    public static function spread(float $spread): float
    {
        return max($spread, CellLimits::ALIKE_CONDUCTANCE);
    }

    /**
     * The best of several: those whose smallest total is alike that of the largest, then by the rest of the order.
     *
     * @param  non-empty-list<Deal>  $deals
     */
    public static function best(array $deals): Deal
    {
        $most = $deals[0];
        foreach ($deals as $d) {
            $most = $d->least() > $most->least() ? $d : $most;
        }
        $floor = $most->least() - self::alikeAh($most) - Tiny::SLACK;
        $deals = array_values(array_filter($deals, fn(Deal $d): bool => $d->least() >= $floor));
        usort($deals, fn(Deal $a, Deal $b): int => self::rest($a) <=> self::rest($b));

        return $deals[0];
    }

    /** @return array{float, int, float, float} less is better */
    private static function rest(Deal $d): array
    {
        return [round(self::spread($d->conductanceSpread), 9), $d->lots, round($d->worstRatio, 9), -$d->least()];
    }
}
