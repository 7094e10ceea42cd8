<?php

declare(strict_types=1);

namespace Heartwood\Core\Recovery;

use Heartwood\Core\Record\PackSpec;

/**
 * The logged exception as a run: the whole pack at C/20 or less past its board, every group seen with every sample,
 * ended by the first full group, by any group that falls, by warmth, by an old reading, and handed to the board as soon
 * as every group is past its release voltage (handbook "Recovery of a deep-discharged group").
 */
final class BypassRun implements SupervisedRun
{
    private ?string $rule = null;

    private string $text = '';

    private ?string $paused = null;

    private float $lastT;

    private ?float $seenAt = null;

    private float $ah = 0.0;

    private ?float $lastA = null;

    private ?float $lastC = null;

    /** @var list<float> */
    private array $groups = [];

    /** @var list<array{float, list<float>}> */
    private array $window = [];

    /** @var list<array{at: float, text: string}> */
    private array $log = [];

    public function __construct(private readonly PackSpec $pack, private readonly float $amps, private readonly float $ambientC = 20.0, private readonly float $startedAt = 0.0)
    {
        $this->lastT = $startedAt;
    }

    public function take(Sample $s): Order
    {
        if ($s->t < $this->lastT || $this->isOver() || $this->paused !== null) {
            return $this->order();
        }
        $gap = $s->t - $this->lastT;
        $this->lastT = $s->t;
        $this->lastC = $s->c ?? $this->lastC;
        if ($s->groups === null || count($s->groups) !== $this->pack->series || $s->a === null || $s->c === null) {
            return $this->tick($s->t);
        }
        $this->ah += ($this->lastA === null ? $s->a : ($s->a + $this->lastA) / 2) * $gap / 3600;
        $this->lastA = $s->a;
        $this->groups = $s->groups;
        $this->seenAt = $s->t;
        $check = BypassWatch::check($this->pack, $s->groups, 0.0, $s->c, $this->ambientC);
        if ($check['off']) {
            return $this->stop($s->t, $check['handOver'] ? 'handed-over' : 'limit', rtrim($check['text'], '.'));
        }
        foreach ($this->window as [$then, $before]) {
            foreach ($before as $k => $v) {
                if ($then > $this->startedAt && $v - $s->groups[$k] > RecoveryPlan::FALL_V) {
                    return $this->stop($s->t, 'falls', sprintf('group %d has fallen %.0f mV within 3 min while current flows', $k + 1, 1000 * ($v - $s->groups[$k])));
                }
            }
        }
        if ($s->a > 0.8 * $this->amps) {
            $this->window[] = [$s->t, $s->groups];
        }
        $this->window = array_values(array_filter($this->window, fn (array $w): bool => $w[0] >= $s->t - RecoveryPlan::FALL_S));

        return $this->order();
    }

    public function tick(float $t): Order
    {
        if (! $this->isOver() && $this->paused === null && $t - ($this->seenAt ?? $this->startedAt) > BypassWatch::EVERY_S) {
            return $this->stop($t, 'missing', sprintf('not every group has been read for %.0f s', $t - ($this->seenAt ?? $this->startedAt)));
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
            $this->lastT = $this->seenAt = $t;
            $this->lastA = null;
            $this->window = [];
            $this->note($t, 'resumed');
        }

        return $this->order();
    }

    public function abort(float $t, string $why): Order
    {
        return $this->isOver() ? Order::off() : $this->stop($t, 'person', $why);
    }

    public function clipped(float $t): Order
    {
        return $this->order();
    }

    public function order(): Order
    {
        return $this->isOver() || $this->paused !== null ? Order::off() : Order::drive($this->pack->series * $this->pack->workingFullV(), $this->amps);
    }

    public function isOver(): bool
    {
        return $this->rule !== null;
    }

    public function isPaused(): bool
    {
        return $this->paused !== null;
    }

    /** The whole pack: no one group. */
    public function group(): int
    {
        return 0;
    }

    /** @return array<string, mixed> */
    public function view(): array
    {
        $low = $this->groups === [] ? null : min($this->groups);
        $high = $this->groups === [] ? null : max($this->groups);

        return [
            'phase' => $this->isOver() ? 'stopped' : 'bypass', 'phase_word' => $this->rule === 'handed-over' ? 'handed to the board' : ($this->isOver() ? 'stopped' : 'past the board, every group watched'), 'paused' => $this->paused, 'over' => $this->isOver(),
            'stopped_by' => $this->rule === 'handed-over' ? 'done' : $this->rule, 'text' => $this->text, 'since_s' => round($this->lastT - $this->startedAt, 1), 'run_s' => round($this->lastT - $this->startedAt, 1), 'v' => $low, 'a' => $this->lastA, 'c' => $this->lastC,
            'ah_in' => round($this->ah, 4), 'share' => null, 'expected_v' => null, 'log' => $this->log, 'group' => 0, 'items' => [], 'remaining_h' => null,
            'watch' => [
                ['rule' => 'limit', 'text' => $high === null ? 'no group read yet' : sprintf('fullest %.3f of %.2f V', $high, $this->pack->workingFullV()), 'in_s' => null],
                ['rule' => 'handed-over', 'text' => $low === null ? '' : sprintf('lowest %.3f V, the board takes over at %.2f V', $low, $this->pack->lowReleaseV()), 'in_s' => null],
                ['rule' => 'missing', 'text' => 'every group once a minute', 'in_s' => max(0.0, ($this->seenAt ?? $this->startedAt) + BypassWatch::EVERY_S - $this->lastT)],
            ],
            'order' => ['on' => $this->order()->on, 'volts' => round($this->order()->volts, 3), 'amps' => round($this->order()->amps, 3)],
        ];
    }

    private function stop(float $t, string $rule, string $text): Order
    {
        $this->rule = $rule;
        $this->text = ucfirst($text).'.';
        $this->note($t, $text);

        return Order::off();
    }

    private function note(float $t, string $text): void
    {
        $this->log[] = ['at' => round($t, 1), 'text' => $text];
    }
}
