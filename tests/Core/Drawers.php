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
}
