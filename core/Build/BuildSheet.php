<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Limits\BuildLimits;
use Heartwood\Core\Maths\Tiny;

/** Everything that hangs over the bench while a pack is built: places, strips, cuts, order of work, leads, plug. */
final readonly class BuildSheet
{
    /** Pins of a plug that are drawn in one line, at the most, and how large on paper: mm a unit of the drawing. */
    private const PINS_A_LINE = 15;

    private const PLUG_SCALE = 0.7;

    /** Units of the drawing: from pin to pin, and from line to line. */
    private const PIN_WIDE = 16;

    private const LINE_HIGH = 34;

    private StripLoad $load;

    /**
     * @param  list<float>|null  $groupsV  volts of every group today
     * @param  float  $loadA  current that the series links carry
     * @param  array{length_mm: float, sheet_mm: float|null, kerf_mm: float}|null  $stock  what strips are cut from
     *
     * @throws CannotBuild the strip is wider than the build has room for
     */
    public function __construct(
        private LayoutPlan $plan,
        private Strip $strip,
        float $loadA,
        private ?array $groupsV = null,
        private ?array $stock = null,
    ) {
        $widest = StripRoom::widest($plan);
        if ($strip->widthMm > $widest + Tiny::SLACK) {
            throw new CannotBuild(
                sprintf(
                    'A strip of %.1f mm is too wide here: %.1f mm at the most stay %.0f mm clear of the next strip and the next rim. ' .
                        'Take narrower strip in more layers.',
                    $strip->widthMm,
                    floor(10 * max(0.0, $widest) + Tiny::SUM) / 10,
                    BuildLimits::CLEARANCE_MM,
                ),
                '/strip/width_mm',
            );
        }
        $this->load = StripLoad::of($plan, $strip, $loadA);
    }

    /** @return list<float>|null */
    public function taps(): ?array
    {
        if ($this->groupsV === null || count($this->groupsV) !== $this->plan->series) {
            return null;
        }
        $taps = [0.0];
        foreach ($this->groupsV as $v) {
            $taps[] = $taps[count($taps) - 1] + $v;
        }

        return $taps;
    }

    /** Layers that the strips between groups want for the load, by the section that carries most. */
    public function layers(): int
    {
        return $this->load->between();
    }

    /** Layers of the end strips: all of the load meets where the main lead is joined. */
    public function endLayers(): int
    {
        return $this->load->ends();
    }

    /**
     * What is welded at one go, the pack turned between.
     *
     * @return list<array{face: string, nodes: list<int>, ends: int, spots: int, text: string}>
     */
    public function weldGroups(): array
    {
        $out = [];
        foreach (['front', 'back'] as $face) {
            $inner = [];
            foreach ($this->plan->strips as $s) {
                if ($s['face'] === $face && !$this->plan->isEnd($s['node'])) {
                    $inner[] = $s['node'];
                }
            }
            if ($inner !== []) {
                $text = $face === 'front' ? 'All strips between groups in front.' : 'Turn it over: all strips between groups at the back.';
                $out[] = $this->weldGroup($face, $inner, $text);
            }
        }
        foreach ([0, $this->plan->series] as $node) {
            $name = $node === 0 ? 'B-' : 'B+';
            $out[] = $this->weldGroup($this->plan->strips[$node]['face'], [$node], "The end strip of $name, the other end covered.");
        }

        return $out;
    }

    /**
     * @param  list<int>  $nodes
     * @return array{face: string, nodes: list<int>, ends: int, spots: int, text: string}
     */
    private function weldGroup(string $face, array $nodes, string $text): array
    {
        $layers = $this->load->layers();
        $ends = $spots = 0;
        foreach ($nodes as $n) {
            $cells = count($this->plan->strips[$n]['cells']);
            $ends += $cells;
            $spots += $cells * BuildLimits::SPOTS * $layers[$n];
        }

        return ['face' => $face, 'nodes' => $nodes, 'ends' => $ends, 'spots' => $spots, 'text' => $text];
    }

    /** @return array<string, array{cell: int, face: string, need_mm: float|null, given_mm: float|null}> where both main leads are joined */
    public function leads(): array
    {
        $out = [];
        foreach (['minus' => 0, 'plus' => $this->plan->series] as $name => $node) {
            $cell = $this->load->leads[$name];
            $board = $this->plan->board;
            $out[$name] = [
                'cell' => $cell + 1,
                'face' => $this->plan->strips[$node]['face'],
                'need_mm' => $board === null ? null : round($this->plan->leadMm($board, $node, $cell), 1),
                'given_mm' => $name === 'minus' ? $board?->minusMm : $board?->plusMm,
            ];
        }

        return $out;
    }

    /** @return list<array{text: string, caution: string|null}> */
    public function order(): array
    {
        $taps = $this->taps();
        $out = [
            [
                'text' => 'Pull a welded test piece of the same strip and layers apart: the strip must tear, not the spot.',
                'caution' => 'Eye protection. No heat on cells: weld, or solder on tabs only.',
            ],
            $this->plan->packing === 'stack'
                ? [
                    'text' =>
                        'Stack them by the drawing, polarity turning from group to group, an insulating sheet between any two. ' .
                        'End plates hold them; leave the room to swell that the datasheet asks for.',
                    'caution' => 'Rings and metal off. Cover the terminals that are not worked on.',
                ]
                : [
                    'text' => 'Insulator rings on every positive end: the rim around it is negative.',
                    'caution' => 'Rings and metal off. A strip that slips over a rim is a short.',
                ],
            [
                'text' =>
                    'Set the cells into the holder by the front drawing, group by group, odd groups positive to the front. Read ' .
                    'each group before any strip: all cells of a group within 50 mV.',
                'caution' => 'Cells of one group are joined inside the join rule only.',
            ],
        ];
        foreach ($this->plan->strips as $s) {
            if ($s['node'] === 0 || $s['node'] === $this->plan->series) {
                continue;
            }
            $expect = $taps === null ? 'nothing' : sprintf('%.2f V or nothing', $this->groupsV[$s['node'] - 1] ?? 0.0);
            $out[] = [
                'text' => sprintf(
                    'Node T%d, %s face: series links first (%d of them), then the parallel strips.',
                    $s['node'],
                    $s['face'],
                    $s['across'],
                ),
                'caution' => sprintf('Measure across the gap before each strip that would bridge it: it must read %s.', $expect),
            ];
        }
        foreach ([0, $this->plan->series] as $node) {
            $out[] = [
                'text' => sprintf(
                    'Node T%d, %s face: the end strip of %s, %d layer%s, its main lead at cell %d.',
                    $node,
                    $this->plan->strips[$node]['face'],
                    $node === 0 ? 'B-' : 'B+',
                    $this->load->layers()[$node],
                    $this->load->layers()[$node] === 1 ? '' : 's',
                    $this->load->leads[$node === 0 ? 'minus' : 'plus'] + 1,
                ),
                'caution' => 'Cover the other end while you work on this one.',
            ];
        }

        if ($this->plan->foldMm !== null) {
            $fold = $this->plan->foldNode();
            $out[] = [
                'text' => sprintf(
                    'Lay an insulating sheet over the %1$s face of both halves and fold them about the line, %1$s face to %1$s face: the ' .
                        'links of T%2$d are the hinge.',
                    $this->plan->strips[$fold]['face'],
                    $fold,
                ),
                'caution' => 'What lies face to face is at different volts: no strip, no spot and no lead comes through the sheet.',
            ];
        }

        return [
            ...$out,
            [
                'text' => 'Sense leads, one after another from T0, each read as it is laid: its colour proves nothing.',
                'caution' => 'The connector is finished before its battery side is joined.',
            ],
            [
                'text' => 'Pin check of the plug, every pin against the staircase.',
                'caution' => 'Anything but right is a stop: nothing is plugged.',
            ],
            [
                'text' => 'Main leads last. Then the board: battery side first, plug last.',
                'caution' => 'One conductor at a time, the other covered.',
            ],
            ['text' => 'Padding, strain relief, clearance to the case, insulation on the lid.', 'caution' => null],
        ];
    }

    /** @return list<array{tap: int, face: string, cell: int, expected_v: float|null}> */
    public function senseLeads(): array
    {
        $taps = $this->taps();
        $out = [];
        foreach ($this->plan->strips as $s) {
            $out[] = [
                'tap' => $s['node'],
                'face' => $s['face'],
                'cell' => LayoutSvg::pad($this->plan, $s['cells']) + 1,
                'expected_v' => $taps === null ? null : round($taps[$s['node']], 3),
            ];
        }

        return $out;
    }

    /** Millimetres of strip as it is drawn, centre to centre, one layer. */
    private function drawn(): float
    {
        $sum = 0.0;
        foreach ($this->plan->strips as $s) {
            foreach ($s['edges'] as [$a, $b]) {
                $sum += $this->plan->apart($a, $b);
            }
        }

        return $sum;
    }

    /**
     * The plug seen from where the probe goes in, and from the wires: nobody turns it in their head. Long ones go over several lines,
     * in the order of the pins, so that every pin can be read on paper.
     */
    public function plug(bool $fromWires): string
    {
        $n = $this->plan->series + 1;
        $taps = $this->taps();
        $lines = (int) ceil($n / self::PINS_A_LINE);
        $each = (int) ceil($n / $lines);
        $out = sprintf(
            '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" data-pins="%d" font-family="Atkinson Hyperlegible Next, ' .
                'DejaVu Sans, sans-serif">',
            $each * self::PIN_WIDE + 4,
            $lines * self::LINE_HIGH + 12,
            $n,
        );
        for ($line = 0; $line < $lines; $line++) {
            $top = self::LINE_HIGH * $line;
            $here = min($each, $n - $line * $each);
            $out .= sprintf(
                '<rect x="2" y="%d" width="%d" height="16" rx="2" fill="#fffef9" stroke="#6b4423"/>',
                $top + 12,
                $here * self::PIN_WIDE,
            );
            for ($i = 0; $i < $here; $i++) {
                $k = $line * $each + $i;
                $tap = $fromWires ? $n - 1 - $k : $k;
                $x = 10 + self::PIN_WIDE * $i;
                $out .= sprintf(
                    '<rect class="pin" data-tap="%d" x="%d" y="%d" width="8" height="8" fill="#d8c9a8" stroke="#4a3826"/><text ' .
                        'x="%d" y="%d" font-size="5.5" text-anchor="middle">T%d</text><text x="%d" y="%d" font-size="5" ' .
                        'text-anchor="middle" fill="#17456b">%s</text>',
                    $tap,
                    $x - 4,
                    $top + 16,
                    $x,
                    $top + 10,
                    $tap,
                    $x,
                    $top + 36,
                    $taps === null ? '' : sprintf('%.1f', $taps[$tap]),
                );
            }
        }

        return $out .
            sprintf(
                '<text x="2" y="%d" font-size="5">%s%s</text></svg>',
                $lines * self::LINE_HIGH + 10,
                $fromWires ? 'seen from the wires' : 'seen from the mating side',
                $lines === 1 ? '' : ", one row of pins drawn in $lines lines",
            );
    }

    /** Width of the plug on paper, mm: a pin is some 11 mm, its writing 10 pt. */
    public function plugMm(): float
    {
        $n = $this->plan->series + 1;

        return round((ceil($n / ceil($n / self::PINS_A_LINE)) * self::PIN_WIDE + 4) * self::PLUG_SCALE, 1);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $p = $this->plan;
        $layers = $this->load->layers();
        $cuts = $p->cutList($layers);
        $stock = $this->stock ?? ['length_mm' => BuildLimits::STOCK_MM, 'sheet_mm' => null, 'kerf_mm' => BuildLimits::KERF_MM];

        return [
            'series' => $p->series,
            'parallel' => $p->parallel,
            'packing' => $p->packing,
            'shape' => $p->shape,
            'columns' => $p->columns,
            'rows' => $p->rows,
            'width_mm' => $p->widthMm,
            'height_mm' => $p->heightMm,
            'depth_mm' => $p->depthMm,
            'empty_places' => $p->empty,
            'pitch_mm' => round(Places::pitch($p->diameter), 2),
            'cells' => $p->cells,
            'strips' => array_map(
                fn(array $s): array => [
                    'node' => $s['node'],
                    'face' => $s['face'],
                    'cells' => array_map(fn(int $i): int => $i + 1, $s['cells']),
                    'across' => $s['across'],
                    'shape' => $s['shape'],
                ],
                $p->strips,
            ),
            'distinct_strips' => $p->distinct,
            'least_across' => $p->leastAcross(),
            'layers' => $this->layers(),
            'end_layers' => $this->endLayers(),
            'sections' => $this->load->strips,
            'leads' => $this->leads(),
            'folded_mm' => $p->foldedMm,
            'fold_at_tap' => $p->foldMm === null ? null : $this->plan->foldNode(),
            'widest_strip_mm' => is_infinite($widest = StripRoom::widest($p)) ? null : floor(10 * $widest + Tiny::SUM) / 10,
            'strip' => [
                'material' => $this->strip->material,
                'width_mm' => $this->strip->widthMm,
                'thickness_mm' => $this->strip->thicknessMm,
            ],
            'cut_list' => $cuts,
            'plug_mm' => $this->plugMm(),
            'drawn_mm' => round($this->drawn(), 1),
            'stock' => CutPlan::of($cuts, $stock['length_mm'], $stock['sheet_mm'], $this->strip->widthMm, $stock['kerf_mm'])->toArray(),
            'welds' => $p->welds($layers),
            'weld_groups' => $this->weldGroups(),
            'insulator_rings' => count($p->cells),
            'sense_leads' => $this->senseLeads(),
            'order' => $this->order(),
            'svg' => [
                'front' => LayoutSvg::face($p, 'front', $this->taps(), $this->strip->widthMm, $this->load->leads),
                'back' => LayoutSvg::face($p, 'back', $this->taps(), $this->strip->widthMm, $this->load->leads),
                'plug_mating' => $this->plug(false),
                'plug_wires' => $this->plug(true),
            ],
        ];
    }
}
