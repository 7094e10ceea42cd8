<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

/**
 * Where every cell sits and which way round, and the strips of both faces. Cells lie along one unbroken path through the
 * case, P after P to a group; a strip joins the cells of two neighbouring groups and nothing else, so whatever the case
 * it is one piece and bridges nothing.
 */
final readonly class LayoutPlan
{
    /**
     * @param  list<array{x: float, y: float, group: int, up: bool, column: int, row: int}>  $cells  millimetres of the centre;
     *   up: positive on the front face
     * @param  list<array{node: int, face: 'front'|'back', cells: list<int>, edges: list<array{int, int}>, across: int,
     *   shape: string}>  $strips  edges between cells of one node; across counts those that carry the series current
     * @param  float  $diameter  or thickness for stacked cells
     */
    public function __construct(
        public int $series,
        public int $parallel,
        public string $packing,
        public int $columns,
        public int $rows,
        public float $widthMm,
        public float $heightMm,
        public float $depthMm,
        public float $diameter,
        public array $cells,
        public array $strips,
        public float $linkMm,
        public int $distinct,
        public int $empty,
    ) {}

    /** Links that carry the current from one group to the next: the fewest of all nodes. */
    public function leastAcross(): int
    {
        $least = PHP_INT_MAX;
        foreach ($this->strips as $s) {
            if ($s['node'] > 0 && $s['node'] < $this->series) {
                $least = min($least, $s['across']);
            }
        }

        return $least === PHP_INT_MAX ? $this->parallel : $least;
    }

    /**
     * Straight pieces to cut, longest first: runs of edges in one line are one piece.
     *
     * @return list<array{length_mm: float, count: int, what: string}>
     */
    public function cutList(): array
    {
        $pieces = [];
        foreach ($this->strips as $s) {
            foreach ($this->runs($s['edges']) as [$from, $to, $series]) {
                $a = $this->cells[$from];
                $b = $this->cells[$to];
                $length = round(hypot($a['x'] - $b['x'], $a['y'] - $b['y']) + 0.7 * $this->diameter, 1);
                $what = $series ? 'series link' : 'parallel strip';
                $pieces["$length/$what"] = [
                    'length_mm' => $length,
                    'count' => ($pieces["$length/$what"]['count'] ?? 0) + 1,
                    'what' => $what,
                ];
            }
        }
        foreach ($this->strips as $s) {
            if (count($s['cells']) === 1) {
                $length = round(0.7 * $this->diameter, 1);
                $pieces["$length/tab"] = ['length_mm' => $length, 'count' => ($pieces["$length/tab"]['count'] ?? 0) + 1, 'what' => 'tab'];
            }
        }
        usort($pieces, fn(array $a, array $b): int => [$b['length_mm'], $a['what']] <=> [$a['length_mm'], $b['what']]);

        return $pieces;
    }

    /**
     * Edges in one line joined end to end.
     *
     * @param  list<array{int, int}>  $edges
     * @return list<array{int, int, bool}> from cell, to cell, whether it carries the series current
     */
    private function runs(array $edges): array
    {
        $left = [];
        foreach ($edges as [$a, $b]) {
            $left["$a-$b"] = [$a, $b];
        }
        $out = [];
        while ($left !== []) {
            [$a, $b] = array_shift($left);
            $series = $this->cells[$a]['group'] !== $this->cells[$b]['group'];
            $dx = $this->cells[$b]['x'] - $this->cells[$a]['x'];
            $dy = $this->cells[$b]['y'] - $this->cells[$a]['y'];
            $grown = true;
            while ($grown) {
                $grown = false;
                foreach ($left as $key => [$c, $d]) {
                    if (($this->cells[$c]['group'] !== $this->cells[$d]['group']) !== $series) {
                        continue;
                    }
                    foreach ([[$c, $d], [$d, $c]] as [$e, $f]) {
                        $ux = $this->cells[$f]['x'] - $this->cells[$e]['x'];
                        $uy = $this->cells[$f]['y'] - $this->cells[$e]['y'];
                        if (abs($ux * $dy - $uy * $dx) > 1e-6 || $series) {
                            continue;
                        }
                        if ($e === $b && $ux * $dx + $uy * $dy > 0) {
                            $b = $f;
                            unset($left[$key]);
                            $grown = true;
                            break 2;
                        }
                        if ($e === $a && $ux * $dx + $uy * $dy < 0) {
                            $a = $f;
                            unset($left[$key]);
                            $grown = true;
                            break 2;
                        }
                    }
                }
            }
            $out[] = [$a, $b, $series];
        }

        return $out;
    }

    /** Weld spots for both ends of all cells: two pairs an end, every layer. */
    public function welds(int $layers = 1): int
    {
        return count($this->cells) * 2 * 4 * $layers;
    }
}
