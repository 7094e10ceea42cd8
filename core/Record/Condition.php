<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

enum Condition: string
{
    case Rest = 'rest';
    case Relaxing = 'relaxing';
    case Charge = 'charge';
    case Discharge = 'discharge';

    public function said(): string
    {
        return match ($this) {
            self::Rest => 'at rest',
            self::Relaxing => 'while relaxing',
            self::Charge => 'under charge',
            self::Discharge => 'under discharge',
        };
    }
}
