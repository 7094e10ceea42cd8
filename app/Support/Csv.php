<?php

declare(strict_types=1);

namespace App\Support;

/** Rows for spreadsheets (RFC 4180). A text that a spreadsheet would run as a formula stands behind an apostrophe; numbers stay numbers. */
final class Csv
{
    private const SEPARATORS = [',', ';', "\t"];

    private const STARTS_FORMULA = "=+-@\t\r\n|%";

    /**
     * @param  list<string>  $columns
     * @param  iterable<list<string|int|float|bool|null>>  $rows
     */
    public static function of(array $columns, iterable $rows): string
    {
        $out = fopen('php://temp', 'r+') ?: throw new \RuntimeException('no memory to write a sheet in');
        fputcsv($out, $columns, ',', '"', '');
        foreach ($rows as $row) {
            fputcsv($out, array_map(self::safe(...), $row), ',', '"', '');
        }
        rewind($out);

        return (string) stream_get_contents($out);
    }

    public static function safe(string|int|float|bool|null $value): string|int|float|bool|null
    {
        return is_string($value) && $value !== '' && str_contains(self::STARTS_FORMULA, $value[0]) && !is_numeric($value)
            ? "'" . $value
            : $value;
    }

    /** What safe() wrote, as it was. */
    public static function plain(string $value): string
    {
        return strlen($value) > 1 && $value[0] === "'" && str_contains(self::STARTS_FORMULA, $value[1]) ? substr($value, 1) : $value;
    }

    /**
     * Lines under their columns, short ones filled up; the separator that the first line has most of. A value may hold it, or a new line,
     * in quotes; a line with more values than there are columns is an error, and never moved over.
     *
     * @return array{names: list<string>, rows: list<array<string, string>>, errors: array<string, string>} errors by row, the first line of
     *   values being row 2
     */
    public static function rows(string $text): array
    {
        $text = (string) preg_replace('/^\xEF\xBB\xBF/', '', trim($text));
        $first = strtok($text, "\r\n") ?: '';
        $counts = array_map(
            fn(string $s): int => count(str_getcsv($first, $s, '"', '')),
            array_combine(self::SEPARATORS, self::SEPARATORS),
        );
        arsort($counts);
        $separator = (string) array_key_first($counts);
        $in = fopen('php://temp', 'r+') ?: throw new \RuntimeException('no memory to read a sheet in');
        fwrite($in, (string) preg_replace('/\r\n?/', "\n", $text));
        rewind($in);
        $names = $rows = $errors = [];
        for ($line = 0; ($cells = fgetcsv($in, null, $separator, '"', '')) !== false; ) {
            $cells = array_map(fn(?string $v): string => (string) $v, $cells);
            if (implode('', array_map(trim(...), $cells)) === '') {
                continue;
            }
            $line++;
            if ($line === 1) {
                $names = array_map(fn(string $n): string => strtolower(trim($n)), $cells);

                continue;
            }
            $n = count($names);
            if (count($cells) > $n && implode('', array_slice($cells, $n)) !== '') {
                $errors["row $line"] = count($cells) . " values for $n columns: put a value that holds a separator in quotes";
            }
            $rows[] = array_combine($names, array_pad(array_map(self::plain(...), array_slice($cells, 0, $n)), $n, ''));
        }
        fclose($in);

        return ['names' => $names, 'rows' => $rows, 'errors' => $errors];
    }
}
