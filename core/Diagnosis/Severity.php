<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

enum Severity: string
{
    case Stop = 'stop';
    case Fix = 'fix';
    case Watch = 'watch';
    case Note = 'note';

    /** Weight in the order of findings: severity times probability. */
    public function weight(): float
    {
        return match ($this) {
            self::Stop => 4.0,
            self::Fix => 3.0,
            self::Watch => 1.5,
            self::Note => 1.0,
        };
    }

    /** The catalogue's default severity of a code (handbook "The fault catalogue"). */
    public static function of(string $code): self
    {
        return match ($code) {
            'group.dead',
            'group.reversed',
            'cell.swollen',
            'cell.leaking',
            'cell.hot',
            'bms.no-overcharge-cut',
            'sense.shifted',
            'pack.spread'
                => self::Stop,
            'bms.drain', 'gauge.stale' => self::Watch,
            'label.inconsistent', 'reading.inconsistent', 'reading.phantom', 'bms.protecting', 'bms.asleep' => self::Note,
            default => self::Fix,
        };
    }
}
