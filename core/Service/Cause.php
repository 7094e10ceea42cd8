<?php

declare(strict_types=1);

namespace Heartwood\Core\Service;

/** Why a pack that went back came in again (handbook "A pack that comes back"). */
enum Cause: string
{
    case SameFault = 'same-fault';
    case OtherFault = 'other-fault';
    case OurWork = 'our-work';
    case Use = 'use';

    public function words(): string
    {
        return match ($this) {
            self::SameFault => 'the same fault again',
            self::OtherFault => 'another fault',
            self::OurWork => 'our own work',
            self::Use => 'how it was used',
        };
    }
}
