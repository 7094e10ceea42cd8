<?php

declare(strict_types=1);

namespace Heartwood\Core\Service;

use Heartwood\Core\Drift\Point;
use Heartwood\Core\Reading\BoardReport;
use Heartwood\Core\Reading\TypedValue;

/**
 * Dated readings of a pack in service out of text: a line each, a table with a header, or the report of a board, which has no date of its
 * own. What cannot be read is named by its line. Volts, charge 0..1.
 */
final readonly class PastedReadings
{
    private const CONDITIONS = ['rest', 'full', 'charge', 'discharge'];

    /** Names that a column of a table may have, each in lower case without blanks. */
    private const COLUMNS = [
        'at' => ['date', 'at', 'time', 'datetime', 'timestamp'],
        'condition' => ['condition', 'state'],
        'soc' => ['soc', 'percent', 'charge', '%', 'soc%'],
        'highest' => ['highest', 'high', 'max', 'highest_v', 'max_v'],
        'lowest' => ['lowest', 'low', 'min', 'lowest_v', 'min_v'],
        'pack' => ['pack', 'total', 'pack_v', 'total_v', 'volts'],
        'note' => ['note', 'remark'],
    ];

    /** Decimals of a volt that a report is kept with. */
    private const DECIMALS = 5;

    private const CLOCK = '((?:[01]?\d|2[0-3]):[0-5]\d(?::[0-5]\d)?)';

    private const DAY = '/^(\d{4})-(\d{2})-(\d{2})(?:[T ]' . self::CLOCK . '(?:\.\d+)?(Z|[-+](?:0\d|1[0-4]):?[0-5]\d)?)?$/D';

    private const DAY_FIRST = '/^(\d{2})\.(\d{2})\.(\d{4})(?: ' . self::CLOCK . ')?$/D';

    /** How a line of a dated reading begins. */
    private const DATED = '/^(\d{4}-\d{1,2}-\d|\d{1,2}\.\d{1,2}\.\d{4})/';

    /**
     * @param  list<array<string, mixed>>  $readings  at, condition, source, resolution_v; soc, groups_v, highest_v, lowest_v, pack_v, note
     *   where they were said
     * @param  list<string>  $wrong  what could not be read, by line
     * @param  list<string>  $notes  how it was read
     */
    private function __construct(public array $readings, public array $wrong, public array $notes) {}

    /**
     * @param  string  $date  of what has none of its own, Y-m-d
     * @param  string  $condition  of what says none
     * @param  \DateTimeZone  $zone  in which the times are
     */
    public static function of(string $text, int $series, string $date, string $condition, \DateTimeZone $zone): self
    {
        $lines = preg_split('/\R/', $text) ?: [];
        $first = trim((string) current(array_filter($lines, fn(string $l): bool => trim($l) !== '' && trim($l)[0] !== '#')));
        $header = self::header($first);
        if ($header !== null) {
            return self::table($lines, $header, $series, $condition, $zone);
        }
        if (preg_match(self::DATED, $first) !== 1) {
            return self::undated($text, $series, $date, $condition, $zone);
        }
        $readings = $wrong = [];
        foreach ($lines as $i => $line) {
            if (trim($line) === '' || trim($line)[0] === '#') {
                continue;
            }
            $read = self::line($line, $series, $condition, $zone);
            is_string($read) ? ($wrong[] = sprintf('Line %d: %s.', $i + 1, $read)) : ($readings[] = $read);
        }

        return new self($readings, $wrong, []);
    }

    /** @return array<string, mixed>|string a reading, or why it is none */
    private static function line(string $line, int $series, string $condition, \DateTimeZone $zone): array|string
    {
        $parts = preg_split('/[\s;]+/', trim($line)) ?: [];
        $day = (string) array_shift($parts);
        if (preg_match('/^\d{1,2}:\d{2}(:\d{2})?$/', $parts[0] ?? '') === 1) {
            $day .= ' ' . array_shift($parts);
        }
        $at = self::day($day, $zone);
        if ($at === null) {
            return "\"$day\" is no date such as 2026-03-04";
        }

        return self::values($parts, $series, $at, $condition);
    }

    /**
     * @param  list<string>  $parts  condition and percent where they are said, then volts
     * @return array<string, mixed>|string
     */
    private static function values(array $parts, int $series, string $at, string $condition): array|string
    {
        if (in_array(mb_strtolower($parts[0] ?? ''), self::CONDITIONS, true)) {
            $condition = mb_strtolower((string) array_shift($parts));
        }
        $out = ['at' => $at, 'condition' => $condition, 'source' => 'bench'];
        if (str_ends_with($parts[0] ?? '', '%')) {
            $soc = self::percent(rtrim((string) array_shift($parts), '%'));
            if ($soc === null) {
                return 'percent is between 0 and 100';
            }
            $out['soc'] = $soc;
        }
        $volts = $steps = [];
        foreach ($parts as $p) {
            $v = $p === '-' ? null : PastedCell::volts($p);
            if ($v === false) {
                return "\"$p\" is no voltage of a group, such as 3.31 or 3310";
            }
            $volts[] = $v;
            $steps[] = $p === '-' ? 0.0 : PastedCell::step($p);
        }
        $out['resolution_v'] = $steps === [] ? Point::RESOLUTION_V : max(Point::RESOLUTION_V, ...$steps);
        if (count($volts) === $series && $series !== 2) {
            return ['groups_v' => $volts] + $out;
        }
        if (count($volts) === 2 && $volts[0] !== null && $volts[1] !== null) {
            return ['highest_v' => max($volts[0], $volts[1]), 'lowest_v' => min($volts[0], $volts[1])] + $out;
        }

        return sprintf('%d volts, and the pack has %d groups: every group, or the highest and the lowest', count($volts), $series);
    }

    /** What has no date: one line of volts, or what a board says. */
    private static function undated(string $text, int $series, string $date, string $condition, \DateTimeZone $zone): self
    {
        $at = self::day($date, $zone);
        if ($at === null) {
            return new self([], ["\"$date\" is no date such as 2026-03-04."], []);
        }
        $parts = array_values(array_filter(preg_split('/[\s;]+/', trim($text)) ?: [], fn(string $p): bool => $p !== ''));
        $typed = self::values($parts, $series, $at, $condition);
        if (is_array($typed)) {
            return new self([$typed], [], []);
        }
        $report = BoardReport::parse($text, $series);
        // A report of one or two lines that do not read as such is a slip of the hand.
        $beyond = $report->volts !== [] && max(array_map(abs(...), $report->volts)) >= PastedCell::NO_GROUP_V;
        if (count($report->volts) < $series || $beyond || str_word_count($text) === 0) {
            return new self([], ["Line 1: $typed."], []);
        }

        return new self(
            [
                [
                    'at' => $at,
                    'condition' => $condition,
                    'source' => 'board',
                    'groups_v' => array_map(fn(float $v): float => round($v, self::DECIMALS), array_values($report->volts)),
                    'resolution_v' => Point::RESOLUTION_V,
                ],
            ],
            [],
            ['Read as the report of a board.', ...$report->notes],
        );
    }

    /**
     * @param  list<string>  $lines
     * @param  array{separator: string, columns: array<int, string|int>}  $header
     */
    private static function table(array $lines, array $header, int $series, string $condition, \DateTimeZone $zone): self
    {
        $readings = $wrong = [];
        $seen = false;
        foreach ($lines as $i => $line) {
            if (trim($line) === '' || trim($line)[0] === '#') {
                continue;
            }
            if (!$seen) {
                $seen = true;
                continue;
            }
            $row = self::row(PastedCell::row($line, $header['separator']), $header['columns'], $series, $condition, $zone);
            is_string($row) ? ($wrong[] = sprintf('Line %d: %s.', $i + 1, $row)) : ($readings[] = $row);
        }
        $groups = count(array_filter($header['columns'], is_int(...)));

        return new self($readings, $wrong, [
            sprintf('Read as a table%s.', $groups > 0 ? " with $groups columns of groups" : ' of the highest and the lowest'),
        ]);
    }

    /**
     * @param  list<string>  $cells
     * @param  array<int, string|int>  $columns
     * @return array<string, mixed>|string
     */
    private static function row(array $cells, array $columns, int $series, string $condition, \DateTimeZone $zone): array|string
    {
        $by = $groups = [];
        foreach ($columns as $k => $name) {
            $cell = $cells[$k] ?? '';
            is_int($name) ? ($groups[$name] = $cell) : ($by[$name] = $cell);
        }
        $at = self::day($by['at'] ?? '', $zone);
        if ($at === null) {
            return sprintf('"%s" is no date such as 2026-03-04', $by['at'] ?? '');
        }
        $said = mb_strtolower($by['condition'] ?? '');
        if ($said !== '' && !in_array($said, self::CONDITIONS, true)) {
            return sprintf('"%s" is no condition: %s', $said, implode(', ', self::CONDITIONS));
        }
        $out = ['at' => $at, 'condition' => $said === '' ? $condition : $said, 'source' => 'import'];
        if (($by['soc'] ?? '') !== '') {
            $out['soc'] = self::percent(rtrim($by['soc'], '% '));
            if ($out['soc'] === null) {
                return 'percent is between 0 and 100';
            }
        }
        $steps = [Point::RESOLUTION_V];
        if ($groups !== []) {
            $out['groups_v'] = array_fill(0, $series, null);
            foreach ($groups as $k => $cell) {
                if ($k < 1 || $k > $series) {
                    return "there is no group $k: the pack has $series";
                }
                $v = in_array($cell, ['', '-'], true) ? null : PastedCell::volts($cell);
                if ($v === false) {
                    return "\"$cell\" is no voltage of a group, such as 3.31 or 3310";
                }
                $out['groups_v'][$k - 1] = $v;
                $steps[] = $v === null ? 0.0 : PastedCell::step($cell);
            }
        }
        foreach (['highest' => 'highest_v', 'lowest' => 'lowest_v'] as $name => $field) {
            if (($by[$name] ?? '') !== '') {
                $v = PastedCell::volts($by[$name]);
                if ($v === false) {
                    return "\"{$by[$name]}\" is no voltage of a group, such as 3.31 or 3310";
                }
                $out[$field] = $v;
                $steps[] = PastedCell::step($by[$name]);
            }
        }
        if (($by['pack'] ?? '') !== '') {
            $v = TypedValue::parse($by['pack'])?->volts;
            if ($v === null) {
                return "\"{$by['pack']}\" is no voltage of a pack";
            }
            $out['pack_v'] = $v;
        }
        if (($by['note'] ?? '') !== '') {
            $out['note'] = $by['note'];
        }

        return $out + ['resolution_v' => max($steps)];
    }

    /** @return array{separator: string, columns: array<int, string|int>}|null the columns of a table whose first line names them */
    private static function header(string $line): ?array
    {
        foreach ([';', "\t", ','] as $separator) {
            $columns = [];
            foreach (PastedCell::row($line, $separator) as $k => $cell) {
                $name = str_replace(' ', '', mb_strtolower($cell));
                foreach (self::COLUMNS as $column => $names) {
                    if (in_array($name, $names, true)) {
                        $columns[$k] = $column;
                    }
                }
                if (!isset($columns[$k]) && preg_match(PastedCell::GROUP, mb_strtolower($cell), $m) === 1) {
                    $columns[$k] = (int) $m[1];
                }
            }
            if (count($columns) > 1 && in_array('at', $columns, true)) {
                return ['separator' => $separator, 'columns' => $columns];
            }
        }

        return null;
    }

    /** Noon where no time is said; RFC 3339 in UTC. */
    private static function day(string $text, \DateTimeZone $zone): ?string
    {
        $text = trim($text);
        if (preg_match(self::DAY, $text, $m) !== 1 && preg_match(self::DAY_FIRST, $text, $d) !== 1) {
            return null;
        }
        $m = $m !== [] ? $m : [$d[0], $d[3], $d[2], $d[1], $d[4] ?? ''];
        if (!checkdate((int) $m[2], (int) $m[3], (int) $m[1])) {
            return null;
        }
        $clock = ($m[4] ?? '') === '' ? '12:00' : $m[4];
        $at = new \DateTimeImmutable("{$m[1]}-{$m[2]}-{$m[3]} $clock" . ($m[5] ?? ''), $zone);

        return $at->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z');
    }

    private static function percent(string $text): ?float
    {
        $n = str_replace(',', '.', trim($text));

        return is_numeric($n) && $n >= 0 && $n <= 100 ? (float) $n / 100 : null;
    }
}
