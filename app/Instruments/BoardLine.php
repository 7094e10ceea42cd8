<?php

declare(strict_types=1);

namespace App\Instruments;

/** A board reader's report, whole: lines until "end", within one time for all of them. */
final class BoardLine
{
    private const REPORT_S = 2.0;

    private const LINES = 400;

    /** @throws InstrumentFault */
    public static function report(Line $line): string
    {
        $until = microtime(true) + self::REPORT_S;
        $text = $line->ask('report');
        for ($n = 0; $n < self::LINES && ($next = $line->read()) !== 'end'; $n++) {
            if (microtime(true) > $until) {
                $line->close();
                throw new InstrumentFault("{$line->host}:{$line->port} takes too long over its report.");
            }
            $text .= "\n" . $next;
        }

        return $text;
    }
}
