<?php

declare(strict_types=1);

namespace Heartwood\Core\Consent;

/** What a customer may agree to before a case is opened (handbook "Consent and intake"). */
enum Term: string
{
    case Opening = 'opening';
    case DeadCells = 'dead-cells';
    case KeepLeaking = 'keep-leaking';
    case LighterDuty = 'lighter-duty';
    case NoBoard = 'no-board';

    /** Whether it is asked of every pack, or only where it applies. */
    public function isAlways(): bool
    {
        return $this === self::Opening || $this === self::DeadCells;
    }

    public function title(): string
    {
        return match ($this) {
            self::Opening => 'Opening it',
            self::DeadCells => 'Dead cells',
            self::KeepLeaking => 'Kept in service with a leaking group',
            self::LighterDuty => 'Lighter duty',
            self::NoBoard => 'Given back without a board',
        };
    }

    /** The words that are put to the customer. */
    public function words(): string
    {
        return match ($this) {
            self::Opening => 'The case is opened. What its maker promises may end with that.',
            self::DeadCells => 'Dead cells stay here and go to the recycler by the local rules.',
            self::KeepLeaking
                => 'It stays in service though a group loses charge: it is topped up and looked at as told, and not left alone on charge.',
            self::LighterDuty => 'It is used for less than it was made for, as told: less current, or less of its charge.',
            self::NoBoard => 'It goes back without a protecting board: whoever puts it to use protects it by other means.',
        };
    }
}
