<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/** Whether a log counts as a capacity test, what it gave, and what was missing (handbook "Test logs of cells and groups"). */
final class CapacityTest
{
    /**
     * @param  list<array<string, mixed>>  $steps  as LogFigures has them
     * @param  list<array{at_s: float, seconds: float}>  $gaps
     * @return array<string, mixed>|null null when nothing was discharged
     */
    public static function judge(array $steps, array $gaps, LogTerms $terms, ?float $temperatureC): ?array
    {
        // Neighbouring discharge steps are one discharge: a load that steps its current has not begun anew.
        $best = null;
        $run = [];
        foreach ([...$steps, ['kind' => 'end']] as $k => $s) {
            if ($s['kind'] === 'discharge') {
                $run[] = $k;

                continue;
            }
            if ($run !== [] && ($best === null || self::sum($steps, $run) < self::sum($steps, $best))) {
                $best = $run;
            }
            $run = [];
        }
        if ($best === null) {
            return null;
        }
        $missing = [];
        $ah = $wh = $seconds = 0.0;
        $reached = false;
        foreach ($best as $k) {
            $s = $steps[$k];
            $cut = self::float($s['cutoff_ah']);
            $ah += $cut ?? (self::float($s['ah']) ?? 0.0);
            $wh += self::float($s['cutoff_wh']) ?? (self::float($s['wh']) ?? 0.0);
            $seconds += (self::float($s['to_s']) ?? 0.0) - (self::float($s['from_s']) ?? 0.0);
            if ($cut !== null) {
                $reached = true;
                break;
            }
        }
        $ah = abs($ah);
        $wh = abs($wh);
        $amps = $seconds > 0 ? (abs(self::sum($steps, $best)) * 3600) / $seconds : 0.0;
        $before = null;
        for ($k = $best[0] - 1; $k >= 0; $k--) {
            if ($steps[$k]['kind'] === 'charge') {
                $before = $steps[$k];
                break;
            }
        }
        if ($before === null) {
            $missing[] = 'no full charge before it';
        } elseif (
            (self::float($before['v_end']) ?? 0.0) < $terms->fullV - 0.02 * max(1.0, round($terms->fullV / 4.2)) ||
            abs(self::float($before['a_end']) ?? 0.0) > (1.05 * $terms->ratedAh) / 20
        ) {
            $missing[] = 'the charge before it did not end full, by voltage and tail current';
        }
        if (!$reached) {
            $missing[] = sprintf('the cut-off of %.2f V was not reached', $terms->cutoffV);
        }
        $rate = $terms->ratedAh / 5;
        if ($amps < 0.5 * $rate || $amps > 1.5 * $rate) {
            $missing[] = sprintf('discharged at %.2f A, %.2f A plus or minus half wanted', $amps, $rate);
        }
        if ($temperatureC === null) {
            $missing[] = 'no temperature on record';
        } elseif ($temperatureC < 15 || $temperatureC > 30) {
            $missing[] = sprintf('%.0f degC, 15 to 30 wanted', $temperatureC);
        }
        $from = self::float($steps[$best[0]]['from_s']) ?? 0.0;
        $to = self::float($steps[$best[count($best) - 1]]['to_s']) ?? 0.0;
        foreach ($gaps as $g) {
            if ($g['at_s'] >= $from && $g['at_s'] < $to) {
                $missing[] = 'a gap in the log during the discharge';
                break;
            }
        }

        return [
            'ah' => round($ah, 5),
            'wh' => round($wh, 4),
            'amps' => round($amps, 4),
            'counts' => $missing === [],
            'missing' => $missing,
            'soh' => $terms->ratedAh > 0 ? round($ah / $terms->ratedAh, 4) : null,
            'soh_sigma' => $terms->ratedAh > 0 ? round(($terms->gainSigma * $ah) / $terms->ratedAh, 4) : null,
        ];
    }

    /**
     * @param  list<array<string, mixed>>  $steps
     * @param  list<int>  $run
     */
    private static function sum(array $steps, array $run): float
    {
        return array_sum(array_map(fn(int $k): float => self::float($steps[$k]['ah']) ?? 0.0, $run));
    }

    private static function float(mixed $x): ?float
    {
        return is_numeric($x) ? (float) $x : null;
    }
}
