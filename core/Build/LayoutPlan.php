<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Limits\BuildLimits;
use Heartwood\Core\Maths\Tiny;

/**
 * Where every cell sits and which way round, and the strips of both faces. Cells lie along one unbroken path through the
 * case, P after P to a group; a strip joins the cells of two neighbouring groups and nothing else, so whatever the case
 * it is one piece and bridges nothing.
 */
final readonly class LayoutPlan
{
    /**
     * @param  list<array{x: float, y: float, group: int, up: bool, column: int, row: int, layer: int}>  $cells  millimetres of the
     *   centre; up: positive on the front face
     * @param  list<array{node: int, face: 'front'|'back', cells: list<int>, edges: list<array{int, int}>, across: int,
     *   shape: string}>  $strips  edges between cells of one node; across counts those that carry the series current
     * @param  float  $diameter  or thickness for flat cells
     * @param  array{minus: int, plus: int}|null  $leads  cells at which the main leads are joined; null: where strips carry least
     * @param  float|null  $foldMm  where two layers fold, across the drawing
     * @param  array{float, float}|null  $foldedMm  width and height once they lie on one another
     */
    public function __construct(
        public int $series,
        public int $parallel,
        public string $packing,
        public string $shape,
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
        public ?array $leads = null,
        public ?BoardEnd $board = null,
        public ?float $foldMm = null,
        public ?array $foldedMm = null,
    ) {}

    /** @param  array{minus: int, plus: int}  $leads */
    public function withLeads(array $leads): self
    {
        return new self(
            $this->series,
            $this->parallel,
            $this->packing,
            $this->shape,
            $this->columns,
            $this->rows,
            $this->widthMm,
            $this->heightMm,
            $this->depthMm,
            $this->diameter,
            $this->cells,
            $this->strips,
            $this->linkMm,
            $this->distinct,
            $this->empty,
            $leads,
            $this->board,
            $this->foldMm,
            $this->foldedMm,
        );
    }

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

    /** Millimetres from centre to centre. */
    public function apart(int $a, int $b): float
    {
        return hypot($this->cells[$a]['x'] - $this->cells[$b]['x'], $this->cells[$a]['y'] - $this->cells[$b]['y']);
    }

    /**
     * What a main lead wants from a cell of an end strip to the board, in millimetres: as the pack is in its case. Where two
     * layers lie on one another, what is drawn beyond the fold lies mirrored over the rest, and the faces that meet lie in the
     * middle of the depth.
     */
    public function leadMm(BoardEnd $board, int $node, int $cell): float
    {
        $c = $this->cells[$cell];
        [$x, $y, $w, $h] = [$c['x'], $c['y'], $this->widthMm, $this->heightMm];
        $round = $this->depthMm / 2;
        if ($this->foldedMm !== null) {
            $across = $this->foldedMm[0] < $w;
            $x = $across && $c['layer'] === 1 ? $w - $x : $x;
            $y = !$across && $c['layer'] === 1 ? $h - $y : $y;
            [$w, $h] = $this->foldedMm;
            $round = $this->strips[$node]['face'] === $this->strips[$this->foldNode()]['face'] ? 0.0 : $round;
        }

        return $board->reach($x, $y, $w, $h, $round);
    }

    /** The node whose links cross from one layer to the other; 0 where there is one layer. */
    public function foldNode(): int
    {
        foreach ($this->cells as $k => $c) {
            if ($k > 0 && $c['layer'] !== $this->cells[$k - 1]['layer']) {
                return $c['group'] - 1;
            }
        }

        return 0;
    }

    public function isEnd(int $node): bool
    {
        return $node === 0 || $node === $this->series;
    }

    /**
     * Straight pieces of one strip: runs of edges in one line are one piece.
     *
     * @return list<array{from: int, to: int, drawn_mm: float, length_mm: float, what: string}>
     */
    public function pieces(int $node): array
    {
        $s = $this->strips[$node];
        $over = BuildLimits::OVERLAP * $this->diameter;
        $out = [];
        foreach ($this->runs($s['edges']) as [$from, $to, $series]) {
            $drawn = $this->apart($from, $to);
            $out[] = [
                'from' => $from,
                'to' => $to,
                'drawn_mm' => $drawn,
                'length_mm' => round($drawn + $over, 1),
                'what' => match (true) {
                    $this->isEnd($node) => 'end strip',
                    $series && $this->cells[$from]['layer'] !== $this->cells[$to]['layer'] => 'fold link',
                    $series => 'series link',
                    default => 'parallel strip',
                },
            ];
        }
        if ($s['edges'] === []) {
            $cell = $s['cells'][0];
            $out[] = ['from' => $cell, 'to' => $cell, 'drawn_mm' => 0.0, 'length_mm' => round($over, 1), 'what' => 'tab'];
        }

        return $out;
    }

    /**
     * What is cut, longest first.
     *
     * @param  array<int, int>  $layers  of each node's strip
     * @return list<array{length_mm: float, count: int, what: string, layers: int, pieces: int}> count: as drawn; pieces: of all layers
     */
    public function cutList(array $layers = []): array
    {
        $out = [];
        foreach ($this->strips as $s) {
            $deep = $layers[$s['node']] ?? 1;
            foreach ($this->pieces($s['node']) as $p) {
                $key = "{$p['length_mm']}/{$p['what']}/$deep";
                $out[$key] ??= ['length_mm' => $p['length_mm'], 'count' => 0, 'what' => $p['what'], 'layers' => $deep, 'pieces' => 0];
                $out[$key]['count']++;
                $out[$key]['pieces'] += $deep;
            }
        }
        usort(
            $out,
            fn(array $a, array $b): int => [$b['length_mm'], $a['what'], $a['layers']] <=> [$a['length_mm'], $b['what'], $b['layers']],
        );

        return $out;
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
                        if (abs($ux * $dy - $uy * $dx) > Tiny::SUM * $this->diameter ** 2 || $series) {
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

    /**
     * Weld spots of all strips: both ends of every cell, every layer.
     *
     * @param  array<int, int>  $layers  of each node's strip
     */
    public function welds(array $layers = []): int
    {
        $sum = 0;
        foreach ($this->strips as $s) {
            $sum += count($s['cells']) * BuildLimits::SPOTS * ($layers[$s['node']] ?? 1);
        }

        return $sum;
    }
}
