<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Pack\Chemistry;

/** Cells as lines of a sheet, read into trays of one lot and model each; what cannot be read is named by its row. */
final readonly class TrayFile
{
    /** Columns that every sheet must have. */
    public const NEEDED = ['lot', 'model', 'chemistry', 'rated_ah'];

    private const NUMBERS = ['capacity_ah', 'mohm', 'rest_v', 'leak_percent_month'];

    /**
     * @param  list<array{lot: string, model: string, chemistry: string, rated_ah: float, cells: list<array<string, mixed>>}>  $trays
     * @param  array<string, string>  $errors  by row, as the sheet counts them: the first line of cells is row 2
     */
    private function __construct(public array $trays, public array $errors) {}

    /**
     * @param  list<string>  $names  of the columns
     * @return list<string> columns that are missing
     */
    public static function missing(array $names): array
    {
        return array_values(array_diff(self::NEEDED, $names));
    }

    /** @param  list<array<string, string>>  $rows  by column */
    public static function of(array $rows): self
    {
        $trays = $errors = [];
        foreach ($rows as $i => $row) {
            $place = 'row ' . ($i + 2);
            $text = fn(string $column): string => trim($row[$column] ?? '');
            // A decimal comma is read as one; a number with anything else in it is none.
            $number = fn(string $column): string => (string) preg_replace('/^([-+]?\d+),(\d+)$/', '$1.$2', $text($column));
            if (
                $text('lot') === '' ||
                $text('model') === '' ||
                Chemistry::tryFrom($text('chemistry')) === null ||
                !is_numeric($number('rated_ah'))
            ) {
                $errors[$place] = 'lot, model, chemistry and rated_ah must be filled';

                continue;
            }
            $cell = array_filter(
                ['code' => $text('code'), 'origin' => $text('origin') ?: 'new', 'damaged' => $text('damaged') === 'yes'],
                fn(string|bool $v): bool => $v !== '',
            );
            foreach (self::NUMBERS as $f) {
                if ($text($f) !== '' && !is_numeric($number($f))) {
                    $errors[$place] = "$f is no number: {$text($f)}";
                } elseif ($text($f) !== '') {
                    $cell[$f] = (float) $number($f);
                }
            }
            $key = implode("\n", array_map($text, self::NEEDED));
            $trays[$key] ??= [
                'lot' => $text('lot'),
                'model' => $text('model'),
                'chemistry' => $text('chemistry'),
                'rated_ah' => (float) $number('rated_ah'),
                'cells' => [],
            ];
            $trays[$key]['cells'][] = $cell;
        }

        return new self(array_values($trays), $errors);
    }
}
