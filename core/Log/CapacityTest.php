<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

use Heartwood\Core\Limits\LogLimits;

/**
 * Whether a log counts as a capacity test, what it gave, and what was missing (handbook "Test logs of cells and groups").
 * All that was drawn from one charge to the next is one discharge, however many pieces it came in; it ends where the cut-off is
 * first reached. What no cell can give is not believed, and said so.
 */
final class CapacityTest
{
    /** What is missing where the charge before it is not in the log: somebody may know. */
    private const ASKS_FULL = 'no full charge before it in this log: was it full?';

    /**
     * Whether of a log, as it was judged, it is asked if it began full.
     *
     * @param  array<string, mixed>  $capacity
     */
    public static function asksFull(array $capacity): bool
    {
        return ($capacity['asks_full'] ?? false) === true;
    }

    /**
     * The same with somebody's word that it began full. What else is missing stays missing.
     *
     * @param  array<string, mixed>  $capacity
     * @return array<string, mixed>
     */
    public static function said(array $capacity): array
    {
        $missing = is_array($capacity['missing'] ?? null) ? $capacity['missing'] : [];
        $missing = array_values(array_filter($missing, fn(mixed $m): bool => $m !== self::ASKS_FULL));

        return ['asks_full' => false, 'missing' => $missing, 'counts' => $missing === []] + $capacity;
    }

    /**
     * @param  list<array<string, mixed>>  $steps  as LogFigures has them
     * @param  list<array{at_s: float, seconds: float}>  $gaps
     * @param  \Closure(float, float): ?float  $temperature  mean degC between two times, as measured; null: not
     * @param  float  $interval  usual seconds between two rows
     * @param  float  $skipped  share of the rows that could not be read
     * @return array<string, mixed>|null null when nothing was discharged
     */
    public static function judge(
        array $steps,
        array $gaps,
        LogTerms $terms,
        \Closure $temperature,
        float $interval,
        float $skipped = 0.0,
    ): ?array {
        $best = null;
        foreach (self::discharges(self::mended($steps, $interval), $terms->ratedAh) as $d) {
            if ($best === null || $d['whole_ah'] > $best['whole_ah']) {
                $best = $d;
            }
        }
        if ($best === null) {
            return null;
        }
        ['ah' => $ah, 'wh' => $wh, 'seconds' => $seconds, 'from' => $from, 'to' => $to] = $best;
        $amps = $seconds > 0 ? ($best['whole_ah'] * 3600) / $seconds : 0.0;
        $c = $temperature($from, $to) ?? $terms->ambientC;
        $missing = [
            ...self::full($best['before'], $terms),
            ...$best['reached'] ? [] : [sprintf('the cut-off of %.2f V was not reached', $terms->cutoffV)],
            ...self::interrupted($best['pauses']),
            ...self::rate($amps, $terms->ratedAh),
            ...self::warmth($c),
        ];
        foreach ($gaps as $g) {
            if ($g['at_s'] >= $from && $g['at_s'] < $to) {
                $missing[] = 'a gap in the log during the discharge';
                break;
            }
        }
        if ($skipped > LogLimits::SKIPPED_SHARE) {
            $missing[] = sprintf('%.0f %% of its rows could not be read', 100 * $skipped);
        }
        $doubts = self::doubts($ah, $amps, $best['reached'], $terms);

        return [
            'ah' => round($ah, 5),
            'wh' => round($wh, 4),
            'amps' => round($amps, 4),
            'counts' => $missing === [] && $doubts === [],
            'believed' => $doubts === [],
            'asks_full' => $best['before'] === null && !$terms->saidFull,
            'missing' => [...$doubts, ...$missing],
            'temperature_c' => $c === null ? null : round($c, 2),
            'soh' => $terms->ratedAh > 0 ? round($ah / $terms->ratedAh, 4) : null,
            'soh_sigma' => $terms->ratedAh > 0 ? round(($terms->gainSigma * $ah) / $terms->ratedAh, 4) : null,
        ];
    }

    /**
     * A few rows that are off in the middle of a discharge are the discharge that they stand in.
     *
     * @param  list<array<string, mixed>>  $steps
     * @return list<array<string, mixed>>
     */
    private static function mended(array $steps, float $interval): array
    {
        for ($k = 1; $k + 1 < count($steps); $k++) {
            [$before, $s, $after] = [$steps[$k - 1], $steps[$k], $steps[$k + 1]];
            $lasts = self::float($s, 'to_s') - self::float($s, 'from_s');
            if (
                $before['kind'] === 'discharge' &&
                $after['kind'] === 'discharge' &&
                !isset($before['cutoff_ah']) &&
                $lasts <= LogLimits::OFF_ROWS * $interval
            ) {
                $amps = (self::float($before, 'a_mean') + self::float($after, 'a_mean')) / 2;
                $ah = ($amps * $lasts) / 3600;
                $volts = (self::float($before, 'v_end') + self::float($after, 'v_start')) / 2;
                $steps[$k] = ['kind' => 'discharge', 'ah' => $ah, 'wh' => $ah * $volts, 'cutoff_ah' => null, 'cutoff_wh' => null] + $s;
            }
        }

        return $steps;
    }

    /**
     * What was drawn between one charge and the next, up to the cut-off.
     *
     * @param  list<array<string, mixed>>  $steps
     * @return list<array{ah: float, wh: float, whole_ah: float, seconds: float, from: float, to: float, reached: bool,
     *     before: array<string, mixed>|null, pauses: list<float>}>
     */
    private static function discharges(array $steps, float $ratedAh): array
    {
        $out = [];
        $before = null;
        $at = null;
        foreach ($steps as $s) {
            if ($s['kind'] === 'charge' && ($at === null || self::float($s, 'ah') >= LogLimits::CHARGE_SHARE * $ratedAh)) {
                $before = $s;
                if ($at !== null) {
                    $out[] = $at;
                    $at = null;
                }
            }
            if ($s['kind'] !== 'discharge' || ($at !== null && $at['reached'])) {
                continue;
            }
            [$from, $to] = [self::float($s, 'from_s'), self::float($s, 'to_s')];
            $at ??= [
                'ah' => 0.0,
                'wh' => 0.0,
                'whole_ah' => 0.0,
                'seconds' => 0.0,
                'from' => $from,
                'to' => $from,
                'reached' => false,
                'before' => $before,
                'pauses' => [],
            ];
            if ($from - $at['to'] > LogLimits::PAUSE_S) {
                $at['pauses'][] = $from - $at['to'];
            }
            $at['reached'] = isset($s['cutoff_ah']);
            $at['ah'] += abs(self::float($s, $at['reached'] ? 'cutoff_ah' : 'ah'));
            $at['wh'] += abs(self::float($s, $at['reached'] ? 'cutoff_wh' : 'wh'));
            $at['whole_ah'] += abs(self::float($s, 'ah'));
            $at['seconds'] += $to - $from;
            $at['to'] = $to;
        }
        if ($at !== null) {
            $out[] = $at;
        }

        return $out;
    }

    /**
     * @param  array<string, mixed>|null  $before
     * @return list<string>
     */
    private static function full(?array $before, LogTerms $terms): array
    {
        if ($before === null) {
            return $terms->saidFull ? [] : [self::ASKS_FULL];
        }
        $short = self::float($before, 'v_end') < $terms->fullV - LogLimits::FULL_WITHIN_V * $terms->series;
        $tail = abs(self::float($before, 'a_end')) > (LogLimits::TAIL_OVER * $terms->ratedAh) / LogLimits::TAIL_H;

        return $short || $tail ? ['the charge before it did not end full, by voltage and tail current'] : [];
    }

    /**
     * @param  list<float>  $pauses  seconds of each
     * @return list<string>
     */
    private static function interrupted(array $pauses): array
    {
        return $pauses === []
            ? []
            : [
                sprintf(
                    'the discharge was interrupted %s, for %.0f min in all: in one piece it would have given less or more',
                    count($pauses) === 1 ? 'once' : count($pauses) . ' times',
                    array_sum($pauses) / 60,
                ),
            ];
    }

    /** @return list<string> */
    private static function rate(float $amps, float $ratedAh): array
    {
        $rate = $ratedAh / LogLimits::RATE_H;

        return $amps < (1 - LogLimits::RATE_SHARE) * $rate || $amps > (1 + LogLimits::RATE_SHARE) * $rate
            ? [sprintf('discharged at %.2f A, %.2f A plus or minus half wanted', $amps, $rate)]
            : [];
    }

    /** @return list<string> */
    private static function warmth(?float $c): array
    {
        return match (true) {
            $c === null => ['no temperature on record'],
            $c < LogLimits::COLDEST_C || $c > LogLimits::WARMEST_C => [
                sprintf('%.0f degC, %.0f to %.0f wanted', $c, LogLimits::COLDEST_C, LogLimits::WARMEST_C),
            ],
            default => [],
        };
    }

    /**
     * What no cell of this rating can give: then a column, its unit or the rating is wrong, and the figure is none.
     *
     * @return list<string>
     */
    private static function doubts(float $ah, float $amps, bool $reached, LogTerms $terms): array
    {
        $out = [];
        if ($ah > LogLimits::MOST_OF_RATED * $terms->ratedAh) {
            $out[] = sprintf(
                '%.4g Ah of a rating of %.4g Ah is not believed: look at the units of time and current, and at the rating',
                $ah,
                $terms->ratedAh,
            );
        }
        if ($reached && $ah < LogLimits::LEAST_OF_RATED * $terms->ratedAh) {
            $out[] = sprintf(
                '%.4g Ah of a rating of %.4g Ah is not believed: a unit, or the charge before it, is not what it seems',
                $ah,
                $terms->ratedAh,
            );
        }
        if ($amps > LogLimits::MOST_RATE * $terms->ratedAh) {
            $out[] = sprintf('%.4g A from %.4g Ah is not believed: look at the unit of the current', $amps, $terms->ratedAh);
        }

        return $out;
    }

    /** @param  array<string, mixed>  $s */
    private static function float(array $s, string $key): float
    {
        return is_numeric($s[$key] ?? null) ? (float) $s[$key] : 0.0;
    }
}
