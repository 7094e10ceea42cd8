<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

enum Phase: string
{
    case Prove = 'prove';
    case Precharge = 'precharge';
    case Rest = 'rest';
    case Raise = 'raise';
    case Settle = 'settle';
    case Fill = 'fill';
    case Charge = 'charge';
    case Discharge = 'discharge';
    case Done = 'done';
    case Stopped = 'stopped';

    public function word(): string
    {
        return match ($this) {
            self::Prove => 'proving clips and supply, output off',
            self::Precharge => 'slow charge',
            self::Rest => 'rest and watch',
            self::Raise => 'up to its neighbours',
            self::Settle => 'settle and read',
            self::Fill => 'filling',
            self::Charge => 'charging, every group watched',
            self::Discharge => 'discharging, watched',
            self::Done => 'done',
            self::Stopped => 'stopped',
        };
    }

    /** Whether current is meant to flow. */
    public function drives(): bool
    {
        return in_array($this, [self::Precharge, self::Raise, self::Fill, self::Charge, self::Discharge], true);
    }

    public function isOver(): bool
    {
        return $this === self::Done || $this === self::Stopped;
    }
}
