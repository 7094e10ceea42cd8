<?php

declare(strict_types=1);

namespace App\StandIn;

/** An error of the standard's list (SCPI 1999, volume 2, chapter 21), with what made it. */
final class ScpiError extends \RuntimeException
{
    private const TEXT = [
        0 => 'No error',
        -100 => 'Command error',
        -101 => 'Invalid character',
        -103 => 'Invalid separator',
        -104 => 'Data type error',
        -108 => 'Parameter not allowed',
        -109 => 'Missing parameter',
        -112 => 'Program mnemonic too long',
        -113 => 'Undefined header',
        -131 => 'Invalid suffix',
        -200 => 'Execution error',
        -221 => 'Settings conflict',
        -222 => 'Data out of range',
        -224 => 'Illegal parameter value',
        -350 => 'Queue overflow',
        -363 => 'Input buffer overrun',
    ];

    public function __construct(public readonly int $number, string $what = '')
    {
        // The standard gives a line of the queue 255 characters.
        parent::__construct(self::TEXT[$number] . ($what === '' ? '' : ';' . substr($what, 0, 60)));
    }

    public static function line(int $number, string $message = ''): string
    {
        return sprintf('%d,"%s"', $number, $message === '' ? self::TEXT[$number] : str_replace('"', "'", $message));
    }
}
