<?php

declare(strict_types=1);

namespace App\Instruments;

/** One conversation an address in a process: instruments that take one client only serve meter, supply and thermometer alike. */
final class Lines
{
    /** @var array<string, Line> */
    private static array $open = [];

    public static function to(string $host, int $port, float $timeoutS = 0.8): Line
    {
        return self::$open["$host:$port:$timeoutS"] ??= new Line($host, $port, $timeoutS);
    }

    public static function closeAll(): void
    {
        foreach (self::$open as $line) {
            $line->close();
        }
        self::$open = [];
    }
}
