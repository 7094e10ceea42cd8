<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

/** Some groups of a pack anew, the others as they are (handbook "Grading and matching"). */
final class Refill
{
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
}
