<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Maths\Tiny;

/**
 * Deals that are too many to try them all: begun several times, then cells are exchanged between pairs of groups, and
 * with the spares, as long as it helps. What helps: a group that is short of the floor comes nearer to it; where none is
 * short, conductances come together; where those are alike, lots do. The floor lies under the bound by what the tests
 * cannot tell apart, so no conductance is given away for capacity that nobody can measure.
 */
final class DealSearch
{
    /** How often a deal is begun anew, and how often all pairs are gone through. */
    private const TRIES = 40;

    /** How much a shortfall of capacity weighs beside conductance, tried in turn; in shares of one, squared. */
    private const WEIGHTS = [140.0, 1000.0, 20_000.0, 1.0e6];

    /** In the last round a shortfall is not bought with anything. */
    private const WALL = 1.0e6;

    /** Of what the tests cannot tell apart, how much is left open at first. */
    private const CLOSE = 0.15;

    /** Exchanges looked at before the best so far is taken: less than a second's work. */
    private const WORK = 4_000_000;

    private const LOTS = 400_000;

    /** From this many in a group on, exchanges are looked up instead of all tried; and how many to either side. */
    private const WIDE = 24;

    private const NEAR = 8;

    /** What looking at one of these takes, in plain exchanges. */
    private const LOOK = 4;

    /** Of cells that no group can take, one in so many goes at a time. */
    private const PART = 8;

    /** A pair of groups is well enough at a quarter of what conductances may differ by. */
    private const QUARTER = 0.25;

    /** How often a deal that is stuck is shaken, how many cells change places then, from so many groups up. */
    private const SHAKES = 12;

    private const FEW = 3;

    /** The generator of ISO C (C11, 7.22.2): the same deal everywhere. */
    private const STEP = 1103515245;

    private const ADD = 12345;

    private const MASK = 0x7fffffff;

    private int $work = 0;

    /** @var list<float> */
    private array $ah = [];

    /** @var list<float> */
    private array $siemens = [];

    /** @var list<float> logarithm of resistance */
    private array $log = [];

    private readonly float $limit;

    /** @var array<string, int> places by the cells' codes */
    private readonly array $at;

    /** @var array<int, array<int, int>> */
    private array $groups = [];

    /** @var array<int, int> */
    private array $spare = [];

    /** @var array<int, float> Ah of each group */
    private array $c = [];

    /** @var array<int, float> siemens of each group */
    private array $g = [];

    /** @var array<int, array{float, float, float, float}> lowest, next to lowest, next to highest, highest logarithm */
    private array $ends = [];

    /** @var array<int, array{list<int>, list<float>}> places of a group by capacity, and the capacities, until it changes */
    private array $sorted = [];

    private float $floor = 0.0;

    /** What a group is drawn to: the mean of all from either side, or the floor from below. */
    private float $aim = 0.0;

    private bool $even = false;

    /** Weights of a shortfall and of conductance, and the conductance that groups should have. */
    private float $wc = 0.0;

    private float $wg = 0.0;

    private float $usual = 0.0;

    /** @param  list<DrawerCell>  $cells  best first */
    private function __construct(
        private readonly array $cells,
        private readonly int $s,
        private readonly int $p,
        private readonly float $ratio,
        private readonly float $bound,
        private int $seed,
    ) {
        $this->ah = array_map(fn(DrawerCell $c): float => $c->capacityAh, $cells);
        $this->siemens = array_map(fn(DrawerCell $c): float => 1000 / $c->mohm, $cells);
        $this->log = array_map(fn(DrawerCell $c): float => log($c->mohm), $cells);
        $this->limit = log($ratio) + Tiny::CHANCE;
        $this->at = array_flip(array_map(fn(DrawerCell $c): string => $c->id, $cells));
    }

    /**
     * @param  list<DrawerCell>  $cells  best first; they can be dealt within the ratio
     * @param  float  $effort  share of a whole search's work
     */
    public static function best(array $cells, int $series, int $parallel, float $ratio, float $bound, int $seed, float $effort = 1.0): Deal
    {
        $self = new self($cells, $series, $parallel, $ratio, $bound, $seed);
        $self->work = (int) ($effort * self::WORK);
        $deals = [];
        for ($try = 0; $try < self::TRIES && ($try === 0 || $self->work > 0); $try++) {
            // A floor nearer to the bound costs nothing where conductances come together all the same.
            $self->even = $self->begin($try) || $try % 2 === 1;
            $alike = DealOrder::alikeAh($self->deal());
            $self->floor = $bound - self::CLOSE * $alike;
            $self->exchange(self::WEIGHTS[$try % count(self::WEIGHTS)]);
            if (!$self->done()) {
                // Not to be had at once: capacity up to what the tests can tell, then conductance behind that wall.
                $self->even = false;
                $self->floor = $bound - $alike;
                $self->exchange(self::WALL);
            }
            $deals[] = $self->deal();
            if ($self->done()) {
                break;
            }
        }
        $best = DealOrder::best($deals);
        $self->take($best);
        $self->work = (int) ($effort * self::LOTS);
        $self->bringLotsTogether();

        return DealOrder::best([$best, $self->deal()]);
    }

    private function deal(): Deal
    {
        return new Deal(
            array_map($this->cellsOf(...), array_values($this->groups)),
            $this->cellsOf($this->spare),
            $this->bound,
            'equal group totals',
        );
    }

    private function take(Deal $deal): void
    {
        $this->set(array_map($this->placesOf(...), $deal->groups), $this->placesOf($deal->spares));
    }

    /**
     * @param  array<int, int>  $places
     * @return list<DrawerCell>
     */
    private function cellsOf(array $places): array
    {
        return array_values(array_map(fn(int $i): DrawerCell => $this->cells[$i], $places));
    }

    /**
     * @param  list<DrawerCell>  $cells
     * @return list<int>
     */
    private function placesOf(array $cells): array
    {
        return array_map(fn(DrawerCell $c): int => $this->at[$c->id], $cells);
    }

    /**
     * @param  list<list<int>>  $groups
     * @param  list<int>  $spare
     */
    private function set(array $groups, array $spare): void
    {
        $this->groups = $groups;
        $this->spare = $spare;
        foreach ($groups as $k => $members) {
            $this->c[$k] = $this->g[$k] = 0.0;
            foreach ($members as $i) {
                $this->c[$k] += $this->ah[$i];
                $this->g[$k] += $this->siemens[$i];
            }
            $this->limits($k);
        }
    }

    /**
     * A deal within the limit to begin with: the best cells mixed, where they can be; else neighbours in resistance.
     *
     * @return bool whether they are mixed
     */
    private function begin(int $try): bool
    {
        [$chosen, $mixed] = $this->choose();
        if ($mixed !== null && $this->deals($mixed, $try)) {
            return true;
        }
        $used = array_flip(array_merge(...$chosen));
        $this->set($chosen, array_values(array_filter(array_keys($this->cells), fn(int $i): bool => !isset($used[$i]))));
        if ($try > 0) {
            for ($n = 0; $n < $try * self::FEW; $n++) {
                $this->shake();
            }
        }

        return false;
    }

    /**
     * The best cells that can be dealt. An outlier that no group takes is left for the next best, while there is one.
     *
     * @return array{list<list<int>>, list<int>|null} groups of neighbours, and the cells that may be mixed
     */
    private function choose(): array
    {
        $need = $this->s * $this->p;
        $chosen = range(0, $need - 1);
        for ($next = $need; ; ) {
            $groups = RatioRoom::groups($this->cellsOf($chosen), $this->p, $this->ratio);
            if (count($groups) === $this->s) {
                return [array_map($this->placesOf(...), $groups), $chosen];
            }
            if ($next >= count($this->cells)) {
                break;
            }
            // Who lies between two groups is in nobody's reach.
            $out = array_values(array_diff($chosen, array_merge(...array_map($this->placesOf(...), $groups))));
            // One after the other; of many, a part at once.
            $gone = array_slice($out, 0, max(1, intdiv(count($out), self::PART)));
            $gone = array_slice($gone, 0, count($this->cells) - $next);
            $chosen = array_values(array_diff($chosen, $gone));
            foreach ($gone as $_) {
                $chosen[] = $next++;
            }
        }
        $groups = RatioRoom::groups($this->cells, $this->p, $this->ratio);
        usort($groups, fn(array $a, array $b): int => DrawerCell::totalAh($b) <=> DrawerCell::totalAh($a));

        return [array_map($this->placesOf(...), array_slice($groups, 0, $this->s)), null];
    }

    /**
     * Who stands too far from the other end goes to one side; the rest goes where least is so far.
     *
     * @param  list<int>  $chosen
     */
    private function deals(array $chosen, int $try): bool
    {
        $order = $chosen;
        usort($order, fn(int $a, int $b): int => $this->log[$a] <=> $this->log[$b]);
        $lowest = $this->log[$order[0]];
        $highest = $this->log[$order[count($order) - 1]];
        $groups = array_fill(0, $this->s, []);
        $lows = array_values(array_filter($order, fn(int $i): bool => $highest - $this->log[$i] > $this->limit));
        $highs = array_reverse(array_values(array_filter($order, fn(int $i): bool => $this->limit < $this->log[$i] - $lowest)));
        $places = fn(array $side): int => (int) ceil(count($side) / $this->p);
        if (array_intersect($lows, $highs) !== [] || $places($lows) + $places($highs) > $this->s) {
            return false;
        }
        // Outliers are spread over their side: a group that is nothing but outliers has no conductance like the others'.
        foreach ($lows as $n => $i) {
            $groups[$n % max(1, $places($lows))][] = $i;
        }
        foreach ($highs as $n => $i) {
            $groups[$this->s - 1 - ($n % max(1, $places($highs)))][] = $i;
        }
        $used = array_flip([...$lows, ...$highs]);
        $rest = array_values(array_filter($chosen, fn(int $i): bool => !isset($used[$i])));
        if ($try > 0) {
            $rest = $this->shuffled($rest);
        }
        $sum = array_map(fn(array $g): float => array_sum(array_map(fn(int $i): float => $this->ah[$i], $g)), $groups);
        foreach ($rest as $i) {
            $to = null;
            foreach ($groups as $k => $members) {
                if (count($members) < $this->p && ($to === null || [count($members), $sum[$k]] < [count($groups[$to]), $sum[$to]])) {
                    $to = $k;
                }
            }
            $groups[$to ?? 0][] = $i;
            $sum[$to ?? 0] += $this->ah[$i];
        }
        $in = array_flip($chosen);
        $this->set($groups, array_values(array_filter(array_keys($this->cells), fn(int $i): bool => !isset($in[$i]))));
        foreach (array_keys($groups) as $k) {
            if ($this->ends[$k][3] - $this->ends[$k][0] > $this->limit) {
                return false;
            }
        }

        return true;
    }

    /** What a group is short of, less is better. */
    private function cost(float $c, float $g): float
    {
        $short = $c < $this->aim || $this->even ? $this->aim - $c : 0.0;

        return $this->wc * $short * $short + $this->wg * ($g - $this->usual) ** 2;
    }

    /** Exchanges between pairs of groups, the best of each pair, until none helps or all goals are reached. */
    private function exchange(float $weight): void
    {
        $this->wc = $weight / max(Tiny::SLACK, $this->bound) ** 2;
        $shakes = 0;
        for ($sweep = 0; $sweep < self::TRIES && $this->work > 0; $sweep++) {
            $this->usual = array_sum($this->g) / $this->s;
            $this->wg = 1 / $this->usual ** 2;
            $this->aim = $this->even ? array_sum($this->c) / $this->s : $this->floor;
            if ($this->done()) {
                return;
            }
            $cost = [];
            foreach ($this->c as $k => $c) {
                $cost[$k] = $this->cost($c, $this->g[$k]);
            }
            arsort($cost);
            $order = array_keys($cost);
            $moved = false;
            $enough = $this->wg * (CellLimits::ALIKE_CONDUCTANCE * self::QUARTER * $this->usual) ** 2;
            foreach ($order as $x => $a) {
                $moved = $this->withSpare($a, $enough) || $moved;
                foreach (array_slice($order, $x + 1) as $b) {
                    $now = $this->cost($this->c[$a], $this->g[$a]) + $this->cost($this->c[$b], $this->g[$b]);
                    if ($now <= $enough) {
                        $this->work--;

                        continue;
                    }
                    [$i, $j] = $this->p > self::WIDE ? $this->lookUp($a, $b, $now) : $this->tryAll($a, $b, $now);
                    if ($i >= 0) {
                        $this->swap($a, $b, $i, $j);
                        $moved = true;
                    }
                }
                if ($this->work <= 0 || $this->done()) {
                    return;
                }
            }
            if (!$moved && ($this->s < self::FEW || $shakes++ >= self::SHAKES || !$this->shake())) {
                return;
            }
        }
    }

    private function least(): float
    {
        return $this->c === [] ? 0.0 : min($this->c);
    }

    private function spread(): float
    {
        return $this->g === [] ? 0.0 : max($this->g) / min($this->g) - 1;
    }

    private function done(): bool
    {
        return $this->least() >= $this->floor && $this->spread() <= CellLimits::ALIKE_CONDUCTANCE;
    }

    /** A cell of this group goes and a spare comes, where that helps most. */
    private function withSpare(int $a, float $enough): bool
    {
        $now = $this->cost($this->c[$a], $this->g[$a]);
        if ($this->spare === [] || $now <= $enough) {
            return false;
        }
        $best = $now * (1 - Tiny::SUM);
        $at = $to = -1;
        $this->work -= self::LOOK * $this->p * count($this->spare);
        foreach ($this->groups[$a] as $x => $i) {
            foreach ($this->spare as $y => $j) {
                $try = $this->cost($this->c[$a] + $this->ah[$j] - $this->ah[$i], $this->g[$a] + $this->siemens[$j] - $this->siemens[$i]);
                if ($try < $best && $this->fits($a, $i, $this->log[$j])) {
                    [$best, $at, $to] = [$try, $x, $y];
                }
            }
        }
        if ($at < 0) {
            return false;
        }
        [$i, $j] = [$this->groups[$a][$at], $this->spare[$to]];
        [$this->groups[$a][$at], $this->spare[$to]] = [$j, $i];
        $this->c[$a] += $this->ah[$j] - $this->ah[$i];
        $this->g[$a] += $this->siemens[$j] - $this->siemens[$i];
        $this->limits($a);

        return true;
    }

    /** @return array{int, int} places in both of the exchange that helps most; -1 for none */
    private function tryAll(int $a, int $b, float $now): array
    {
        [$ca, $cb, $ga, $gb] = [$this->c[$a], $this->c[$b], $this->g[$a], $this->g[$b]];
        [$ah, $siemens, $floor, $usual, $wc, $wg, $even] = [
            $this->ah,
            $this->siemens,
            $this->aim,
            $this->usual,
            $this->wc,
            $this->wg,
            $this->even,
        ];
        $best = $now * (1 - Tiny::SUM) - Tiny::CHANCE;
        $at = $to = -1;
        $this->work -= $this->p * $this->p + self::NEAR;
        foreach ($this->groups[$a] as $x => $i) {
            foreach ($this->groups[$b] as $y => $j) {
                $d = $siemens[$j] - $siemens[$i];
                $u = $ga + $d - $usual;
                $w = $gb - $d - $usual;
                $try = $wg * ($u * $u + $w * $w);
                if ($try >= $best) {
                    continue;
                }
                $d = $ah[$j] - $ah[$i];
                $u = $floor - $ca - $d;
                $w = $floor - $cb + $d;
                $try += ($u > 0 || $even ? $wc * $u * $u : 0.0) + ($w > 0 || $even ? $wc * $w * $w : 0.0);
                if ($try < $best && $this->fits($a, $i, $this->log[$j]) && $this->fits($b, $j, $this->log[$i])) {
                    [$best, $at, $to] = [$try, $x, $y];
                }
            }
        }

        return [$at, $to];
    }

    /**
     * The same for wide groups: for each cell of one, only those of the other whose capacity would close the difference.
     *
     * @return array{int, int}
     */
    private function lookUp(int $a, int $b, float $now): array
    {
        $other = $this->groups[$b];
        [$places, $sorted] = $this->sorted[$b] ??= $this->byCapacity($other);
        $n = count($sorted);
        $want = ($this->c[$b] - $this->c[$a]) / 2;
        $best = $now * (1 - Tiny::SUM) - Tiny::CHANCE;
        $at = $to = -1;
        $this->work -= self::LOOK * self::NEAR * $this->p;
        foreach ($this->groups[$a] as $x => $i) {
            $target = $this->ah[$i] + $want;
            [$from, $end] = [0, $n];
            while ($from < $end) {
                $mid = ($from + $end) >> 1;
                $sorted[$mid] < $target ? ($from = $mid + 1) : ($end = $mid);
            }
            for ($k = max(0, $from - self::NEAR), $end = min($n, $from + self::NEAR); $k < $end; $k++) {
                $j = $other[$places[$k]];
                $dc = $this->ah[$j] - $this->ah[$i];
                $dg = $this->siemens[$j] - $this->siemens[$i];
                $try = $this->cost($this->c[$a] + $dc, $this->g[$a] + $dg) + $this->cost($this->c[$b] - $dc, $this->g[$b] - $dg);
                if ($try < $best && $this->fits($a, $i, $this->log[$j]) && $this->fits($b, $j, $this->log[$i])) {
                    [$best, $at, $to] = [$try, $x, $places[$k]];
                }
            }
        }

        return [$at, $to];
    }

    /**
     * @param  array<int, int>  $members
     * @return array{list<int>, list<float>}
     */
    private function byCapacity(array $members): array
    {
        $this->work -= self::NEAR * $this->p;
        $places = array_keys($members);
        usort($places, fn(int $x, int $y): int => $this->ah[$members[$x]] <=> $this->ah[$members[$y]]);

        return [$places, array_map(fn(int $x): float => $this->ah[$members[$x]], $places)];
    }

    /** Exchanges after which fewer lots lie in two groups, and every goal that was reached still is. */
    private function bringLotsTogether(): void
    {
        $lot = array_map(fn(DrawerCell $c): string => $c->kind(), $this->cells);
        if (count(array_unique($lot)) < 2) {
            return;
        }
        $floor = min($this->floor, $this->least());
        $most = max(CellLimits::ALIKE_CONDUCTANCE, $this->spread());
        do {
            $moved = false;
            for ($a = 0; $a < $this->s && $this->work > 0; $a++) {
                for ($b = $a + 1; $b < $this->s; $b++) {
                    $moved = $this->fewerLots($a, $b, $lot, $floor, $most) || $moved;
                }
            }
        } while ($moved);
    }

    /** @param  list<string>  $lot */
    private function fewerLots(int $a, int $b, array $lot, float $floor, float $most): bool
    {
        $in = fn(int $k): array => array_count_values(array_map(fn(int $i): string => $lot[$i], $this->groups[$k]));
        [$one, $other] = [$in($a), $in($b)];
        $g = $this->g;
        unset($g[$a], $g[$b]);
        [$least, $highest] = $g === [] ? [INF, 0.0] : [min($g), max($g)];
        foreach ($this->groups[$a] as $x => $i) {
            $this->work -= $this->p;
            foreach ($this->groups[$b] as $y => $j) {
                [$m, $n] = [$lot[$i], $lot[$j]];
                if ($m === $n) {
                    continue;
                }
                // Each comes to its own: no group has a lot more than before, and one has one less, or is more of one kind.
                $fewer = (int) ($one[$m] === 1) - (int) !isset($one[$n]) + (int) ($other[$n] === 1) - (int) !isset($other[$m]);
                $purer = ($one[$n] ?? 0) - $one[$m] + ($other[$m] ?? 0) - $other[$n] + 2;
                if ($fewer < 0 || ($fewer === 0 && $purer <= 0)) {
                    continue;
                }
                $dc = $this->ah[$j] - $this->ah[$i];
                $dg = $this->siemens[$j] - $this->siemens[$i];
                $ga = $this->g[$a] + $dg;
                $gb = $this->g[$b] - $dg;
                if (
                    min($this->c[$a] + $dc, $this->c[$b] - $dc) >= $floor &&
                    max($ga, $gb, $highest) / min($ga, $gb, $least) - 1 <= $most &&
                    $this->fits($a, $i, $this->log[$j]) &&
                    $this->fits($b, $j, $this->log[$i])
                ) {
                    $this->swap($a, $b, $x, $y);

                    return true;
                }
            }
        }

        return false;
    }

    /** A few exchanges at random, within the limits. */
    private function shake(): bool
    {
        $done = false;
        for ($n = 0; $n < self::FEW; $n++) {
            $a = $this->random($this->s);
            $b = $this->random($this->s);
            $x = $this->random($this->p);
            $y = $this->random($this->p);
            [$i, $j] = [$this->groups[$a][$x], $this->groups[$b][$y]];
            if ($a !== $b && $this->fits($a, $i, $this->log[$j]) && $this->fits($b, $j, $this->log[$i])) {
                $this->swap($a, $b, $x, $y);
                $done = true;
            }
        }

        return $done;
    }

    private function swap(int $a, int $b, int $x, int $y): void
    {
        [$i, $j] = [$this->groups[$a][$x], $this->groups[$b][$y]];
        $this->groups[$a][$x] = $j;
        $this->groups[$b][$y] = $i;
        $this->c[$a] += $this->ah[$j] - $this->ah[$i];
        $this->c[$b] += $this->ah[$i] - $this->ah[$j];
        $this->g[$a] += $this->siemens[$j] - $this->siemens[$i];
        $this->g[$b] += $this->siemens[$i] - $this->siemens[$j];
        $this->limits($a);
        $this->limits($b);
    }

    /** Whether a group keeps the limit when one goes and another comes. */
    private function fits(int $k, int $gone, float $comes): bool
    {
        [$low, $low2, $high2, $high] = $this->ends[$k];
        $l = $this->log[$gone];
        $low = $l === $low ? $low2 : $low;
        $high = $l === $high ? $high2 : $high;

        return ($comes > $high ? $comes : $high) - ($comes < $low ? $comes : $low) <= $this->limit;
    }

    private function limits(int $k): void
    {
        $l = array_map(fn(int $i): float => $this->log[$i], $this->groups[$k]);
        sort($l);
        $n = count($l);
        $this->ends[$k] = [$l[0], $l[1], $l[$n - 2], $l[$n - 1]];
        unset($this->sorted[$k]);
    }

    /**
     * @param  list<int>  $list
     * @return list<int>
     */
    private function shuffled(array $list): array
    {
        // Near neighbours change places: still large before small, but not the same deal again.
        for ($i = 0, $n = count($list); $i < $n; $i++) {
            $j = min($n - 1, $i + $this->random(max(2, $this->s)));
            [$list[$i], $list[$j]] = [$list[$j], $list[$i]];
        }

        return array_values($list);
    }

    /** A small generator of our own: the same seed deals the same on every machine. */
    private function random(int $below): int
    {
        $this->seed = ($this->seed * self::STEP + self::ADD) & self::MASK;

        return intdiv($this->seed, 65536) % max(1, $below);
    }
}
