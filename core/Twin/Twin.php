<?php

declare(strict_types=1);

namespace Heartwood\Core\Twin;

use Heartwood\Core\Pack\RestCurve;

/**
 * Runs a pack through time: rest voltage by charge, resistance, one RC pair a group (exact exponential update), leak,
 * bleed, a board that cuts with delay, a CC-CV charger, a load of constant current or power (handbook "The usable
 * window"). Deterministic. Floats and arrays inside the loop, objects only at its edge.
 */
final class Twin
{
    /** Points of the rest curve that the loop interpolates between. */
    private const TABLE = 1000;

    /** How steeply the rest voltage falls past empty and rises past full, volts per unit of charge. */
    public const BELOW_V = 20.0;

    public const ABOVE_V = 6.0;

    /** Points of a series that are kept, at most. */
    private const KEPT = 400;

    /** @var array<string, list<float>> */
    private static array $tables = [];

    /**
     * @param  float  $dt  seconds a step, 1 to 10
     * @param  list<float>|null  $slowV  what the RC pairs hold from the step before
     */
    public static function run(TwinPack $pack, Step $step, float $dt = 5.0, ?array $slowV = null): Run
    {
        $table = self::table($pack->curve);
        $n = $pack->series();
        $soc = $pack->charge;
        $r0 = $pack->ohm;
        $r1 = $pack->slowOhm;
        $leak = $pack->leakA;
        $v1 = $slowV ?? array_fill(0, $n, 0.0);
        $perAmp = [];
        foreach ($pack->capacityAh as $c) {
            $perAmp[] = $dt / 3600 / $c;
        }
        $board = $pack->board;
        $decay = exp(-$dt / TwinPack::TAU_S);
        $gain = 1 - $decay;
        $charging = $step->mode === 'charge';
        $resting = $step->mode === 'rest';
        $cv = $step->volts;
        $taper = max($step->taperA, 1e-4);
        $bleed = $charging || $resting ? $board->bleedA : 0.0;
        $steps = max(1, (int) ceil(($step->maxHours * 3600) / $dt));
        $every = 1;
        $group = null;
        $ended = 'time';
        $ah = $wh = $bled = $leaked = $over = 0.0;
        $time = $packV = $amps = [];
        $series = array_fill(0, $n, []);
        $kept = 0;
        $last = count($table) - 1;
        $current = 0.0;
        $sumR = array_sum($r0);
        $below = self::BELOW_V;
        $above = self::ABOVE_V;

        for ($i = 0; $i < $steps; $i++) {
            // Rest voltage and slow part of every group, and the pack without the fast drop.
            $open = 0.0;
            $e = [];
            for ($k = 0; $k < $n; $k++) {
                $x = $soc[$k] * $last;
                if ($x <= 0.0) {
                    $v = $table[0] + $soc[$k] * $below;
                } elseif ($x >= $last) {
                    $v = $table[$last] + ($soc[$k] - 1.0) * $above;
                } else {
                    $j = (int) $x;
                    $v = $table[$j] + ($table[$j + 1] - $table[$j]) * ($x - $j);
                }
                $v += $v1[$k];
                $e[$k] = $v;
                $open += $v;
            }
            if ($resting) {
                $current = 0.0;
            } elseif ($charging) {
                $current = max(0.0, min($step->amps, ($cv - $open) / max(1e-6, $sumR)));
            } elseif ($step->watts > 0.0) {
                $root = $open * $open - 4 * $sumR * $step->watts;
                $current = -($root <= 0.0 ? $open / (2 * $sumR) : ($open - sqrt($root)) / (2 * $sumR));
                if ($step->amps > 0.0 && -$current > $step->amps) {
                    $current = -$step->amps;
                }
            } else {
                $current = -$step->amps;
            }
            $terminal = $open + $current * $sumR;
            $low = INF;
            $high = -INF;
            $lowAt = $highAt = 0;
            for ($k = 0; $k < $n; $k++) {
                $v = $e[$k] + $current * $r0[$k];
                $e[$k] = $v;
                if ($v < $low) {
                    $low = $v;
                    $lowAt = $k;
                }
                if ($v > $high) {
                    $high = $v;
                    $highAt = $k;
                }
            }
            if ($i % $every === 0) {
                $time[] = $i * $dt;
                $packV[] = $terminal;
                $amps[] = $current;
                for ($k = 0; $k < $n; $k++) {
                    $series[$k][] = $e[$k];
                }
                if (++$kept >= 2 * self::KEPT) {
                    // Twice as coarse from here on: a series never grows past what a screen can show.
                    $every *= 2;
                    $kept = self::KEPT;
                    $time = self::halved($time);
                    $packV = self::halved($packV);
                    $amps = self::halved($amps);
                    $series = array_map(self::halved(...), $series);
                }
            }
            if ($charging) {
                if ($high >= $board->highV) {
                    $over += $dt;
                    if ($over > $board->delayS) {
                        $ended = 'group-full';
                        $group = $highAt + 1;
                        break;
                    }
                } else {
                    $over = 0.0;
                }
                if ($current <= $taper && $open >= $cv - $taper * $sumR - 0.02 * $n) {
                    $ended = 'taper';
                    break;
                }
            } elseif (!$resting) {
                if ($low <= $board->lowV) {
                    $over += $dt;
                    if ($over > $board->delayS) {
                        $ended = 'group-empty';
                        $group = $lowAt + 1;
                        break;
                    }
                } else {
                    $over = 0.0;
                }
                if ($cv > 0.0 && $terminal <= $cv) {
                    $ended = 'load-cutoff';
                    break;
                }
            }
            for ($k = 0; $k < $n; $k++) {
                $into = $current - $leak[$k];
                if ($bleed > 0.0 && $e[$k] > $board->bleedFromV) {
                    $into -= $bleed;
                    $bled += $bleed;
                }
                $leaked += $leak[$k];
                $soc[$k] += $into * $perAmp[$k];
                $v1[$k] = $v1[$k] * $decay + $current * $r1[$k] * $gain;
            }
            $ah += $current;
            $wh += $current * $terminal;
        }
        $hours = $dt / 3600;

        return new Run(
            $step->mode,
            $ended,
            $group,
            abs($ah) * $hours,
            abs($wh) * $hours,
            $i * $dt,
            array_values($soc),
            array_values($v1),
            $time,
            $packV,
            $amps,
            $series,
            $bled * $hours,
            $leaked * $hours,
        );
    }

    /**
     * @param  list<float>  $values
     * @return list<float> every other one, the first kept
     */
    private static function halved(array $values): array
    {
        $out = [];
        foreach ($values as $i => $v) {
            if ($i % 2 === 0) {
                $out[] = $v;
            }
        }

        return $out;
    }

    /**
     * Volts at rest for any charge, past empty and past full too.
     *
     * @param  non-empty-list<float>  $table  as from `table()`
     */
    public static function volts(array $table, float $soc): float
    {
        $last = count($table) - 1;
        $x = $soc * $last;
        if ($x <= 0.0) {
            return $table[0] + $soc * self::BELOW_V;
        }
        if ($x >= $last) {
            return $table[$last] + ($soc - 1.0) * self::ABOVE_V;
        }
        $j = (int) $x;

        return $table[$j] + ($table[$j + 1] - $table[$j]) * ($x - $j);
    }

    /** @return non-empty-list<float> volts at evenly spaced charge 0..1 */
    public static function table(RestCurve $curve): array
    {
        $key = sprintf('%.4f/%.4f/%.4f', $curve->emptyV(), $curve->volts(0.5), $curve->topV());
        if (!isset(self::$tables[$key])) {
            $table = [];
            for ($i = 0; $i <= self::TABLE; $i++) {
                $table[] = $curve->volts($i / self::TABLE);
            }
            self::$tables[$key] = $table;
        }
        /** @var non-empty-list<float> $table */
        $table = self::$tables[$key];

        return $table;
    }
}
