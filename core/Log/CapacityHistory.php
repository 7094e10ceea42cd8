<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

use Heartwood\Core\Limits\LogLimits;

/**
 * What a pack, or one of its groups, gave from test to test, beside its label: the share of it, the change since the test before and
 * whether that is more than the tests' own uncertainty, and what the label should say (handbook "Test logs of cells and groups").
 */
final class CapacityHistory
{
    private const DAY_S = 86400;

    private const YEAR_D = 365.25;

    /** Ah, 1 sigma, of a capacity: by where it came from, a log or a person's hand. */
    public static function sigma(float $ah, bool $logged): float
    {
        return ($logged ? LogLimits::GAIN_SIGMA : LogLimits::TYPED_SIGMA) * $ah;
    }

    /**
     * @param  list<array{at: string, ah: float, sigma: float, counts: bool, from: string}>  $tests  ISO times; Ah and its sigma
     * @return array{
     *     label_ah: float|null,
     *     tests: list<array{at: string, ah: float, sigma: float, counts: bool, from: string, soh: float|null, soh_sigma: float|null,
     *         since: array{ah: float, sigma: float, days: float, sure: bool}|null}>,
     *     per_year_ah: float|null,
     *     should_say_ah: float|null,
     *     said: list<string>
     * } by time
     */
    public static function of(array $tests, ?float $labelAh): array
    {
        usort($tests, fn(array $a, array $b): int => strtotime($a['at']) <=> strtotime($b['at']));
        $rows = [];
        $before = $first = null;
        $said = [];
        foreach ($tests as $t) {
            $since = null;
            if ($t['counts'] && $before !== null) {
                $sigma = hypot($t['sigma'], $before['sigma']);
                $since = [
                    'ah' => round($t['ah'] - $before['ah'], 4),
                    'sigma' => round($sigma, 4),
                    'days' => round((strtotime($t['at']) - strtotime($before['at'])) / self::DAY_S, 1),
                    'sure' => abs($t['ah'] - $before['ah']) > LogLimits::CHANGE_SIGMAS * $sigma,
                ];
            }
            $rows[] = $t + [
                'soh' => $labelAh === null ? null : round($t['ah'] / $labelAh, 4),
                'soh_sigma' => $labelAh === null ? null : round($t['sigma'] / $labelAh, 4),
                'since' => $since,
            ];
            if ($t['counts']) {
                $first ??= $t;
                $before = $t;
            }
        }
        $perYear = $should = null;
        if ($before !== null) {
            $should = self::printed($before['ah'] - LogLimits::CHANGE_SIGMAS * $before['sigma']);
            if ($labelAh !== null) {
                $said[] = sprintf(
                    '%.0f %% of the %.4g Ah on its label, plus or minus %.1f; the label should say %.4g Ah.',
                    (100 * $before['ah']) / $labelAh,
                    $labelAh,
                    (100 * LogLimits::CHANGE_SIGMAS * $before['sigma']) / $labelAh,
                    $should,
                );
            }
            $last = $rows[(int) array_key_last(array_filter($rows, fn(array $r): bool => $r['counts']))]['since'];
            $days = $first === null ? 0.0 : (strtotime($before['at']) - strtotime($first['at'])) / self::DAY_S;
            if ($last !== null && $first !== null) {
                $perYear = $days >= LogLimits::TREND_DAYS ? round((($before['ah'] - $first['ah']) / $days) * self::YEAR_D, 3) : null;
                $said[] = $last['sure']
                    ? sprintf(
                        '%+.2f Ah since the test before%s.',
                        $last['ah'],
                        $perYear === null ? '' : sprintf(', %+.2f Ah a year', $perYear),
                    )
                    : sprintf('%+.2f Ah since the test before: no more than two tests differ by themselves.', $last['ah']);
            }
        }

        return ['label_ah' => $labelAh, 'tests' => $rows, 'per_year_ah' => $perYear, 'should_say_ah' => $should, 'said' => $said];
    }

    /** As a label prints it: rounded down to two or three figures, never up. */
    private static function printed(float $ah): float
    {
        $step = $ah >= 10.0 ? 1.0 : 0.1;

        return max(0.0, floor($ah / $step + 1e-9) * $step);
    }
}
