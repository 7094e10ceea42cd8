<?php

declare(strict_types=1);

namespace App\Instruments;

/** What instruments make of a number, a yes or a no (IEEE 488.2, 8.7; SCPI 1999, 7.2.1), and the habits beside it. */
final readonly class Answer
{
    /** The standard's "overload" (SCPI 1999, 7.2.1.4); everything as large counts as one. */
    public const OVERLOAD = 9.9e37;

    /** The standard's "not a number" (SCPI 1999, 7.2.1.5). */
    private const NAN = 9.91e37;

    private const OVERLOAD_WORDS = ['OVLD', 'OL', 'OL.', '+OL', '-OL', 'OVER', 'OVERLOAD', 'OVERFLOW', 'INF', '+INF', '-INF', 'INFINITY'];

    private const NAN_WORDS = ['NAN', 'NULL', '----', '---'];

    private const PREFIX = ['' => 1.0, 'm' => 1e-3, 'u' => 1e-6, 'k' => 1e3, 'M' => 1e6];

    /**
     * @return float|null OVERLOAD where it shows overload, null where it says that there is no number
     *
     * @throws InstrumentFault it is no number
     */
    public static function number(string $question, string $answer): ?float
    {
        $first = trim(explode(',', trim($answer))[0], " \t\"");
        $word = strtoupper($first);
        if (in_array($word, self::OVERLOAD_WORDS, true)) {
            return self::OVERLOAD;
        }
        if (in_array($word, self::NAN_WORDS, true)) {
            return null;
        }
        if (
            preg_match(
                '/^([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*(?:([munkM]?)(?:V|A|W|Ohms?|OHM|DC|VDC|ADC)|(?:deg)?C|%)?$/',
                $first,
                $m,
            ) !== 1
        ) {
            throw new InstrumentFault("'$question' was answered with what is no number.");
        }
        $value = (float) $m[1] * (self::PREFIX[$m[2] ?? ''] ?? 1.0);

        return match (true) {
            !is_finite($value) => self::OVERLOAD,
            abs(abs($value) - self::NAN) < 1e33 => null,
            abs($value) >= 0.99 * self::OVERLOAD => self::OVERLOAD,
            default => $value,
        };
    }

    /** @throws InstrumentFault it is neither yes nor no */
    public static function yes(string $question, string $answer): bool
    {
        return match (strtoupper(trim($answer, " \t\"+"))) {
            '1', 'ON', '1.0', 'TRUE', 'YES' => true,
            '0', 'OFF', '0.0', 'FALSE', 'NO' => false,
            default => throw new InstrumentFault("'$question' was answered with neither ON nor OFF."),
        };
    }

    /** @return string|null the error as it was said; null when the queue is empty */
    public static function error(string $answer): ?string
    {
        if (preg_match('/^\s*([+-]?\d+)/', $answer, $m) !== 1) {
            throw new InstrumentFault('The error queue answered with what is no error number.');
        }

        return (int) $m[1] === 0 ? null : trim($answer);
    }
}
