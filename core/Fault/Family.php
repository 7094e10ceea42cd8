<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault;

use Heartwood\Core\Limits\VerdictLimits;

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
            self::Cells => VerdictLimits::PRIOR_CELLS,
            self::Joints => VerdictLimits::PRIOR_JOINTS,
            self::Path => VerdictLimits::PRIOR_PATH,
            self::Board => VerdictLimits::PRIOR_BOARD,
            self::Outside => VerdictLimits::PRIOR_OUTSIDE,
            self::Derived => 0.0,
        };
    }
}
