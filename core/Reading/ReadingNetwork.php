<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Maths\PositiveMatrix;
use Heartwood\Core\Maths\Robust;

/**
 * Weighted least squares over the differences that a meter read between taps, with one shared gain per meter range
 * and Baarda's data snooping (handbook "Readings as a network"; W. Baarda, A testing procedure for use in geodetic
 * networks, 1968). Taps are nodes; tap 0 is 0 V; islands of readings that do not reach tap 0 are solved by themselves.
 */
final class ReadingNetwork
{
    /** Readings whose residual is less than this share under the largest are weighed by plausibility (assumed). */
    private const WEIGHED = 0.4;

    /** How far over its full voltage a group may read while a set is not at rest, volts (assumed). */
    public const ABOVE_FULL_V = 0.3;

    /**
     * @param  list<NetworkReading>  $readings  any pairs of taps 0..$series
     * @param  float  $fullV  full voltage per cell, for what a group cannot read
     */
    public static function solve(array $readings, int $series, float $fullV): NetworkSolution
    {
        $suspicions = [];
        $kept = $readings;
        $fit = self::fit($kept, $series);
        for ($round = 0; $round < 3 + intdiv(count($readings), 8); $round++) {
            $suspects = $fit->suspects(VerdictLimits::RESIDUAL_SIGMAS, VerdictLimits::RESIDUAL_MARGIN);
            if ($suspects === []) {
                break;
            }
            // A long reading shows a misfit a little larger than the short ones that may have caused it: all are weighed.
            $odd =
                self::oddOne(
                    $fit,
                    $kept,
                    $fit->suspects(VerdictLimits::RESIDUAL_SIGMAS, VerdictLimits::RESIDUAL_MARGIN, self::WEIGHED),
                    $series,
                    $fullV,
                ) ?? (count($suspects) > 1 ? null : $suspects[0]);
            if ($odd === null) {
                $suspicions[] = self::tie($fit, $kept, $suspects, $series);
                break;
            }
            $bad = $kept[$odd];
            unset($kept[$odd]);
            $kept = array_values($kept);
            $fit = self::fit($kept, $series);
            $expected = $fit->difference($bad->from, $bad->to);
            $suspicions[] = new Suspicion(
                'closure',
                [$bad],
                sprintf('%s reads %.3f V where the other readings need %.3f V: repeat it.', $bad->name(), $bad->volts, $expected ?? 0.0),
                ['from' => $bad->from, 'to' => $bad->to],
                0.97,
                tap: $bad->from === 0 ? $bad->to : null,
            );
        }
        $doubtful = $suspicions === [] ? self::doubtful($fit, $kept, $series, $fullV) : null;
        $groups = self::groups($fit, $kept, $series);
        if ($doubtful !== null) {
            $suspicions[] = $doubtful;
            $groups = array_map(
                fn(GroupVoltage $g): GroupVoltage => $g->group === $doubtful->groups[0]
                    ? $g->doubted($doubtful->text, $doubtful->probability)
                    : $g,
                $groups,
            );
        }
        foreach ($suspicions as $s) {
            if ($s->kind === 'closure-tie') {
                $groups = self::blur($groups, $fit, $kept, $s);
            }
        }
        foreach (RunCheck::examine($kept, $groups, $fullV, $fit->checked()) as $s) {
            $suspicions[] = $s;
            foreach ($s->groups as $k) {
                $groups[$k - 1] = $groups[$k - 1]->doubted($s->text, $s->probability);
            }
        }
        [$packV, $packSigma] = [$fit->difference(0, $series), $fit->sigma(0, $series)];

        return new NetworkSolution(
            array_values($groups),
            $suspicions,
            max(0, count($kept) - $fit->rank),
            $packV,
            $packSigma,
            self::spans($fit, $kept, $series),
        );
    }

    /** Sigmas of misfit, too few to call a reading off by itself, at which one that stands out alone is read again (assumed). */
    private const DOUBTFUL = 2.5;

    /** How probably it slipped then (assumed). */
    private const SLIPPED = 0.85;

    /**
     * A long reading that does not quite fit, and one group that stands out by just what it lacks: either alone is
     * chance, both together are rather a slip. The group is kept and doubted.
     *
     * @param  list<NetworkReading>  $kept
     */
    private static function doubtful(NetworkFit $fit, array $kept, int $series, float $fullV): ?Suspicion
    {
        $suspects = $fit->suspects(self::DOUBTFUL, VerdictLimits::RESIDUAL_MARGIN, self::WEIGHED);
        $odd = $suspects === [] ? null : self::oddOne($fit, $kept, $suspects, $series, $fullV);
        if ($odd === null || abs($kept[$odd]->to - $kept[$odd]->from) !== 1) {
            return null;
        }
        $r = $kept[$odd];
        $group = max($r->from, $r->to);

        return new Suspicion(
            'closure',
            [$r],
            sprintf('Group %d stands out by just what the long readings lack: read %s again before it is believed.', $group, $r->name()),
            ['from' => $r->from, 'to' => $r->to],
            self::SLIPPED,
            [$group],
        );
    }

    /** How much likelier one reading of a tie must be than the next to be named alone: 20 to 1 (assumed). */
    private const ODD_ONE = 20.0;

    /** Chance that a group of a pack strays from its fellows, and how far then, volts (assumed). */
    private const STRAYS = 0.05;

    private const STRAYS_V = 5.0;

    /**
     * A tie is weighed by plausibility: the reading without which all groups lie with their fellows is the one that is
     * off; a fault of a group that closes by chance with a slip elsewhere is not believed (handbook "Readings as a
     * network").
     *
     * @param  list<NetworkReading>  $kept
     * @param  list<int>  $suspects
     */
    private static function oddOne(NetworkFit $fit, array $kept, array $suspects, int $series, float $fullV): ?int
    {
        $likely = [];
        foreach ($suspects as $i) {
            $without = $fit->without($i);
            $volts = [];
            for ($k = 1; $k <= $series; $k++) {
                $v = $without->difference($k - 1, $k);
                if ($v !== null) {
                    $volts[$k] = $v;
                }
            }
            if (count($volts) < 3) {
                return null;
            }
            $middle = Robust::median(array_values($volts));
            $sigma = Robust::spread(array_values($volts), 0.005) + $kept[$i]->sigmaV;
            $log = 0.0;
            foreach ($volts as $k => $v) {
                // A group that only the long reading tells is known no better than that.
                $own = $kept[$i]->isAcross($k) ? hypot(1.5 * $sigma, $fit->predictedSigma($i)) : 1.5 * $sigma;
                $log += log(
                    (1 - self::STRAYS) * Normal::density($v, $middle, $own) + ($v > 1.25 * $fullV ? 1e-6 : self::STRAYS / self::STRAYS_V),
                );
            }
            $likely[$i] = $log;
        }
        if (count($likely) < 2) {
            return null;
        }
        arsort($likely);
        $order = array_keys($likely);

        return log(self::ODD_ONE) <= $likely[$order[0]] - $likely[$order[1]] ? $order[0] : null;
    }

    /** @param  list<NetworkReading>  $readings */
    private static function fit(array $readings, int $series): NetworkFit
    {
        $island = range(0, $series);
        $find = function (int $t) use (&$island): int {
            while ($island[$t] !== $t) {
                $t = $island[$t];
            }

            return $t;
        };
        foreach ($readings as $r) {
            $a = $find($r->from);
            $b = $find($r->to);
            $island[max($a, $b)] = min($a, $b);
        }
        $column = [];
        $roots = [];
        $touched = [];
        foreach ($readings as $r) {
            $touched[$r->from] = $touched[$r->to] = true;
        }
        for ($t = 0; $t <= $series; $t++) {
            $roots[$t] = $find($t);
            if ($roots[$t] !== $t && isset($touched[$t])) {
                $column[$t] = count($column);
            }
        }
        $rank = count($column);
        $ranges = [];
        foreach ($readings as $r) {
            $ranges[$r->range] ??= ['column' => $rank + count($ranges), 'sigma' => $r->gainSigma];
        }
        $n = $rank + count($ranges);
        if ($n === 0) {
            return new NetworkFit([], [], [], $roots, [], $readings, 0);
        }
        $matrix = array_fill(0, $n, array_fill(0, $n, 0.0));
        $right = array_fill(0, $n, 0.0);
        $rows = [];
        foreach ($readings as $i => $r) {
            $row = [];
            if (isset($column[$r->to])) {
                $row[$column[$r->to]] = 1.0;
            }
            if (isset($column[$r->from])) {
                $row[$column[$r->from]] = -1.0;
            }
            $row[$ranges[$r->range]['column']] = $r->volts;
            $rows[$i] = $row;
            $w = 1.0 / ($r->sigmaV * $r->sigmaV);
            foreach ($row as $p => $x) {
                $right[$p] += $w * $x * $r->volts;
                foreach ($row as $q => $y) {
                    $matrix[$p][$q] += $w * $x * $y;
                }
            }
        }
        foreach ($ranges as $range) {
            $matrix[$range['column']][$range['column']] += 1.0 / ($range['sigma'] * $range['sigma']);
        }
        $inverse = PositiveMatrix::inverse($matrix);
        $solution = [];
        for ($p = 0; $p < $n; $p++) {
            $sum = 0.0;
            foreach ($inverse[$p] as $q => $x) {
                $sum += $x * $right[$q];
            }
            $solution[$p] = $sum;
        }

        return new NetworkFit(array_values($solution), $inverse, $column, $roots, $rows, $readings, $rank);
    }

    /**
     * Half and block readings: neighbouring taps that were read with groups between them that were not.
     *
     * @param  list<NetworkReading>  $kept
     * @return list<array{from: int, to: int, volts: float, sigma: float}>
     */
    private static function spans(NetworkFit $fit, array $kept, int $series): array
    {
        $touched = [];
        foreach ($kept as $r) {
            $touched[$r->from] = $touched[$r->to] = true;
        }
        $out = [];
        $last = null;
        for ($t = 0; $t <= $series; $t++) {
            if (!isset($touched[$t])) {
                continue;
            }
            if ($last !== null && $t - $last > 1 && ($v = $fit->difference($last, $t)) !== null) {
                $out[] = ['from' => $last, 'to' => $t, 'volts' => $v, 'sigma' => (float) $fit->sigma($last, $t)];
            }
            $last = $t;
        }

        return $out;
    }

    /**
     * @param  list<NetworkReading>  $kept
     * @return list<GroupVoltage>
     */
    private static function groups(NetworkFit $fit, array $kept, int $series): array
    {
        $across = [];
        foreach ($kept as $r) {
            if (abs($r->from - $r->to) === 1) {
                $across[max($r->from, $r->to)] = true;
            }
        }
        $groups = [];
        for ($k = 1; $k <= $series; $k++) {
            $groups[] = new GroupVoltage(
                $k,
                $fit->difference($k - 1, $k),
                $fit->sigma($k - 1, $k),
                isset($across[$k]),
                $fit->ownSigma($k - 1, $k) ?? 0.001,
            );
        }

        return $groups;
    }

    /**
     * Several readings would each explain the misfit. Names them all and looks for the one extra reading whose
     * value, predicted under each of them, splits them best.
     *
     * @param  list<NetworkReading>  $kept
     * @param  non-empty-list<int>  $suspects
     */
    private static function tie(NetworkFit $fit, array $kept, array $suspects, int $series): Suspicion
    {
        $best = null;
        $bestScore = [-1.0, 0, 0];
        $pairs = [];
        for ($k = 1; $k <= $series; $k++) {
            $pairs[] = [$k - 1, $k];
            $pairs[] = [0, $k];
            $pairs[] = [$k - 1, $series];
        }
        foreach ($suspects as $i) {
            $pairs[] = [$kept[$i]->from, $kept[$i]->to];
        }
        foreach ($pairs as [$from, $to]) {
            $values = [];
            foreach ($suspects as $i) {
                $d = $fit->without($i)->difference($from, $to);
                if ($d === null) {
                    continue 2;
                }
                $values[] = $d;
            }
            $known = array_filter($kept, fn(NetworkReading $r): bool => $r->from === $from && $r->to === $to) !== [];
            $score = [round(self::split($values), 4), $known ? 0 : 1, -abs($to - $from)];
            if ($score > $bestScore) {
                $bestScore = $score;
                $best = ['from' => $from, 'to' => $to];
            }
        }
        $names = array_map(fn(int $i): string => $kept[$i]->name(), $suspects);
        $text =
            count($names) > 6
                ? sprintf('One of %d readings in this loop is off (%s, ...).', count($names), implode('; ', array_slice($names, 0, 3)))
                : sprintf('One of these is off, and they cannot be told apart: %s.', implode('; ', $names));

        return new Suspicion('closure-tie', array_map(fn(int $i): NetworkReading => $kept[$i], $suspects), $text, $best, 0.97);
    }

    /**
     * Entropy in bits of a set of predictions that are told apart from 20 mV on.
     *
     * @param  list<float>  $values
     */
    private static function split(array $values): float
    {
        sort($values);
        $sizes = [];
        $last = null;
        foreach ($values as $v) {
            if ($last === null || $v - $last > 0.02) {
                $sizes[] = 0;
            }
            $sizes[count($sizes) - 1]++;
            $last = $v;
        }
        $bits = 0.0;
        foreach ($sizes as $size) {
            $p = $size / count($values);
            $bits -= $p * log($p, 2);
        }

        return $bits;
    }

    /**
     * While a tie is open each group's voltage is a mixture over the readings that may be wrong.
     *
     * @param  list<GroupVoltage>  $groups
     * @param  list<NetworkReading>  $kept
     * @return list<GroupVoltage>
     */
    private static function blur(array $groups, NetworkFit $fit, array $kept, Suspicion $tie): array
    {
        $fits = [];
        foreach ($kept as $i => $r) {
            if (in_array($r, $tie->readings, true)) {
                $fits[] = $fit->without($i);
            }
        }
        $out = [];
        foreach ($groups as $g) {
            $values = [];
            foreach ($fits as $f) {
                if (($d = $f->difference($g->group - 1, $g->group)) !== null) {
                    $values[] = $d;
                }
            }
            if ($values === [] || $g->sigmaV === null) {
                $out[] = $g;

                continue;
            }
            $mean = array_sum($values) / count($values);
            $between = sqrt(array_sum(array_map(fn(float $v): float => ($v - $mean) ** 2, $values)) / count($values));
            $blurred = $g->withSigma($mean, hypot($g->sigmaV, $between));
            $out[] = $between > 0.02 ? $blurred->doubted($tie->text, 0.5) : $blurred;
        }

        return $out;
    }
}
