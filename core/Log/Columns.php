<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/** Which column holds what in which unit: by its name, by its unit, at last by its numbers. */
final class Columns
{
    /** Words by which columns are known, without their units; the earlier, the surer. */
    private const WORDS = [
        'time' => [
            'test time',
            'total time',
            'total test time',
            'elapsed time',
            'elapsed',
            'run time',
            'running time',
            'time',
            'zeit',
            'temps',
            'duration',
            'timestamp',
            'timestamp ms',
            'date time',
            'datetime',
            'datum uhrzeit',
            't',
            'seconds',
            'sec',
            'date',
            'datum',
            'step time',
        ],
        'voltage' => [
            'voltage',
            'cell voltage',
            'battery voltage',
            'pack voltage',
            'spannung',
            'tension',
            'volts',
            'volt',
            'u',
            'v',
            'cell v',
            'vbat',
        ],
        'current' => ['current', 'cell current', 'battery current', 'pack current', 'strom', 'courant', 'amps', 'amp', 'ampere', 'i', 'a'],
        'temperature' => ['temperature', 'cell temperature', 'ambient temperature', 'surface temperature', 'temp', 'temperatur', 't'],
        'step' => ['step', 'step type', 'step name', 'state', 'mode', 'step index', 'step id', 'step count', 'schritt'],
        'cycle' => ['cycle', 'cycle index', 'cycle count', 'cycle id', 'zyklus'],
    ];

    /** A name that holds one of these speaks of the role, unless it says that it is something else about it. */
    private const STEMS = ['time' => '/time|zeit/u', 'voltage' => '/volt|spannung/u', 'current' => '/curr|strom|amp/u'];

    private const ABOUT = '/limit|max|min|set|average|mean|cut|end|ocv|power|energy|capacity|charge|resist/u';

    /** A name that speaks of current flowing in, and one of it flowing out. */
    private const INWARD = '/charg|lade|lad|chg|carga|carica|laad/u';

    private const OUTWARD = '/dis|dch|dsg|entl|d[ée]ch|descarga|scarica|ontla/u';

    /** Units of what is none of the roles: such a column is never taken by its numbers. */
    private const FOREIGN = ['w', 'mw', 'wh', 'mwh', 'ah', 'mah', 'ohm', 'mohm', '%', 'hz'];

    /** Units of warmth, and the letter of each. */
    private const WARM = [
        'c' => 'C',
        '°c' => 'C',
        'degc' => 'C',
        'deg c' => 'C',
        'celsius' => 'C',
        'f' => 'F',
        '°f' => 'F',
        'degf' => 'F',
        'k' => 'K',
    ];

    private const TIMES = [
        's' => 1.0,
        'sec' => 1.0,
        'secs' => 1.0,
        'second' => 1.0,
        'seconds' => 1.0,
        'sek' => 1.0,
        'ms' => 1e-3,
        'msec' => 1e-3,
        'us' => 1e-6,
        'µs' => 1e-6,
        'min' => 60.0,
        'mins' => 60.0,
        'minute' => 60.0,
        'minutes' => 60.0,
        'h' => 3600.0,
        'hr' => 3600.0,
        'hrs' => 3600.0,
        'hour' => 3600.0,
        'hours' => 3600.0,
        'd' => 86400.0,
        'day' => 86400.0,
        'days' => 86400.0,
    ];

    private const VOLTS = ['v' => 1.0, 'volt' => 1.0, 'volts' => 1.0, 'mv' => 1e-3, 'uv' => 1e-6, 'µv' => 1e-6];

    private const AMPS = ['a' => 1.0, 'amp' => 1.0, 'amps' => 1.0, 'ampere' => 1.0, 'ma' => 1e-3, 'ua' => 1e-6, 'µa' => 1e-6];

    private const OF = ['time' => self::TIMES, 'voltage' => self::VOLTS, 'current' => self::AMPS, 'outward' => self::AMPS];

    /** Rank of a name that only holds a word of the role. */
    private const UNSURE = 50;

    /** Volts and millivolts between which a column without a name may be those of anything. */
    private const ANY_V = [0.3, 100.0];

    private const ANY_MV = [500.0, 60000.0];

    /** Volts between which a column without a name is taken for those of a cell, before any other. */
    private const CELL_V = [1.2, 4.6];

    /**
     * Units that a time may be in, where its header does not say it: the name and how many seconds one is.
     *
     * @return array<string, float>
     */
    public static function timeChoices(): array
    {
        $of = ['seconds' => 's', 'minutes' => 'min', 'hours' => 'h', 'days' => 'd', 'milliseconds' => 'ms'];

        return array_map(fn(string $unit): float => self::TIMES[$unit], $of);
    }

    /** Whether something is a unit by itself, in brackets or not. */
    public static function isUnit(string $text): bool
    {
        $u = mb_strtolower(trim($text, "[]()<>{} \t"));

        return self::factor($u) !== null || isset(self::WARM[$u]) || in_array($u, self::FOREIGN, true);
    }

    private static function factor(string $unit): ?float
    {
        return self::TIMES[$unit] ?? (self::VOLTS[$unit] ?? (self::AMPS[$unit] ?? null));
    }

    /**
     * @param  array<int, string>  $names  by column
     * @param  list<list<string>>  $data
     * @return array{array<string, int>, array<string, float>, list<string>, list<string>, string} columns and factors by role, what was
     *   guessed in words, the roles whose unit is said, the degrees of the temperature
     */
    public static function of(array $names, array $data, bool $comma): array
    {
        $columns = $ranks = $foreign = [];
        $read = array_map(self::named(...), $names);
        foreach ($read as $c => [$word, $unit]) {
            if (in_array($unit, self::FOREIGN, true)) {
                $foreign[$c] = true;

                continue;
            }
            foreach (array_keys(self::WORDS) as $role) {
                $rank = self::rank($role, $word);
                if ($rank !== null && self::fits($role, $word, $unit) && $rank < ($ranks[$role] ?? INF)) {
                    $ranks[$role] = $rank;
                    $columns[$role] = $c;
                }
            }
        }
        $columns = self::twoWays($columns, $read, $foreign);
        $notes = [];
        // Where no name tells it, a unit may: the first column in volts, in amps, in a unit of time, in degrees.
        foreach (
            self::OF + ['temperature' => array_filter(self::WARM, fn(string $u): bool => strlen($u) > 1, ARRAY_FILTER_USE_KEY)]
            as $role => $units
        ) {
            foreach ($read as $c => [, $unit]) {
                if ($role !== 'outward' && !isset($columns[$role]) && isset($units[$unit]) && !in_array($c, $columns, true)) {
                    $columns[$role] = $c;
                    $notes[] = sprintf('%s seems to be column %d, by its unit', $role, $c + 1);
                }
            }
        }
        $scale = ['time' => 1.0, 'voltage' => 1.0, 'current' => 1.0, 'temperature' => 1.0];
        $said = [];
        foreach ($columns as $role => $c) {
            $unit = $read[$c][1] ?? '';
            $factor = self::OF[$role][$unit] ?? null;
            if ($factor !== null) {
                $scale[$role] = $factor;
                $said[] = $role;
            }
            $notes[] = sprintf('%s is column %d', $role, $c + 1) . ($factor === null ? '' : ", in $unit");
        }
        unset($scale['outward']);
        [$columns, $scale, $notes] = self::byNumbers($columns, $scale, $notes, $foreign, $data, $comma);
        foreach (['time', 'voltage', 'current'] as $role) {
            if (!isset($columns[$role])) {
                throw new LogProblem("No column looks like $role: choose it by hand.");
            }
        }
        $warm = $read[$columns['temperature'] ?? -1][1] ?? '';

        return [$columns, $scale, $notes, $said, self::WARM[$warm] ?? 'C'];
    }

    private static function rank(string $role, string $word): ?int
    {
        $rank = array_search($word, self::WORDS[$role], true);
        if ($rank !== false) {
            return $rank;
        }

        return isset(self::STEMS[$role]) && preg_match(self::STEMS[$role], $word) === 1 && preg_match(self::ABOUT, $word) !== 1
            ? self::UNSURE
            : null;
    }

    private static function fits(string $role, string $word, string $unit): bool
    {
        return match ($role) {
            'temperature' => self::factor($unit) === null && !($word === 't' && $unit === ''),
            'step', 'cycle' => true,
            default => isset(self::OF[$role][$unit]) || ($unit === '' || (self::factor($unit) === null && !isset(self::WARM[$unit]))),
        };
    }

    /**
     * Charge and discharge current in columns of their own, where there is no column for both.
     *
     * @param  array<string, int>  $columns
     * @param  array<int, array{string, string}>  $read
     * @param  array<int, true>  $foreign
     * @return array<string, int>
     */
    private static function twoWays(array $columns, array $read, array $foreign): array
    {
        $in = $out = null;
        foreach ($read as $c => [$word, $unit]) {
            $amps = isset(self::AMPS[$unit]) || preg_match(self::STEMS['current'], $word) === 1 || preg_match('/^i\b/u', $word) === 1;
            if (
                !$amps ||
                isset($foreign[$c]) ||
                self::factor($unit) !== (self::AMPS[$unit] ?? null) ||
                preg_match('/limit|max|set|cut|end/u', $word) === 1
            ) {
                continue;
            }
            if (preg_match(self::OUTWARD, $word) === 1) {
                $out ??= $c;
            } elseif (preg_match(self::INWARD, $word) === 1) {
                $in ??= $c;
            }
        }
        if ($in === null || $out === null || (isset($columns['current']) && !in_array($columns['current'], [$in, $out], true))) {
            return $columns;
        }

        return ['current' => $in, 'outward' => $out] + $columns;
    }

    /**
     * What no name and no unit tells, the numbers do: time rises, volts are a cell's or lie between 0.3 and 100, the rest is current.
     *
     * @param  array<string, int>  $columns
     * @param  array<string, float>  $scale
     * @param  list<string>  $notes
     * @param  array<int, true>  $foreign
     * @param  list<list<string>>  $data
     * @return array{array<string, int>, array<string, float>, list<string>}
     */
    private static function byNumbers(array $columns, array $scale, array $notes, array $foreign, array $data, bool $comma): array
    {
        $wanted = ['time' => 1, 'voltage' => 1, 'current' => 1];
        $values = fn(int $c): array => array_map(fn(array $r): float => (float) Mapping::plain($r[$c] ?? '', $comma), $data);
        $free = fn(int $c): bool => !in_array($c, $columns, true) && !isset($foreign[$c]) && $data !== [];
        $width = count($data[0] ?? []);
        $cell = null;
        for ($c = 0; $c < $width && !isset($columns['voltage']); $c++) {
            $v = $free($c) ? $values($c) : [];
            if ($cell === null && $v !== [] && min($v) > self::CELL_V[0] && max($v) < self::CELL_V[1] && count(array_unique($v)) > 1) {
                $cell = $c;
            }
        }
        for ($c = 0; $c < $width && count(array_intersect_key($columns, $wanted)) < 3; $c++) {
            if (!$free($c)) {
                continue;
            }
            $v = $values($c);
            if ($v === []) {
                break;
            }
            $sorted = $v;
            sort($sorted);
            $rises = count($v) < 2 || ($v === $sorted && $v[0] < $v[count($v) - 1]);
            if (!isset($columns['time']) && $c !== $cell && ($rises || str_contains($data[0][$c] ?? '', ':'))) {
                $role = 'time';
            } elseif (
                !isset($columns['voltage']) &&
                ($cell === null ? min($v) > self::ANY_V[0] && max($v) < self::ANY_V[1] : $c === $cell)
            ) {
                $role = 'voltage';
            } elseif (!isset($columns['voltage']) && $cell === null && min($v) > self::ANY_MV[0] && max($v) < self::ANY_MV[1]) {
                $role = 'voltage';
                $scale['voltage'] = self::VOLTS['mv'];
            } elseif (!isset($columns['current'])) {
                $role = 'current';
                $scale['current'] = max(array_map(abs(...), $v)) > 100 ? self::AMPS['ma'] : 1.0;
            } else {
                continue;
            }
            $columns[$role] = $c;
            $notes[] = sprintf('%s seems to be column %d, by its numbers', $role, $c + 1);
        }

        return [$columns, $scale, $notes];
    }

    /**
     * A column's name as a word and a unit, in small letters.
     *
     * @return array{string, string}
     */
    private static function named(string $name): array
    {
        $name = mb_strtolower(trim($name, " \t\"'"));
        $letters = fn(string $s): string => trim((string) preg_replace('/[^\pL]+/u', ' ', $s));
        if (preg_match('/^(.*?)\s*(?:[\/\[({<]\s*([^\])}>]*?)\s*[\])}>]?)?\s*$/u', $name, $m) !== 1) {
            return ['', ''];
        }
        $unit = trim($m[2] ?? '');
        if (
            self::isUnit($unit) === false &&
            preg_match('/^(.*\pL)(?:[ _.,:-]+|\s+in\s+)([^\s_.,:-]+)$/u', trim($m[1]), $tail) === 1 &&
            self::isUnit($tail[2])
        ) {
            return [$letters((string) preg_replace('/\s+in$/u', '', $tail[1])), $tail[2]];
        }

        return [$letters($m[1]), $unit];
    }
}
