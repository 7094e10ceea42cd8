<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Tiny;

/**
 * Half an hour after every end, output off: current must be gone, and the group must cool (handbook "Gates on work").
 * One that warms, or stays warm and does not cool, goes into quarantine.
 */
final class AfterStop
{
    private ?float $left = null;

    private float $lastT;

    private ?float $coolest;

    private ?float $lastC;

    private ?float $currentA = null;

    private ?string $quarantine = null;

    /** @var list<array{float, float}> */
    private array $degrees = [];

    public function __construct(private readonly RunPlan $plan, private readonly float $since, private float $ambientC, ?float $c)
    {
        $this->lastT = $since;
        $this->coolest = $this->lastC = $c;
        $this->degrees = $c === null ? [] : [[$since, $c]];
    }

    public function take(Sample $s): void
    {
        if ($this->isOver() || $s->t < $this->lastT) {
            return;
        }
        $this->lastT = $s->t;
        $this->ambientC = $s->ambientC ?? $this->ambientC;
        $limit = $this->plan->offA();
        $this->currentA =
            $s->a !== null && abs($s->a) > $limit + Tiny::SLACK && $s->t - $this->since > RunLimits::OFF_S
                ? $s->a
                : ($s->a === null
                    ? $this->currentA
                    : null);
        if ($s->c === null) {
            return;
        }
        $this->lastC = $s->c;
        $this->coolest = min($this->coolest ?? $s->c, $s->c);
        $this->degrees[] = [$s->t, $s->c];
        if ($s->c - $this->coolest > RunLimits::AFTER_RISE_K + Tiny::SLACK) {
            $this->quarantine = sprintf('risen %.1f K with the output off', $s->c - $this->coolest);
        }
        $then = null;
        foreach ($this->degrees as [$t, $c]) {
            if ($t > $s->t - RunLimits::AFTER_FALLING_S + Tiny::SUM) {
                break;
            }
            $then = $c;
        }
        if ($then !== null && $s->c - $this->ambientC > RunLimits::AFTER_OVER_K && $s->c >= $then) {
            $this->quarantine = sprintf('%.1f K over the air around it and not falling after 10 min', $s->c - $this->ambientC);
        }
    }

    /** The clock went on and nobody looked. */
    public function tick(float $t): void
    {
        $this->lastT = max($this->lastT, $t);
    }

    /** A person takes the watch over, in words. */
    public function leave(string $why): void
    {
        $this->left = $this->lastT;
    }

    public function isOver(): bool
    {
        return $this->left !== null || $this->quarantine !== null || $this->lastT - $this->since >= RunLimits::AFTER_S;
    }

    /** @return string|null why the pack goes into quarantine */
    public function quarantine(): ?string
    {
        return $this->quarantine;
    }

    /** @return string|null what to do at once */
    public function alarm(): ?string
    {
        return $this->currentA === null ? null : sprintf('%.2f A still flow with the output off: pull the clips now', $this->currentA);
    }

    /** @return array{left_s: float, over: bool, c: float|null, quarantine: string|null, alarm: string|null, taken_over: bool} */
    public function toArray(): array
    {
        return [
            'left_s' => $this->isOver() ? 0.0 : round($this->since + RunLimits::AFTER_S - $this->lastT),
            'over' => $this->isOver(),
            'c' => $this->lastC,
            'quarantine' => $this->quarantine,
            'alarm' => $this->alarm(),
            'taken_over' => $this->left !== null,
        ];
    }
}
