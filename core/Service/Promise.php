<?php

declare(strict_types=1);

namespace Heartwood\Core\Service;

/**
 * What a workshop promises of its work when a pack goes back: for how many months, and what is not part of it (handbook "A pack that
 * comes back"). Calendar months; the last day of a shorter month where the day is missing.
 */
final readonly class Promise
{
    /** @param  list<Cause>  $excludes  causes that it does not cover */
    public function __construct(public \DateTimeImmutable $from, public int $months, public array $excludes, public string $words = '') {}

    /** The last moment at which it holds. */
    public function ends(): \DateTimeImmutable
    {
        $first = $this->from->modify('first day of this month')->modify("+{$this->months} months");
        $day = min((int) $this->from->format('j'), (int) $first->format('t'));

        return $first->setDate((int) $first->format('Y'), (int) $first->format('n'), $day);
    }

    public function runs(\DateTimeImmutable $at): bool
    {
        return $this->months > 0 && $at >= $this->from && $at <= $this->ends();
    }

    /** Whether a pack that came back at a time falls under it. */
    public function covers(Cause $cause, \DateTimeImmutable $cameBack): bool
    {
        return $this->runs($cameBack) && !in_array($cause, $this->excludes, true);
    }

    public function sentence(): string
    {
        if ($this->months === 0) {
            return 'Nothing is promised of this work.';
        }
        $not = array_map(fn(Cause $c): string => $c->words(), $this->excludes);
        $out = sprintf('This work is promised for %d %s, until %s', $this->months, $this->months === 1 ? 'month' : 'months', $this->day());

        return $out . ($not === [] ? '' : '; not: ' . implode(', ', $not)) . ($this->words === '' ? '.' : ". {$this->words}");
    }

    private function day(): string
    {
        return $this->ends()->format('j F Y');
    }
}
