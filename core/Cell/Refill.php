<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

/** Some groups of a pack anew, the others as they are (handbook "Grading and matching"). */
final class Refill
{
    /**
     * Some groups anew, the others as they are: each refilled to the mean of those that are whole.
     *
     * @param  list<list<DrawerCell>>  $groups  cells of each group that stay, from B-; none in a group that is dealt anew
     * @param  list<DrawerCell>  $drawer
     *
     * @throws CannotMatch no group is whole, or the drawer does not fill one
     */
    public static function deal(array $groups, int $parallel, array $drawer, float $ratio): Deal
    {
        $whole = array_filter($groups, fn(array $g): bool => count($g) === $parallel);
        if ($whole === []) {
            throw new CannotMatch('No group of this job has its cells in the drawer: deal all groups first.');
        }
        $target = array_sum(array_map(self::holds(...), $whole)) / count($whole);
        $wanted = array_map(fn(array $g): array => ['ah' => 0.0, 'cells' => $g, 'missing' => $parallel - count($g)], $groups);
        $dealt = array_map(fn(array $g, array $f): array => [...$g, ...$f], $groups, self::fill($drawer, $wanted, $target, $ratio));
        $used = array_flip(array_map(fn(DrawerCell $c): string => $c->id, array_merge(...$dealt)));

        return new Deal($dealt, array_values(array_filter($drawer, fn(DrawerCell $c): bool => !isset($used[$c->id]))), $target, 'refilled');
    }

    /**
     * Fills some groups of a pack and leaves the others: each fill as near as can be to what the kept groups have.
     *
     * @param  list<DrawerCell>  $cells
     * @param  list<array{ah: float, cells: list<DrawerCell>, missing: int}>  $groups  cells that stay, and how many are wanted
     * @return list<list<DrawerCell>> what goes into each of them
     *
     * @throws CannotMatch
     */
    public static function fill(array $cells, array $groups, float $targetAh, float $ratio = 1.3): array
    {
        $out = [];
        $used = [];
        $order = array_keys($groups);
        usort($order, fn(int $a, int $b): int => $groups[$b]['missing'] <=> $groups[$a]['missing']);
        foreach ($order as $g) {
            $have = $groups[$g]['cells'];
            $sum = array_sum(array_map(fn(DrawerCell $c): float => $c->capacityAh, $have));
            $taken = [];
            for ($n = $groups[$g]['missing']; $n > 0; $n--) {
                $want = ($targetAh - $sum) / $n;
                $best = null;
                foreach ($cells as $c) {
                    $r = array_map(fn(DrawerCell $x): float => $x->mohm, [...$have, ...$taken, $c]);
                    if (isset($used[$c->id]) || max($r) / min($r) > $ratio) {
                        continue;
                    }
                    if ($best === null || abs($c->capacityAh - $want) < abs($best->capacityAh - $want)) {
                        $best = $c;
                    }
                }
                if ($best === null) {
                    throw new CannotMatch(
                        sprintf('No cell is left that fits group %d within %.2f to one of its resistances.', $g + 1, $ratio),
                        'test more cells',
                    );
                }
                $used[$best->id] = true;
                $taken[] = $best;
                $sum += $best->capacityAh;
            }
            $out[$g] = $taken;
        }
        ksort($out);

        return array_values($out);
    }

    /** @param  list<DrawerCell>  $cells */
    private static function holds(array $cells): float
    {
        return array_sum(array_map(fn(DrawerCell $c): float => $c->capacityAh, $cells));
    }
}
