<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Rule;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Run\Broken;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\StopRule;
use Heartwood\Core\Run\Why;

/** A reversed clip conducts through a supply's output diode with the output off (handbook "Gates on work"). */
final class Polarity implements StopRule
{
    public function check(Moment $m): ?Broken
    {
        $v = $m->s->v;
        if ($v === null || $v >= RunLimits::REVERSED_V) {
            return null;
        }

        return new Broken(
            Why::ClipsReversed,
            $v >= RunLimits::DIODE_V
                ? sprintf('%.2f V at the clips: a reversed group, held by the supply\'s own diode. Take the clip off now', $v)
                : sprintf('%.2f V at the clips: they are the wrong way round, or the group is reversed. Take them off', $v),
        );
    }
}
