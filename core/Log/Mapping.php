<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

use Heartwood\Core\Maths\Robust;

/**
 * How a tester writes its files: separator, decimal sign, which column holds what in which unit. Guessed from the first
 * lines, shown, corrected by a person, remembered per instrument.
 */
final readonly class Mapping
{
    public const ROLES = ['time', 'voltage', 'current', 'temperature', 'step', 'cycle'];

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

    /** Units of what is none of the roles: such a column is never taken by its numbers. */
    private const FOREIGN = ['w', 'mw', 'wh', 'mwh', 'ah', 'mah', 'ohm', 'mohm', 'c', '°c', 'degc', 'k', '%', 'hz', 'f'];

    /** Units that a role can be in. */
    private const OF = ['time' => ['s', 'sec', 'ms', 'min', 'h', 'hr', 'd'], 'voltage' => ['v', 'mv'], 'current' => ['a', 'ma']];

    /** Step names that say that the current flows out, where it is written without a sign. */
    private const OUT = '/dis|dch|entlad|d[ée]charg/iu';

    /** Two-byte text by the mark that it begins with. */
    public const WIDE = ["\xFF\xFE" => 'UTF-16LE', "\xFE\xFF" => 'UTF-16BE'];

    private const UNITS = [
        'v' => 1.0,
        'mv' => 1e-3,
        'a' => 1.0,
        'ma' => 1e-3,
        's' => 1.0,
        'sec' => 1.0,
        'ms' => 1e-3,
        'min' => 60.0,
        'h' => 3600.0,
        'hr' => 3600.0,
        'd' => 86400.0,
    ];

    /**
     * @param  string  $separator  one of , ; tab | or a space
     * @param  int  $header  lines before the first row
     * @param  array<string, int>  $columns  role to column, from 0; time, voltage and current must be there
     * @param  array<string, float>  $scale  role to factor into seconds, volts, amps
     * @param  'number'|'clock'|'stamp'  $time  seconds as a number, h:m:s, or a date with a time
     * @param  float  $sign  1 when charge is positive, -1 when discharge is
     * @param  bool  $quoted  quotes, units behind the numbers: the full reader is needed
     * @param  list<string>  $notes  what was guessed, in words
     * @param  bool  $resets  time begins anew with every step
     * @param  bool  $signedBySteps  current has no sign: the name of the step tells its way
     */
    public function __construct(
        public string $separator,
        public bool $decimalComma,
        public int $header,
        public array $columns,
        public array $scale,
        public string $time,
        public float $sign,
        public bool $quoted,
        public array $notes = [],
        public bool $resets = false,
        public bool $signedBySteps = false,
    ) {}

    /**
     * @param  string  $head  the first lines of the file, 64 kB or less
     *
     * @throws LogProblem no three columns that could be time, voltage and current
     */
    public static function guess(string $head): self
    {
        $head = self::decoded($head);
        if (str_contains(substr($head, 0, 400), "\0")) {
            throw new LogProblem('This is not a text file: export the log as CSV.');
        }
        $lines = array_slice(preg_split('/\R/', $head) ?: [], 0, 2000);
        if (count($lines) > 3) {
            array_pop($lines); // cut in the middle, perhaps
        }
        $separator = self::separator(array_slice($lines, 0, 200));
        $quoted = str_contains($head, '"');
        $cells = fn(string $line): array => array_map(
            fn(?string $c): string => trim((string) $c),
            $separator === ' ' ? (preg_split('/\s+/', trim($line)) ?: []) : str_getcsv($line, $separator, '"', ''),
        );
        $comma = self::decimalComma(array_merge(...array_map($cells, array_slice($lines, 0, 200))));
        $first = null;
        foreach ($lines as $i => $line) {
            $row = $cells($line);
            if (count($row) >= 3 && self::isData($row, $comma)) {
                $first = $i;
                break;
            }
        }
        if ($first === null) {
            throw new LogProblem(
                'No row with at least three numbers was found in the first lines: is this a log of time, voltage and current?',
            );
        }
        $names = [];
        for ($i = $first - 1; $i >= 0 && $i >= $first - 3; $i--) {
            $row = $cells($lines[$i]);
            $units = array_filter(
                $row,
                fn(string $c): bool => isset(self::UNITS[($u = mb_strtolower(trim($c, '[]() ')))]) ||
                    in_array($u, self::FOREIGN, true) ||
                    $c === '',
            );
            if (count($units) === count($row)) {
                continue;
            }
            if (count($row) >= 3 && count(array_filter($row, fn(string $c): bool => preg_match('/\pL/u', $c) === 1)) >= 2) {
                $names = $row;
                // Units may stand in a line of their own under the names.
                $below = $i + 1 < $first ? $cells($lines[$i + 1]) : [];
                foreach ($below as $c => $unit) {
                    if (isset(self::UNITS[mb_strtolower(trim($unit, '[]() '))]) && isset($names[$c])) {
                        $names[$c] .= ' / ' . trim($unit, '[]() ');
                    }
                }
                break;
            }
        }
        $data = array_map($cells, array_values(array_filter(array_slice($lines, $first), fn(string $l): bool => trim($l) !== '')));
        // Units may stand behind every number.
        foreach ($data[0] as $c => $cell) {
            if (preg_match('/^[-+]?[\d.,]+\s*(mv|v|ma|a|ms|s|min|h)$/i', $cell, $m) === 1) {
                $names[$c] = ($names[$c] ?? '') . (preg_match('/[\/\[(]/', $names[$c] ?? '') === 1 ? '' : ' / ' . $m[1]);
                $quoted = true;
            }
        }
        [$columns, $scale, $notes] = self::columns($names, array_slice($data, 0, 60), $comma);
        $sample = $data[0][$columns['time']] ?? '';
        $time =
            preg_match('/\d{1,4}[-\/.]\d{1,2}[-\/.]\d{1,4}[ T]\d{1,2}:\d{2}/', $sample) === 1
                ? 'stamp'
                : (preg_match('/^\d+( days? |[-:])?\d*:?\d{1,2}:\d{2}/', $sample) === 1
                    ? 'clock'
                    : 'number');
        $notes[] = match ($time) {
            'stamp' => 'time is a date with a time of day',
            'clock' => 'time is hours, minutes, seconds',
            default => $scale['time'] === 1.0 ? 'time counts seconds' : sprintf('time counts units of %g s', $scale['time']),
        };
        $number = fn(array $row, string $role): float => (float) self::plain(
            is_string($cell = $row[$columns[$role]] ?? '') ? $cell : '',
            $comma,
        );
        $amps = array_map(fn(array $r): float => $number($r, 'current') * $scale['current'], $data);
        $steps = isset($columns['step']) ? array_unique(array_map(fn(array $r): string => $r[$columns['step']] ?? '', $data)) : [];
        $named = min($amps) >= 0.0 && array_filter($steps, fn(string $n): bool => preg_match('/\pL{2}/u', $n) === 1) !== [];
        if ($named) {
            $notes[] = 'current has no sign: the steps\' names tell its way';
        }
        $times = array_map(
            fn(array $r): float => $time === 'clock' ? LogAnalysis::clock($r[$columns['time']] ?? '') ?? 0.0 : $number($r, 'time'),
            $data,
        );
        $resets = $time !== 'stamp' && self::fallsBack($times, $time === 'clock' ? 43200.0 : INF);
        if ($resets) {
            $notes[] = 'time begins anew with every step';
        }
        $sign = $named ? 1.0 : self::sign(array_map(fn(array $r): float => $number($r, 'voltage') * $scale['voltage'], $data), $amps);
        if ($sign < 0) {
            $notes[] = 'discharge seems to be positive: the voltage falls as the current rises';
        }

        return new self($separator, $comma, $first, $columns, $scale, $time, $sign, $quoted, $notes, $resets, $named);
    }

    /** Text of a file in UTF-8, whatever its byte order mark says. */
    public static function decoded(string $head): string
    {
        $wide = self::WIDE[substr($head, 0, 2)] ?? null;

        return $wide === null ? (string) preg_replace('/^\xEF\xBB\xBF/', '', $head) : mb_convert_encoding(substr($head, 2), 'UTF-8', $wide);
    }

    /** Whether a step of that name takes current out. */
    public static function goesOut(string $step): bool
    {
        return preg_match(self::OUT, $step) === 1;
    }

    /** A number as PHP reads it: thousands and the unit behind it taken off, a decimal comma made a point. */
    public static function plain(string $cell, bool $comma): string
    {
        $cell = trim($cell, " \t\r\n\"'");
        if ($cell !== '' && !is_numeric($cell)) {
            $cell = (string) preg_replace('/\s*(?<=[\d.,\s])[\pL°%µ]{1,4}$/u', '', $cell);
        }

        return $comma ? str_replace(['.', ','], ['', '.'], $cell) : $cell;
    }

    /**
     * Which way current is written. A cell answers a step of charge current with a step up: where volts and amps step
     * against each other, discharge is positive; without a step, the slow drift tells.
     *
     * @param  list<float>  $volts
     * @param  list<float>  $amps
     */
    private static function sign(array $volts, array $amps): float
    {
        $together = $dv = $di = 0.0;
        $drift = 0.0;
        for ($k = 1; $k < count($volts); $k++) {
            $step = $amps[$k] - $amps[$k - 1];
            $rise = $volts[$k] - $volts[$k - 1];
            if (abs($step) > 0.02) {
                $together += $step * $rise;
                $dv += $rise * $rise;
                $di += $step * $step;
            } else {
                $drift += $amps[$k] <=> 0.0 ? ($amps[$k] > 0 ? $rise : -$rise) : 0.0;
            }
        }
        if ($dv > 1e-6 && $di > 0) {
            $cosine = $together / sqrt($dv * $di);
            if (abs($cosine) > 0.3) {
                return $cosine < 0 ? -1.0 : 1.0;
            }
        }

        return $drift < -0.02 ? -1.0 : 1.0;
    }

    /**
     * @param  list<float>  $times
     * @param  float  $wraps  a fall of more than this is a clock that passed midnight; one that does not reach the beginning is a row
     *   out of place
     */
    private static function fallsBack(array $times, float $wraps): bool
    {
        $gaps = [];
        $lowest = INF;
        for ($k = 1; $k < count($times); $k++) {
            $step = $times[$k] - $times[$k - 1];
            if ($step > 0) {
                $gaps[] = $step;
            } elseif ($step < 0 && -$step < $wraps) {
                $lowest = min($lowest, $times[$k]);
            }
        }

        return $gaps !== [] && $lowest <= 2 * Robust::median($gaps);
    }

    /** @param  list<string>  $cells */
    private static function decimalComma(array $cells): bool
    {
        $comma = $point = 0;
        foreach ($cells as $c) {
            $comma += preg_match('/^[-+]?(\d{1,3}(\.\d{3})+|\d+),\d+(\s*\pL{1,3})?$/u', $c);
            $point +=
                preg_match('/^[-+]?\d*\.\d+([eE][-+]?\d+)?(\s*\pL{1,3})?$/u', $c) === 1 && preg_match('/^[-+]?\d{1,3}\.\d{3}$/', $c) !== 1
                    ? 1
                    : 0;
        }

        return $comma > $point;
    }

    /** @param  array<string, mixed>  $changes  the same fields as toArray() gives */
    public function with(array $changes): self
    {
        $columns = $this->columns;
        foreach ((array) ($changes['columns'] ?? []) as $role => $c) {
            if (in_array($role, self::ROLES, true)) {
                if (is_numeric($c)) {
                    $columns[$role] = (int) $c;
                } elseif (!in_array($role, ['time', 'voltage', 'current'], true)) {
                    unset($columns[$role]);
                }
            }
        }
        $scale = $this->scale;
        foreach ((array) ($changes['scale'] ?? []) as $role => $s) {
            if (isset($scale[$role]) && is_numeric($s) && (float) $s != 0.0) {
                $scale[$role] = (float) $s;
            }
        }
        $time = $changes['time'] ?? $this->time;
        $separator = $changes['separator'] ?? $this->separator;

        return new self(
            is_string($separator) && strlen($separator) === 1 ? $separator : $this->separator,
            (bool) ($changes['decimal_comma'] ?? $this->decimalComma),
            is_numeric($changes['header'] ?? null) ? max(0, (int) $changes['header']) : $this->header,
            $columns,
            $scale,
            in_array($time, ['number', 'clock', 'stamp'], true) ? $time : $this->time,
            is_numeric($changes['sign'] ?? null) && (float) $changes['sign'] < 0 ? -1.0 : (isset($changes['sign']) ? 1.0 : $this->sign),
            (bool) ($changes['quoted'] ?? $this->quoted),
            $this->notes,
            (bool) ($changes['resets'] ?? $this->resets),
            (bool) ($changes['signed_by_steps'] ?? $this->signedBySteps),
        );
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'separator' => $this->separator,
            'decimal_comma' => $this->decimalComma,
            'header' => $this->header,
            'columns' => $this->columns,
            'scale' => $this->scale,
            'time' => $this->time,
            'sign' => $this->sign,
            'quoted' => $this->quoted,
            'resets' => $this->resets,
            'signed_by_steps' => $this->signedBySteps,
            'notes' => $this->notes,
        ];
    }

    /** @param  list<string>  $lines */
    private static function separator(array $lines): string
    {
        $best = ',';
        $most = 0;
        foreach ([';', "\t", ',', '|'] as $s) {
            $counts = array_count_values(
                array_filter(array_map(fn(string $l): int => substr_count((string) preg_replace('/"[^"]*"/', '""', $l), $s), $lines)),
            );
            arsort($counts);
            $n = (int) (array_key_first($counts) ?? 0);
            $score = $n >= 2 ? ($counts[$n] ?? 0) * ($s === ',' ? 1 : 2) : 0;
            if ($score > $most) {
                [$best, $most] = [$s, $score];
            }
        }

        return $most > 0 ? $best : ' ';
    }

    /** @param  list<string>  $row */
    private static function isData(array $row, bool $comma): bool
    {
        $numbers = 0;
        foreach ($row as $c) {
            $numbers += is_numeric(self::plain($c, $comma)) || preg_match('/^[\d.\/-]*[ T]?\d+:\d{2}/', $c) === 1 ? 1 : 0;
        }

        return $numbers >= 3;
    }

    /**
     * @param  array<int, string>  $names  by column
     * @param  list<list<string>>  $data
     * @return array{array<string, int>, array<string, float>, list<string>}
     */
    private static function columns(array $names, array $data, bool $comma): array
    {
        $columns = $notes = $units = [];
        $scale = ['time' => 1.0, 'voltage' => 1.0, 'current' => 1.0, 'temperature' => 1.0];
        $ranks = $foreign = [];
        foreach ($names as $c => $name) {
            [$word, $unit] = self::named($name);
            if (in_array($unit, self::FOREIGN, true) && !in_array($word, self::WORDS['temperature'], true)) {
                $foreign[$c] = true;

                continue;
            }
            foreach (self::WORDS as $role => $words) {
                $rank = array_search($word, $words, true);
                if (
                    $rank === false &&
                    isset(self::STEMS[$role]) &&
                    preg_match(self::STEMS[$role], $word) === 1 &&
                    preg_match(self::ABOUT, $word) !== 1
                ) {
                    $rank = 50;
                }
                $fits = match ($role) {
                    'temperature' => !isset(self::UNITS[$unit]) && !($word === 't' && $unit === ''),
                    'step', 'cycle' => true,
                    default => !isset(self::UNITS[$unit]) || in_array($unit, self::OF[$role], true),
                };
                if ($rank !== false && $fits && (!isset($ranks[$role]) || $rank < $ranks[$role])) {
                    $ranks[$role] = $rank;
                    $columns[$role] = $c;
                    $units[$role] = $unit;
                }
            }
        }
        foreach ($columns as $role => $c) {
            $unit = $units[$role] ?? '';
            if (isset(self::UNITS[$unit], $scale[$role])) {
                $scale[$role] = self::UNITS[$unit];
            }
            $notes[] = isset(self::UNITS[$unit], $scale[$role])
                ? sprintf('%s is column %d, in %s', $role, $c + 1, $unit)
                : sprintf('%s is column %d', $role, $c + 1);
        }
        // What no name tells, the numbers do: time rises, volts stay between 0.5 and 6, the rest with both signs is current.
        $taken = array_flip($columns);
        $width = count($data[0] ?? []);
        $values = function (int $c) use ($data, $comma): array {
            return array_map(fn(array $r): float => (float) self::plain($r[$c] ?? '', $comma), $data);
        };
        for ($c = 0; $c < $width && count(array_intersect_key($columns, ['time' => 1, 'voltage' => 1, 'current' => 1])) < 3; $c++) {
            if (isset($taken[$c]) || isset($foreign[$c])) {
                continue;
            }
            $v = $values($c);
            if ($v === []) {
                continue;
            }
            $rises = count($v) < 2 || ($v === self::sorted($v) && $v[0] < $v[count($v) - 1]);
            if (!isset($columns['time']) && ($rises || str_contains($data[0][$c] ?? '', ':'))) {
                $role = 'time';
            } elseif (!isset($columns['voltage']) && min($v) > 0.3 && max($v) < 100) {
                $role = 'voltage';
            } elseif (!isset($columns['voltage']) && min($v) > 500 && max($v) < 60000) {
                $role = 'voltage';
                $scale['voltage'] = 1e-3;
            } elseif (!isset($columns['current'])) {
                $role = 'current';
                $scale['current'] = max(array_map(abs(...), $v)) > 100 ? 1e-3 : 1.0;
            } else {
                continue;
            }
            $columns[$role] = $c;
            $taken[$c] = $role;
            $notes[] = sprintf('%s seems to be column %d, by its numbers', $role, $c + 1);
        }
        foreach (['time', 'voltage', 'current'] as $role) {
            if (!isset($columns[$role])) {
                throw new LogProblem("No column looks like $role: choose it by hand.");
            }
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
        $name = mb_strtolower(trim($name, " \t\""));
        if (preg_match('/^(.*?)\s*(?:[\/\[(]\s*([^\])]*?)\s*[\])]?)?\s*$/u', $name, $m) !== 1) {
            return ['', ''];
        }
        $unit = trim($m[2] ?? '');
        $letters = fn(string $s): string => trim((string) preg_replace('/[^\pL]+/u', ' ', $s));
        if ($unit === '' && preg_match('/^(.*\S)[ _](mv|ma|v|a|s|ms|min|h|w|wh|mwh|ah|mah|ohm)$/', $name, $tail) === 1) {
            return [$letters($tail[1]), $tail[2]];
        }

        return [$letters($m[1]), $unit];
    }

    /**
     * @param  list<float>  $v
     * @return list<float>
     */
    private static function sorted(array $v): array
    {
        sort($v);

        return $v;
    }
}
