<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Rule;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Run\Broken;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\Phase;
use Heartwood\Core\Run\StopRule;
use Heartwood\Core\Run\Why;

/** More charge than there is room for: before pre-charge is reached, and in the gap to the target. Stops before it is in. */
final class TooMuch implements StopRule
{
    public function check(Moment $m): ?Broken
    {
        if (!$m->on) {
            return null;
        }
        $c = $m->plan->capacityAh();
        if (
            $m->working === Phase::Precharge &&
            $m->s->v !== null &&
            $m->s->v < $m->plan->pack->profile()->prechargeV &&
            $m->ah + $m->nextAh > RunLimits::SHARE_BEFORE_PRECHARGE * $c
        ) {
            return new Broken(
                Why::ChargeTooMuch,
                sprintf(
                    '%.1f %% of its capacity is in and it stands at %.2f V, under %.2f V',
                    (100 * $m->ah) / $c,
                    $m->s->v,
                    $m->plan->pack->profile()->prechargeV,
                ),
            );
        }
        if ($m->mostAh !== null && $m->working !== Phase::Precharge && $m->gapAh + $m->nextAh > $m->mostAh) {
            return new Broken(
                Why::ChargeTooMuch,
                sprintf('%.2f Ah are in, %.2f Ah fill the gap', $m->gapAh, $m->mostAh / RunLimits::OVER_GAP),
            );
        }

        return null;
    }
}
