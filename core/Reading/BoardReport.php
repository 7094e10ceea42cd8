<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

/**
 * What a board says of its groups, out of text: our open line format (docs/FORMATS.md), a pasted column, or a table with
 * separators. Volts or millivolts are told by their size, and the guess is shown.
 */
final readonly class BoardReport
{
    private const FLAGS = [
        'over-voltage',
        'under-voltage',
        'over-current',
        'over-temperature',
        'under-temperature',
        'charge-off',
        'discharge-off',
    ];

    /**
     * @param  array<int, float>  $volts  by group from 1
     * @param  list<float>  $temperatures
     * @param  list<string>  $flags
     * @param  list<string>  $notes  what was guessed or left out
     */
    private function __construct(
        public array $volts,
        public array $temperatures,
        public array $flags,
        public ?float $currentA,
        public string $unit,
        public array $notes,
    ) {}

    public static function parse(string $text, int $series): self
    {
        $volts = $temperatures = $flags = $notes = $bare = [];
        $current = null;
        $comma = self::decimalComma($text);
        foreach (preg_split('/\R/', trim($text)) ?: [] as $n => $line) {
            $line = $comma ? str_replace(',', '.', trim($line)) : trim($line);
            if ($line === '' || str_starts_with($line, '#')) {
                continue;
            }
            $lower = mb_strtolower($line);
            $numbers = self::numbers($line);
            if (preg_match('/^(flags?|status)\b[\s:=]*(.+)$/', $lower, $m)) {
                foreach (preg_split('/[\s,;]+/', $m[2]) ?: [] as $flag) {
                    in_array($flag, self::FLAGS, true) ? ($flags[] = $flag) : ($notes[] = "flag '$flag' is not known and left out");
                }
            } elseif (preg_match('/^(temp\w*|t\d*)\b/', $lower) && $numbers !== []) {
                $temperatures[] = $numbers[count($numbers) - 1];
            } elseif (preg_match('/^(current|i)\b/', $lower) && $numbers !== []) {
                $current = $numbers[count($numbers) - 1];
            } elseif (
                preg_match('/^[a-z_ #]*?(\d{1,3})\s*[:=,;\t ]\s*([-+]?\d+[.,]?\d*)\s*(m?v)?\s*$/', $lower, $m) &&
                (int) $m[1] >= 1 &&
                (int) $m[1] <= $series &&
                count($numbers) === 2
            ) {
                $volts[(int) $m[1]] = (float) str_replace(',', '.', $m[2]) * (($m[3] ?? '') === 'mv' ? 0.001 : 1.0);
            } elseif ($numbers !== []) {
                array_push($bare, ...$numbers);
            } else {
                $notes[] = sprintf('line %d says no number and is left out', $n + 1);
            }
        }
        if ($volts === [] && $bare !== []) {
            if (
                count($bare) === 2 * $series &&
                self::counts(array_values(array_filter($bare, fn(int $i): bool => $i % 2 === 0, ARRAY_FILTER_USE_KEY)))
            ) {
                $bare = array_values(array_filter($bare, fn(int $i): bool => $i % 2 === 1, ARRAY_FILTER_USE_KEY));
            }
            foreach (array_slice($bare, 0, $series) as $i => $v) {
                $volts[$i + 1] = $v;
            }
            if (count($bare) > $series) {
                $notes[] = sprintf('%d numbers after the %d groups are left out', count($bare) - $series, $series);
            }
        }
        $unit = 'V';
        if ($volts !== [] && max(array_map(abs(...), $volts)) > 100) {
            $unit = 'mV';
            $volts = array_map(fn(float $v): float => $v / 1000, $volts);
            $notes[] = 'read as millivolts';
        }
        for ($k = 1; $k <= $series; $k++) {
            if (!isset($volts[$k])) {
                $notes[] = "group $k is missing";
            }
        }
        ksort($volts);

        return new self($volts, $temperatures, $flags, $current, $unit, $notes);
    }

    /** A comma is a decimal comma where no point is used, it stands between digits, and what precedes it does not count lines. */
    private static function decimalComma(string $text): bool
    {
        if (str_contains($text, '.') || preg_match_all('/(\d+),\d/', $text, $m) < 1) {
            return false;
        }

        return !self::counts(array_map(floatval(...), $m[1])) && preg_match('/\d,\d+,\d/', $text) !== 1;
    }

    /** @return list<float> */
    private static function numbers(string $line): array
    {
        preg_match_all('/[-+]?\d+(?:\.\d+)?/', str_replace(',', ' ', $line), $m);

        return array_map(floatval(...), $m[0]);
    }

    /** @param  list<float>  $values */
    private static function counts(array $values): bool
    {
        foreach ($values as $i => $v) {
            if ($v !== (float) ($i + 1)) {
                return false;
            }
        }

        return true;
    }
}
