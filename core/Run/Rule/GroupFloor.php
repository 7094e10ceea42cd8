<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Rule;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Run\Broken;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\StopRule;
use Heartwood\Core\Run\Why;

/** No group under its floor: at the clips, and wherever a scanner watches. */
final class GroupFloor implements StopRule
{
    public function check(Moment $m): ?Broken
    {
        return Broken::first([$this->watched($m), $this->clips($m)]);
    }

    private function watched(Moment $m): ?Broken
    {
        if ($m->plan->isSingle()) {
            return null;
        }
        // Under load a group is let down to its test cut-off; nothing starts under the board's own cut.
        $floor = !$m->plan->charges() && $m->on ? $m->plan->pack->profile()->testCutoffV : $m->plan->floorV();
        foreach ($m->s->groups ?? [] as $k => $v) {
            if ($v !== null && $v < $floor - Tiny::SLACK) {
                return new Broken(Why::GroupBelowFloor, sprintf('Group %d stands at %.2f V, under %.2f V', $k + 1, $v, $floor));
            }
        }

        return null;
    }

    private function clips(Moment $m): ?Broken
    {
        $v = $m->s->v;
        if ($v === null || abs($v) < RunLimits::OPEN_V || (!$m->plan->charges() && $m->on)) {
            return null;
        }
        $floor = $m->plan->belowFloorAllowed ? min($m->plan->floorV(), RunLimits::NEVER_BELOW_V) : $m->plan->floorV();
        if ($v >= $m->plan->n() * $floor - Tiny::SLACK) {
            return null;
        }

        return new Broken(Why::ClipsBelowFloor, sprintf('%.2f V at the clips, under the floor of %.2f V', $v, $m->plan->n() * $floor));
    }
}
