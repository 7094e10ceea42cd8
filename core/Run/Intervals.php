<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Limits\RunLimits;

/** How often samples come, by the middle of the last few gaps. */
final class Intervals
{
    private const KEEP = 9;

    /** @var list<float> */
    private array $gaps = [];

    private ?float $last = null;

    public function add(float $t): void
    {
        if ($this->last !== null && $t > $this->last) {
            $this->gaps[] = $t - $this->last;
            if (count($this->gaps) > self::KEEP) {
                array_shift($this->gaps);
            }
        }
        $this->last = $t;
    }

    /**
     * Seconds for which volts or amps may be missing. The gap that is just over does not count for itself.
     *
     * @param  bool  $hurried  simulated time: the most there is, which is a second or two of the machine's
     */
    public function lostAfter(bool $hurried = false): float
    {
        if ($hurried) {
            return RunLimits::LOST_MOST_S;
        }
        $gaps = count($this->gaps) > 1 ? array_slice($this->gaps, 0, -1) : $this->gaps;
        sort($gaps);
        $middle = $gaps === [] ? 0.0 : $gaps[intdiv(count($gaps), 2)];

        return min(RunLimits::LOST_MOST_S, max(RunLimits::LOST_LEAST_S, RunLimits::LOST_INTERVALS * $middle));
    }
}
