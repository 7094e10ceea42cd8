<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Robust;

/**
 * Readings under current are not simultaneous: while the probe walks up the pack every group sinks (or rises) alike.
 * One linear term a set, in volts a second per group, found before closure and before resistance (handbook "Readings
 * as a network"): from a pair that was read twice, else from how the groups' changes lie over time (Theil and Sen's
 * slope, which a third of odd groups cannot move).
 */
final class Drift
{
    /** A pair read twice tells the drift from this many seconds on. */
    private const APART_S = 20.0;

    /** Groups that a slope over time needs. */
    private const GROUPS = 6;

    /** A drift that moves less than this over the whole set is none, volts. */
    private const LEAST_V = 0.002;

    /**
     * @param  list<NetworkReading>  $readings  in the order they were taken
     * @param  list<float|null>  $seconds  when each was taken; null where nobody wrote it
     * @param  array<int, float>  $rest  volts at rest by group, as far as known
     * @return float volts a second per group; 0 where nothing tells
     */
    public static function of(array $readings, array $seconds, array $rest): float
    {
        $first = $slopes = $points = [];
        $span = 0.0;
        foreach ($readings as $i => $r) {
            $t = $seconds[$i] ?? $i * VerdictLimits::READING_EVERY_S;
            $span = max($span, $t);
            $pair = "{$r->from}/{$r->to}";
            $width = abs($r->to - $r->from);
            if (isset($first[$pair])) {
                if ($t - $first[$pair][0] >= self::APART_S) {
                    $slopes[] = (($r->volts - $first[$pair][1]) / ($t - $first[$pair][0]) / max(1, $width)) * ($r->to > $r->from ? 1 : -1);
                }
            } else {
                $first[$pair] = [$t, $r->volts];
            }
            $k = max($r->from, $r->to);
            if ($width === 1 && isset($rest[$k])) {
                $points[] = [$t, ($r->to > $r->from ? 1 : -1) * $r->volts - $rest[$k]];
            }
        }
        if ($slopes === [] && count($points) >= self::GROUPS && array_filter($seconds, fn(?float $s): bool => $s !== null) !== []) {
            foreach ($points as $i => [$t, $d]) {
                foreach (array_slice($points, $i + 1) as [$later, $e]) {
                    if ($later > $t) {
                        $slopes[] = ($e - $d) / ($later - $t);
                    }
                }
            }
        }
        $drift = $slopes === [] ? 0.0 : Robust::median($slopes);

        return abs($drift) * $span < self::LEAST_V ? 0.0 : $drift;
    }

    /**
     * The readings as they would have been at the set's first moment.
     *
     * @param  list<NetworkReading>  $readings
     * @param  list<float|null>  $seconds
     * @return list<NetworkReading>
     */
    public static function without(float $drift, array $readings, array $seconds): array
    {
        return $drift === 0.0
            ? $readings
            : array_map(
                fn(NetworkReading $r, int $i): NetworkReading => $r->at(
                    $r->volts - $drift * ($r->to - $r->from) * ($seconds[$i] ?? $i * VerdictLimits::READING_EVERY_S),
                ),
                $readings,
                array_keys($readings),
            );
    }
}
