<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Kind;

use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\Phase;
use Heartwood\Core\Run\RunKind;
use Heartwood\Core\Run\Step;
use Heartwood\Core\Run\Why;

/** The logged exception: past the board at C/20, every group read, handed to the board as soon as it would take over. */
final class Bypass extends RunKind
{
    public function first(): Phase
    {
        return Phase::Charge;
    }

    public function step(Moment $m, Phase $phase, float $since): Step
    {
        if (!$m->s->hasGroups($this->plan->pack->series)) {
            return Step::stay();
        }
        $groups = array_map(floatval(...), (array) $m->s->groups);
        if ($groups !== [] && min($groups) > $this->plan->pack->lowReleaseV()) {
            return Step::end(Why::Done, sprintf('Every group is over %.2f V: the board takes over', $this->plan->pack->lowReleaseV()));
        }
        foreach ($groups as $k => $v) {
            if ($v >= $this->plan->fullV() - Tiny::SLACK) {
                return Step::end(Why::TargetReached, sprintf('Group %d has reached %.2f V', $k + 1, $v));
            }
        }

        return Step::stay();
    }
}
