<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

/** Everything that hangs over the bench while a pack is built: places, strips, cuts, order of work, leads, plug. */
final readonly class BuildSheet
{
    /**
     * @param  list<float>|null  $groupsV  volts of every group today
     * @param  float  $loadA  current that the series links carry
     */
    public function __construct(private LayoutPlan $plan, private Strip $strip, private float $loadA, private ?array $groupsV = null) {}

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

    /** Layers that the narrowest crossing wants for the load. */
    public function layers(): int
    {
        return $this->strip->layersFor($this->loadA / max(1, $this->plan->leastAcross()), $this->plan->diameter + 0.7);
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
                    'Node T%d, %s face: the end strip of %s.',
                    $node,
                    $this->plan->strips[$node]['face'],
                    $node === 0 ? 'B-' : 'B+',
                ),
                'caution' => 'Cover the other end while you work on this one.',
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

    /** The plug seen from where the probe goes in, and from the wires: nobody turns it in their head. */
    public function plug(bool $fromWires): string
    {
        $n = $this->plan->series + 1;
        $taps = $this->taps();
        $out = sprintf(
            '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d 46" data-pins="%d" font-family="Atkinson Hyperlegible Next, ' .
                'DejaVu Sans, sans-serif"><rect x="2" y="12" width="%d" height="16" rx="2" fill="#fffef9" stroke="#6b4423"/>',
            $n * 16 + 4,
            $n,
            $n * 16,
        );
        for ($k = 0; $k < $n; $k++) {
            $tap = $fromWires ? $n - 1 - $k : $k;
            $x = 10 + 16 * $k;
            $out .= sprintf(
                '<rect class="pin" data-tap="%d" x="%d" y="16" width="8" height="8" fill="#d8c9a8" stroke="#4a3826"/><text ' .
                    'x="%d" y="10" font-size="5.5" text-anchor="middle">T%d</text><text x="%d" y="36" font-size="5" ' .
                    'text-anchor="middle" fill="#17456b">%s</text>',
                $tap,
                $x - 4,
                $x,
                $tap,
                $x,
                $taps === null ? '' : sprintf('%.1f', $taps[$tap]),
            );
        }

        return $out .
            sprintf('<text x="2" y="44" font-size="5">%s</text></svg>', $fromWires ? 'seen from the wires' : 'seen from the mating side');
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $p = $this->plan;

        return [
            'series' => $p->series,
            'parallel' => $p->parallel,
            'packing' => $p->packing,
            'columns' => $p->columns,
            'rows' => $p->rows,
            'width_mm' => $p->widthMm,
            'height_mm' => $p->heightMm,
            'depth_mm' => $p->depthMm,
            'empty_places' => $p->empty,
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
            'strip' => [
                'material' => $this->strip->material,
                'width_mm' => $this->strip->widthMm,
                'thickness_mm' => $this->strip->thicknessMm,
            ],
            'cut_list' => $p->cutList(),
            'welds' => $p->welds($this->layers()),
            'insulator_rings' => count($p->cells),
            'sense_leads' => $this->senseLeads(),
            'order' => $this->order(),
            'svg' => [
                'front' => LayoutSvg::face($p, 'front', $this->taps(), $this->strip->widthMm),
                'back' => LayoutSvg::face($p, 'back', $this->taps(), $this->strip->widthMm),
                'plug_mating' => $this->plug(false),
                'plug_wires' => $this->plug(true),
            ],
        ];
    }
}
