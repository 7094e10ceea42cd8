<?php

declare(strict_types=1);

namespace Heartwood\Core\Safety;

/** What is looked at first, before anything is measured (handbook "Triage"). */
enum Look: string
{
    case Swollen = 'swollen';
    case Leaking = 'leaking';
    case Venting = 'venting';
    case Smell = 'smell';
    case Punctured = 'punctured';
    case WarmAtRest = 'warm_at_rest';
    case SaltWater = 'salt_water';
    case Wet = 'wet';
    case Crushed = 'crushed';
    case Burnt = 'burnt';
    case MetalCase = 'metal_case';

    public function asks(): string
    {
        return match ($this) {
            self::Swollen => 'Swollen',
            self::Leaking => 'Leaking',
            self::Venting => 'Venting or hissing',
            self::Smell => 'Smells sweet or sharp',
            self::Punctured => 'Punctured',
            self::WarmAtRest => 'Warm with no current',
            self::SaltWater => 'Salt water',
            self::Wet => 'Wet',
            self::Crushed => 'Crushed',
            self::Burnt => 'Burnt',
            self::MetalCase => 'Metal case',
        };
    }

    /**
     * Whether who stands before the pack sees, feels or smells it, so that "none of these" answers it. Salt is told or found inside; what
     * the case is made of is a question of its own.
     */
    public function fromOutside(): bool
    {
        return $this !== self::SaltWater && $this !== self::MetalCase;
    }

    /** The look whose yes asks this one. */
    public function after(): ?self
    {
        return $this === self::SaltWater ? self::Wet : null;
    }

    /** @return array{string, string} how a no and a yes are said */
    public function answers(): array
    {
        return $this === self::MetalCase ? ['not of metal', 'of metal'] : ['no', 'yes'];
    }

    /** @return 'quarantine'|'hold'|'note' what a yes does to the pack */
    public function means(): string
    {
        return Triage::means($this->value);
    }
}
