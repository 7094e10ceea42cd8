<?php

declare(strict_types=1);

namespace Heartwood\Core\Service;

use Heartwood\Core\Drift\Point;
use Heartwood\Core\Reading\TypedValue;

/** One field of pasted text or of a file: the volts of a group, however they were written, and the fields of a line. */
final class PastedCell
{
    /** No group has so much. */
    public const NO_GROUP_V = 10.0;

    /** The name of a group's column, in lower case. */
    public const GROUP = '/^(?:g|group|cell|c|v)?[_ #]?(\d{1,3})(?:_?v)?$/';

    /** Above this a number of a group is in millivolts. */
    public const MILLIVOLTS_FROM = 100.0;

    /** @return list<string> */
    public static function row(string $line, string $separator): array
    {
        return array_map(fn(?string $c): string => trim((string) $c), str_getcsv($line, $separator, '"', ''));
    }

    /** What was not read: nothing, or a dash. */
    public static function isBlank(string $text): bool
    {
        return in_array(trim($text), ['', '-', "\u{2013}"], true);
    }

    /** @return float|false volts of one group; false where it is none */
    public static function volts(string $text): float|false
    {
        $v = TypedValue::parse($text)?->volts;
        if ($v === null) {
            return false;
        }
        $v = abs($v) >= self::MILLIVOLTS_FROM ? $v / 1000 : $v;

        return abs($v) < self::NO_GROUP_V ? $v : false;
    }

    /** What its last digit stands for, volts. */
    public static function step(string $text): float
    {
        $plain = str_replace(',', '.', (string) preg_replace('/[^\d.,]/', '', $text));
        if ((float) $plain >= self::MILLIVOLTS_FROM) {
            return Point::RESOLUTION_V;
        }
        $digits = strlen(explode('.', $plain)[1] ?? '');

        return 10 ** -max(1, $digits);
    }
}
