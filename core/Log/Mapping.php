<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/**
 * How a tester writes its files: separator, decimal sign, which column holds what in which unit. Guessed from the first
 * lines, shown, corrected by a person, remembered per instrument.
 */
final readonly class Mapping
{
    public const ROLES = ['time', 'voltage', 'current', 'temperature', 'step', 'cycle'];

    /** Words by which columns are known, without their units. */
    private const WORDS = [
        'time' => ['test time', 'total time', 'elapsed', 'time', 'zeit', 'temps', 'duration', 'timestamp', 'date time', 'datetime', 'date', 'seconds', 'sec'],
        'voltage' => ['voltage', 'spannung', 'tension', 'volts', 'volt', 'u', 'v', 'cell v', 'vbat'],
        'current' => ['current', 'strom', 'courant', 'amps', 'ampere', 'i', 'a'],
        'temperature' => ['temperature', 'ambient temperature', 'surface temperature', 'temp', 'temperatur', 't'],
        'step' => ['step', 'step index', 'step id', 'step count', 'schritt'],
        'cycle' => ['cycle', 'cycle index', 'cycle count', 'cycle id', 'zyklus'],
    ];

    private const UNITS = ['v' => 1.0, 'mv' => 1e-3, 'a' => 1.0, 'ma' => 1e-3, 's' => 1.0, 'sec' => 1.0, 'ms' => 1e-3, 'min' => 60.0, 'h' => 3600.0, 'hr' => 3600.0];

    /**
     * @param  string  $separator  one of , ; tab | or a space
     * @param  int  $header  lines before the first row
     * @param  array<string, int>  $columns  role to column, from 0; time, voltage and current must be there
     * @param  array<string, float>  $scale  role to factor into seconds, volts, amps
     * @param  'number'|'clock'|'stamp'  $time  seconds as a number, h:m:s, or a date with a time
     * @param  float  $sign  1 when charge is positive, -1 when discharge is
     * @param  list<string>  $notes  what was guessed, in words
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
    ) {
    }

    /**
     * @param  string  $head  the first lines of the file, 64 kB or less
     *
     * @throws LogProblem no three columns that could be time, voltage and current
     */
    public static function guess(string $head): self
    {
        $head = (string) preg_replace('/^\xEF\xBB\xBF/', '', $head);
        if (str_contains(substr($head, 0, 400), "\0")) {
            throw new LogProblem('This is not a text file: export the log as CSV.');
        }
        $lines = array_slice(preg_split('/\R/', $head) ?: [], 0, 200);
        if (count($lines) > 3) {
            array_pop($lines); // cut in the middle, perhaps
        }
        $separator = self::separator($lines);
        $quoted = str_contains($head, '"');
        $cells = fn (string $line): array => array_map(fn (?string $c): string => trim((string) $c), $separator === ' ' ? (preg_split('/\s+/', trim($line)) ?: []) : str_getcsv($line, $separator, '"', ''));
        $comma = $separator !== ',' && preg_match('/\d,\d/', $head) === 1 && preg_match('/\d\.\d+'.preg_quote($separator, '/').'/', $head) !== 1;
        $first = null;
        foreach ($lines as $i => $line) {
            $row = $cells($line);
            if (count($row) >= 3 && self::isData($row, $comma)) {
                $first = $i;
                break;
            }
        }
        if ($first === null) {
            throw new LogProblem('No row with at least three numbers was found in the first lines: is this a log of time, voltage and current?');
        }
        $names = [];
        for ($i = $first - 1; $i >= 0 && $i >= $first - 3; $i--) {
            $row = $cells($lines[$i]);
            if (count($row) >= 3 && count(array_filter($row, fn (string $c): bool => preg_match('/\pL/u', $c) === 1)) >= 2) {
                $names = $row;
                // Units may stand in a line of their own under the names.
                $below = $i + 1 < $first ? $cells($lines[$i + 1]) : [];
                foreach ($below as $c => $unit) {
                    if (isset(self::UNITS[mb_strtolower(trim($unit, '[]() '))]) && isset($names[$c])) {
                        $names[$c] .= ' / '.trim($unit, '[]() ');
                    }
                }
                break;
            }
        }
        $data = array_map($cells, array_slice($lines, $first, 60));
        [$columns, $scale, $notes] = self::columns($names, $data, $comma);
        $sample = $data[0][$columns['time']] ?? '';
        $time = preg_match('/\d{1,4}[-\/.]\d{1,2}[-\/.]\d{1,4}[ T]\d{1,2}:\d{2}/', $sample) === 1 ? 'stamp' : (preg_match('/^\d+( days? |[-:])?\d*:?\d{1,2}:\d{2}/', $sample) === 1 ? 'clock' : 'number');
        $notes[] = match ($time) {
            'stamp' => 'time is a date with a time of day',
            'clock' => 'time is hours, minutes, seconds',
            default => $scale['time'] === 1.0 ? 'time counts seconds' : sprintf('time counts units of %g s', $scale['time']),
        };

        return new self($separator, $comma, $first, $columns, $scale, $time, 1.0, $quoted, $notes);
    }

    /** @param  array<string, mixed>  $changes  the same fields as toArray() gives */
    public function with(array $changes): self
    {
        $columns = $this->columns;
        foreach ((array) ($changes['columns'] ?? []) as $role => $c) {
            if (in_array($role, self::ROLES, true)) {
                if (is_numeric($c)) {
                    $columns[$role] = (int) $c;
                } elseif (! in_array($role, ['time', 'voltage', 'current'], true)) {
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
            is_string($separator) && strlen($separator) === 1 ? $separator : $this->separator, (bool) ($changes['decimal_comma'] ?? $this->decimalComma), is_numeric($changes['header'] ?? null) ? max(0, (int) $changes['header']) : $this->header, $columns, $scale,
            in_array($time, ['number', 'clock', 'stamp'], true) ? $time : $this->time, is_numeric($changes['sign'] ?? null) && (float) $changes['sign'] < 0 ? -1.0 : (isset($changes['sign']) ? 1.0 : $this->sign), (bool) ($changes['quoted'] ?? $this->quoted), $this->notes,
        );
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return ['separator' => $this->separator, 'decimal_comma' => $this->decimalComma, 'header' => $this->header, 'columns' => $this->columns, 'scale' => $this->scale, 'time' => $this->time, 'sign' => $this->sign, 'quoted' => $this->quoted, 'notes' => $this->notes];
    }

    /** @param  list<string>  $lines */
    private static function separator(array $lines): string
    {
        $best = ',';
        $most = 0;
        foreach ([';', "\t", ',', '|'] as $s) {
            $counts = array_count_values(array_filter(array_map(fn (string $l): int => substr_count($l, $s), $lines)));
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
            $numbers += is_numeric($comma ? str_replace(',', '.', $c) : $c) || preg_match('/^[\d.\/-]*[ T]?\d+:\d{2}/', $c) === 1 ? 1 : 0;
        }

        return $numbers >= 3;
    }

    /**
     * @param  list<string>  $names
     * @param  list<list<string>>  $data
     * @return array{array<string, int>, array<string, float>, list<string>}
     */
    private static function columns(array $names, array $data, bool $comma): array
    {
        $columns = $notes = [];
        $scale = ['time' => 1.0, 'voltage' => 1.0, 'current' => 1.0, 'temperature' => 1.0];
        foreach ($names as $c => $name) {
            if (! preg_match('/^\s*"?(.*?)\s*(?:[\/\[(]\s*([^\])]*?)\s*[\])]?)?\s*"?$/u', mb_strtolower($name), $m)) {
                continue;
            }
            $unit = trim($m[2] ?? '');
            $word = trim((string) preg_replace('/[^\pL ]+/u', ' ', $m[1]));
            if ($unit === '' && preg_match('/^(.*\S)[ _](mv|ma|v|a|s|ms|min|h)$/', trim(mb_strtolower($name)), $tail)) {
                [$word, $unit] = [trim((string) preg_replace('/[^\pL ]+/u', ' ', $tail[1])), $tail[2]];
            }
            foreach (self::WORDS as $role => $words) {
                if (! isset($columns[$role]) && in_array($word, $words, true) && ! ($role === 'temperature' && $word === 't' && ($unit === 's' || $unit === ''))) {
                    $columns[$role] = $c;
                    if (isset(self::UNITS[$unit], $scale[$role])) {
                        $scale[$role] = self::UNITS[$unit];
                        $notes[] = sprintf('%s is column %d, in %s', $role, $c + 1, $unit);
                    } else {
                        $notes[] = sprintf('%s is column %d', $role, $c + 1);
                    }
                    break;
                }
            }
        }
        // What no name tells, the numbers do: time rises, volts stay between 0.5 and 6, the rest with both signs is current.
        $taken = array_flip($columns);
        $width = count($data[0] ?? []);
        $values = function (int $c) use ($data, $comma): array {
            return array_map(fn (array $r): float => (float) ($comma ? str_replace(',', '.', $r[$c] ?? '') : ($r[$c] ?? '')), $data);
        };
        for ($c = 0; $c < $width && count(array_intersect_key($columns, ['time' => 1, 'voltage' => 1, 'current' => 1])) < 3; $c++) {
            if (isset($taken[$c])) {
                continue;
            }
            $v = $values($c);
            if ($v === []) {
                continue;
            }
            $rises = count($v) < 2 || ($v === self::sorted($v) && $v[0] < $v[count($v) - 1]);
            if (! isset($columns['time']) && ($rises || str_contains($data[0][$c] ?? '', ':'))) {
                $role = 'time';
            } elseif (! isset($columns['voltage']) && min($v) > 0.3 && max($v) < 100) {
                $role = 'voltage';
            } elseif (! isset($columns['voltage']) && min($v) > 500 && max($v) < 60000) {
                $role = 'voltage';
                $scale['voltage'] = 1e-3;
            } elseif (! isset($columns['current'])) {
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
            if (! isset($columns[$role])) {
                throw new LogProblem("No column looks like $role: choose it by hand.");
            }
        }

        return [$columns, $scale, $notes];
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
