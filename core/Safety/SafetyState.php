<?php

declare(strict_types=1);

namespace Heartwood\Core\Safety;

enum SafetyState: string
{
    case Clear = 'clear';
    case Hold = 'hold';
    case Quarantine = 'quarantine';

    public function worse(self $other): self
    {
        return $this->rank() >= $other->rank() ? $this : $other;
    }

    private function rank(): int
    {
        return match ($this) {
            self::Clear => 0,
            self::Hold => 1,
            self::Quarantine => 2,
        };
    }
}
