<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault;

/** What kind of thing is at fault: the families whose shares the handbook names (section "Verdicts", priors per pack). */
enum Family: string
{
    case Cells = 'cells and groups';
    case Joints = 'joints';
    case Path = 'path';
    case Board = 'board';
    case Outside = 'charger, load or gauge';
    /** Follows from other findings, or is what eyes and pencil say: no prior of its own. */
    case Derived = 'derived';

    /** Share of the packs on a bench (handbook "Verdicts": no fault 10 %, and these). */
    public function prior(): float
    {
        return match ($this) {
            self::Cells => 0.45,
            self::Joints => 0.12,
            self::Path => 0.10,
            self::Board => 0.13,
            self::Outside => 0.10,
            self::Derived => 0.0,
        };
    }
}
