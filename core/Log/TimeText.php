<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/** Times as testers write them: a clock, or a date with a clock behind it. */
final class TimeText
{
    /** Orders in which day, month and year may stand. */
    public const ORDERS = ['ymd', 'dmy', 'mdy'];

    private const DAY_S = 86400;

    private const HALF_DAY_H = 12.0;

    private const TWO_DIGITS = 99;

    private const CENTURY = 2000;

    private const CLOCK =
        '/^(?:(\d+)(?:\s*d(?:ays?)?[\s,]*|[-.\s]))?(\d+):(\d{1,2})' . '(?::(\d{1,2})(?:[.,:](\d+))?|[.,](\d+))?\s*([ap])?\.?(?:m\.?)?$/i';

    private const STAMP = '/^(\d{1,4})[-\/.](\d{1,2})[-\/.](\d{1,4})(?:T|[\s,]+)(\d.*?)\s*(Z|[-+]\d{2}:?\d{2})?$/';

    /** Hours, minutes, seconds, with or without days, with or without a.m. and p.m.; minutes and seconds where a fraction says so. */
    public static function clock(string $text): ?float
    {
        if (preg_match(self::CLOCK, trim($text), $m, PREG_UNMATCHED_AS_NULL) !== 1) {
            return null;
        }
        [, $days, $a, $b, $c, $fraction, $short, $half] = $m + array_fill(0, 8, null);
        if ($short !== null) {
            return (float) $days * self::DAY_S + (float) $a * 60 + (float) "$b.$short";
        }
        $hours = (float) $a;
        if ($half !== null) {
            $hours = fmod($hours, self::HALF_DAY_H) + (strtolower($half) === 'p' ? self::HALF_DAY_H : 0.0);
        }

        return (float) $days * self::DAY_S + $hours * 3600 + (float) $b * 60 + (float) (($c ?? '0') . '.' . ($fraction ?? '0'));
    }

    public static function isStamp(string $text): bool
    {
        return preg_match(self::STAMP, trim($text)) === 1 ||
            preg_match('/^\pL{3,}\.? \d{1,2},? \d{4}\b.*\d:\d{2}|^\d{1,2}[-. ]\pL{3,}[-. ]\d{4}\b.*\d:\d{2}/u', trim($text)) === 1;
    }

    public static function isClock(string $text): bool
    {
        return !self::isStamp($text) && self::clock($text) !== null;
    }

    /** Seconds since 1970 of a date with a time, read in that order; null where it is none. */
    public static function stamp(string $text, string $order): ?float
    {
        if (preg_match(self::STAMP, trim($text), $m) === 1) {
            $clock = self::clock($m[4]);
            [$y, $mo, $d] = self::parts([(int) $m[1], (int) $m[2], (int) $m[3]], strlen($m[1]) > 2 ? 'ymd' : $order);
            if ($clock === null || !checkdate($mo, $d, $y)) {
                return null;
            }
            $zone = preg_match('/^([-+])(\d{2}):?(\d{2})$/', $m[5] ?? '', $z) === 1 ? (int) $z[2] * 3600 + (int) $z[3] * 60 : 0;

            return (float) gmmktime(0, 0, 0, $mo, $d, $y) + $clock - (($z[1] ?? '+') === '-' ? -$zone : $zone);
        }
        try {
            $fraction = preg_match('/:\d{2}[.,](\d+)/', $text, $f) === 1 ? $f[1] : '';
            $at = new \DateTimeImmutable((string) preg_replace('/(:\d{2})[.,]\d+/', '$1', $text), new \DateTimeZone('UTC'));

            return $at->getTimestamp() + (float) "0.$fraction";
        } catch (\Exception) {
            return null;
        }
    }

    /**
     * The three numbers of a date.
     *
     * @return array{int, int, int}|null
     */
    public static function date(string $text): ?array
    {
        return preg_match(self::STAMP, trim($text), $m) === 1 ? [(int) $m[1], (int) $m[2], (int) $m[3]] : null;
    }

    /**
     * In which orders dates can stand that follow on one another, the likeliest alone where one is: a log goes on, so that the order
     * in which they lie closest is meant. Several: nothing tells them apart.
     *
     * @param  list<array{int, int, int}>  $dates  as they follow in the log
     * @return list<string>
     */
    public static function orders(array $dates): array
    {
        $spans = [];
        foreach (self::ORDERS as $order) {
            $days = [];
            foreach ($dates as $date) {
                [$y, $m, $d] = self::parts($date, $date[0] > self::TWO_DIGITS ? 'ymd' : $order);
                if (
                    !checkdate($m, $d, $y) ||
                    ($date[2] > self::TWO_DIGITS && $order === 'ymd') ||
                    ($date[0] > self::TWO_DIGITS && $order !== 'ymd')
                ) {
                    continue 2;
                }
                $days[] = intdiv((int) gmmktime(0, 0, 0, $m, $d, $y), self::DAY_S);
            }
            $span = 0;
            for ($k = 1; $k < count($days); $k++) {
                $span += abs($days[$k] - $days[$k - 1]);
            }
            $spans[$order] = $span;
        }
        if ($spans === []) {
            return [];
        }
        $least = min($spans);

        return $least === 0 ? [(string) array_key_first($spans)] : array_keys($spans, $least, true);
    }

    /**
     * @param  array{int, int, int}  $date
     * @return array{int, int, int} year, month, day
     */
    private static function parts(array $date, string $order): array
    {
        [$a, $b, $c] = $date;
        [$y, $m, $d] = match ($order) {
            'ymd' => [$a, $b, $c],
            'mdy' => [$c, $a, $b],
            default => [$c, $b, $a],
        };

        return [$y < 100 ? self::CENTURY + $y : $y, $m, $d];
    }
}
