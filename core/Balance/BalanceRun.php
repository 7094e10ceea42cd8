<?php

declare(strict_types=1);

namespace Heartwood\Core\Balance;

use Heartwood\Core\Recovery\Order;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Recovery\Sample;
use Heartwood\Core\Recovery\SupervisedRun;

/**
 * One supply, one group after another, each finished before the clips move. Moved by samples, so that it can be built
 * again from its journal. The output is off until a person says that the clips sit.
 */
final class BalanceRun implements SupervisedRun
{
    /** No group takes more than this much over what was worked out for it. */
    private const OVER = 1.15;

    private int $at = 0;

    private bool $clipped = false;

    private ?string $paused = null;

    private ?string $rule = null;

    private string $text = '';

    private float $lastT;

    private float $begun;

    private ?float $lastWhole = null;

    private ?float $lastV = null;

    private ?float $lastA = null;

    private ?float $lastC = null;

    /** @var array<int, float> Ah put into each item so far */
    private array $ah;

    /** @var list<array{at: float, text: string}> */
    private array $log = [];

    /**
     * @param  list<array{group: int, ah: float, hours: float, taper_a: float, by_ah?: bool}>  $order  as BalancePlan::single() or level() gives it
     */
    public function __construct(
        private readonly array $order,
        private readonly float $volts,
        private readonly float $amps,
        private readonly float $ambientC = 20.0,
        float $t = 0.0,
    ) {
        $this->lastT = $this->begun = $t;
        $this->ah = array_fill(0, count($order), 0.0);
        if ($order === []) {
            $this->rule = 'nothing-to-do';
            $this->text = 'Every group is at the top already.';
        }
    }

    public function clipped(float $t): Order
    {
        if (! $this->clipped && ! $this->isOver()) {
            $this->clipped = true;
            $this->lastT = $this->lastWhole = $this->begun = $t;
            $this->lastA = $this->lastV = null;
            $this->note($t, sprintf('clips on group %d', $this->group()));
        }

        return $this->order();
    }

    public function take(Sample $s): Order
    {
        if ($s->t < $this->lastT || $this->isOver() || $this->paused !== null) {
            return $this->order();
        }
        $gap = $s->t - $this->lastT;
        $this->lastT = $s->t;
        $this->lastC = $s->c ?? $this->lastC;
        if ($this->lastC !== null && $this->lastC > min(RecoveryPlan::TOO_HOT_C, $this->ambientC + RecoveryPlan::OVER_AMBIENT_K)) {
            return $this->stop($s->t, 'warm', sprintf('%.1f degC', $this->lastC));
        }
        if (! $this->clipped) {
            return Order::off();
        }
        if (! $s->isWhole()) {
            return $this->tick($s->t);
        }
        $v = (float) $s->v;
        $a = (float) $s->a;
        $item = $this->order[$this->at];
        if ($this->lastV !== null && $this->lastA !== null && abs($v - $this->lastV) > 0.25 && $gap <= 60 && abs($a - $this->lastA) <= 0.05 * max(0.05 * $this->amps, abs($a))) {
            return $this->stop($s->t, 'jump', sprintf('from %.2f V to %.2f V at one step: a clip is off, or the group has failed', $this->lastV, $v));
        }
        $this->ah[$this->at] += ($this->lastA === null ? $a : ($a + $this->lastA) / 2) * $gap / 3600;
        [$this->lastV, $this->lastA, $this->lastWhole] = [$v, $a, $s->t];
        if ($v > $this->volts + 0.02) {
            return $this->stop($s->t, 'over-full', sprintf('group %d reads %.3f V, %.3f V is its limit', $item['group'], $v, $this->volts));
        }
        if ($this->ah[$this->at] > self::OVER * $item['ah'] + 0.02 * $this->amps) {
            return $this->stop($s->t, 'more-than-the-gap', sprintf('group %d has taken %.2f Ah, %.2f Ah were to be expected', $item['group'], $this->ah[$this->at], $item['ah']));
        }
        $enough = ($item['by_ah'] ?? false) ? $item['ah'] <= $this->ah[$this->at] + $a * $gap / 7200 : $v >= $this->volts - 0.02 && $a <= $item['taper_a'] && $s->t - $this->begun > 30;
        if ($enough) {
            $this->note($s->t, sprintf('group %d done: %.2f Ah, %.2f A at the end', $item['group'], $this->ah[$this->at], $a));
            $this->at++;
            $this->clipped = false;
            if ($this->at === count($this->order)) {
                $this->rule = 'done';
                $this->text = 'Every group of the plan is done: let them rest and read them again.';
            }
        }

        return $this->order();
    }

    public function tick(float $t): Order
    {
        if ($this->clipped && ! $this->isOver() && $this->paused === null && $this->lastWhole !== null && $t - $this->lastWhole > RecoveryPlan::MISSING_S) {
            return $this->stop($t, 'missing', 'no whole reading for 3 min: nobody is watching');
        }

        return $this->order();
    }

    public function pause(float $t, string $why): Order
    {
        if (! $this->isOver() && $this->paused === null) {
            $this->paused = $why;
            $this->note($t, "paused: $why");
        }

        return Order::off();
    }

    public function resume(float $t): Order
    {
        if ($this->paused !== null) {
            $this->paused = null;
            $this->lastT = $this->lastWhole = $this->begun = $t;
            $this->lastA = $this->lastV = null;
            $this->note($t, 'resumed');
        }

        return $this->order();
    }

    public function abort(float $t, string $why): Order
    {
        return $this->isOver() ? Order::off() : $this->stop($t, 'person', $why);
    }

    public function order(): Order
    {
        return $this->clipped && ! $this->isOver() && $this->paused === null ? Order::drive($this->volts, $this->amps) : Order::off();
    }

    public function isOver(): bool
    {
        return $this->rule !== null;
    }

    public function isPaused(): bool
    {
        return $this->paused !== null;
    }

    public function group(): int
    {
        return $this->order === [] ? 1 : $this->order[min($this->at, count($this->order) - 1)]['group'];
    }

    /** Hours still to go: what is planned for the rest, this group's share by what is in already. */
    public function remainingHours(): float
    {
        $hours = 0.0;
        foreach (array_slice($this->order, $this->at) as $i => $item) {
            $hours += $item['hours'] * ($i === 0 ? max(0.02, 1 - $this->ah[$this->at] / max(1e-6, $item['ah'])) : 1.0);
        }

        return $hours;
    }

    /** @return array<string, mixed> */
    public function view(): array
    {
        $items = [];
        foreach ($this->order as $i => $item) {
            $items[] = ['group' => $item['group'], 'ah' => round($this->ah[$i], 3), 'of_ah' => $item['ah'], 'state' => $i < $this->at ? 'full' : ($i === $this->at && ! $this->isOver() ? ($this->clipped ? 'filling' : 'next') : ($this->rule === 'done' ? 'full' : 'waits'))];
        }

        return [
            'phase' => $this->isOver() ? 'stopped' : ($this->clipped ? 'fill' : 'clip'),
            'phase_word' => $this->isOver() ? ($this->rule === 'done' ? 'level' : 'stopped') : ($this->clipped ? 'filling group '.$this->group() : 'put the clips on group '.$this->group()),
            'paused' => $this->paused, 'over' => $this->isOver(), 'stopped_by' => $this->rule, 'text' => $this->text, 'since_s' => round($this->lastT - $this->begun, 1), 'run_s' => round($this->lastT, 1),
            'v' => $this->lastV, 'a' => $this->lastA, 'c' => $this->lastC, 'ah_in' => round(array_sum($this->ah), 4), 'share' => null, 'expected_v' => null, 'watch' => [], 'log' => $this->log,
            'order' => ['on' => $this->order()->on, 'volts' => round($this->order()->volts, 3), 'amps' => round($this->order()->amps, 3)],
            'items' => $items, 'remaining_h' => round($this->remainingHours(), 2), 'group' => $this->group(),
        ];
    }

    private function stop(float $t, string $rule, string $text): Order
    {
        $this->rule = $rule;
        $this->text = ucfirst($text).'.';
        $this->note($t, "stopped: $text");

        return Order::off();
    }

    private function note(float $t, string $text): void
    {
        $this->log[] = ['at' => round($t, 1), 'text' => $text];
    }
}
