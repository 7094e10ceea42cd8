<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

/**
 * Ways through the places of a case, P after P to a group: line by line, to and fro, or, where lines do not meet, wherever
 * the walls leave least to choose.
 */
final class Run
{
    /** Steps that a search without lines takes at the most from one start, and starts. */
    private const STEPS = 6_000;

    private const TRIED = 12;

    /** And of how many cells. */
    private const MOST = 200;

    /** Places that a run may turn back by, before it gives a place up. */
    private const BACK = 2;

    private int $steps = 0;

    private int $tried = 0;

    private function __construct(private readonly Places $places, private readonly int $cells, private readonly int $parallel) {}

    /**
     * Orders in which groups are filled, line by line: first those in which each cell touches the one before, then those
     * that do not turn back for that. Whether each strip hangs together is for the plan to say.
     *
     * @param  bool  $all  from every corner; else from the first only
     * @return list<list<int>> so many cells each
     */
    public static function through(Places $places, int $cells, bool $all): array
    {
        $out = [];
        foreach ([true, false] as $touching) {
            foreach ($places->rows as $lines) {
                foreach ($all ? [[false, false], [true, false], [false, true], [true, true]] : [[false, false]] as [$fromEnd, $backwards]) {
                    $way = self::toAndFro($places, $fromEnd ? array_reverse($lines) : $lines, $backwards, $touching);
                    if (count($way) >= $cells) {
                        $way = array_slice($way, 0, $cells);
                        $out[implode(' ', $way)] = $way;
                    }
                }
            }
        }

        return array_values($out);
    }

    /** @return list<int>|null groups that hang together wherever they lie, found by trying; null: none, or too many to try */
    public static function anywhere(Places $places, int $cells, int $parallel): ?array
    {
        return $cells > self::MOST ? null : (new self($places, $cells, $parallel))->search();
    }

    /**
     * @param  list<list<int>>  $lines
     * @return list<int>
     */
    private static function toAndFro(Places $places, array $lines, bool $backwards, bool $touching): array
    {
        $way = [];
        foreach ($lines as $k => $line) {
            foreach (($k % 2 === 0) !== $backwards ? $line : array_reverse($line) as $i) {
                $touching ? self::goOn($way, $i, $places) : ($way[] = $i);
            }
        }

        return $way;
    }

    /**
     * Takes the next place into the run. Where an empty place lies between, the run turns back one or two cells earlier,
     * and what cannot be reached stays empty too.
     *
     * @param  list<int>  $way
     */
    private static function goOn(array &$way, int $next, Places $places): void
    {
        if ($way === []) {
            $way[] = $next;

            return;
        }
        for ($back = 0; $back <= self::BACK && $back < count($way); $back++) {
            if (in_array($next, $places->near[$way[count($way) - 1 - $back]], true)) {
                array_splice($way, count($way) - $back);
                $way[] = $next;

                return;
            }
        }
    }

    /** @return list<int>|null */
    private function search(): ?array
    {
        // Corners first: who has fewest neighbours is reached last, if the run does not begin there.
        $starts = array_keys($this->places->at);
        usort($starts, fn(int $a, int $b): int => [count($this->places->near[$a]), $a] <=> [count($this->places->near[$b]), $b]);
        foreach ($starts as $start) {
            $this->steps = 0;
            $way = $this->walk([$start], [$start => true]);
            if ($way !== null) {
                return $way;
            }
            $this->tried++;
            if ($this->tried >= self::TRIED) {
                break;
            }
        }

        return null;
    }

    /**
     * Each cell touches one of its own group or of the group before; with every group that is full its strip must hang
     * together, and both end groups by themselves.
     *
     * @param  list<int>  $way
     * @param  array<int, true>  $used
     * @return list<int>|null
     */
    private function walk(array $way, array $used): ?array
    {
        $n = count($way);
        $begun = $n % $this->parallel;
        if ($begun === 0 && !$this->holds($way, $n === $this->parallel || $n === $this->cells)) {
            return null;
        }
        if ($n === $this->cells) {
            return $way;
        }
        if (++$this->steps > self::STEPS) {
            return null;
        }
        $free = fn(int $i): array => array_values(array_filter($this->places->near[$i], fn(int $j): bool => !isset($used[$j])));
        $next = [];
        foreach (array_slice($way, -$this->parallel - $begun) as $i) {
            foreach ($free($i) as $j) {
                // Who would be left alone first; of those, who hangs most on what is there.
                $next[$j] ??= [count($free($j)), 0, $j];
                $next[$j][1]--;
            }
        }
        asort($next);
        foreach (array_keys($next) as $j) {
            $found = $this->walk([...$way, $j], $used + [$j => true]);
            if ($found !== null) {
                return $found;
            }
        }

        return null;
    }

    /**
     * @param  list<int>  $way
     * @param  bool  $alone  the last group by itself; else with the one before
     */
    private function holds(array $way, bool $alone): bool
    {
        if ($alone && count($way) > $this->parallel && !$this->holds($way, false)) {
            return false;
        }
        $in = array_flip(array_slice($way, ($alone ? -1 : -2) * $this->parallel));
        $seen = [array_key_first($in) => true];
        for ($queue = array_keys($seen); $queue !== []; ) {
            foreach ($this->places->near[(int) array_pop($queue)] as $j) {
                if (isset($in[$j]) && !isset($seen[$j])) {
                    $seen[$j] = true;
                    $queue[] = $j;
                }
            }
        }

        return count($seen) === count($in);
    }
}
