<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Maths\Tiny;

/** Some groups of a pack anew, the others as they are (handbook "Grading and matching"). */
final class Refill
{
    /** Windows of resistance that are looked at for a fill, at the most. */
    private const WINDOWS = 40;

    /**
     * Some groups anew, the others as they are: each refilled to the mean of those that are whole.
     *
     * @param  list<list<DrawerCell>>  $groups  cells of each group that stay, from B-; none in a group that is dealt anew
     * @param  list<DrawerCell>  $drawer
     * @param  float|null  $ownAh  what a group of the pack's own cells holds, where none of them came out of the drawer
     * @param  list<int>|null  $anew  numbers of the groups that are dealt; the others keep what they have, known or not. Null: all that
     *   are not whole
     *
     * @throws CannotMatch no group is whole and nobody knows what one holds, or the drawer does not fill one
     */
    public static function deal(array $groups, int $parallel, array $drawer, float $ratio, ?float $ownAh = null, ?array $anew = null): Deal
    {
        $whole = array_filter($groups, fn(array $g): bool => count($g) === $parallel);
        if ($whole === [] && $ownAh === null) {
            throw new CannotMatch(
                'No group of this job has its cells in the drawer, and what its own hold is not known.',
                'say the capacity of label or cell at the intake, or measure it',
            );
        }
        $target = $whole === [] ? (float) $ownAh : array_sum(array_map(DrawerCell::totalAh(...), $whole)) / count($whole);
        $wanted = array_map(
            fn(array $g, int $k): array => [
                'ah' => 0.0,
                'cells' => $g,
                'missing' => $anew === null || $g !== [] || in_array($k + 1, $anew, true) ? $parallel - count($g) : 0,
            ],
            $groups,
            array_keys($groups),
        );
        $dealt = array_map(fn(array $g, array $f): array => [...$g, ...$f], $groups, self::fill($drawer, $wanted, $target, $ratio));
        $used = array_flip(array_map(fn(DrawerCell $c): string => $c->id, array_merge(...$dealt)));

        $spares = array_values(array_filter($drawer, fn(DrawerCell $c): bool => !isset($used[$c->id])));

        return new Deal($dealt, $spares, $target, 'refilled', own: array_keys($dealt, [], true));
    }

    /**
     * Fills some groups of a pack and leaves the others: each fill as near as can be to what the kept groups have. Where
     * the first order of filling leaves a group with nothing that fits, the groups that have least to choose from are
     * filled first.
     *
     * @param  list<DrawerCell>  $cells
     * @param  list<array{ah: float, cells: list<DrawerCell>, missing: int}>  $groups  cells that stay, and how many are wanted
     * @return list<list<DrawerCell>> what goes into each of them
     *
     * @throws CannotMatch
     */
    public static function fill(array $cells, array $groups, float $targetAh, float $ratio = CellLimits::RATIO_IN_GROUP): array
    {
        $most = array_keys($groups);
        usort($most, fn(int $a, int $b): int => $groups[$b]['missing'] <=> $groups[$a]['missing']);
        $choice = array_map(fn(array $g): int => count(self::near($cells, $g['cells'], $ratio)) - $g['missing'], $groups);
        $least = array_keys($groups);
        usort($least, fn(int $a, int $b): int => $choice[$a] <=> $choice[$b]);
        $failed = null;
        foreach ([$most, $least, array_reverse($most)] as $order) {
            $out = [];
            $left = $cells;
            foreach ($order as $g) {
                $taken = self::fillOne($left, $groups[$g]['cells'], $groups[$g]['missing'], $targetAh, $ratio);
                if ($taken === null) {
                    $failed ??= $g;

                    continue 2;
                }
                $out[$g] = $taken;
                $left = array_values(array_filter($left, fn(DrawerCell $c): bool => !in_array($c, $taken, true)));
            }
            ksort($out);

            return array_values($out);
        }
        throw new CannotMatch(
            sprintf('No cell is left that fits group %d within %.2f to one of its resistances.', $failed + 1, $ratio),
            'test more cells',
        );
    }

    /**
     * The fill of one group whose total comes nearest to the target: tried in each window of resistance that holds what
     * stays, then bettered cell by cell.
     *
     * @param  list<DrawerCell>  $cells
     * @param  list<DrawerCell>  $stay
     * @return list<DrawerCell>|null
     */
    private static function fillOne(array $cells, array $stay, int $missing, float $targetAh, float $ratio): ?array
    {
        $best = null;
        $off = INF;
        $near = self::near($cells, $stay, $ratio);
        usort($near, fn(DrawerCell $a, DrawerCell $b): int => [$a->mohm, $a->id] <=> [$b->mohm, $b->id]);
        $lows = array_unique(array_map(fn(DrawerCell $c): float => $c->mohm, $near));
        if ($stay !== []) {
            $lowest = min(array_map(fn(DrawerCell $c): float => $c->mohm, $stay));
            $lows = [...array_filter($lows, fn(float $r): bool => $r < $lowest), $lowest];
        }
        // Of very many windows every so-manieth is looked at.
        $step = max(1, intdiv(count($lows), self::WINDOWS));
        foreach (array_values($lows) as $k => $low) {
            if ($k % $step !== 0 && $k !== count($lows) - 1) {
                continue;
            }
            $in = array_values(
                array_filter($near, fn(DrawerCell $c): bool => $c->mohm >= $low && $c->mohm <= $ratio * $low * (1 + Tiny::CHANCE)),
            );
            $widest = $stay === [] ? 0.0 : max(array_map(fn(DrawerCell $c): float => $c->mohm, $stay));
            if (count($in) < $missing || $widest > $ratio * $low * (1 + Tiny::CHANCE)) {
                continue;
            }
            $taken = self::nearest($in, $missing, $targetAh - DrawerCell::totalAh($stay));
            $now = abs(DrawerCell::totalAh($taken) + DrawerCell::totalAh($stay) - $targetAh);
            if ($now < $off - Tiny::SLACK) {
                [$best, $off] = [$taken, $now];
            }
        }

        return $best;
    }

    /**
     * So many cells whose total comes near to what is wanted.
     *
     * @param  list<DrawerCell>  $cells  at least as many
     * @return list<DrawerCell>
     */
    private static function nearest(array $cells, int $count, float $want): array
    {
        usort($cells, fn(DrawerCell $a, DrawerCell $b): int => [$a->capacityAh, $a->id] <=> [$b->capacityAh, $b->id]);
        // So many in a row by capacity that come nearest, then exchanges with the rest.
        [$at, $off] = [0, INF];
        for ($k = 0; $k + $count <= count($cells); $k++) {
            $now = abs(DrawerCell::totalAh(array_slice($cells, $k, $count)) - $want);
            if ($now < $off) {
                [$at, $off] = [$k, $now];
            }
        }
        $in = array_slice($cells, $at, $count);
        $out = [...array_slice($cells, 0, $at), ...array_slice($cells, $at + $count)];
        for ($round = 0; $round < $count && $off > Tiny::SUM; $round++) {
            $change = null;
            $sum = DrawerCell::totalAh($in);
            foreach ($in as $x => $a) {
                foreach ($out as $y => $b) {
                    $now = abs($sum - $a->capacityAh + $b->capacityAh - $want);
                    if ($now < $off - Tiny::SLACK) {
                        [$off, $change] = [$now, [$x, $y]];
                    }
                }
            }
            if ($change === null) {
                break;
            }
            [$x, $y] = $change;
            [$in[$x], $out[$y]] = [$out[$y], $in[$x]];
        }

        return array_values($in);
    }

    /**
     * Cells that lie within the ratio of each that stays.
     *
     * @param  list<DrawerCell>  $cells
     * @param  list<DrawerCell>  $stay
     * @return list<DrawerCell>
     */
    private static function near(array $cells, array $stay, float $ratio): array
    {
        if ($stay === []) {
            return $cells;
        }
        $r = array_map(fn(DrawerCell $c): float => $c->mohm, $stay);

        return array_values(
            array_filter($cells, fn(DrawerCell $c): bool => max($c->mohm, ...$r) <= $ratio * min($c->mohm, ...$r) * (1 + Tiny::CHANCE)),
        );
    }
}
