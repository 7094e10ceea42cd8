<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Maths\Tiny;

/**
 * Whether cells can be dealt within a limit on the resistances inside a group at all. Any deal can be sorted until its
 * groups are neighbours in resistance without a group growing wider, and among neighbours nothing is lost by closing a
 * group as soon as it can be: so one walk along the sorted cells decides it, without trying deals.
 */
final class RatioRoom
{
    /**
     * As many groups of neighbours as there are.
     *
     * @param  list<DrawerCell>  $cells
     * @return list<list<DrawerCell>>
     */
    public static function groups(array $cells, int $parallel, float $ratio): array
    {
        usort($cells, fn(DrawerCell $a, DrawerCell $b): int => [$a->mohm, $b->capacityAh, $a->id] <=> [$b->mohm, $a->capacityAh, $b->id]);
        $out = [];
        for ($i = 0, $n = count($cells); $i + $parallel <= $n; ) {
            if ($cells[$i + $parallel - 1]->mohm <= $ratio * $cells[$i]->mohm * (1 + Tiny::CHANCE)) {
                $out[] = array_slice($cells, $i, $parallel);
                $i += $parallel;
            } else {
                $i++;
            }
        }

        return $out;
    }

    /** @param  list<DrawerCell>  $cells */
    public static function holds(array $cells, int $series, int $parallel, float $ratio): bool
    {
        return count(self::groups($cells, $parallel, $ratio)) >= $series;
    }

    /**
     * The smallest ratio at which these cells can be dealt: one of those that neighbours show.
     *
     * @param  list<DrawerCell>  $cells  enough for all groups
     */
    public static function least(array $cells, int $series, int $parallel): float
    {
        $r = array_map(fn(DrawerCell $c): float => $c->mohm, $cells);
        sort($r);
        $ratios = [1.0];
        for ($i = 0; $i + $parallel <= count($r); $i++) {
            $ratios[] = $r[$i + $parallel - 1] / $r[$i];
        }
        sort($ratios);
        [$from, $to] = [0, count($ratios) - 1];
        while ($from < $to) {
            $mid = ($from + $to) >> 1;
            self::holds($cells, $series, $parallel, $ratios[$mid]) ? ($to = $mid) : ($from = $mid + 1);
        }

        return $ratios[$from];
    }
}
