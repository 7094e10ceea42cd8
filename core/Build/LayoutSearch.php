<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

/** Looks for the build with the shortest links and the fewest different strips that fits the case (handbook "Build sheet"). */
final class LayoutSearch
{
    /** Plastic between cells. */
    private const GAP_MM = 0.7;

    /**
     * @param  float|null  $maxWidth  of the case, millimetres; null when it does not matter
     * @param  list<array{int, int}>  $left  places (column, row) that stay empty, for odd cases
     * @param  'cylindrical'|'stack'  $kind  round cells in rows, or prismatic and pouch cells in a stack
     *
     * @throws CannotBuild nothing fits
     */
    public static function find(
        int $series,
        int $parallel,
        float $diameter,
        float $length,
        ?float $maxWidth = null,
        ?float $maxHeight = null,
        string $kind = 'cylindrical',
        ?string $packing = null,
        array $left = [],
    ): LayoutPlan {
        if ($series < 1 || $parallel < 1 || $series * $parallel > 2000) {
            throw new CannotBuild('From one cell to two thousand.');
        }
        $n = $series * $parallel;
        $best = null;
        $score = INF;
        foreach ($kind === 'stack' ? ['stack'] : ($packing === null ? ['square', 'offset'] : [$packing]) as $pack) {
            foreach (
                $kind === 'stack' ? [1] : self::heights($n, $parallel, count($left), $maxWidth !== null || $maxHeight !== null)
                as $rows
            ) {
                $columns = (int) ceil(($n + count($left)) / $rows);
                // Places left out may cost a neighbour's place too: a column more is tried as well.
                foreach (
                    $left === []
                        ? [[$columns, false], [$columns, true]]
                        : [[$columns, false], [$columns, true], [$columns + 1, false], [$columns + 1, true]]
                    as [$columns, $turned]
                ) {
                    [$w, $h] = self::size($columns, $rows, $diameter, $pack, $length);
                    if (
                        ($maxWidth !== null && ($turned ? $h : $w) > $maxWidth + 1e-9) ||
                        ($maxHeight !== null && ($turned ? $w : $h) > $maxHeight + 1e-9)
                    ) {
                        continue;
                    }
                    // A place left out at the side of a column stops a run along the columns, not one along the rows.
                    $plan =
                        self::plan($series, $parallel, $columns, $rows, $diameter, $length, $pack, $turned, $left, false) ??
                        ($left === []
                            ? null
                            : self::plan($series, $parallel, $columns, $rows, $diameter, $length, $pack, $turned, $left, true));
                    if ($plan === null) {
                        continue;
                    }
                    // Few kinds of strip, many short links across, little empty room, near to a square.
                    $s =
                        3.0 * $plan->distinct +
                        40.0 * (1 - min(1.0, $plan->leastAcross() / $parallel)) +
                        (0.02 * $plan->linkMm) / $n +
                        (2.0 * $plan->empty) / max(1, $n) +
                        1.5 * abs(log(max(1.0, $plan->widthMm) / max(1.0, $plan->heightMm))) +
                        ($pack === 'offset' ? 0.3 : 0.0) +
                        ($turned ? 0.05 : 0.0);
                    if ($s < $score - 1e-9) {
                        [$best, $score] = [$plan, $s];
                    }
                }
            }
        }
        if ($best === null) {
            [$w, $h] =
                $kind === 'stack'
                    ? self::size($n, 1, $diameter, 'stack', $length)
                    : self::size(
                        (int) ceil($n / max(1, (int) floor(sqrt($n)))),
                        max(1, (int) floor(sqrt($n))),
                        $diameter,
                        'square',
                        $length,
                    );
            if ($left !== [] && $kind !== 'stack') {
                throw new CannotBuild(
                    sprintf(
                        'No run of %d cells passes round the places left empty (%s) in this case: leave out places at the end of ' .
                            'a column, or give it more room.',
                        $n,
                        implode('; ', array_map(fn(array $p): string => "$p[0] $p[1]", $left)),
                    ),
                );
            }
            throw new CannotBuild(
                sprintf(
                    '%d cells do not fit %s x %s mm in any way; about %.0f x %.0f mm would do.',
                    $n,
                    $maxWidth ?? 'any',
                    $maxHeight ?? 'any',
                    $w,
                    $h,
                ),
            );
        }

        return $best;
    }

    /** @return list<int> rows worth trying */
    private static function heights(int $n, int $parallel, int $left, bool $limited): array
    {
        $out = [];
        for ($r = 1, $most = $limited ? $n + $left : max(3 * $parallel, (int) ceil(1.6 * sqrt($n + $left))); $r <= $most; $r++) {
            $out[] = $r;
        }
        // Groups as whole columns first, and what divides them.
        usort(
            $out,
            fn(int $a, int $b): int => [$a !== $parallel, $parallel % $a !== 0 && $a % $parallel !== 0, $a] <=> [
                $b !== $parallel,
                $parallel % $b !== 0 && $b % $parallel !== 0,
                $b,
            ],
        );

        return $out;
    }

    /** @return array{float, float} millimetres across the columns, across the rows */
    private static function size(int $columns, int $rows, float $diameter, string $packing, float $length): array
    {
        if ($packing === 'stack') {
            return [$columns * ($diameter + self::GAP_MM) + self::GAP_MM, $length];
        }
        $pitch = $diameter + self::GAP_MM;

        return $packing === 'offset'
            ? [
                $diameter + (($columns - 1) * $pitch * sqrt(3)) / 2 + 2 * self::GAP_MM,
                $rows * $pitch + ($columns > 1 ? $pitch / 2 : 0) + self::GAP_MM,
            ]
            : [$columns * $pitch + self::GAP_MM, $rows * $pitch + self::GAP_MM];
    }

    /** @param  list<array{int, int}>  $left */
    private static function plan(
        int $series,
        int $parallel,
        int $columns,
        int $rows,
        float $diameter,
        float $length,
        string $packing,
        bool $turned,
        array $left,
        bool $alongRows,
    ): ?LayoutPlan {
        $pitch = $diameter + self::GAP_MM;
        $blocked = [];
        foreach ($left as [$c, $r]) {
            if ($c >= $columns || $r >= $rows) {
                // A place that these rows do not have cannot be meant.
                return null;
            }
            $blocked["$c/$r"] = true;
        }
        $n = $series * $parallel;
        [$w, $h] = self::size($columns, $rows, $diameter, $packing, $length);
        // Up one column, down the next (or along the rows): neighbours on the path are neighbours in the case.
        $path = [];
        [$outer, $inner] = $alongRows ? [$rows, $columns] : [$columns, $rows];
        for ($o = 0; $o < $outer; $o++) {
            foreach ($o % 2 === 0 ? range(0, $inner - 1) : range($inner - 1, 0) as $i) {
                [$c, $r] = $alongRows ? [$i, $o] : [$o, $i];
                if (!isset($blocked["$c/$r"])) {
                    self::goOn($path, $c, $r, $packing);
                }
            }
        }
        if (count($path) < $n) {
            return null;
        }
        $cells = [];
        foreach (array_slice($path, 0, $n) as $k => [$c, $r]) {
            $x = self::GAP_MM + $diameter / 2 + $c * ($packing === 'offset' ? ($pitch * sqrt(3)) / 2 : $pitch);
            $y =
                $packing === 'stack'
                    ? $length / 2
                    : self::GAP_MM + $diameter / 2 + $r * $pitch + ($packing === 'offset' && $c % 2 === 1 ? $pitch / 2 : 0.0);
            $group = intdiv($k, $parallel) + 1;
            $cells[] = [
                'x' => round($turned ? $y : $x, 3),
                'y' => round($turned ? $x : $y, 3),
                'group' => $group,
                'up' => $group % 2 === 1,
                'column' => $c,
                'row' => $r,
            ];
        }
        // Neighbours in the path must touch, or the strip that joins them would have to jump.
        for ($k = 1; $k < $n; $k++) {
            if (hypot($cells[$k]['x'] - $cells[$k - 1]['x'], $cells[$k]['y'] - $cells[$k - 1]['y']) > 1.01 * $pitch) {
                return null;
            }
        }
        [$strips, $mm, $distinct] = self::strips($cells, $series, $pitch);

        return new LayoutPlan(
            $series,
            $parallel,
            $packing,
            $columns,
            $rows,
            round($turned ? $h : $w, 1),
            round($turned ? $w : $h, 1),
            $packing === 'stack' ? $diameter : $length,
            $diameter,
            $cells,
            $strips,
            $mm,
            $distinct,
            $columns * $rows - $n,
        );
    }

    /**
     * Takes the next place into the run. Where an empty place lies between, the run turns back one or two cells earlier,
     * and what cannot be reached stays empty too.
     *
     * @param  list<array{int, int}>  $path
     */
    private static function goOn(array &$path, int $c, int $r, string $packing): void
    {
        if ($path === []) {
            $path[] = [$c, $r];

            return;
        }
        for ($back = 0; $back <= 2 && $back < count($path); $back++) {
            if (self::touch($path[count($path) - 1 - $back], [$c, $r], $packing)) {
                array_splice($path, count($path) - $back);
                $path[] = [$c, $r];

                return;
            }
        }
    }

    /**
     * @param  array{int, int}  $a
     * @param  array{int, int}  $b
     */
    private static function touch(array $a, array $b, string $packing): bool
    {
        [$dc, $dr] = [$b[0] - $a[0], $b[1] - $a[1]];
        if ($dc === 0) {
            return abs($dr) === 1;
        }
        // In offset rows every odd column lies half a cell lower.
        $side = $packing === 'offset' ? ($a[0] % 2 === 1 ? [0, 1] : [-1, 0]) : [0];

        return abs($dc) === 1 && in_array($dr, $side, true);
    }

    /**
     * @param  list<array{x: float, y: float, group: int, up: bool, column: int, row: int}>  $cells
     * @return array{list<array{node: int, face: 'front'|'back', cells: list<int>, edges: list<array{int, int}>, across: int,
     *   shape: string}>, float, int}
     */
    private static function strips(array $cells, int $series, float $pitch): array
    {
        $members = [];
        foreach ($cells as $i => $c) {
            // A cell's positive belongs to the node over its group, its negative to the one under it.
            $members[$c['group']][] = $i;
            $members[$c['group'] - 1][] = $i;
        }
        $near = [];
        $grid = [];
        foreach ($cells as $i => $c) {
            $grid[(int) floor($c['x'] / $pitch)][(int) floor($c['y'] / $pitch)][] = $i;
        }
        foreach ($cells as $i => $c) {
            $gx = (int) floor($c['x'] / $pitch);
            $gy = (int) floor($c['y'] / $pitch);
            for ($dx = -1; $dx <= 1; $dx++) {
                for ($dy = -1; $dy <= 1; $dy++) {
                    foreach ($grid[$gx + $dx][$gy + $dy] ?? [] as $j) {
                        if ($j > $i && hypot($cells[$j]['x'] - $c['x'], $cells[$j]['y'] - $c['y']) <= 1.02 * $pitch) {
                            $near[] = [$i, $j];
                        }
                    }
                }
            }
        }
        $strips = [];
        $mm = 0.0;
        $shapes = [];
        for ($node = 0; $node <= $series; $node++) {
            $in = array_flip($members[$node]);
            $edges = [];
            $across = 0;
            foreach ($near as [$i, $j]) {
                if (isset($in[$i], $in[$j])) {
                    $edges[] = [$i, $j];
                    $across += $cells[$i]['group'] !== $cells[$j]['group'] ? 1 : 0;
                    $mm += hypot($cells[$j]['x'] - $cells[$i]['x'], $cells[$j]['y'] - $cells[$i]['y']);
                }
            }
            $shape = self::shape($cells, $members[$node]);
            $shapes[$shape] = true;
            // Group 1 has its positive in front: node 0 is at the back, node 1 in front, and so on.
            /** @var 'front'|'back' $face */
            $face = $node % 2 === 1 ? 'front' : 'back';
            $strips[] = [
                'node' => $node,
                'face' => $face,
                'cells' => $members[$node],
                'edges' => $edges,
                'across' => $across,
                'shape' => $shape,
            ];
        }

        return [$strips, $mm, count($shapes)];
    }

    /**
     * The outline of a strip whichever way it is turned: the same name for the same piece.
     *
     * @param  list<array{x: float, y: float, group: int, up: bool, column: int, row: int}>  $cells
     * @param  list<int>  $members
     */
    private static function shape(array $cells, array $members): string
    {
        $best = null;
        foreach ([[1, 0, 0, 1], [-1, 0, 0, 1], [1, 0, 0, -1], [-1, 0, 0, -1]] as [$a, $b, $c, $d]) {
            $points = array_map(
                fn(int $i): array => [$a * $cells[$i]['x'] + $b * $cells[$i]['y'], $c * $cells[$i]['x'] + $d * $cells[$i]['y']],
                $members,
            );
            if ($points === []) {
                return '';
            }
            $x = min(array_column($points, 0));
            $y = min(array_column($points, 1));
            $names = array_map(fn(array $p): string => sprintf('%.1f,%.1f', $p[0] - $x, $p[1] - $y), $points);
            sort($names);
            $name = implode(' ', $names);
            $best = $best === null || strcmp($name, $best) < 0 ? $name : $best;
        }

        return substr(md5((string) $best), 0, 8);
    }
}
