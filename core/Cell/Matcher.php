<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Maths\Tiny;

/**
 * Deals cells into S groups of P (handbook "Grading and matching"): the smallest group total as large as can be, then
 * equal conductance, then little spread of resistance inside groups. The bound is the total of the best S*P cells over
 * S. Deterministic for a seed; up to twelve cells by trying everything.
 */
final class Matcher
{
    /** Ten cells more are drawn from the middle of each tenth. */
    private const MIDDLE = 0.5;

    /** How often a deal is begun anew, and swept, while there is work left. */
    private const TRIES_SMALL = 100;

    /** See above. */
    private const TRIES = 40;

    /** Weights of conductance beside capacity that are tried in turn. */
    private const WEIGHTS = [1.0, 0.1, 0.01, Tiny::COARSE];

    /** A deal this near to what cells allow is taken. */
    private const CLOSE_ENOUGH = 0.002;

    /** Cost under which two groups need no exchange. */
    private const DONE = 0.02;

    /** From so many cells the clock is looked at, every so many exchanges. */
    private const MANY = 500;

    /** See above. */
    private const LOOK = 4;

    /** How often a deal that is stuck is shaken, from so many groups up. */
    private const SHAKES = 30;

    /** See above. */
    private const FEW = 3;

    /** The generator of ISO C (C11, 7.22.2): the same deal everywhere. */
    private const STEP = 1103515245;

    /** See above. */
    private const ADD = 12345;

    private const MASK = 0x7fffffff;

    private const EXACT = 12;

    private const SMALL = 80;

    /** Gaps under this share are one to anybody who measures. */
    private const ALIKE = 0.0001;

    /** From this many in a group on, exchanges are looked up instead of all tried; and how many to either side. */
    private const WIDE = 24;

    private const NEAR = 8;

    /** How far apart totals and conductances may stay, as shares: what the search works towards. */
    private const CAPACITY_GOAL = 0.00006;

    private const CONDUCTANCE_GOAL = 0.0007;

    /** Exchanges looked at before the best so far is taken: a second's work at the most. */
    private const WORK = 6_000_000;

    private int $seed;

    private int $work = self::WORK;

    /** Resistances so far apart that groups come in layers: equal conductance is out of reach then. */
    private bool $layered = false;

    /** @var list<float> */
    private array $ah = [];

    /** @var list<float> */
    private array $siemens = [];

    /** @var list<float> logarithm of resistance */
    private array $log = [];

    private function __construct(private readonly int $s, private readonly int $p, private readonly float $ratio, int $seed)
    {
        $this->seed = $seed;
    }

    /**
     * @param  list<DrawerCell>  $cells  accepted ones
     * @param  'equal'|'like'  $school  equal group totals, or the best cells together
     *
     * @throws CannotMatch too few cells, mixed chemistries, or no deal within the resistance limit
     */
    public static function deal(array $cells, int $series, int $parallel, float $ratio = 1.3, int $seed = 1, string $school = 'equal'): Deal
    {
        $need = $series * $parallel;
        if ($series < 1 || $parallel < 1) {
            throw new CannotMatch('A build has at least one group of one cell.');
        }
        if (count($cells) < $need) {
            throw new CannotMatch(
                sprintf('%d cells are wanted and %d are accepted.', $need, count($cells)),
                sprintf('test %d more cells, or build fewer groups', $need - count($cells)),
            );
        }
        $kinds = array_unique(array_map(fn(DrawerCell $c): string => $c->chemistry . '/' . ($c->fullV ?? ''), $cells));
        if (count($kinds) > 1) {
            throw new CannotMatch(
                'Cells of different chemistry or full voltage lie in this drawer: ' . implode(', ', $kinds) . '.',
                'choose one kind',
            );
        }
        // Best first; what is left over at the end is spare.
        usort($cells, fn(DrawerCell $a, DrawerCell $b): int => [$b->capacityAh, $a->mohm, $a->id] <=> [$a->capacityAh, $b->mohm, $b->id]);
        $bound = array_sum(array_map(fn(DrawerCell $c): float => $c->capacityAh, array_slice($cells, 0, $need))) / $series;
        $self = new self($series, $parallel, $ratio, $seed);
        [$chosen, $spares] = $self->choose($cells, $need);
        if ($school === 'like') {
            $groups = array_chunk($chosen, max(1, $parallel));
            $deal = new Deal($groups, $spares, $bound, 'like with like');
            if ($deal->worstRatio > $ratio) {
                throw new CannotMatch(
                    sprintf(
                        'Best cells together leaves a group with resistances %.2f to one, %.2f is the limit.',
                        $deal->worstRatio,
                        $ratio,
                    ),
                    sprintf('allow %.2f, or deal for equal totals', ceil(100 * $deal->worstRatio) / 100),
                );
            }

            return $deal;
        }
        if (count($cells) <= self::EXACT) {
            return ExactDeal::best($cells, $series, $parallel, $ratio, $bound) ??
                throw new CannotMatch(
                    'No deal of these cells keeps the resistance limit.',
                    sprintf('allow a ratio of %.2f', $self->leastRatio($cells, $need)),
                );
        }

        return $self->search($chosen, $spares, $bound);
    }

    /**
     * What a hand does: sorted by capacity, dealt forth and back.
     *
     * @param  list<DrawerCell>  $cells
     */
    public static function serpentine(array $cells, int $series, int $parallel): Deal
    {
        usort($cells, fn(DrawerCell $a, DrawerCell $b): int => [$b->capacityAh, $a->id] <=> [$a->capacityAh, $b->id]);
        $chosen = array_slice($cells, 0, $series * $parallel);
        $groups = array_fill(0, $series, []);
        foreach ($chosen as $k => $c) {
            $round = intdiv($k, $series);
            $at = $k % $series;
            $groups[$round % 2 === 0 ? $at : $series - 1 - $at][] = $c;
        }
        $bound = array_sum(array_map(fn(DrawerCell $c): float => $c->capacityAh, $chosen)) / max(1, $series);

        return new Deal($groups, array_slice($cells, $series * $parallel), $bound, 'forth and back by hand');
    }

    /**
     * What ten more cells like these would do to the bound: ten of the spread that the drawer shows.
     *
     * @param  list<DrawerCell>  $cells
     */
    public static function withTenMore(array $cells, int $series, int $parallel): float
    {
        $need = $series * $parallel;
        $ah = array_map(fn(DrawerCell $c): float => $c->capacityAh, $cells);
        sort($ah);
        $more = $ah;
        for ($k = 0; $k < 10; $k++) {
            $more[] = $ah[(int) floor((($k + self::MIDDLE) / 10) * count($ah))];
        }
        rsort($ah);
        rsort($more);

        return array_sum(array_slice($more, 0, $need)) / $series - array_sum(array_slice($ah, 0, $need)) / $series;
    }

    /**
     * The best by capacity, unless the outliers in resistance cannot be dealt within the limit: then those that can.
     *
     * @param  list<DrawerCell>  $cells  best first
     * @return array{list<DrawerCell>, list<DrawerCell>}
     */
    private function choose(array $cells, int $need): array
    {
        $chosen = array_slice($cells, 0, $need);
        $spares = array_slice($cells, $need);
        $dropped = [];
        while (true) {
            $bad = $this->misfit($chosen);
            if ($bad === null) {
                return [array_values($chosen), [...$spares, ...$dropped]];
            }
            if ($spares === []) {
                break;
            }
            // The outlier goes, the next best comes.
            $dropped[] = $chosen[$bad];
            $chosen[$bad] = array_shift($spares);
        }
        $ratio = $this->leastRatio(array_values($chosen), $need);
        throw new CannotMatch(
            sprintf('The resistances of these cells spread too far: no deal keeps every group within %.2f to one.', $this->ratio),
            sprintf('allow %.2f to one, or test more cells of like resistance', ceil(100 * $ratio + 0.5) / 100),
        );
    }

    /**
     * Sorted by resistance, groups of neighbours are the tightest there are: where even one of them is over, a cell too
     * many lies at that end.
     *
     * @param  array<int, DrawerCell>  $cells
     */
    private function misfit(array $cells): ?int
    {
        $order = array_keys($cells);
        usort($order, fn(int $a, int $b): int => $cells[$a]->mohm <=> $cells[$b]->mohm);
        foreach (array_chunk($order, max(1, $this->p)) as $chunk) {
            $first = $cells[$chunk[0]]->mohm;
            $last = $cells[$chunk[count($chunk) - 1]]->mohm;
            if ($last / $first > $this->ratio + Tiny::CHANCE) {
                $middle = $cells[$chunk[intdiv(count($chunk), 2)]]->mohm;

                return $middle / $first > $last / $middle ? $chunk[0] : $chunk[count($chunk) - 1];
            }
        }

        return null;
    }

    /**
     * The ratio at which these cells could be dealt.
     *
     * @param  list<DrawerCell>  $cells
     */
    private function leastRatio(array $cells, int $need): float
    {
        $r = array_map(fn(DrawerCell $c): float => $c->mohm, array_slice($cells, 0, $need));
        sort($r);
        $worst = 1.0;
        foreach (array_chunk($r, max(1, $this->p)) as $chunk) {
            $worst = max($worst, $chunk[count($chunk) - 1] / $chunk[0]);
        }

        return $worst;
    }

    /**
     * @param  list<DrawerCell>  $chosen
     * @param  list<DrawerCell>  $spares
     */
    private function search(array $chosen, array $spares, float $bound): Deal
    {
        $n = count($chosen);
        $this->ah = array_map(fn(DrawerCell $c): float => $c->capacityAh, $chosen);
        $this->siemens = array_map(fn(DrawerCell $c): float => 1000 / $c->mohm, $chosen);
        $this->log = array_map(fn(DrawerCell $c): float => log($c->mohm), $chosen);
        $best = null;
        $bestCost = INF;
        $small = $n <= self::SMALL;
        $this->work = $small ? intdiv(self::WORK, 8) : self::WORK;
        for ($try = 0; $try < ($small ? self::TRIES_SMALL : self::TRIES) && $this->work > 0; $try++) {
            $groups = $this->start($n, $try);
            // Small builds have little to exchange: how much conductance counts is tried from all to nothing.
            $this->improve($groups, $this->layered ? Tiny::COARSE : ($small ? self::WEIGHTS[$try % count(self::WEIGHTS)] : 1.0));
            $cost = $this->worth($groups, $bound);
            if ($cost < $bestCost) {
                [$best, $bestCost] = [$groups, $cost];
            }
            if (!$small && $bestCost < 1.0 + self::CLOSE_ENOUGH) {
                break;
            }
        }

        return new Deal(
            array_map(fn(array $g): array => array_values(array_map(fn(int $i): DrawerCell => $chosen[$i], $g)), array_values($best ?? [])),
            $spares,
            $bound,
            'equal group totals',
        );
    }

    /**
     * What a deal is worth, less is better: gaps to the bound in steps that no tester can tell apart, then conductance.
     *
     * @param  array<int, array<int, int>>  $groups
     */
    private function worth(array $groups, float $bound): float
    {
        $least = INF;
        $low = INF;
        $high = 0.0;
        foreach ($groups as $members) {
            $least = min($least, array_sum(array_map(fn(int $i): float => $this->ah[$i], $members)));
            $g = array_sum(array_map(fn(int $i): float => $this->siemens[$i], $members));
            [$low, $high] = [min($low, $g), max($high, $g)];
        }
        $gap = $bound > 0 ? 1 - $least / $bound : 0.0;

        return max(1.0, ceil($gap / self::ALIKE)) + ($high / max(Tiny::CHANCE, $low) - 1);
    }

    /**
     * A deal within the resistance limit to begin with. Mixed, with the outliers of either end kept apart; where that is
     * not enough, neighbours in resistance.
     *
     * @return list<list<int>>
     */
    private function start(int $n, int $try): array
    {
        $order = range(0, $n - 1);
        usort($order, fn(int $a, int $b): int => $this->log[$a] <=> $this->log[$b]);
        $limit = log($this->ratio);
        $lowest = $this->log[$order[0]];
        $highest = $this->log[$order[$n - 1]];
        $groups = array_fill(0, $this->s, []);
        // Who stands too far from the other end goes to one side; the rest may go anywhere.
        $lows = array_values(array_filter($order, fn(int $i): bool => $highest - $this->log[$i] > $limit));
        $highs = array_reverse(array_values(array_filter($order, fn(int $i): bool => $limit < $this->log[$i] - $lowest)));
        if (
            count(array_intersect($lows, $highs)) === 0 &&
            (int) ceil(count($lows) / $this->p) + (int) ceil(count($highs) / $this->p) <= $this->s
        ) {
            $g = 0;
            foreach ($lows as $i) {
                while (count($groups[$g]) >= $this->p) {
                    $g++;
                }
                $groups[$g][] = $i;
            }
            $h = $this->s - 1;
            foreach ($highs as $i) {
                while (count($groups[$h]) >= $this->p) {
                    $h--;
                }
                $groups[$h][] = $i;
            }
            $used = array_flip([...$lows, ...$highs]);
            $rest = array_values(array_filter(range(0, $n - 1), fn(int $i): bool => !isset($used[$i])));
            if ($try > 0) {
                $rest = $this->shuffled($rest);
            }
            // The emptiest by capacity takes the next largest.
            foreach ($rest as $i) {
                $to = null;
                $least = INF;
                foreach ($groups as $k => $members) {
                    if (count($members) < $this->p) {
                        $sum = count($members) * 1000.0;
                        foreach ($members as $m) {
                            $sum += $this->ah[$m];
                        }
                        if ($sum < $least) {
                            [$least, $to] = [$sum, $k];
                        }
                    }
                }
                $groups[$to ?? 0][] = $i;
            }
            if ($this->holds($groups)) {
                return $groups;
            }
        }
        $this->layered = true;
        $this->work = min($this->work, intdiv(self::WORK, 6));

        return array_chunk($order, max(1, $this->p));
    }

    /** @param  array<int, list<int>>  $groups */
    private function holds(array $groups): bool
    {
        $limit = log($this->ratio) + Tiny::CHANCE;
        foreach ($groups as $g) {
            $l = array_map(fn(int $i): float => $this->log[$i], $g);
            if ($l !== [] && max($l) - min($l) > $limit) {
                return false;
            }
        }

        return true;
    }

    /**
     * Exchanges between pairs of groups, the best of each pair, until none helps. Cost: squares of how far capacity and
     * conductance stray from the mean, each measured in its goal; one or less is there.
     *
     * @param  array<int, array<int, int>>  $groups
     */
    private function improve(array &$groups, float $conductance = 1.0): void
    {
        $s = $this->s;
        $p = $this->p;
        $limit = log($this->ratio) + Tiny::CHANCE;
        $c = $g = $low = $high = [];
        foreach ($groups as $k => $members) {
            $c[$k] = $g[$k] = 0.0;
            foreach ($members as $i) {
                $c[$k] += $this->ah[$i];
                $g[$k] += $this->siemens[$i];
            }
            [$low[$k], $high[$k]] = $this->range($members);
        }
        $meanC = array_sum($c) / $s;
        $meanG = array_sum($g) / $s;
        $wc = 1 / (self::CAPACITY_GOAL * $meanC) ** 2;
        $wg = $conductance / (self::CONDUCTANCE_GOAL * $meanG) ** 2;
        $cost = function () use (&$c, &$g, $meanC, $meanG, $wc, $wg): float {
            $worst = 0.0;
            foreach ($c as $k => $x) {
                $worst = max($worst, $wc * ($x - $meanC) ** 2, $wg * ($g[$k] - $meanG) ** 2);
            }

            return $worst;
        };
        for ($sweep = 0; $sweep < self::TRIES; $sweep++) {
            $moved = false;
            $worst = $cost();
            if ($this->work <= 0 || ($worst <= 1.0 && $s * $p > self::SMALL)) {
                break;
            }
            $order = range(0, $s - 1);
            usort(
                $order,
                fn(int $a, int $b): int => $wc * ($c[$b] - $meanC) ** 2 + $wg * ($g[$b] - $meanG) ** 2 <=>
                    $wc * ($c[$a] - $meanC) ** 2 + $wg * ($g[$a] - $meanG) ** 2,
            );
            foreach ($order as $x => $a) {
                foreach (array_slice($order, $x + 1) as $b) {
                    $da = $c[$a] - $meanC;
                    $db = $c[$b] - $meanC;
                    $ea = $g[$a] - $meanG;
                    $eb = $g[$b] - $meanG;
                    $now = $wc * ($da * $da + $db * $db) + $wg * ($ea * $ea + $eb * $eb);
                    if ($now < self::DONE) {
                        continue;
                    }
                    $best = $now * (1 - Tiny::SUM) - Tiny::SLACK;
                    if ($p > self::WIDE) {
                        [$bi, $bj] = $this->exchangeWide(
                            $groups[$a],
                            $groups[$b],
                            [$da, $db, $ea, $eb],
                            [$wc, $wg],
                            $best,
                            [$low[$a], $high[$a], $low[$b], $high[$b]],
                            $limit,
                        );
                        if ($bi >= 0) {
                            $moved = true;
                            $this->swap($groups, $a, $b, $bi, $bj, $c, $g, $low, $high);
                        }

                        continue;
                    }
                    $this->work -= $p * $p;
                    $bi = $bj = -1;
                    foreach ($groups[$a] as $xi => $i) {
                        $ci = $this->ah[$i];
                        $gi = $this->siemens[$i];
                        $li = $this->log[$i];
                        foreach ($groups[$b] as $xj => $j) {
                            $dc = $this->ah[$j] - $ci;
                            $u = $da + $dc;
                            $w = $db - $dc;
                            $try = $wc * ($u * $u + $w * $w);
                            if ($try >= $best) {
                                continue;
                            }
                            $dg = $this->siemens[$j] - $gi;
                            $u = $ea + $dg;
                            $w = $eb - $dg;
                            $try += $wg * ($u * $u + $w * $w);
                            if (
                                $try < $best &&
                                $this->fits($groups[$a], $i, $this->log[$j], $low[$a], $high[$a], $limit) &&
                                $this->fits($groups[$b], $j, $li, $low[$b], $high[$b], $limit)
                            ) {
                                $best = $try;
                                $bi = $xi;
                                $bj = $xj;
                            }
                        }
                    }
                    if ($bi >= 0) {
                        $this->swap($groups, $a, $b, $bi, $bj, $c, $g, $low, $high);
                        $moved = true;
                    }
                }
                if ($this->work <= 0 || ($s * $p > self::MANY && $x > 0 && $x % self::LOOK === 0 && $cost() <= 1.0)) {
                    break;
                }
            }
            if (!$moved) {
                // Stuck: a few exchanges at random out of the worst group, within the limits, and on.
                if ($sweep > self::SHAKES || $s < self::FEW || !$this->shake($groups, $c, $g, $low, $high, $limit)) {
                    break;
                }
            }
        }
    }

    /**
     * @param  array<int, array<int, int>>  $groups
     * @param  array<int, float>  $c
     * @param  array<int, float>  $g
     * @param  array<int, float>  $low
     * @param  array<int, float>  $high
     */
    private function shake(array &$groups, array &$c, array &$g, array &$low, array &$high, float $limit): bool
    {
        $done = false;
        for ($n = 0; $n < self::FEW; $n++) {
            $a = $this->random(count($groups));
            $b = $this->random(count($groups));
            $xi = $this->random($this->p);
            $xj = $this->random($this->p);
            $i = $groups[$a][$xi];
            $j = $groups[$b][$xj];
            if (
                $a === $b ||
                !$this->fits($groups[$a], $i, $this->log[$j], $low[$a], $high[$a], $limit) ||
                !$this->fits($groups[$b], $j, $this->log[$i], $low[$b], $high[$b], $limit)
            ) {
                continue;
            }
            $this->swap($groups, $a, $b, $xi, $xj, $c, $g, $low, $high);
            $done = true;
        }

        return $done;
    }

    /**
     * @param  array<int, array<int, int>>  $groups
     * @param  array<int, float>  $c
     * @param  array<int, float>  $g
     * @param  array<int, float>  $low
     * @param  array<int, float>  $high
     */
    private function swap(array &$groups, int $a, int $b, int $xi, int $xj, array &$c, array &$g, array &$low, array &$high): void
    {
        $i = $groups[$a][$xi];
        $j = $groups[$b][$xj];
        $groups[$a][$xi] = $j;
        $groups[$b][$xj] = $i;
        $c[$a] += $this->ah[$j] - $this->ah[$i];
        $c[$b] += $this->ah[$i] - $this->ah[$j];
        $g[$a] += $this->siemens[$j] - $this->siemens[$i];
        $g[$b] += $this->siemens[$i] - $this->siemens[$j];
        [$low[$a], $high[$a]] = $this->range($groups[$a]);
        [$low[$b], $high[$b]] = $this->range($groups[$b]);
    }

    /**
     * The best exchange of two wide groups: for each cell of one, only those of the other whose capacity would close the
     * difference, found in the sorted list.
     *
     * @param  array<int, int>  $one
     * @param  array<int, int>  $other
     * @param  array{float, float, float, float}  $off  capacity of both and conductance of both, off the mean
     * @param  array{float, float}  $weight
     * @param  array{float, float, float, float}  $range
     * @return array{int, int} places in both; -1 for none
     */
    private function exchangeWide(array $one, array $other, array $off, array $weight, float $best, array $range, float $limit): array
    {
        [$da, $db, $ea, $eb] = $off;
        [$wc, $wg] = $weight;
        $places = array_keys($other);
        usort($places, fn(int $x, int $y): int => $this->ah[$other[$x]] <=> $this->ah[$other[$y]]);
        $sorted = array_map(fn(int $x): float => $this->ah[$other[$x]], $places);
        $n = count($sorted);
        $want = ($db - $da) / 2;
        $bi = $bj = -1;
        $this->work -= self::NEAR * 2 * count($one);
        foreach ($one as $xi => $i) {
            $target = $this->ah[$i] + $want;
            $from = 0;
            $to = $n;
            while ($from < $to) {
                $mid = ($from + $to) >> 1;
                $sorted[$mid] < $target ? ($from = $mid + 1) : ($to = $mid);
            }
            for ($k = max(0, $from - self::NEAR), $end = min($n, $from + self::NEAR); $k < $end; $k++) {
                $j = $other[$places[$k]];
                $dc = $this->ah[$j] - $this->ah[$i];
                $dg = $this->siemens[$j] - $this->siemens[$i];
                $try = $wc * (($da + $dc) ** 2 + ($db - $dc) ** 2) + $wg * (($ea + $dg) ** 2 + ($eb - $dg) ** 2);
                if (
                    $try < $best &&
                    $this->fits($one, $i, $this->log[$j], $range[0], $range[1], $limit) &&
                    $this->fits($other, $j, $this->log[$i], $range[2], $range[3], $limit)
                ) {
                    [$best, $bi, $bj] = [$try, $xi, $places[$k]];
                }
            }
        }

        return [$bi, $bj];
    }

    /**
     * Whether a group keeps the limit when one goes and another comes.
     *
     * @param  array<int, int>  $members
     */
    private function fits(array $members, int $gone, float $comes, float $low, float $high, float $limit): bool
    {
        if ($comes >= $low && $comes <= $high) {
            return true;
        }
        if (max($high, $comes) - min($low, $comes) <= $limit) {
            return true;
        }
        $l = $this->log[$gone];
        if ($l > $low && $l < $high) {
            return false;
        }
        $low = $high = $comes;
        foreach ($members as $i) {
            if ($i !== $gone) {
                $low = min($low, $this->log[$i]);
                $high = max($high, $this->log[$i]);
            }
        }

        return $high - $low <= $limit;
    }

    /**
     * @param  array<int, int>  $members
     * @return array{float, float}
     */
    private function range(array $members): array
    {
        $low = INF;
        $high = -INF;
        foreach ($members as $i) {
            $low = min($low, $this->log[$i]);
            $high = max($high, $this->log[$i]);
        }

        return [$low, $high];
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
