<?php

declare(strict_types=1);

namespace Heartwood\Core\Consent;

/** How the maker's seal was when the pack came. */
enum Seal: string
{
    case Whole = 'whole';
    case AlreadyBroken = 'already-broken';
    case None = 'none';

    public function words(): string
    {
        return match ($this) {
            self::Whole => 'The seal was whole when it came; it is broken by opening.',
            self::AlreadyBroken => 'The seal was broken already when it came.',
            self::None => 'It has no seal.',
        };
    }
}
