<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Maths\Tiny;

/**
 * Deals cells into S groups of P (handbook "Grading and matching"), or says which hard limit stands in the way and what
 * would let it through. The bound is the total of the best S*P cells over S. Deterministic for a seed.
 */
final class Matcher
{
    /** Ten cells more are drawn from the middle of each tenth. */
    private const MIDDLE = 0.5;

    /** From so many cells, how many times a group's cells are tried as its stiffest. */
    private const LARGE = 200;

    private const STIFFEST = 2;

    /** Small drawers are searched only for a deal to beat; every one of theirs is tried after. */
    private const LITTLE = 0.1;

    /**
     * @param  list<DrawerCell>  $cells  accepted ones
     * @param  'equal'|'like'  $school  equal group totals, or the best cells together
     *
     * @throws CannotMatch too few cells, mixed chemistries, or no deal within the resistance limit
     */
    public static function deal(
        array $cells,
        int $series,
        int $parallel,
        float $ratio = CellLimits::RATIO_IN_GROUP,
        int $seed = 1,
        string $school = 'equal',
    ): Deal {
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
        $kinds = HardLimits::kinds($cells);
        if (count($kinds) > 1) {
            throw new CannotMatch(
                'Cells of different chemistry or full voltage lie in this drawer: ' . implode(', ', $kinds) . '.',
                'choose one kind',
            );
        }
        // Best first; what is left over at the end is spare.
        usort($cells, fn(DrawerCell $a, DrawerCell $b): int => [$b->capacityAh, $a->mohm, $a->id] <=> [$a->capacityAh, $b->mohm, $b->id]);
        if (!RatioRoom::holds($cells, $series, $parallel, $ratio)) {
            throw new CannotMatch(
                sprintf('The resistances of these cells spread too far: no deal keeps every group within %.2f to one.', $ratio),
                sprintf(
                    'allow %.2f to one, or test more cells of like resistance',
                    ceil(100 * RatioRoom::least($cells, $series, $parallel) - Tiny::SUM) / 100,
                ),
            );
        }
        $bound = array_sum(array_map(fn(DrawerCell $c): float => $c->capacityAh, array_slice($cells, 0, $need))) / $series;
        if ($school === 'like') {
            return self::like($cells, $series, $parallel, $ratio, $bound, $seed);
        }
        if ($parallel === 1) {
            return self::singles($cells, $series, $bound);
        }
        $small = ExactDeal::inReach(count($cells), $parallel);
        $known = DealSearch::best($cells, $series, $parallel, $ratio, $bound, $seed, $small ? self::LITTLE : 1.0);
        if (!$small) {
            return $known;
        }

        $exact = ExactDeal::best($cells, $series, $parallel, $ratio, $known);

        return $exact->proven ? $exact : DealOrder::best([$exact, DealSearch::best($cells, $series, $parallel, $ratio, $bound, $seed)]);
    }

    /**
     * One cell a group: the best, or those as good as the tests can tell whose conductances lie closest.
     *
     * @param  list<DrawerCell>  $cells  best first
     */
    private static function singles(array $cells, int $series, float $bound): Deal
    {
        $best = self::asSingles(array_slice($cells, 0, $series), $cells, $bound);
        $floor = $best->least() - DealOrder::alikeAh($best) - Tiny::SLACK;
        $enough = array_values(array_filter($cells, fn(DrawerCell $c): bool => $c->capacityAh >= $floor));
        usort($enough, fn(DrawerCell $a, DrawerCell $b): int => [$a->mohm, $a->id] <=> [$b->mohm, $b->id]);
        $deals = [$best];
        for ($i = 0; $i + $series <= count($enough); $i++) {
            $deals[] = self::asSingles(array_slice($enough, $i, $series), $cells, $bound);
        }

        return DealOrder::best($deals);
    }

    /**
     * @param  list<DrawerCell>  $in
     * @param  list<DrawerCell>  $all
     */
    private static function asSingles(array $in, array $all, float $bound): Deal
    {
        $groups = [];
        foreach ($in as $c) {
            $groups[] = [$c];
        }
        $spares = array_values(array_filter($all, fn(DrawerCell $c): bool => !in_array($c, $in, true)));

        return new Deal($groups, $spares, $bound, 'equal group totals', true);
    }

    /**
     * The best cells together, as far as their resistances go together and the rest can still be dealt.
     *
     * @param  list<DrawerCell>  $cells  best first
     */
    private static function like(array $cells, int $series, int $parallel, float $ratio, float $bound, int $seed): Deal
    {
        $groups = [];
        $left = $cells;
        for ($more = $series; $more > 0; $more--) {
            $group = self::bestGroup($left, $more, $parallel, $ratio);
            if ($group === null) {
                // No best group leaves enough to the others: what an even deal finds, its largest first.
                $deal = DealSearch::best($cells, $series, $parallel, $ratio, $bound, $seed);
                $groups = $deal->groups;
                usort($groups, fn(array $a, array $b): int => DrawerCell::totalAh($b) <=> DrawerCell::totalAh($a));

                return new Deal($groups, $deal->spares, $bound, 'like with like');
            }
            $groups[] = $group;
            $left = array_values(array_filter($left, fn(DrawerCell $c): bool => !in_array($c, $group, true)));
        }

        return new Deal($groups, $left, $bound, 'like with like');
    }

    /**
     * @param  list<DrawerCell>  $cells  best first
     * @return list<DrawerCell>|null null where each leaves too little to the others
     */
    private static function bestGroup(array $cells, int $groups, int $parallel, float $ratio): ?array
    {
        $most = -INF;
        $best = null;
        // The stiffest of a good group is itself good: of a large drawer only the best are tried as such.
        foreach (count($cells) > self::LARGE ? array_slice($cells, 0, self::STIFFEST * $parallel) : $cells as $low) {
            $near = array_filter(
                $cells,
                fn(DrawerCell $c): bool => $c->mohm >= $low->mohm && $c->mohm <= $ratio * $low->mohm * (1 + Tiny::CHANCE),
            );
            $group = array_slice(array_values($near), 0, $parallel);
            $sum = DrawerCell::totalAh($group);
            if (count($group) < $parallel || $sum <= $most) {
                continue;
            }
            $left = array_values(array_filter($cells, fn(DrawerCell $c): bool => !in_array($c, $group, true)));
            if ($groups === 1 || RatioRoom::holds($left, $groups - 1, $parallel, $ratio)) {
                [$most, $best] = [$sum, $group];
            }
        }

        return $best;
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
        if ($ah === []) {
            // Like none: nothing to be more of.
            return 0.0;
        }
        sort($ah);
        $more = $ah;
        for ($k = 0; $k < 10; $k++) {
            $more[] = $ah[(int) floor((($k + self::MIDDLE) / 10) * count($ah))];
        }
        rsort($ah);
        rsort($more);

        return array_sum(array_slice($more, 0, $need)) / $series - array_sum(array_slice($ah, 0, $need)) / $series;
    }
}
