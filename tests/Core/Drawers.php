<?php

declare(strict_types=1);

namespace Tests\Core;

use Heartwood\Core\Cell\Deal;
use Heartwood\Core\Cell\DrawerCell;

/** Drawers by a seed, and what every deal of them must keep. */
final class Drawers
{
    /** @return list<DrawerCell> */
    public static function of(int $n, float $capacity = 0.03, float $resistance = 0.04, int $seed = 5): array
    {
        mt_srand($seed);
        $gauss = fn(): float => sqrt(-2 * log(max(1e-12, mt_rand() / mt_getrandmax()))) * cos((2 * M_PI * mt_rand()) / mt_getrandmax());

        return array_map(
            fn(int $i): DrawerCell => new DrawerCell(
                "C$i",
                3.0 * (1 + $capacity * $gauss()),
                32.0 * max(0.4, 1 + $resistance * $gauss()),
                3.7,
            ),
            range(1, $n),
        );
    }

    /** What every deal must keep, whatever else it does. */
    public static function sound(Deal $deal, array $cells, int $s, int $p, float $ratio = 1.3): void
    {
        $ids = array_map(fn(DrawerCell $c): string => $c->id, array_merge(...$deal->groups));
        $all = array_map(fn(DrawerCell $c): string => $c->id, [...array_merge(...$deal->groups), ...$deal->spares]);
        sort($all);
        $want = array_map(fn(DrawerCell $c): string => $c->id, $cells);
        sort($want);
        expect($deal->groups)
            ->toHaveCount($s)
            ->and(array_map(count(...), $deal->groups))
            ->toBe(array_fill(0, $s, $p))
            ->and(array_unique($ids))
            ->toHaveCount($s * $p)
            ->and($all)
            ->toBe($want)
            ->and($deal->worstRatio)
            ->toBeLessThanOrEqual($ratio + 1e-9)
            ->and($deal->least())
            ->toBeLessThanOrEqual($deal->bound + 1e-9);
    }

    /**
     * Smallest total and conductance spread of every lawful deal, by plain recursion.
     *
     * @param  list<DrawerCell>  $cells
     * @return list<array{float, float}>
     */
    public static function everyDeal(array $cells, int $s, int $p, float $ratio): array
    {
        $out = [];
        $fill = function (array $left, int $groups, array $ah, array $siemens) use (&$fill, &$out, $cells, $p, $ratio): void {
            if ($groups === 0) {
                $out[] = [min($ah), max($siemens) / min($siemens) - 1];

                return;
            }
            $choose = function (int $from, array $in) use (&$choose, &$fill, $left, $groups, $ah, $siemens, $cells, $p, $ratio): void {
                if (count($in) === $p) {
                    $r = array_map(fn(int $i): float => $cells[$i]->mohm, $in);
                    if (max($r) / min($r) <= $ratio) {
                        $rest = array_values(array_filter($left, fn(int $i): bool => $i > $in[0] && !in_array($i, $in, true)));
                        $total = array_sum(array_map(fn(int $i): float => $cells[$i]->capacityAh, $in));
                        $g = array_sum(array_map(fn(float $x): float => 1000 / $x, $r));
                        $fill($rest, $groups - 1, [...$ah, $total], [...$siemens, $g]);
                    }

                    return;
                }
                for ($k = $from; $k < count($left); $k++) {
                    $choose($k + 1, [...$in, $left[$k]]);
                }
            };
            $choose(0, []);
        };
        $fill(range(0, count($cells) - 1), $s, [], []);

        return $out;
    }
}
