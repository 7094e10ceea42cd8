<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Rule;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Run\Broken;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\SetPoints;
use Heartwood\Core\Run\StopRule;
use Heartwood\Core\Run\Why;

/** Current the wrong way, current with the output off, or set-points that are not the order's. */
final class NotAsOrdered implements StopRule
{
    private ?float $wrongSince = null;

    public function check(Moment $m): ?Broken
    {
        $off = $m->plan->offA();
        $a = $m->s->a;
        if (!$m->on) {
            $settled = $m->offFor === null || $m->offFor > RunLimits::OFF_S;
            if ($a !== null && abs($a) > $off + Tiny::SLACK && $settled) {
                return new Broken(Why::SupplyNotAsOrdered, sprintf('%.2f A flow with the output off: pull the clips', $a));
            }
        } elseif ($a !== null && $a * $m->plan->sign() < -$off - Tiny::SLACK) {
            return new Broken(Why::SupplyNotAsOrdered, sprintf('%.2f A flow the wrong way', $a));
        }
        $wrong = $m->order->hasSetPoints() ? SetPoints::differ($m->plan, $m->order, $m->s) : null;
        if ($wrong === null) {
            $this->wrongSince = null;

            return null;
        }
        // With the output off a supply may be a moment late; with it on nobody else may move it.
        $this->wrongSince ??= $m->s->t;

        return $m->on || $m->s->t - $this->wrongSince >= RunLimits::SET_TAKES_S ? new Broken(Why::SupplyNotAsOrdered, $wrong) : null;
    }
}
