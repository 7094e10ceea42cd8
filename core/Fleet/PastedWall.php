<?php

declare(strict_types=1);

namespace Heartwood\Core\Fleet;

use Heartwood\Core\Drift\Point;
use Heartwood\Core\Limits\FleetLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Reading\TypedValue;
use Heartwood\Core\Service\PastedCell;

/**
 * The groups of many packs out of one table, a row a pack or a column a pack, in volts or in amp-hours; taps from B- are subtracted.
 * What cannot be read is named by its line. Volts, amp-hours, charge 0..1.
 */
final readonly class PastedWall
{
    /** Packs and groups that one table has, at most. */
    public const MOST = 200;

    /** No group holds so much. */
    private const NO_GROUP_AH = 2000.0;

    /** Taps from B-: at least so many of them in a row, and the last stands as many times over the first, within this share. */
    private const TAPS_FROM = 3;

    private const TAPS_SHARE = 0.3;

    private const SOC = ['soc', 'percent', '%', 'soc%', 'charge'];

    private const TOTAL = ['total', 'sum', 'pack_v', 'total_v', 'all'];

    private const NAME = ['pack', 'block', 'name', 'serial', 'code', ''];

    private const DECIMALS = 5;

    /**
     * @param  list<array{line: int, name: string, soc: float|null, values: list<float|null>, resolution_v: float}>  $rows
     * @param  list<string>  $wrong  what could not be read, by line
     * @param  list<string>  $notes  how it was read
     */
    private function __construct(public array $rows, public array $wrong, public array $notes) {}

    /** @param  'volts'|'ah'  $what */
    public static function of(string $text, string $what = 'volts'): self
    {
        $lines = [];
        foreach (preg_split('/\R/', $text) ?: [] as $i => $line) {
            if (trim($line) !== '' && trim($line)[0] !== '#') {
                $lines[$i + 1] = $line;
            }
        }
        if ($lines === []) {
            return new self([], ['Nothing stands there: a line for each pack, its name first, then its groups.'], []);
        }
        $best = null;
        // However the fields are kept apart: what leaves least unread is how it was meant.
        foreach (["\t", ';', '|', ',', ' '] as $separator) {
            $read = self::table(array_map(fn(string $l): array => self::fields($l, $separator), $lines), $what);
            $rank = [count($read->wrong), -$read->values(), -count(self::fields((string) reset($lines), $separator))];
            if ($best === null || $rank < $best[0]) {
                $best = [$rank, $read];
            }
        }

        return $best[1];
    }

    private function values(): int
    {
        return array_sum(array_map(fn(array $r): int => count($r['values']), $this->rows));
    }

    /** @return list<string> */
    private static function fields(string $line, string $separator): array
    {
        if ($separator !== ' ') {
            return PastedCell::row($line, $separator);
        }
        // A name may have blanks in it and end in a number of its own: the volts are what stands behind.
        $words = preg_split('/\s+/', trim($line)) ?: [];
        $k = count($words);
        while ($k > 1 && (PastedCell::isBlank($words[$k - 1]) || TypedValue::parse($words[$k - 1]) !== null)) {
            $k--;
        }
        $short = fn(int $at): bool => preg_match('/^\d{1,2}$/D', $words[$at] ?? '') === 1;
        while ($k < count($words) - 1 && $short($k) && !$short($k + 1)) {
            $k++;
        }

        return [implode(' ', array_slice($words, 0, $k)), ...array_slice($words, $k)];
    }

    /**
     * @param  non-empty-array<int, list<string>>  $lines  by their number
     * @param  'volts'|'ah'  $what
     */
    private static function table(array $lines, string $what): self
    {
        $notes = [];
        $first = (int) array_key_first($lines);
        $turned = self::turned($lines);
        if ($turned !== null) {
            [$lines, $first] = [$turned, 1];
            $notes[] = 'Read with a column for each pack.';
        }
        $columns = $turned === null ? self::header($lines[$first]) : null;
        if ($columns !== null) {
            unset($lines[$first]);
        }
        $rows = $wrong = $seen = $lengths = [];
        foreach ($lines as $line => $fields) {
            $at = $turned === null ? "Line $line" : "Column $line";
            $row = self::row($fields, $columns, $what);
            if (is_string($row)) {
                $wrong[] = "$at: $row.";

                continue;
            }
            $name = mb_strtolower($row['name']);
            if (isset($seen[$name])) {
                $wrong[] = sprintf('%s: "%s" stands twice, the first time in %s.', $at, $row['name'], lcfirst($seen[$name]));
            }
            $seen[$name] ??= $at;
            $lengths[$at] = count($row['values']);
            $rows[] = [
                'line' => $line,
                'name' => $row['name'],
                'soc' => $row['soc'],
                'values' => $row['values'],
                'resolution_v' => $row['resolution_v'],
            ];
            if ($row['taps']) {
                $notes['taps'] = 'Read as taps from B-: each group is the difference to the tap before.';
            }
        }
        if ($rows === [] && $wrong === []) {
            $wrong[] = 'Only names of groups stand there: a line for each pack, its name first.';
        }
        $usual = self::usual(array_values($lengths));
        foreach ($lengths as $at => $n) {
            if ($n !== $usual) {
                $wrong[] = sprintf('%s: %d groups, the others have %d: one for each, - where it was not read.', $at, $n, $usual);
            }
        }
        if (count($rows) > self::MOST || $usual > self::MOST) {
            $wrong[] = sprintf('%d packs of %d groups: at most %d of each.', count($rows), $usual, self::MOST);
        }

        return new self($rows, $wrong, array_values($notes));
    }

    /**
     * @param  list<string>  $fields
     * @param  array<int, string|int>|null  $columns
     * @param  'volts'|'ah'  $what
     * @return array{name: string, soc: float|null, values: list<float|null>, resolution_v: float, taps: bool}|string
     */
    private static function row(array $fields, ?array $columns, string $what): array|string
    {
        [$name, $soc, $total, $cells] = ['', null, null, []];
        foreach ($fields as $k => $f) {
            $as = $columns === null ? ($k === 0 ? 'name' : $k) : $columns[$k] ?? 'none';
            match (true) {
                $as === 'name' => ($name = $f),
                $as === 'soc' => ($soc = $f),
                $as === 'total' => ($total = $f),
                is_int($as) => ($cells[] = $f),
                default => null,
            };
        }
        if ($columns === null) {
            while ($cells !== [] && end($cells) === '') {
                array_pop($cells);
            }
        }
        if (trim($name) === '' || preg_match('/^-?\d+[.,]\d+$/D', trim($name)) === 1) {
            return 'no name: which pack is it? Its name, its serial or the code on its label';
        }
        if ($cells === []) {
            return sprintf('"%s" and no group: its name first, then every group', $name);
        }
        if ($soc !== null && !PastedCell::isBlank($soc)) {
            $percent = TypedValue::parse(rtrim($soc, '% '))?->volts;
            if ($percent === null || $percent < 0 || $percent > 100) {
                return sprintf('"%s" is no percent between 0 and 100', $soc);
            }
            $soc = $percent / 100;
        } else {
            $soc = null;
        }
        $taps = $what === 'volts' ? self::taps($cells) : null;
        $values = $steps = [];
        foreach ($taps ?? $cells as $k => $cell) {
            $v = match (true) {
                is_float($cell) => $cell,
                PastedCell::isBlank($cell) => null,
                $what === 'volts' => PastedCell::volts($cell),
                default => self::ah($cell),
            };
            if ($v === false) {
                return sprintf(
                    'group %d, "%s", is %s',
                    $k + 1,
                    (string) $cell,
                    $what === 'volts' ? 'no voltage of a group, such as 3.31 or 3310' : 'no amp-hours of a group, such as 79.5',
                );
            }
            $values[] = $v;
            $steps[] = $v === null || !isset($cells[$k]) ? Point::RESOLUTION_V : PastedCell::step($cells[$k]);
        }
        $says = $total === null || PastedCell::isBlank($total) ? null : TypedValue::parse($total)?->volts;
        if ($what === 'volts' && $says !== null && !in_array(null, $values, true)) {
            $sum = array_sum($values);
            $says = $says > PastedCell::NO_GROUP_V * count($values) ? $says / 1000 : $says;
            $allowed = FleetLimits::SUM_APART_V * count($values) + (float) PastedCell::step((string) $total);
            if (abs($sum - $says) > $allowed + Tiny::SUM) {
                return sprintf('its groups add up to %.3f V and its total says %.3f V: one of them is a slip', $sum, $says);
            }
        }

        return [
            'name' => trim($name),
            'soc' => $soc,
            'values' => $values,
            'resolution_v' => max(Point::RESOLUTION_V, ...$steps),
            'taps' => $taps !== null,
        ];
    }

    /**
     * Volts of the groups where every number is a tap from B-; null where they are groups.
     *
     * @param  list<string>  $cells
     * @return list<float>|null
     */
    private static function taps(array $cells): ?array
    {
        $plain = array_map(fn(string $c): string => str_replace(',', '.', trim($c)), $cells);
        $taps = array_map(fn(string $c): ?float => preg_match('/^\d{1,6}(\.\d+)?$/D', $c) === 1 ? (float) $c : null, $plain);
        if (in_array(null, $taps, true) || count($taps) < self::TAPS_FROM || $taps[0] <= 0.0) {
            return null;
        }
        $out = [];
        foreach ($taps as $k => $v) {
            $step = $v - ($taps[$k - 1] ?? 0.0);
            if ($step < 0.0) {
                return null;
            }
            $out[] = $step;
        }
        $times = end($taps) / $taps[0];
        if (abs($times / count($taps) - 1) > self::TAPS_SHARE) {
            return null;
        }
        $scale = $taps[0] >= PastedCell::MILLIVOLTS_FROM ? 1000 : 1;

        return array_map(fn(float $v): float => round($v / $scale, self::DECIMALS), $out);
    }

    private static function ah(string $text): float|false
    {
        $v = TypedValue::parse((string) preg_replace('/\s*ah$/i', '', trim($text)))?->volts;

        return $v === null || $v < 0.0 || $v >= self::NO_GROUP_AH ? false : $v;
    }

    /**
     * What the columns are where the first line names them: the groups, counted from one.
     *
     * @param  list<string>  $fields
     * @return array<int, string|int>|null
     */
    private static function header(array $fields): ?array
    {
        $columns = [];
        $next = 1;
        foreach ($fields as $k => $f) {
            $name = str_replace(' ', '', mb_strtolower($f));
            $group = preg_match(PastedCell::GROUP, mb_strtolower(trim($f)), $m) === 1 ? (int) $m[1] : null;
            if ($group === $next && ($k > 0 || !in_array($name, self::NAME, true))) {
                $columns[$k] = $next++;
            } elseif (!isset($named) && in_array($name, self::NAME, true)) {
                $columns[$k] = 'name';
                $named = true;
            } elseif (in_array($name, self::SOC, true)) {
                $columns[$k] = 'soc';
            } elseif (in_array($name, self::TOTAL, true)) {
                $columns[$k] = 'total';
            } elseif ($k === 0) {
                $columns[$k] = 'name';
                $named = true;
            } elseif ($name !== '') {
                return null;
            }
        }

        return $next > 2 && isset($named) ? $columns : null;
    }

    /**
     * The table with its rows made columns, where its first line names packs and its first column counts groups; null where it has not.
     *
     * @param  non-empty-array<int, list<string>>  $lines
     * @return array<int, list<string>>|null by the number of the column
     */
    private static function turned(array $lines): ?array
    {
        $rows = array_values($lines);
        $names = array_shift($rows);
        if (count($rows) < 2 || count($names) < 2 || self::header($names) !== null) {
            return null;
        }
        foreach (array_slice($names, 1) as $name) {
            if ($name === '' || PastedCell::volts($name) !== false) {
                return null;
            }
        }
        foreach ($rows as $k => $row) {
            if (preg_match(PastedCell::GROUP, mb_strtolower($row[0] ?? ''), $m) !== 1 || (int) $m[1] !== $k + 1) {
                return null;
            }
        }
        $out = [];
        foreach ($names as $k => $name) {
            if ($k > 0) {
                $out[$k + 1] = [$name, ...array_map(fn(array $r): string => $r[$k] ?? '', $rows)];
            }
        }

        return $out;
    }

    /** @param  list<int>  $lengths */
    private static function usual(array $lengths): int
    {
        $times = array_count_values($lengths);
        arsort($times);

        return (int) array_key_first($times);
    }
}
