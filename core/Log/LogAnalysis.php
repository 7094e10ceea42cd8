<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

use Heartwood\Core\Limits\LogLimits;

/**
 * Reads a log in one pass and keeps only figures: steps by the current's sign and level, Ah and Wh by trapezoid, the
 * crossing of the cut-off interpolated, gaps not bridged, resistance at 1 s and 10 s after every step of current
 * (handbook "Test logs of cells and groups"). Rows go to a sink in blocks of columns for whoever stores them.
 */
final class LogAnalysis
{
    private const BLOCK = 4096;

    private const READ = 1 << 15;

    private const MAX_ERRORS = 20;

    /** A jump of this share of the current begins a new step; a taper never does. */
    private const LEVEL = 0.2;

    /** Times are written to so many seconds at the best. */
    private const ROUNDING_S = 1e-3;

    private const MAX_STEPS = 20000;

    private const MAX_JUMPS = 2000;

    /** One row of so many has its temperature looked at, where rows are cut by the block. */
    private const SAMPLED = 64;

    private const MAX_TEMPS = 8192;

    private int $rows = 0;

    private int $skipped = 0;

    /** @var list<array{row: int, text: string}> */
    private array $errors = [];

    // The row before, and the step that runs.
    private float $t0 = 0.0;

    private float $v0 = 0.0;

    private float $i0 = 0.0;

    /** @var -1|0|1 */
    private int $kind = 0;

    private float $first = 0.0;

    private float $stepFrom = 0.0;

    private float $stepV = 0.0;

    /** Twice the amp-seconds and watt-seconds of the step so far: the halving of the trapezoids comes at its end. */
    private float $as2 = 0.0;

    private float $ws2 = 0.0;

    private ?float $cutoffAs = null;

    private ?float $cutoffWs = null;

    /** Rows at or under the cut-off since it was first crossed in this step. */
    private int $under = 0;

    // Between these amps a row is one more of the same; outside, somebody has to look.
    private float $low = 0.0;

    private float $high = 0.0;

    private float $watchV = -INF;

    /** @var list<LogStep> */
    private array $steps = [];

    /** @var list<array{float, float, float, float}> beginning, seconds, amp-seconds and watt-seconds not yet counted */
    private array $candidates = [];

    /** @var list<float> */
    private array $intervals = [];

    private float $gapFrom = INF;

    /** @var list<array{float, float, float, float, float|null, float|null}> time, volts, amps before; amps after; 1 s, 10 s */
    private array $jumps = [];

    private int $open = 0;

    /** @var list<array{float, float}> seconds and degC, as far as they were sampled */
    private array $temps = [];

    private int $tempSeen = 0;

    private int $tempEvery = 1;

    // A clock that goes on: what was added, the last that was seen, where it began, and where its seconds stand in the text.
    private float $carry = 0.0;

    private float $before = 0.0;

    private ?float $zero = null;

    private int $clockCut = 0;

    private function __construct(private readonly Mapping $map, private readonly LogTerms $terms) {}

    /**
     * @param  resource  $stream  at its beginning
     * @param  (callable(list<float>, list<float>, list<float>): void)|null  $sink  seconds, volts, amps of up to 4096 rows
     *
     * @throws LogProblem nothing in it can be read as rows, or a question about it is open
     */
    public static function run($stream, Mapping $map, LogTerms $terms, ?callable $sink = null): LogFigures
    {
        $a = new self($map, $terms);
        foreach ($map->asks as $ask) {
            throw new LogProblem($ask['text']);
        }
        LogText::prepare($stream);
        $map->quoted ||
        $map->resets ||
        $map->signedBySteps ||
        isset($map->columns['outward']) ||
        ($map->time !== 'number' && $map->scale['time'] !== 1.0) ||
        $map->decimalComma ||
        $map->separator === ' '
            ? $a->careful($stream, $sink)
            : $a->quick($stream, $sink);

        return $a->finish();
    }

    /**
     * Plain numbers: large reads; a block that is numbers throughout is cut in one go, any other row by row.
     *
     * @param  resource  $stream
     * @param  (callable(list<float>, list<float>, list<float>): void)|null  $sink
     */
    private function quick($stream, ?callable $sink): void
    {
        $sep = $this->map->separator;
        if ($sep === '') {
            throw new LogProblem('No separator is chosen.');
        }
        $columns = [$this->map->columns['time'], $this->map->columns['voltage'], $this->map->columns['current']];
        $width = null;
        $whole = '';
        $line = 0;
        $rest = '';
        while (!feof($stream)) {
            $text = (string) fread($stream, self::READ);
            if ($text === '') {
                continue;
            }
            $text = $rest . $text;
            $cut = strrpos($text, "\n");
            if ($cut === false) {
                if (strlen($text) > 4 * self::READ) {
                    throw new LogProblem('A line is longer than a megabyte: this is no log.');
                }
                $rest = $text;

                continue;
            }
            $rest = substr($text, $cut + 1);
            $text = substr($text, 0, $cut + 1);
            while ($line < $this->map->header && $text !== '') {
                $end = (int) strpos($text, "\n");
                $text = substr($text, $end + 1);
                $line++;
            }
            if ($text === '') {
                continue;
            }
            if ($width === null) {
                $width = substr_count(strtok($text, "\n") ?: '', $sep) + 1;
                $whole = $this->pattern($sep, $width, $columns, $text);
            }
            if ($this->map->time !== 'number') {
                // Hours and days may have grown a digit.
                $whole = $this->pattern($sep, $width, $columns, $text);
            }
            $cells = null;
            if (max($columns) < $width && preg_match($whole, $text) === 1) {
                $cells = explode($sep, strtr(rtrim($text, "\n"), "\n", $sep));
                $cells = $this->map->time === 'number' ? $cells : $this->clocks($cells, $width);
            }
            if ($cells !== null) {
                $this->consume($cells, $width, $columns, $sink);
                $line += substr_count($text, "\n");
            } else {
                $line = $this->rowByRow(explode("\n", rtrim($text, "\n")), $line, $columns, $sink);
            }
        }
        if ($rest !== '') {
            $before = $this->skipped;
            $this->rowByRow([$rest], $line, $columns, $sink);
            if ($this->skipped > $before) {
                $this->errors[array_key_last($this->errors) ?? 0]['text'] = 'the file ends in the middle of a row';
            }
        }
    }

    /**
     * A block in which every row has as many columns and numbers where they matter; a clock as long as that of its first row.
     *
     * @param  list<int>  $columns
     */
    private function pattern(string $sep, int $width, array $columns, string $text): string
    {
        $s = preg_quote($sep, '/');
        $number = ' *+[-+]?\d*+\.?\d++(?:[eE][-+]?\d++)?+ *+';
        $clock = $number;
        if ($this->map->time !== 'number') {
            $first = str_getcsv(strtok($text, "\n") ?: '', $sep, '"', '')[$columns[0]] ?? '';
            $this->clockCut = (int) strrpos($first, ':');
            // Hours, minutes and seconds and nothing else: any other is read row by row.
            $clock = substr_count($first, ':') === 2 ? sprintf('[^%s\n]{%d}:\d\d(?:\.\d++)?+', $s, $this->clockCut) : '(?!)';
        }
        $cells = [];
        for ($c = 0; $c < $width; $c++) {
            $cells[] = $c === $columns[0] ? $clock : (in_array($c, $columns, true) ? $number : '[^' . $s . '\n]*+');
        }

        return '/\A(?>' . implode($s, $cells) . '\r?\n)*+\z/';
    }

    /**
     * Clocks and stamps of a block as seconds: what stands before the seconds is read where it changes.
     *
     * @param  array<int, string|float>  $p  rows of $width columns, one after another
     * @return array<int, string|float>|null null: a time in it is none
     */
    private function clocks(array $p, int $width): ?array
    {
        $ct = $this->map->columns['time'];
        $cut = $this->clockCut;
        $last = "\n";
        $base = 0.0;
        $after = $cut + 1;
        for ($k = $ct, $n = count($p); $k < $n; $k += $width) {
            $text = (string) $p[$k];
            if (strncmp($text, $last, $after) !== 0) {
                $at = $this->going([substr($text, 0, $after) . '00']);
                if ($at === null) {
                    return null;
                }
                [$base, $last] = [$at, $text];
            }
            $p[$k] = $base + (float) substr($text, $after);
        }

        return $p;
    }

    /**
     * Seconds of a row from the beginning, a clock carried over midnight, a step's new beginning put behind the one before.
     *
     * @param  array<int, string|null>  $cells  of the row, or the text of its time alone
     */
    private function going(array $cells): ?float
    {
        $map = $this->map;
        $seconds =
            count($cells) === 1
                ? ($map->time === 'clock'
                    ? TimeText::clock((string) $cells[0])
                    : TimeText::stamp((string) $cells[0], $map->dates))
                : $map->seconds($cells);
        if ($seconds === null) {
            return null;
        }
        if ($map->resets) {
            // A step that begins at zero again goes on where the one before it ended.
            if ($seconds <= 0.5 * $this->before) {
                $this->carry += $this->before;
                $this->before = $seconds;
            }
            $this->before = max($this->before, $seconds);
        } elseif ($map->time === 'clock') {
            // A clock that passes midnight goes on the next day.
            if ($seconds < $this->before - 43200) {
                $this->carry += 86400.0;
            }
            $this->before = $seconds;
        }
        $this->zero ??= $map->time === 'stamp' ? $seconds : 0.0;

        return $seconds + $this->carry - $this->zero;
    }

    /**
     * @param  list<string>  $lines
     * @param  list<int>  $columns
     * @param  (callable(list<float>, list<float>, list<float>): void)|null  $sink
     */
    private function rowByRow(array $lines, int $line, array $columns, ?callable $sink): int
    {
        [$ct, $cv, $ci] = $columns;
        $cT = $this->map->columns['temperature'] ?? -1;
        $flat = [];
        foreach ($lines as $row) {
            $line++;
            $p = explode($this->map->separator === '' ? ',' : $this->map->separator, $row);
            if (
                isset($p[$ct], $p[$cv], $p[$ci]) &&
                is_numeric($x = trim($p[$ct])) &&
                is_numeric($y = trim($p[$cv])) &&
                is_numeric($z = trim($p[$ci])) &&
                is_finite((float) $x) &&
                is_finite((float) $y) &&
                is_finite((float) $z)
            ) {
                array_push($flat, $x, $y, $z);
                if ($cT >= 0 && is_numeric($c = trim($p[$cT] ?? ''))) {
                    $this->temperature((float) $x * $this->map->scale['time'], $this->map->celsius((float) $c));
                }
            } elseif (($whole = $this->numbers($row)) !== null) {
                array_push($flat, ...$whole);
            } else {
                $this->bad($line, $row, 'not a row of numbers');
            }
        }
        if ($flat !== []) {
            $this->consume($flat, 3, [0, 1, 2], $sink);
        }

        return $line;
    }

    /**
     * A row among plain ones that is written otherwise: with quotes, thousands, a unit behind a number.
     *
     * @return array{float, float, float}|null
     */
    private function numbers(string $row): ?array
    {
        $cells = $this->map->cells($row);
        $out = [];
        foreach (['time', 'voltage', 'current'] as $role) {
            $x =
                $role === 'time' && $this->map->time !== 'number'
                    ? $this->going($cells)
                    : $this->map->number($cells[$this->map->columns[$role]] ?? null);
            if ($x === null) {
                return null;
            }
            $out[] = $x;
        }
        $c = $this->map->number($cells[$this->map->columns['temperature'] ?? -1] ?? null);
        if ($c !== null) {
            $this->temperature($out[0] * $this->map->scale['time'], $this->map->celsius($c));
        }

        return [$out[0], $out[1], $out[2]];
    }

    /**
     * Quotes, decimal commas, clocks and stamps: the language's own reader, slower and right.
     *
     * @param  resource  $stream
     * @param  (callable(list<float>, list<float>, list<float>): void)|null  $sink
     */
    private function careful($stream, ?callable $sink): void
    {
        $map = $this->map;
        $cv = $map->columns['voltage'];
        $cT = $map->columns['temperature'] ?? -1;
        $line = 0;
        $flat = [];
        while (true) {
            if ($map->separator === ' ') {
                $raw = fgets($stream, 1 << 16);
                $p = $raw === false ? false : (preg_split('/\s+/', trim($raw)) ?: []);
            } else {
                $p = fgetcsv($stream, 1 << 16, $map->separator, '"', '');
            }
            if ($p === false) {
                break;
            }
            $line++;
            if ($line <= $map->header) {
                continue;
            }
            if ($p === [null] || $p === ['']) {
                continue;
            }
            $volts = $map->number($p[$cv] ?? null);
            $amps = $map->amps($p);
            $seconds = $volts === null || $amps === null ? null : $this->going($p);
            if ($seconds === null) {
                $this->bad($line, implode($map->separator, array_map(strval(...), $p)), 'not a row of numbers');

                continue;
            }
            array_push($flat, $seconds / $map->scale['time'], $volts, $amps / $map->scale['current']);
            if ($cT >= 0 && ($c = $map->number($p[$cT] ?? null)) !== null) {
                $this->temperature($seconds, $map->celsius($c));
            }
            if (count($flat) >= 3 * self::BLOCK) {
                $this->consume($flat, 3, [0, 1, 2], $sink);
                $flat = [];
            }
        }
        if ($flat !== []) {
            $this->consume($flat, 3, [0, 1, 2], $sink);
        }
    }

    /**
     * The loop over all rows. Whatever is more of the same is added up here; everything else goes to `look()`.
     *
     * @param  array<int, string|float>  $p  rows of $width columns, one after another
     * @param  list<int>  $columns  time, voltage, current
     * @param  (callable(list<float>, list<float>, list<float>): void)|null  $sink
     */
    private function consume(array $p, int $width, array $columns, ?callable $sink): void
    {
        [$ct, $cv, $ci] = $columns;
        [$st, $sv, $si] = [$this->map->scale['time'], $this->map->scale['voltage'], $this->map->scale['current'] * $this->map->sign];
        $m = count($p);
        $this->sampleIntervals($p, $width, $ct, $st);
        if (($cT = $this->map->columns['temperature'] ?? -1) >= 0 && $cT < $width && $width > 3) {
            $every = max(1, min(self::SAMPLED, intdiv($m, self::SAMPLED * $width)));
            for ($k = 0; $k < $m; $k += $every * $width) {
                if (is_numeric($c = trim((string) $p[$k + $cT]))) {
                    $this->temperature((float) $p[$k + $ct] * $st, $this->map->celsius((float) $c));
                }
            }
        }
        $k = 0;
        if ($this->rows === 0) {
            [$this->t0, $this->v0, $this->i0] = [(float) $p[$ct] * $st, (float) $p[$cv] * $sv, (float) $p[$ci] * $si];
            $this->first = $this->t0;
            $this->begin($this->t0, $this->v0, $this->kindOf($this->i0));
            $this->band($this->i0);
            $k = $width;
        }
        $t0 = $this->t0;
        $v0 = $this->v0;
        $i0 = $this->i0;
        $p0 = $i0 * $v0;
        $as2 = $this->as2;
        $ws2 = $this->ws2;
        $gap = $this->gapFrom;
        $low = $this->low;
        $high = $this->high;
        $watch = $this->watchV;
        $open = $this->open;
        for (; $k < $m; $k += $width) {
            $t1 = (float) $p[$k + $ct] * $st;
            $v1 = (float) $p[$k + $cv] * $sv;
            $i1 = (float) $p[$k + $ci] * $si;
            $dt = $t1 - $t0;
            $p1 = $i1 * $v1;
            if ($i1 >= $low && $i1 <= $high && $dt >= 0.0 && $dt <= $gap && $v1 > $watch && $open === 0) {
                $as2 += ($i0 + $i1) * $dt;
                $ws2 += ($p0 + $p1) * $dt;
            } else {
                if ($dt < 0.0) {
                    $this->bad($this->rows + intdiv($k, $width) + $this->map->header + 1, '', 'time runs backwards');

                    continue;
                }
                $this->as2 = $as2;
                $this->ws2 = $ws2;
                $this->i0 = $i0;
                $this->look($t0, $v0, $i0, $t1, $v1, $i1);
                $as2 = $this->as2;
                $ws2 = $this->ws2;
                $low = $this->low;
                $high = $this->high;
                $watch = $this->watchV;
                $open = $this->open;
            }
            $t0 = $t1;
            $v0 = $v1;
            $i0 = $i1;
            $p0 = $p1;
        }
        [$this->t0, $this->v0, $this->i0, $this->as2, $this->ws2] = [$t0, $v0, $i0, $as2, $ws2];
        $this->rows += intdiv($m, $width);
        if ($sink !== null) {
            $t = $v = $i = [];
            for ($k = 0; $k < $m; $k += $width) {
                $t[] = (float) $p[$k + $ct] * $st;
                $v[] = (float) $p[$k + $cv] * $sv;
                $i[] = (float) $p[$k + $ci] * $si;
                if (count($t) === self::BLOCK) {
                    $sink($t, $v, $i);
                    $t = $v = $i = [];
                }
            }
            if ($t !== []) {
                $sink($t, $v, $i);
            }
        }
    }

    /** A row that is not simply one more of the same: a new step, a taper, the cut-off, a gap, an answer to a step. */
    private function look(float $t0, float $v0, float $i0, float $t1, float $v1, float $i1): void
    {
        $dt = $t1 - $t0;
        $kind = $this->kindOf($i1);
        if ($kind !== $this->kind || ($kind !== 0 && abs($i1 - $i0) > self::LEVEL * max(abs($i1), abs($i0)))) {
            // Somewhere between the two rows the current changed: by trapezoid half the time belongs to each.
            $near = $dt <= $this->gapFrom;
            if ($near) {
                $this->as2 += $i0 * $dt;
                $this->ws2 += $i0 * $v0 * $dt;
            }
            $this->end($t0, $v0);
            $this->begin($t0, $v0, $kind);
            if ($near) {
                $this->as2 = $i1 * $dt;
                $this->ws2 = $i1 * $v1 * $dt;
            }
            if (count($this->jumps) < self::MAX_JUMPS) {
                $this->jumps[] = [$t0, $v0, $i0, $i1, null, null];
                $this->open = count($this->jumps);
            }
        } elseif ($dt > $this->gapFrom) {
            // Perhaps a gap: left out until the whole file tells how far apart rows usually are.
            if (count($this->candidates) < self::MAX_JUMPS) {
                $this->candidates[] = [$t0, $dt, ($i0 + $i1) * 0.5 * $dt, ($i0 * $v0 + $i1 * $v1) * 0.5 * $dt];
            }
        } else {
            $as2 = ($i0 + $i1) * $dt;
            $ws2 = ($i0 * $v0 + $i1 * $v1) * $dt;
            if ($kind === -1 && $v1 <= $this->terms->cutoffV && $this->cutoffAs === null) {
                $share = $v0 > $v1 ? max(0.0, min(1.0, ($v0 - $this->terms->cutoffV) / ($v0 - $v1))) : 1.0;
                $this->cutoffAs = ($this->as2 + $share * $as2) / 2;
                $this->cutoffWs = ($this->ws2 + $share * $ws2) / 2;
                // One row under it may be a bad one: the rows after it are looked at until it is sure.
                $this->under = 1;
                $this->watchV = INF;
            } elseif ($this->under > 0 && $this->under < LogLimits::CUTOFF_ROWS) {
                if ($v1 > $this->terms->cutoffV) {
                    $this->cutoffAs = $this->cutoffWs = null;
                    $this->under = 0;
                    $this->watchV = $this->terms->cutoffV;
                } elseif (++$this->under >= LogLimits::CUTOFF_ROWS) {
                    $this->watchV = -INF;
                }
            }
            $this->as2 += $as2;
            $this->ws2 += $ws2;
        }
        $this->band($i1);
        if ($this->open > 0) {
            $this->answer($t0, $v0, $i0, $t1, $v1, $i1);
        }
    }

    private function temperature(float $t, float $c): void
    {
        if ($this->tempSeen++ % $this->tempEvery !== 0) {
            return;
        }
        $this->temps[] = [$t, $c];
        if (count($this->temps) >= self::MAX_TEMPS) {
            // A long log keeps every second of them from here on, and of those before.
            $this->temps = array_values(array_filter($this->temps, fn(int $k): bool => $k % 2 === 0, ARRAY_FILTER_USE_KEY));
            $this->tempEvery *= 2;
        }
    }

    /** Mean degC between two times, as far as it was measured. */
    private function mean(float $from, float $to): ?float
    {
        $in = array_filter($this->temps, fn(array $x): bool => $x[0] >= $from && $x[0] <= $to);

        return $in === [] ? null : array_sum(array_column($in, 1)) / count($in);
    }

    /** @return -1|0|1 */
    private function kindOf(float $i): int
    {
        $rest = $this->terms->restA();

        return $i > $rest ? 1 : ($i < -$rest ? -1 : 0);
    }

    /** Amps around this one that are surely more of the same. */
    private function band(float $i): void
    {
        $rest = $this->terms->restA();
        if ($this->kind === 0) {
            [$this->low, $this->high] = [-$rest, $rest];

            return;
        }
        $near = 0.45 * self::LEVEL * abs($i);
        $this->low = $this->kind === 1 ? max($i - $near, $rest * 1.000001) : $i - $near;
        $this->high = $this->kind === 1 ? $i + $near : min($i + $near, -$rest * 1.000001);
    }

    /**
     * @param  array<int, string|float>  $p
     */
    private function sampleIntervals(array $p, int $width, int $ct, float $st): void
    {
        $n = intdiv(count($p), $width);
        $known = count($this->intervals);
        if ($known < 20000) {
            $every = $known === 0 ? max(1, intdiv($n, 2000)) : max(1, intdiv($n, 16));
            for ($j = 1; $j < $n; $j += $every) {
                $this->intervals[] = max(0.0, (float) $p[$j * $width + $ct] - (float) $p[($j - 1) * $width + $ct]) * $st;
            }
            // The working limit follows while little is known; the whole file decides at its end.
            if ($known < 3000) {
                $this->gapFrom = max(1e-6, 10 * self::median($this->intervals));
            }
        }
    }

    private function answer(float $t0, float $v0, float $i0, float $t1, float $v1, float $i1): void
    {
        $j = $this->open - 1;
        [$at, $vBefore, $iBefore] = $this->jumps[$j];
        foreach ([4 => 1.0, 5 => 10.0] as $slot => $after) {
            if ($this->jumps[$j][$slot] === null && $t1 >= $at + $after - self::ROUNDING_S) {
                $x = $t1 > $t0 ? min(1.0, max(0.0, ($at + $after - $t0) / ($t1 - $t0))) : 1.0;
                // Before the first row of the new current nothing is known of it: no figure from a longer interval.
                if ($t0 <= $at && $t1 > $at + $after + self::ROUNDING_S) {
                    $this->jumps[$j][$slot] = NAN;

                    continue;
                }
                $v = $v0 + ($v1 - $v0) * $x;
                $i = $t0 <= $at ? $i1 : $i0 + ($i1 - $i0) * $x;
                $di = $i - $iBefore;
                $this->jumps[$j][$slot] = abs($di) > 1e-6 ? ($v - $vBefore) / $di : NAN;
            }
        }
        if ($this->jumps[$j][5] !== null) {
            $this->open = 0;
        }
    }

    /** @param  -1|0|1  $kind */
    private function begin(float $t, float $v, int $kind): void
    {
        $this->kind = $kind;
        $this->stepFrom = $t;
        $this->stepV = $v;
        $this->as2 = $this->ws2 = 0.0;
        $this->cutoffAs = $this->cutoffWs = null;
        $this->under = 0;
        $this->watchV = $kind === -1 ? $this->terms->cutoffV : -INF;
    }

    private function end(float $t, float $v): void
    {
        if (count($this->steps) >= self::MAX_STEPS) {
            throw new LogProblem('More than 20,000 steps: is the right column chosen for the current?');
        }
        if ($t > $this->stepFrom || $this->as2 !== 0.0) {
            $this->steps[] = new LogStep(
                $this->kind,
                $this->stepFrom,
                $t,
                $this->as2 / 2,
                $this->ws2 / 2,
                $this->stepV,
                $v,
                $this->i0,
                $this->cutoffAs,
                $this->cutoffWs,
            );
        }
    }

    private function bad(int $line, string $row, string $why): void
    {
        if (trim($row) === '' && $why !== 'time runs backwards') {
            return;
        }
        $this->skipped++;
        if (count($this->errors) < self::MAX_ERRORS) {
            $this->errors[] = ['row' => $line, 'text' => $why . ($row === '' ? '' : ': ' . mb_scrub(mb_strcut($row, 0, 60)))];
        }
    }

    private function finish(): LogFigures
    {
        if ($this->rows < 2) {
            throw new LogProblem(
                'Fewer than two rows could be read' .
                    ($this->errors === [] ? '' : ' (row ' . $this->errors[0]['row'] . ': ' . $this->errors[0]['text'] . ')') .
                    ': check separator and columns.',
            );
        }
        $this->end($this->t0, $this->v0);
        $median = self::median($this->intervals);
        $gaps = [];
        foreach ($this->candidates as [$at, $dt, $as, $ws]) {
            if ($dt > 10 * $median) {
                if (count($gaps) < 200) {
                    $gaps[] = ['at_s' => round($at, 3), 'seconds' => round($dt, 3)];
                }

                continue;
            }
            foreach ($this->steps as $k => $s) {
                if ($at >= $s->from && $at < $s->to) {
                    $this->steps[$k] = $s->plus($as, $ws);
                    break;
                }
            }
        }
        $steps = array_map(fn(LogStep $s): array => $s->toArray(), $this->steps);
        $resistances = [];
        foreach ($this->jumps as [$at, , $from, $to, $one, $ten]) {
            $lead = $this->terms->fourWire ? 0.0 : $this->terms->leadOhm;
            $mohm = fn(?float $r): ?float => $r === null || is_nan($r) || $r <= 0 ? null : round(1000 * ($r - $lead), 3);
            if ($mohm($one) !== null || $mohm($ten) !== null) {
                $resistances[] = [
                    'at_s' => round($at, 3),
                    'from_a' => round($from, 4),
                    'to_a' => round($to, 4),
                    'mohm_1s' => $mohm($one),
                    'mohm_10s' => $mohm($ten),
                ];
            }
        }

        $capacity = CapacityTest::judge(
            $steps,
            $gaps,
            $this->terms,
            $this->mean(...),
            $median,
            $this->skipped / max(1, $this->rows + $this->skipped),
        );

        $during = $capacity['temperature_c'] ?? null;
        $warmth = is_float($during) ? $during : $this->mean(-INF, INF) ?? $this->terms->ambientC;

        return new LogFigures(
            $this->rows,
            $this->skipped,
            $this->t0 - $this->first,
            $median,
            $steps,
            $gaps,
            $resistances,
            $capacity,
            $warmth,
            $this->errors,
            match (true) {
                $this->map->time === 'stamp' => ($this->zero ?? 0.0) + $this->first,
                $this->first > LogLimits::EPOCH_S => $this->first,
                default => null,
            },
        );
    }

    /** @param  list<float>  $values */
    private static function median(array $values): float
    {
        sort($values);

        return $values[intdiv(count($values), 2)] ?? 1.0;
    }
}
