<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/**
 * Several groups, one after another on one supply: each proved for itself before the output goes on, each finished before
 * the clips move. The first that ends badly ends them all.
 */
final class Sequence implements Supervised
{
    /** Share of a group that is still to do until it is done. */
    private const LEFT = 0.02;

    private int $at = 0;

    private SupervisedRun $run;

    /** @var array<int, float> Ah put into each so far */
    private array $ah = [];

    /** @var list<array{at: float, text: string}> of the groups that are done */
    private array $log = [];

    private float $t = 0.0;

    /**
     * @param  non-empty-list<RunPlan>  $plans  of one pack, in order
     * @param  list<float>  $hours  that each is expected to take
     */
    public function __construct(private readonly array $plans, private readonly array $hours = [])
    {
        $this->run = new SupervisedRun($plans[0]);
    }

    public function take(Sample $s): Order
    {
        $this->t = max($this->t, $s->t);
        $order = $this->run->take($s);
        $this->moveOn();

        return $this->at < count($this->plans) ? $this->run->order() : $order;
    }

    public function tick(float $t): Order
    {
        $this->t = max($this->t, $t);

        return $this->run->tick($t);
    }

    public function hear(Said $said): Order
    {
        $this->t = max($this->t, $said->t);

        return $this->run->hear($said);
    }

    public function order(): Order
    {
        return $this->run->order();
    }

    public function isOver(): bool
    {
        return $this->run->isOver();
    }

    public function isPaused(): bool
    {
        return $this->run->isPaused();
    }

    public function isWatchedOut(): bool
    {
        return $this->run->isWatchedOut();
    }

    public function group(): int
    {
        return $this->run->group();
    }

    public function ended(): ?Broken
    {
        return $this->run->ended();
    }

    public function view(): array
    {
        $view = $this->run->view();
        $now = $this->run->ahIn();
        $items = [];
        foreach ($this->plans as $i => $plan) {
            $done = $i < $this->at || ($i === $this->at && $this->run->ended()?->why->isGood() === true);
            $items[] = [
                'group' => $plan->group ?? 0,
                'ah' => round($i === $this->at ? $now : $this->ah[$i] ?? 0.0, 3),
                'of_ah' => $plan->targetAh,
                'state' => $done
                    ? 'full'
                    : ($i === $this->at && !$this->isOver()
                        ? ($this->run->order()->on
                            ? 'filling'
                            : 'next')
                        : 'waits'),
            ];
        }
        $hours = 0.0;
        foreach (array_slice($this->hours, $this->at, null, true) as $i => $h) {
            $of = $this->plans[$i]->targetAh ?? 0.0;
            $hours += $h * ($i === $this->at && $of > 0.0 ? max(self::LEFT, 1 - $now / $of) : 1.0);
        }

        return [
            'items' => $items,
            'remaining_h' => $this->isOver() ? 0.0 : round($hours, 2),
            'ah_in' => round(array_sum($this->ah) + $now, 4),
            'log' => [...$this->log, ...is_array($view['log']) ? $view['log'] : []],
            'stopped_by' => $this->run->ended()?->why->isGood() === true ? Why::Done->value : $view['stopped_by'],
            'text' =>
                $this->run->ended()?->why->isGood() === true
                    ? 'Every group of the plan is done: let them rest and read them again.'
                    : $view['text'],
        ] + $view;
    }

    private function moveOn(): void
    {
        if ($this->run->ended()?->why->isGood() !== true || $this->at + 1 >= count($this->plans)) {
            return;
        }
        $this->ah[$this->at] = $this->run->ahIn();
        $this->log = [
            ...$this->log,
            ...$this->run->log(),
            ['at' => $this->t, 'text' => sprintf('group %d done: %.2f Ah', $this->run->group(), $this->run->ahIn())],
        ];
        $this->at++;
        $this->run = new SupervisedRun($this->plans[$this->at]);
    }
}
