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
    /** `outward`: discharge current, where it has a column of its own. */
    public const ROLES = ['time', 'voltage', 'current', 'outward', 'temperature', 'step', 'cycle'];

    private const FREEZING_F = 32.0;

    private const F_A_K = 1.8;

    private const FREEZING_K = 273.15;

    public const DEGREES = ['C', 'F', 'K'];

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
     * @param  bool  $signedBySteps  current has no sign: the step tells its way
     * @param  array<string, int>  $directions  -1 out or 1 in by what stands in the step's column, where its name does not say it
     * @param  string  $dates  the order of day, month and year: one of TimeText::ORDERS
     * @param  string  $degrees  of the temperature: one of DEGREES
     * @param  list<string>  $said  roles whose unit the header says
     * @param  list<array{field: string, text: string}>  $asks  what nobody but a person can tell; until then nothing is read
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
        public array $directions = [],
        public string $dates = 'dmy',
        public string $degrees = 'C',
        public array $said = [],
        public array $asks = [],
    ) {}

    /**
     * @param  string  $head  the first lines of the file, 64 kB or less
     *
     * @throws LogProblem no three columns that could be time, voltage and current
     */
    public static function guess(string $head): self
    {
        $head = LogText::decoded($head, LogText::encoding($head));
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
            $units = array_filter($row, fn(string $c): bool => Columns::isUnit($c) || $c === '');
            if (count($units) === count($row)) {
                continue;
            }
            if (count($row) >= 3 && count(array_filter($row, fn(string $c): bool => preg_match('/\pL/u', $c) === 1)) >= 2) {
                $names = $row;
                // Units may stand in a line of their own under the names.
                $below = $i + 1 < $first ? $cells($lines[$i + 1]) : [];
                foreach ($below as $c => $unit) {
                    if (Columns::isUnit($unit) && isset($names[$c])) {
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
        [$columns, $scale, $notes, $said, $degrees] = Columns::of($names, array_slice($data, 0, 60), $comma);
        $sample = $data[0][$columns['time']] ?? '';
        $time = TimeText::isStamp($sample) ? 'stamp' : (TimeText::isClock($sample) && !is_numeric($sample) ? 'clock' : 'number');
        $dates = array_values(array_filter(array_map(fn(array $r): ?array => TimeText::date($r[$columns['time']] ?? ''), $data)));
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
            fn(array $r): float => $time === 'clock' ? TimeText::clock($r[$columns['time']] ?? '') ?? 0.0 : $number($r, 'time'),
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

        return new self(
            $separator,
            $comma,
            $first,
            $columns,
            $scale,
            $time,
            $sign,
            $quoted,
            $notes,
            $resets,
            $named,
            dates: TimeText::orders($dates)[0] ?? 'dmy',
            degrees: $degrees,
            said: $said,
        );
    }

    /** Whether a step of that name takes current out. */
    public function goesOut(string $step): bool
    {
        return ($this->directions[trim($step)] ?? Directions::said($step)) < 0;
    }

    /** A number as PHP reads it: thousands and the unit behind it taken off, a decimal comma made a point. */
    public static function plain(string $cell, bool $comma): string
    {
        $cell = trim($cell, " \t\r\n\"'");
        if (!$comma && is_numeric($cell)) {
            return $cell;
        }
        if ($cell !== '' && !is_numeric($cell)) {
            $cell = (string) preg_replace('/\s*(?<=[\d.,\s])[\pL°%µ]{1,4}$/u', '', $cell);
        }

        if ($comma) {
            return str_replace(['.', ',', ' ', "'", "\u{a0}", "\u{202f}"], ['', '.'], $cell);
        }

        return preg_match('/^[-+]?\d{1,3}(?:[, \'\x{a0}\x{202f}]\d{3})+(?:\.\d*)?$/u', $cell) === 1
            ? (string) preg_replace('/[^-+\d.]/u', '', $cell)
            : $cell;
    }

    /** degC of what stands in the column of the temperature. */
    public function celsius(float $degrees): float
    {
        return match ($this->degrees) {
            'F' => ($degrees - self::FREEZING_F) / self::F_A_K,
            'K' => $degrees - self::FREEZING_K,
            default => $degrees,
        };
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
            isset($changes['directions']) ? self::ways($changes['directions']) : $this->directions,
            in_array($changes['dates'] ?? null, TimeText::ORDERS, true) ? $changes['dates'] : $this->dates,
            in_array($changes['degrees'] ?? null, self::DEGREES, true) ? $changes['degrees'] : $this->degrees,
            $this->said,
            array_values(array_filter($this->asks, fn(array $a): bool => !self::answers($changes, $a['field']))),
        );
    }

    /**
     * Whether what a person said of a mapping answers a question of it.
     *
     * @param  array<string, mixed>  $changes
     */
    public static function answers(array $changes, string $field): bool
    {
        return isset($changes[$field]) ||
            isset(((array) ($changes['scale'] ?? []))[$field]) ||
            isset(((array) ($changes['columns'] ?? []))[$field]) ||
            ($field === 'sign' && (isset($changes['directions']) || ($changes['signed_by_steps'] ?? false) === true));
    }

    /**
     * The same as far as a look at the whole log changed it.
     *
     * @param  array<string, float>  $scale
     * @param  array<string, int>  $directions
     * @param  array<string, int>  $columns
     * @param  list<string>  $notes  in place of those before
     * @param  list<array{field: string, text: string}>  $asks
     */
    public function surveyed(
        array $columns,
        array $scale,
        float $sign,
        array $directions,
        bool $signedBySteps,
        string $dates,
        array $notes,
        array $asks,
    ): self {
        return new self(
            $this->separator,
            $this->decimalComma,
            $this->header,
            $columns,
            $scale,
            $this->time,
            $sign,
            $this->quoted,
            $notes,
            $this->resets,
            $signedBySteps,
            $directions,
            $dates,
            $this->degrees,
            $this->said,
            $asks,
        );
    }

    /**
     * A row cut into its cells.
     *
     * @return list<string>
     */
    public function cells(string $line): array
    {
        if ($this->separator === ' ') {
            return preg_split('/\s+/', trim($line)) ?: [];
        }
        if ($this->separator !== '' && !str_contains($line, '"')) {
            return explode($this->separator, $line);
        }

        return array_map(fn(?string $c): string => (string) $c, str_getcsv($line, $this->separator, '"', ''));
    }

    /** A cell as a number; null where it is none. */
    public function number(?string $cell): ?float
    {
        $text = self::plain((string) $cell, $this->decimalComma);

        return is_numeric($text) && is_finite((float) $text) ? (float) $text : null;
    }

    /**
     * Seconds of a row, as its time stands there: not yet carried over midnight or a step's new beginning.
     *
     * @param  array<int, string|null>  $cells
     */
    public function seconds(array $cells): ?float
    {
        $cell = $cells[$this->columns['time']] ?? null;
        $t = match ($this->time) {
            'number' => $this->number($cell),
            'clock' => TimeText::clock((string) $cell),
            'stamp' => TimeText::stamp((string) $cell, $this->dates),
        };

        return $t === null ? null : $t * ($this->time === 'stamp' ? 1.0 : $this->scale['time']);
    }

    /**
     * What stands in the current's column or columns, in amps, without the sign of the mapping; charge less discharge where there are
     * two, and the way of its step where that tells it.
     *
     * @param  array<int, string|null>  $cells
     */
    public function amps(array $cells): ?float
    {
        $amps = $this->number($cells[$this->columns['current']] ?? null);
        if (isset($this->columns['outward'])) {
            $out = $this->number($cells[$this->columns['outward']] ?? null);

            return $amps === null && $out === null ? null : (abs($amps ?? 0.0) - abs($out ?? 0.0)) * $this->scale['current'];
        }
        if ($amps === null) {
            return null;
        }
        $amps *= $this->scale['current'];
        if ($this->signedBySteps && $amps > 0 && $this->goesOut((string) ($cells[$this->columns['step'] ?? -1] ?? ''))) {
            return -$amps;
        }

        return $amps;
    }

    /**
     * @param  mixed  $list  states with their way, as toArray() gives them
     * @return array<string, int>
     */
    private static function ways(mixed $list): array
    {
        $out = [];
        foreach (is_array($list) ? $list : [] as $one) {
            if (is_array($one) && is_scalar($one['state'] ?? null) && is_numeric($one['way'] ?? null)) {
                $out[(string) $one['state']] = (float) $one['way'] < 0 ? -1 : 1;
            }
        }

        return $out;
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
            'directions' => array_map(
                fn(string|int $state, int $way): array => ['state' => (string) $state, 'way' => $way],
                array_keys($this->directions),
                array_values($this->directions),
            ),
            'dates' => $this->dates,
            'degrees' => $this->degrees,
            'asks' => $this->asks,
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
            $numbers += is_numeric(self::plain($c, $comma)) || TimeText::isStamp($c) || TimeText::isClock($c) ? 1 : 0;
        }

        return $numbers >= 3;
    }
}
