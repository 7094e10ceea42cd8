<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Maths\Tiny;

/**
 * The best deal there is, proven: every group that keeps the limit is listed, and groups are put together one after the
 * other, leaving out what cannot come to more than the best so far. A cell is a bit; a group or a set of cells a number.
 */
final class ExactDeal
{
    /** Groups that are listed at the most, and steps that are gone: a second's work at the most. More, and nothing is proven. */
    private const MOST_SETS = 12_000;

    private const MOST_STEPS = 1_500_000;

    /** Bits that a number has for cells. */
    private const MOST_CELLS = 60;

    private int $steps = 0;

    /** @var array<int, list<array{int, float, float, int, float}>> by first cell: cells, Ah, siemens, lots, ratio */
    private array $sets = [];

    /** @var list<int>|null groups of the best deal so far */
    private ?array $found = null;

    /** @var array{float, int, float} spread, lots, ratio of the best so far */
    private array $worth = [INF, PHP_INT_MAX, INF];

    /** @param  list<DrawerCell>  $cells  best first */
    private function __construct(private readonly array $cells, private readonly int $p, private float $least) {}

    /**
     * @param  list<DrawerCell>  $cells  best first; a deal of them exists
     * @param  Deal  $known  a lawful deal, to be beaten
     * @return Deal the best there is; where it was too much to try them all, the best of those that were, not proven
     */
    public static function best(array $cells, int $series, int $parallel, float $ratio, Deal $known): Deal
    {
        $self = new self($cells, $parallel, $known->least());
        $self->list($ratio);
        // First how much the smallest group can hold, then the best of those that hold as much.
        $all = (1 << count($cells)) - 1;
        $self->most($all, $series, INF, []);
        $most = $self->found === null ? $known : $self->deal($known, $self->found);
        $self->least = $most->least() - DealOrder::alikeAh($most) - Tiny::SLACK;
        $self->found = null;
        $self->keepOnlyEnough(array_sum($most->conductances) / $series);
        $self->refine($all, $series, [INF, 0.0, 0, 1.0], []);

        $last = $self->found === null ? $most : $self->deal($known, $self->found);

        return $last->proven ? $last : DealOrder::best([$last, $most, $known]);
    }

    public static function inReach(int $cells, int $parallel): bool
    {
        return $cells <= self::MOST_CELLS && self::choices($cells, $parallel) <= self::MOST_SETS;
    }

    private static function choices(int $n, int $k): float
    {
        $out = 1.0;
        for ($i = 1; $i <= min($k, $n - $k); $i++) {
            $out *= ($n - min($k, $n - $k) + $i) / $i;
        }

        return $out;
    }

    private function list(float $ratio): void
    {
        $this->add(0, [], [0, 0.0, 0.0, INF, 0.0], $ratio * (1 + Tiny::CHANCE));
        // The least that is enough first: it leaves most to the others.
        foreach ($this->sets as &$list) {
            usort($list, fn(array $a, array $b): int => $a[1] <=> $b[1]);
        }
    }

    /**
     * @param  list<int>  $in  cells so far
     * @param  array{int, float, float, float, float}  $so  their bits, Ah, siemens, lowest and highest resistance
     */
    private function add(int $next, array $in, array $so, float $ratio): void
    {
        [$mask, $ah, $siemens, $low, $high] = $so;
        if (count($in) === $this->p) {
            $lots = count(array_unique(array_map(fn(int $i): string => $this->cells[$i]->kind(), $in)));
            $this->sets[$in[0]][] = [$mask, $ah, $siemens, $lots, $high / $low];

            return;
        }
        for ($i = $next, $n = count($this->cells); $i < $n; $i++) {
            $c = $this->cells[$i];
            $least = min($low, $c->mohm);
            $most = max($high, $c->mohm);
            if ($most <= $ratio * $least) {
                $this->add(
                    $i + 1,
                    [...$in, $i],
                    [$mask | (1 << $i), $ah + $c->capacityAh, $siemens + 1000 / $c->mohm, $least, $most],
                    $ratio,
                );
            }
        }
    }

    /** Groups under the floor go; those near to the usual conductance come first. */
    private function keepOnlyEnough(float $usual): void
    {
        foreach ($this->sets as &$list) {
            $list = array_values(array_filter($list, fn(array $x): bool => $x[1] >= $this->least));
            usort($list, fn(array $a, array $b): int => abs($a[2] - $usual) <=> abs($b[2] - $usual));
        }
    }

    /** What the cells that are left could come to in each group, were they dealt evenly. */
    private function share(int $free, int $groups): float
    {
        $left = $groups * $this->p;
        $sum = 0.0;
        $this->steps += count($this->cells);
        for ($i = 0; $left > 0; $i++) {
            if (($free & (1 << $i)) !== 0) {
                $sum += $this->cells[$i]->capacityAh;
                $left--;
            }
            if ($free < 1 << $i) {
                return -INF;
            }
        }

        return $sum / $groups;
    }

    /**
     * @param  list<int>  $taken
     */
    private function most(int $free, int $groups, float $smallest, array $taken): void
    {
        if ($groups === 0) {
            $this->least = $smallest;
            $this->found = $taken;

            return;
        }
        while ($this->steps <= self::MOST_STEPS && $this->share($free, $groups) > $this->least + Tiny::SLACK) {
            $first = $this->first($free);
            foreach ($this->sets[$first] ?? [] as [$mask, $ah]) {
                $this->steps++;
                if (($mask & $free) === $mask && $ah > $this->least + Tiny::SLACK) {
                    $this->most($free & ~$mask, $groups - 1, min($smallest, $ah), [...$taken, $mask]);
                }
            }
            // Or without this cell.
            $free &= ~(1 << $first);
        }
    }

    /**
     * @param  array{float, float, int, float}  $so  least and most conductance, lots, ratio
     * @param  list<int>  $taken
     */
    private function refine(int $free, int $groups, array $so, array $taken): void
    {
        [$low, $high, $lots, $ratio] = $so;
        if ($groups === 0) {
            $this->worth = [$this->spread($low, $high), $lots, $ratio];
            $this->found = $taken;

            return;
        }
        while ($this->steps <= self::MOST_STEPS && $this->share($free, $groups) >= $this->least) {
            $first = $this->first($free);
            foreach ($this->sets[$first] ?? [] as [$mask, , $s, $kinds, $wide]) {
                $this->steps++;
                if (($mask & $free) !== $mask) {
                    continue;
                }
                $next = [min($low, $s), max($high, $s), $lots + $kinds, max($ratio, $wide)];
                if ([$this->spread($next[0], $next[1]), $next[2] + $groups - 1, $next[3]] < $this->worth) {
                    $this->refine($free & ~$mask, $groups - 1, $next, [...$taken, $mask]);
                }
            }
            $free &= ~(1 << $first);
        }
    }

    private function spread(float $low, float $high): float
    {
        return round(DealOrder::spread($high / $low - 1), 9);
    }

    private function first(int $free): int
    {
        for ($i = 0; ($free & (1 << $i)) === 0; $i++);

        return $i;
    }

    /** @param  list<int>  $groups */
    private function deal(Deal $known, array $groups): Deal
    {
        $in = fn(int $mask): array => array_values(
            array_filter($this->cells, fn(int $i): bool => ($mask & (1 << $i)) !== 0, ARRAY_FILTER_USE_KEY),
        );
        $used = array_reduce($groups, fn(int $a, int $b): int => $a | $b, 0);
        $spares = $in(((1 << count($this->cells)) - 1) & ~$used);

        return new Deal(array_map($in, $groups), $spares, $known->bound, $known->way, $this->steps <= self::MOST_STEPS);
    }
}
