<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

use Heartwood\Core\Limits\LogLimits;
use Heartwood\Core\Maths\Robust;

/**
 * A look at the whole of a log before it is read, in pieces from its beginning to its end: which way its current is written, in which
 * unit what the header does not say, in which order its dates. What it cannot tell is asked, and never guessed
 * (handbook "Test logs of cells and groups").
 *
 * @phpstan-type SurveyRow array{t: float, v: float, i: float, cells: list<string>}
 */
final class Survey
{
    private const MILLI = 1e-3;

    private const DAY_S = 86400.0;

    private const TINY = 1e-9;

    /** Rows that are written as days lie closer together. */
    private const LESS_THAN_AN_HOUR_D = 0.04;

    /** A row whose volts are off by such a share of those before it is a bad one. */
    private const FAR_OFF = 0.5;

    private const PIECES = 64;

    private const BYTES = 4096;

    /** Rows at either end of a stretch whose mean stands for it. */
    private const ENDS = 5;

    /** @var list<list<SurveyRow>> rows by piece; volts and amps by the mapping's factors */
    private array $pieces = [];

    private int $rowsInAll = 0;

    /** @var list<string> */
    private array $notes = [];

    /** @var list<array{field: string, text: string}> */
    private array $asks = [];

    /**
     * @param  resource  $stream
     * @param  array<string, mixed>  $said  what a person said of the mapping
     */
    private function __construct(
        private $stream,
        private readonly Mapping $map,
        private readonly LogTerms $terms,
        private readonly array $said,
    ) {}

    /**
     * @param  resource  $stream  seekable; at its beginning again afterwards
     * @param  array<string, mixed>  $said  what a person said of it: not looked for
     */
    public static function of($stream, Mapping $map, LogTerms $terms, array $said = []): Mapping
    {
        $s = new self($stream, $map, $terms, $said);
        $dates = $s->dates($stream);
        $s->sample($stream, $dates);
        if (array_sum(array_map(count(...), $s->pieces)) < 3) {
            return $map;
        }
        [$scale, $columns] = [$map->scale, $map->columns];
        $scale['voltage'] *= $s->volts();
        $scale['current'] *= $s->amps();
        $scale['time'] *= $s->time($scale['current'] / $map->scale['current'], $scale['voltage'] / $map->scale['voltage']);
        [$sign, $directions, $named, $step] = $s->direction(
            $scale['current'] / $map->scale['current'],
            $scale['voltage'] / $map->scale['voltage'],
        );
        if ($step !== null) {
            $columns['step'] = $step;
        }
        $notes = array_values(array_filter($map->notes, fn(string $n): bool => !str_starts_with($n, 'discharge seems')));

        return $map->surveyed($columns, $scale, $sign, $directions, $named, $dates, [...$notes, ...$s->notes], $s->asks);
    }

    private function asked(string $field): bool
    {
        return !Mapping::answers($this->said, $field);
    }

    private function ask(string $field, string $text): void
    {
        $this->asks[] = ['field' => $field, 'text' => $text];
    }

    /** @param  resource  $stream */
    private function dates($stream): string
    {
        if ($this->map->time !== 'stamp' || !$this->asked('dates')) {
            return $this->map->dates;
        }
        $dates = [];
        foreach (LogText::pieces($stream, self::PIECES, self::BYTES) as $lines) {
            foreach ($lines as $line) {
                $date = TimeText::date(trim($this->map->cells($line)[$this->map->columns['time']] ?? '', " \t\"'"));
                if ($date !== null && $date !== ($dates[count($dates) - 1] ?? null)) {
                    $dates[] = $date;
                }
            }
        }
        $orders = TimeText::orders($dates);
        if (count($orders) > 1) {
            $words = ['ymd' => 'year, month, day', 'dmy' => 'day, month, year', 'mdy' => 'month, day, year'];
            $this->ask(
                'dates',
                'Its dates can be read as ' . implode(' or as ', array_map(fn(string $o): string => $words[$o], $orders)) . ': say which.',
            );
        }

        return $orders[0] ?? $this->map->dates;
    }

    /** @param  resource  $stream */
    private function sample($stream, string $dates): void
    {
        $map = $this->map->with(['dates' => $dates]);
        $lines = 0;
        $bytes = 0;
        $factor = $map->scale['voltage'];
        foreach (LogText::pieces($stream, self::PIECES, self::BYTES) as $k => $piece) {
            $rows = [];
            foreach ($k === 0 ? array_slice($piece, $map->header) : $piece as $line) {
                $lines++;
                $bytes += strlen($line) + 1;
                $cells = $map->cells($line);
                // Only a time whose unit is to be found is needed as one.
                $t = $map->time === 'number' || substr_count($cells[$map->columns['time']] ?? '', ':') === 1 ? $map->seconds($cells) : 0.0;
                [$v, $i] = [$map->number($cells[$map->columns['voltage']] ?? null), $this->amount($map, $cells)];
                if ($t !== null && $v !== null && $i !== null) {
                    $rows[] = ['t' => $t, 'v' => $v * $factor, 'i' => $i, 'cells' => $cells];
                }
            }
            $this->pieces[] = self::steady($rows);
        }
        $stat = fstat($stream);
        $size = $stat === false ? $bytes : $stat['size'];
        rewind($stream);
        $size /= LogText::bytesALetter((string) fread($stream, self::BYTES));
        rewind($stream);
        $this->rowsInAll = $bytes === 0 ? 0 : max($lines, (int) round(($lines * $size) / $bytes));
        if (count($this->pieces) === 1) {
            $this->rowsInAll = $lines;
        }
    }

    /**
     * Without the rows that stand off from both their neighbours, where those agree: a bad row tells no direction.
     *
     * @param  list<SurveyRow>  $rows
     * @return list<SurveyRow>
     */
    private static function steady(array $rows): array
    {
        $out = [];
        foreach ($rows as $k => $r) {
            [$a, $b] = [$rows[$k - 1] ?? null, $rows[$k + 1] ?? null];
            $alone =
                $a !== null &&
                $b !== null &&
                (self::off($a['i'], $r['i'], $b['i']) ||
                    (self::off($a['v'], $r['v'], $b['v']) && abs($r['v'] - $a['v']) > self::FAR_OFF * abs($a['v'])));
            if (!$alone) {
                $out[] = $r;
            }
        }

        return $out;
    }

    private static function off(float $before, float $now, float $after): bool
    {
        $apart = LogLimits::ALIKE * min(abs($now - $before), abs($now - $after));

        return abs($before - $after) < $apart;
    }

    /**
     * Amps as they are written; of two columns, charge less discharge.
     *
     * @param  list<string>  $cells
     */
    private function amount(Mapping $map, array $cells): ?float
    {
        if (isset($map->columns['outward'])) {
            return $map->amps($cells);
        }
        $amps = $map->number($cells[$map->columns['current']] ?? null);

        return $amps === null ? null : $amps * $map->scale['current'];
    }

    /** Factor that makes its volts those of so many cells. */
    private function volts(): float
    {
        $volts = array_column($this->rows(), 'v');
        $cell = $volts === [] ? 0.0 : Robust::median($volts) / $this->terms->series;
        if ($cell > LogLimits::CELL_MOST_V && !in_array('voltage', $this->map->said, true) && $this->asked('voltage')) {
            $milli = self::MILLI * $cell;
            if ($milli > LogLimits::CELL_LEAST_V && $milli < LogLimits::CELL_MOST_V) {
                $this->notes[] = sprintf('voltage seems to be in millivolts: %.4g V are no cell\'s', $cell);

                return self::MILLI;
            }
        }
        if (($cell > LogLimits::CELL_MOST_V || $cell < 0.0) && $this->asked('voltage')) {
            $this->ask(
                'voltage',
                sprintf(
                    'Column %d holds %.4g V%s, which no cell has: choose the column of the voltage and its unit.',
                    $this->map->columns['voltage'] + 1,
                    $cell * $this->terms->series,
                    $this->terms->series > 1 ? " for {$this->terms->series} groups" : '',
                ),
            );
        }

        return 1.0;
    }

    /** Factor that makes its amps such as a cell of the rating can carry. */
    private function amps(): float
    {
        $most = max(0.0, ...array_map(fn(array $r): float => abs($r['i']), $this->rows()));
        $limit = LogLimits::MOST_RATE * $this->terms->ratedAh;
        if ($most > $limit && $most * self::MILLI <= $limit && !in_array('current', $this->map->said, true) && $this->asked('current')) {
            $this->notes[] = sprintf('current seems to be in milliamps: %.4g A from %.4g Ah cannot be', $most, $this->terms->ratedAh);

            return self::MILLI;
        }

        return 1.0;
    }

    /** Factor on the mapping's seconds, where no unit is said or a clock has two parts only. */
    private function time(float $amps, float $volts): float
    {
        $clock = $this->map->time === 'clock' && $this->twoParts();
        if (
            $this->map->time === 'stamp' ||
            ($this->map->time === 'clock' && !$clock) ||
            in_array('time', $this->map->said, true) ||
            !$this->asked('time')
        ) {
            return 1.0;
        }
        $first = $this->pieces[0][0]['t'] ?? 0.0;
        $steps = [];
        foreach ($this->pieces as $rows) {
            for ($k = 1; $k < count($rows); $k++) {
                if ($rows[$k]['t'] > $rows[$k - 1]['t']) {
                    $steps[] = $rows[$k]['t'] - $rows[$k - 1]['t'];
                }
            }
        }
        if ($steps === []) {
            return 1.0;
        }
        $step = array_sum($steps) / count($steps);
        if (!$clock && $first > LogLimits::EPOCH_S) {
            $factor = 1.0;
            while ($first * $factor > LogLimits::EPOCH_MOST_S) {
                $factor *= self::MILLI;
            }
            $this->notes[] = $factor === 1.0 ? 'time counts seconds since 1970' : sprintf('time counts units of %g s since 1970', $factor);

            return $factor;
        }
        [$day0, $day1] = LogLimits::DAY_SERIALS;
        if (!$clock && $first > $day0 && $first < $day1 && $step < self::LESS_THAN_AN_HOUR_D) {
            $this->notes[] = 'time counts days, as sheets do';

            return self::DAY_S;
        }
        $units = $clock
            ? ['hours and minutes' => 1.0, 'minutes and seconds' => 1.0 / 60]
            : ['seconds' => 1.0, 'minutes' => 60.0, 'hours' => 3600.0, 'days' => self::DAY_S, 'milliseconds' => self::MILLI];
        $fits = array_filter($units, fn(float $unit): bool => $this->plausible($step * $unit, $amps, $volts));
        if ($fits === []) {
            $this->ask(
                'time',
                'The unit of its time is not said, and with none would a cell of this rating have given what stands there: ' .
                    'choose it, or mend the rating.',
            );

            return 1.0;
        }
        $name = array_key_first($fits);
        if ($name !== 'seconds' && $name !== 'hours and minutes') {
            $this->notes[] = "time seems to count $name: with any other unit no cell of this rating gives what stands there";
        }

        return $fits[$name];
    }

    private function twoParts(): bool
    {
        foreach ($this->pieces as $rows) {
            foreach (array_slice($rows, 0, 20) as $r) {
                if (substr_count(trim($r['cells'][$this->map->columns['time']] ?? ''), ':') !== 1) {
                    return false;
                }
            }
        }

        return true;
    }

    /** Whether rows that far apart make a log of such a cell: by interval, length, and what it would have given. */
    private function plausible(float $step, float $amps, float $volts): bool
    {
        $seconds = $step * $this->rowsInAll;
        if ($step < LogLimits::LEAST_STEP_S || $step > LogLimits::MOST_STEP_S || $seconds > LogLimits::MOST_LENGTH_S) {
            return false;
        }
        [$rows, $mean, $low, $high] = $this->drawn($amps, $volts);
        $ah = ($rows * $step * $mean) / 3600;
        if ($ah > LogLimits::MOST_OF_RATED * $this->terms->ratedAh) {
            return false;
        }
        $swept = ($high - $low) / max(self::TINY, $this->terms->fullV - $this->terms->cutoffV);

        return $swept < LogLimits::SWEPT || $ah >= LogLimits::LEAST_OF_SWEEP * $this->terms->ratedAh;
    }

    /**
     * The longest stretch of current one way: its rows in the whole log, its mean amps, the lowest and highest volts in it.
     *
     * @return array{float, float, float, float}
     */
    private function drawn(float $amps, float $volts): array
    {
        $best = [0.0, 0.0, 0.0, 0.0];
        $rest = $this->rest();
        $all = $this->rows();
        $each = $this->rowsInAll / max(1, count($all));
        $way = 0;
        $n = 0;
        $sum = 0.0;
        [$low, $high] = [INF, -INF];
        foreach ([...$all, null] as $r) {
            $now = $r === null || abs($r['i'] * $amps) <= $rest ? 0 : $r['i'] <=> 0.0;
            if ($now !== $way) {
                if ($n > 0 && $sum * $each > $best[0] * $best[1]) {
                    $best = [$n * $each, $sum / $n, $low, $high];
                }
                [$n, $sum, $low, $high, $way] = [0, 0.0, INF, -INF, $now];
            }
            if ($r !== null && $now !== 0) {
                $n++;
                $sum += abs($r['i'] * $amps);
                $low = min($low, $r['v'] * $volts);
                $high = max($high, $r['v'] * $volts);
            }
        }

        return $best;
    }

    private function rest(): float
    {
        return $this->terms->restA();
    }

    /**
     * Which way the current flows: sign of the mapping, the direction by what stands in a column of states, whether that is needed, and
     * which column it is.
     *
     * @return array{float, array<string, int>, bool, int|null}
     */
    private function direction(float $amps, float $volts): array
    {
        $map = $this->map;
        if (!$this->asked('sign')) {
            return [$map->sign, $map->directions, $map->signedBySteps, null];
        }
        $all = $this->rows();
        $flows = array_filter($all, fn(array $r): bool => abs($r['i'] * $amps) > $this->rest());
        if ($flows === [] || isset($map->columns['outward'])) {
            return [1.0, [], false, null];
        }
        $least = LogLimits::MOVED_V * $this->terms->series;
        $signed = min(array_column($flows, 'i')) < 0 && max(array_column($flows, 'i')) > 0;
        [$with, $against] = $this->evidence($amps, $volts);
        $most = max($with, $against);
        // Without a sign all of it must have gone one way: a charge that moved little is a charge all the same.
        $clear = $signed
            ? $most >= LogLimits::SURER * min($with, $against)
            : min($with, $against) < $least && $this->goesOneWay($amps, $volts, $least);
        if ($most > $least && $clear) {
            return [$this->sign($with, $against, $signed), [], false, null];
        }
        if ($signed) {
            // Where it hardly moves while it flows: it lies higher under charge than under discharge of the same log.
            $mean = fn(int $way): float => $this->mean($flows, $way) * $volts;
            $apart = $mean(1) - $mean(-1);
            if (abs($apart) > $least) {
                $this->notes[] = sprintf(
                    '%s is positive: the voltage lies %.3f V %s under it',
                    $apart > 0 ? 'charge' : 'discharge',
                    abs($apart),
                    $apart > 0 ? 'higher' : 'lower',
                );

                return [$apart > 0 ? 1.0 : -1.0, [], false, null];
            }
        }
        $states = $this->states($amps, $volts, $signed);
        if ($states !== null) {
            return $states;
        }
        $this->ask(
            'sign',
            $signed
                ? 'Nothing in it tells whether charge or discharge is written as positive: say which.'
                : 'Its current has no sign, and no column tells which way it flows: choose the column of the steps, or say the sign.',
        );

        return [$map->sign, [], false, null];
    }

    /**
     * Whether every stretch of current in the whole log that is long enough to matter moved the volts, and all of them the same way. A
     * rest of two rows parts a charge from a discharge: here every row is looked at.
     */
    private function goesOneWay(float $amps, float $volts, float $least): bool
    {
        $runs = [];
        $now = null;
        $rest = $this->rest();
        foreach (LogText::lines($this->stream, $this->map->header) as $line) {
            $cells = $this->map->cells($line);
            $v = $this->map->number($cells[$this->map->columns['voltage']] ?? null);
            $i = $this->amount($this->map, $cells);
            if ($v === null || $i === null) {
                continue;
            }
            if (abs($i * $amps) <= $rest) {
                $now === null ?: ($runs[] = $now);
                $now = null;

                continue;
            }
            $now ??= ['n' => 0, 'first' => [], 'last' => [], 'low' => INF, 'high' => -INF];
            $now['n']++;
            if ($now['n'] <= 2 * self::ENDS) {
                $now['first'][] = $v;
            }
            $now['last'][$now['n'] % self::ENDS] = $v;
            if ($now['n'] % self::ENDS === 0) {
                $mean = array_sum($now['last']) / self::ENDS;
                [$now['low'], $now['high']] = [min($now['low'], $mean), max($now['high'], $mean)];
            }
        }
        $now === null ?: ($runs[] = $now);
        $flows = array_sum(array_column($runs, 'n'));
        $ways = [];
        foreach ($runs as $run) {
            if ($run['n'] >= LogLimits::CHARGE_SHARE * $flows) {
                $mean = fn(array $x): float => array_sum($x) / max(1, count($x));
                // Of a short one half stands for either end.
                $half = max(1, min(self::ENDS, intdiv($run['n'], 2)));
                $last = $run['n'] > 2 * self::ENDS ? $run['last'] : array_slice($run['first'], -$half);
                $moved = ($mean($last) - $mean(array_slice($run['first'], 0, $half))) * $volts * $this->map->scale['voltage'];
                // Up and down again in one go is a charge and a discharge.
                $turned = ($run['high'] - $run['low']) * $volts * $this->map->scale['voltage'] > LogLimits::TURNED * abs($moved);
                $ways[] = abs($moved) > $least && !$turned ? $moved <=> 0.0 : 0;
            }
        }

        return $ways !== [] && count(array_unique($ways)) === 1 && $ways[0] !== 0;
    }

    /** @param  array<int, SurveyRow>  $flows */
    private function mean(array $flows, int $way): float
    {
        $v = array_column(array_filter($flows, fn(array $r): bool => ($r['i'] <=> 0.0) === $way), 'v');

        return array_sum($v) / max(1, count($v));
    }

    private function sign(float $with, float $against, bool $signed): float
    {
        $out = $against > $with;
        $this->notes[] = match (true) {
            !$signed && $out => sprintf('current has no sign and flows out: the voltage falls by %.2f V under it', $against),
            $out => sprintf('discharge is positive: the voltage moves against the current, by %.2f V in all', $against),
            default => sprintf('charge is positive: the voltage moves with the current, by %.2f V in all', $with),
        };

        return $out ? -1.0 : 1.0;
    }

    /**
     * Volts that moved with the current as it is written, and against it: while it flows, and at its steps.
     *
     * @return array{float, float}
     */
    private function evidence(float $amps, float $volts): array
    {
        $with = $against = 0.0;
        $add = function (float $x) use (&$with, &$against): void {
            $x > 0 ? ($with += $x) : ($against -= $x);
        };
        $rest = $this->rest();
        foreach ($this->pieces as $rows) {
            for ($k = 1; $k < count($rows); $k++) {
                $step = ($rows[$k]['i'] - $rows[$k - 1]['i']) * $amps;
                if (abs($step) > $rest) {
                    $add(($step <=> 0.0) * ($rows[$k]['v'] - $rows[$k - 1]['v']) * $volts);
                }
            }
        }
        foreach (
            $this->stretches(fn(array $r): string => abs($r['i'] * $amps) <= $rest ? '' : ($r['i'] > 0 ? '+' : '-'))
            as [$key, $moved]
        ) {
            if ($key !== '') {
                $add(($key === '+' ? 1 : -1) * $moved * $volts);
            }
        }

        return [$with, $against];
    }

    /**
     * Rows that follow on one another and are of the same, and by how much the volts moved from the first of them to the last.
     *
     * @param  \Closure(SurveyRow): string  $key
     * @return list<array{string, float, int}> what it is of, volts, rows
     */
    private function stretches(\Closure $key): array
    {
        $out = [];
        $of = '';
        $v = [];
        foreach ([...$this->rows(), null] as $r) {
            $now = $r === null ? '' : $key($r);
            if ($v !== [] && ($r === null || $now !== $of)) {
                // A few rows at each end, so that noise does not tell.
                $n = max(1, min(self::ENDS, intdiv(count($v), 4)));
                $out[] = [$of, array_sum(array_slice($v, -$n)) / $n - array_sum(array_slice($v, 0, $n)) / $n, count($v)];
                $v = [];
            }
            if ($r !== null) {
                $v[] = $r['v'];
            }
            $of = $now;
        }

        return $out;
    }

    /** @return list<SurveyRow> */
    private function rows(): array
    {
        return array_merge(...$this->pieces);
    }

    /**
     * A column whose states tell the way: by the voltage while each lasts, by their names where it hardly moved.
     *
     * @return array{float, array<string, int>, bool, int}|null
     */
    private function states(float $amps, float $volts, bool $signed): ?array
    {
        $rest = $this->rest();
        $least = LogLimits::MOVED_V * $this->terms->series;
        $columns = isset($this->map->columns['step']) ? [$this->map->columns['step']] : [];
        $width = count($this->pieces[0][0]['cells'] ?? []);
        foreach (range(0, max(0, $width - 1)) as $c) {
            if (!in_array($c, $this->map->columns, true)) {
                $columns[] = $c;
            }
        }
        foreach ($columns as $c) {
            $up = $down = [];
            foreach (
                $this->stretches(fn(array $r): string => abs($r['i'] * $amps) <= $rest ? '' : '=' . trim($r['cells'][$c] ?? ''))
                as [$key, $moved]
            ) {
                if ($key !== '') {
                    $name = substr($key, 1);
                    $up[$name] = ($up[$name] ?? 0.0) + max(0.0, $moved * $volts);
                    $down[$name] = ($down[$name] ?? 0.0) + max(0.0, -$moved * $volts);
                }
            }
            if (count($up) > LogLimits::MOST_STATES) {
                continue;
            }
            $ways = [];
            foreach ($up as $name => $u) {
                $d = $down[$name];
                $sure = max($u, $d) > $least && max($u, $d) >= LogLimits::SURER * min($u, $d);
                $ways[$name] = $sure ? ($u > $d ? 1 : -1) : Directions::said((string) $name);
            }
            if (in_array(0, $ways, true) || count(array_unique($ways)) < 2) {
                continue;
            }
            if ($signed) {
                // With a sign of its own, the states only say which one is meant.
                $in = array_filter(
                    $this->rows(),
                    fn(array $r): bool => abs($r['i'] * $amps) > $rest && ($ways[trim($r['cells'][$c] ?? '')] ?? 0) === 1,
                );
                $positive = array_sum(array_column($in, 'i')) > 0;
                $this->notes[] = sprintf('%s is positive: column %d says so', $positive ? 'charge' : 'discharge', $c + 1);

                return [$positive ? 1.0 : -1.0, [], false, $c];
            }
            $this->notes[] = sprintf(
                'current has no sign: column %d tells its way, out at %s',
                $c + 1,
                implode(', ', array_map(fn(string|int $s): string => (string) $s, array_keys($ways, -1, true))),
            );

            return [1.0, $ways, true, $c];
        }

        return null;
    }
}
