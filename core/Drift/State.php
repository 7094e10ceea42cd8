<?php

declare(strict_types=1);

namespace Heartwood\Core\Drift;

/** What the readings say of a repair. */
enum State: string
{
    case Holds = 'holds';
    case Grows = 'grows';
    case CannotTell = 'cannot-tell';

    public function words(): string
    {
        return match ($this) {
            self::Holds => 'It holds',
            self::Grows => 'It grows',
            self::CannotTell => 'It cannot be told yet',
        };
    }
}
