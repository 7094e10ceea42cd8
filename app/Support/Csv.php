<?php

declare(strict_types=1);

namespace App\Support;

/** Rows for spreadsheets (RFC 4180). A text that a spreadsheet would run as a formula stands behind an apostrophe; numbers stay numbers. */
final class Csv
{
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

    /** @return array{names: list<string>, rows: list<array<string, string>>} lines under their columns, short ones filled up */
    public static function rows(string $text): array
    {
        $lines = array_values(array_filter(preg_split('/\R/', trim($text)) ?: [], fn(string $l): bool => trim($l) !== ''));
        $split = fn(string $line): array => array_map(fn(?string $v): string => (string) $v, str_getcsv($line, ',', '"', ''));
        $names = array_map(fn(string $n): string => strtolower(trim($n)), $split($lines[0] ?? ''));
        $n = count($names);
        $row = fn(string $line): array => array_combine(
            $names,
            array_pad(array_map(self::plain(...), array_slice($split($line), 0, $n)), $n, ''),
        );

        return ['names' => $names, 'rows' => array_map($row, array_slice($lines, 1))];
    }
}
