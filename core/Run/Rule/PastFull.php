<?php

declare(strict_types=1);

namespace Heartwood\Core\Run\Rule;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Run\Broken;
use Heartwood\Core\Run\Moment;
use Heartwood\Core\Run\StopRule;
use Heartwood\Core\Run\Why;

/**
 * One group, or past the board: nothing over working full. A pack charged through its board is let up to the board's own
 * cut: beyond that the board is not doing its job.
 */
final class PastFull implements StopRule
{
    private int $overInARow = 0;

    /** @var array<int, float> when each watched group first stood over the board's cut */
    private array $overCutSince = [];

    public function check(Moment $m): ?Broken
    {
        if (!$m->plan->charges()) {
            return null;
        }

        return $m->plan->kind === 'charge' ? $this->pack($m) : $this->single($m);
    }

    private function single(Moment $m): ?Broken
    {
        $full = $m->plan->fullV();
        $n = $m->plan->n();
        $least = max(RunLimits::PAST_FULL_V, RunLimits::BAND_SIGMAS * $m->sigmaV());
        $over = $atOnce = null;
        foreach ([null, ...array_keys($m->plan->kind === 'bypass' ? $m->s->groups ?? [] : [])] as $k) {
            $v = $k === null ? $m->s->v : $m->s->groups[$k] ?? null;
            $times = $k === null ? $n : 1;
            if ($v === null || $v <= $times * ($full + $least) + Tiny::SLACK) {
                continue;
            }
            $what = $k === null ? ($n === 1 ? 'The group' : 'The pack') : 'Group ' . ($k + 1);
            $broken = new Broken(
                $k === null ? Why::VoltagePastFull : Why::GroupPastFull,
                sprintf('%s stands at %.3f V, %.2f V is full', $what, $v, $times * $full),
            );
            $over = Broken::first([$over, $broken]);
            if ($v > $times * ($full + RunLimits::PAST_FULL_AT_ONCE_V) + Tiny::SLACK) {
                $atOnce = Broken::first([$atOnce, $broken]);
            }
        }
        $this->overInARow = $over === null ? 0 : $this->overInARow + 1;

        return $atOnce ?? ($this->overInARow >= 2 ? $over : null);
    }

    private function pack(Moment $m): ?Broken
    {
        $cut = $m->plan->pack->bms->float('high_cut_v');
        $least = $cut === null ? $m->plan->pack->profile()->fullV + RunLimits::NO_CUT_V : $cut + RunLimits::OVER_CUT_V;
        $out = null;
        foreach ($m->s->groups ?? [] as $k => $v) {
            if ($v === null) {
                continue;
            }
            if ($cut === null || $v <= $cut) {
                unset($this->overCutSince[$k]);
            } else {
                $this->overCutSince[$k] ??= $m->s->t;
            }
            $long = isset($this->overCutSince[$k]) && $m->s->t - $this->overCutSince[$k] >= RunLimits::OVER_CUT_S;
            if ($v > $least + Tiny::SLACK || $long) {
                $out ??= new Broken(
                    Why::GroupPastFull,
                    sprintf(
                        'Group %d stands at %.3f V and %s',
                        $k + 1,
                        $v,
                        $cut === null
                            ? 'no cut of the board is known'
                            : sprintf('the board has not cut at %.2f V: it does not stop over-charge', $cut),
                    ),
                );
            }
        }
        if ($out === null && $m->s->v !== null && $m->s->v > $m->plan->n() * $least + Tiny::SLACK) {
            $out = new Broken(Why::VoltagePastFull, sprintf('%.2f V at the clips, over %.2f V', $m->s->v, $m->plan->n() * $least));
        }

        return $out;
    }
}
