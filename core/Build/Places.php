<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Limits\BuildLimits;
use Heartwood\Core\Maths\Tiny;

/**
 * Where cells could sit in a case, and which places touch: rows of a box, rows of different length, a round case, two
 * layers that fold back to back, flat cells in one row or more. Millimetres from the corner of the case's front face.
 */
final readonly class Places
{
    /** How far apart the centres of neighbours may lie, of the pitch: rounding, and no more. */
    private const TOUCH = 1.01;

    /**
     * @param  list<array{x: float, y: float, column: int, row: int, layer: int}>  $at
     * @param  list<list<int>>  $near  neighbours of each place
     * @param  list<list<list<int>>>  $rows  ways to go through them line by line, every line in one direction
     * @param  float  $height  of the case across the rows, millimetres
     * @param  array{float, float}|null  $folded  width and height once two layers lie on one another
     */
    private function __construct(
        public string $packing,
        public string $shape,
        public array $at,
        public array $near,
        public array $rows,
        public float $width,
        public float $height,
        public float $depth,
        public int $columns,
        public int $lines,
        public ?array $folded = null,
    ) {}

    public static function pitch(float $diameter): float
    {
        return $diameter + BuildLimits::BETWEEN_MM;
    }

    /**
     * Rows of a box.
     *
     * @param  list<array{int, int}>  $left  places (column, row) that stay empty
     * @return self|null null where a place that stays empty is none of these
     */
    public static function box(int $columns, int $rows, float $diameter, float $length, string $packing, array $left = []): ?self
    {
        $blocked = [];
        foreach ($left as [$c, $r]) {
            if ($c >= $columns || $r >= $rows) {
                return null;
            }
            $blocked["$c/$r"] = true;
        }
        $at = [];
        for ($c = 0; $c < $columns; $c++) {
            for ($r = 0; $r < $rows; $r++) {
                if (!isset($blocked["$c/$r"])) {
                    $at[] = self::place($c, $r, $diameter, $packing);
                }
            }
        }
        [$width, $height] = self::size($columns, $rows, $diameter, $packing);

        return self::of($packing, 'box', $at, $diameter, $length, $width, $height);
    }

    /**
     * Rows of different length, each from the left wall or a place further in.
     *
     * @param  list<array{int, int}>  $rows  first column and count of each row, from the top
     */
    public static function stairs(array $rows, float $diameter, float $length, string $packing): self
    {
        $at = [];
        foreach ($rows as $r => [$first, $count]) {
            for ($c = $first; $c < $first + $count; $c++) {
                $at[] = self::inRow($c, $r, $diameter, $packing);
            }
        }
        $pitch = self::pitch($diameter);
        $columns = max([0, ...array_map(fn(array $r): int => $r[0] + $r[1], $rows)]);
        $lines = count($rows);
        $down = $packing === 'offset' ? ($pitch * M_SQRT3) / 2 : $pitch;

        return self::of(
            $packing,
            'stairs',
            $at,
            $diameter,
            $length,
            $columns * $pitch + ($packing === 'offset' && $lines > 1 ? $pitch / 2 : 0.0) + BuildLimits::BETWEEN_MM,
            $diameter + ($lines - 1) * $down + 2 * BuildLimits::BETWEEN_MM,
        );
    }

    /**
     * A round case, cells as close as they lie: about one in the middle, about two, or about three.
     *
     * @param  float|null  $case  inner diameter; null for the smallest that holds so many
     * @return list<self> those that hold as many
     */
    public static function round(int $cells, float $diameter, float $length, ?float $case): array
    {
        $pitch = self::pitch($diameter);
        $down = ($pitch * M_SQRT3) / 2;
        $reach = (int) ceil(sqrt($cells)) + 2;
        $out = [];
        foreach ([[0.0, 0.0], [$pitch / 2, 0.0], [$pitch / 2, $pitch / (2 * M_SQRT3)]] as [$dx, $dy]) {
            $all = [];
            for ($r = -$reach; $r <= $reach; $r++) {
                for ($c = -$reach; $c <= $reach; $c++) {
                    $x = ($c + ($r % 2 === 0 ? 0 : 1 / 2)) * $pitch - $dx;
                    $y = $r * $down - $dy;
                    $all[] = ['x' => $x, 'y' => $y, 'column' => $c, 'row' => $r, 'layer' => 0];
                }
            }
            usort(
                $all,
                fn(array $a, array $b): int => [round(hypot($a['x'], $a['y']), 6), $a['y'], $a['x']] <=> [
                    round(hypot($b['x'], $b['y']), 6),
                    $b['y'],
                    $b['x'],
                ],
            );
            $wall = $diameter / 2 + BuildLimits::BETWEEN_MM;
            $radius = $case === null ? hypot($all[$cells - 1]['x'], $all[$cells - 1]['y']) + $wall : $case / 2;
            $in = array_values(array_filter($all, fn(array $p): bool => hypot($p['x'], $p['y']) + $wall <= $radius + Tiny::SUM));
            if (count($in) < $cells) {
                continue;
            }
            $first = min([PHP_INT_MAX, ...array_column($in, 'column')]);
            $top = min([PHP_INT_MAX, ...array_column($in, 'row')]);
            usort($in, fn(array $a, array $b): int => [$a['row'], $a['x']] <=> [$b['row'], $b['x']]);
            $at = array_map(
                fn(array $p): array => [
                    'x' => round($p['x'] + $radius, 3),
                    'y' => round($p['y'] + $radius, 3),
                    'column' => $p['column'] - $first,
                    'row' => $p['row'] - $top,
                    'layer' => 0,
                ],
                $in,
            );
            $out[] = self::of('offset', 'round', $at, $diameter, $length, 2 * $radius, 2 * $radius);
        }

        return $out;
    }

    /** Two boxes that fold back to back about the line between them, drawn side by side as they lie open. */
    public static function folded(int $columns, int $rows, float $diameter, float $length, string $packing): self
    {
        $at = [];
        for ($c = 0; $c < 2 * $columns; $c++) {
            for ($r = 0; $r < $rows; $r++) {
                $p = self::place($c, $r, $diameter, $packing);
                $at[] = ['x' => round($p['x'] + ($c >= $columns ? BuildLimits::FOLD_MM : 0.0), 3), 'layer' => (int) ($c >= $columns)] + $p;
            }
        }
        [$width, $height] = self::size(2 * $columns, $rows, $diameter, $packing);

        return self::of(
            $packing,
            'two-layers',
            $at,
            $diameter,
            2 * $length + BuildLimits::FOLD_MM,
            $width + BuildLimits::FOLD_MM,
            $height,
            BuildLimits::FOLD_MM,
            self::size($columns, $rows, $diameter, $packing),
        );
    }

    /** Flat cells side by side, in rows one behind the other; terminals at both ends of each. */
    public static function stack(int $columns, int $rows, float $thickness, float $length): self
    {
        $pitch = self::pitch($thickness);
        $at = $near = [];
        for ($c = 0; $c < $columns; $c++) {
            for ($r = 0; $r < $rows; $r++) {
                $at[] = [
                    'x' => round(BuildLimits::BETWEEN_MM + $thickness / 2 + $c * $pitch, 3),
                    'y' => round($length / 2 + $r * ($length + BuildLimits::BETWEEN_MM), 3),
                    'column' => $c,
                    'row' => $r,
                    'layer' => 0,
                ];
            }
        }
        foreach ($at as $i => $p) {
            $near[$i] = [];
            foreach ($at as $j => $q) {
                if (abs($p['column'] - $q['column']) + abs($p['row'] - $q['row']) === 1) {
                    $near[$i][] = $j;
                }
            }
        }

        return new self(
            'stack',
            $rows > 1 ? 'rows' : 'box',
            $at,
            array_values($near),
            self::lines($at),
            $columns * $pitch + BuildLimits::BETWEEN_MM,
            $rows * $length + ($rows - 1) * BuildLimits::BETWEEN_MM,
            $thickness,
            $columns,
            $rows,
        );
    }

    /** @return array{float, float} millimetres across the columns, across the rows */
    public static function size(int $columns, int $rows, float $diameter, string $packing): array
    {
        $pitch = self::pitch($diameter);

        return $packing === 'offset'
            ? [
                $diameter + (($columns - 1) * $pitch * M_SQRT3) / 2 + 2 * BuildLimits::BETWEEN_MM,
                $rows * $pitch + ($columns > 1 ? $pitch / 2 : 0) + BuildLimits::BETWEEN_MM,
            ]
            : [$columns * $pitch + BuildLimits::BETWEEN_MM, $rows * $pitch + BuildLimits::BETWEEN_MM];
    }

    /** @return array{x: float, y: float, column: int, row: int, layer: int} in columns, every odd one half a cell lower when offset */
    private static function place(int $c, int $r, float $diameter, string $packing): array
    {
        $pitch = self::pitch($diameter);
        $first = BuildLimits::BETWEEN_MM + $diameter / 2;

        return [
            'x' => round($first + $c * ($packing === 'offset' ? ($pitch * M_SQRT3) / 2 : $pitch), 3),
            'y' => round($first + $r * $pitch + ($packing === 'offset' && $c % 2 === 1 ? $pitch / 2 : 0.0), 3),
            'column' => $c,
            'row' => $r,
            'layer' => 0,
        ];
    }

    /** @return array{x: float, y: float, column: int, row: int, layer: int} in rows, every odd one half a cell further when offset */
    private static function inRow(int $c, int $r, float $diameter, string $packing): array
    {
        $pitch = self::pitch($diameter);
        $first = BuildLimits::BETWEEN_MM + $diameter / 2;

        return [
            'x' => round($first + $c * $pitch + ($packing === 'offset' && $r % 2 === 1 ? $pitch / 2 : 0.0), 3),
            'y' => round($first + $r * ($packing === 'offset' ? ($pitch * M_SQRT3) / 2 : $pitch), 3),
            'column' => $c,
            'row' => $r,
            'layer' => 0,
        ];
    }

    /**
     * @param  list<array{x: float, y: float, column: int, row: int, layer: int}>  $at
     * @param  float  $fold  how much further apart neighbours of two layers lie
     * @param  array{float, float}|null  $folded
     */
    private static function of(
        string $packing,
        string $shape,
        array $at,
        float $diameter,
        float $depth,
        float $width,
        float $height,
        float $fold = 0.0,
        ?array $folded = null,
    ): self {
        $pitch = self::pitch($diameter);
        $grid = [];
        foreach ($at as $i => $p) {
            $grid[(int) floor($p['x'] / $pitch)][(int) floor($p['y'] / $pitch)][] = $i;
        }
        $near = [];
        foreach ($at as $i => $p) {
            $near[$i] = [];
            for ($x = (int) floor($p['x'] / $pitch) - 1, $xs = $x + 3; $x < $xs; $x++) {
                for ($y = (int) floor($p['y'] / $pitch) - 1, $ys = $y + 3; $y < $ys; $y++) {
                    foreach ($grid[$x][$y] ?? [] as $j) {
                        $other = $at[$j]['layer'] !== $p['layer'];
                        if (
                            $j !== $i &&
                            hypot($at[$j]['x'] - $p['x'], $at[$j]['y'] - $p['y']) <= self::TOUCH * $pitch + ($other ? $fold : 0.0)
                        ) {
                            $near[$i][] = $j;
                        }
                    }
                }
            }
            sort($near[$i]);
        }
        $columns = $at === [] ? 0 : 1 + max(array_column($at, 'column'));
        $lines = $at === [] ? 0 : 1 + max(array_column($at, 'row'));

        return new self($packing, $shape, $at, array_values($near), self::lines($at), $width, $height, $depth, $columns, $lines, $folded);
    }

    /**
     * Up one column and down the next; along one row and back the next.
     *
     * @param  list<array{x: float, y: float, column: int, row: int, layer: int}>  $at
     * @return list<list<list<int>>>
     */
    private static function lines(array $at): array
    {
        $byColumn = $byRow = [];
        foreach ($at as $i => $p) {
            $byColumn[$p['column']][] = $i;
            $byRow[$p['row']][] = $i;
        }
        ksort($byColumn);
        ksort($byRow);
        foreach ($byColumn as &$line) {
            usort($line, fn(int $a, int $b): int => $at[$a]['y'] <=> $at[$b]['y']);
        }
        foreach ($byRow as &$line) {
            usort($line, fn(int $a, int $b): int => $at[$a]['x'] <=> $at[$b]['x']);
        }

        return [array_values($byColumn), array_values($byRow)];
    }
}
