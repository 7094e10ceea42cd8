<?php

declare(strict_types=1);

namespace Heartwood\Core\Recovery;

enum Phase: string
{
    case Precharge = 'precharge';
    case Rest = 'rest';
    case Raise = 'raise';
    case Settle = 'settle';
    case Hold = 'hold';
    case Stopped = 'stopped';

    public function word(): string
    {
        return match ($this) {
            self::Precharge => 'slow charge',
            self::Rest => 'rest and watch',
            self::Raise => 'up to its neighbours',
            self::Settle => 'settle and read',
            self::Hold => 'at its target: hold test next',
            self::Stopped => 'stopped',
        };
    }

    /** Whether current is meant to flow. */
    public function drives(): bool
    {
        return $this === self::Precharge || $this === self::Raise;
    }

    public function isOver(): bool
    {
        return $this === self::Hold || $this === self::Stopped;
    }
}
