<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Maths\Graph;
use Heartwood\Core\Maths\Tiny;

/**
 * What each section of each strip carries: every cell gives its share of the current, the next group takes it up, and at
 * both ends all of it meets where the main lead is joined. Kirchhoff's rules, section by section; layers by the worst.
 */
final readonly class StripLoad
{
    /** Places of an end strip that are tried for its lead, at the most. */
    private const TRIED = 12;

    /**
     * @param  list<array{node: int, amps: float, length_mm: float, layers: int, from: int, to: int, limit_a: float,
     *   sections: list<array{from: int, to: int, amps: float}>}>  $strips  worst section of each node, and all of them
     * @param  array{minus: int, plus: int}  $leads  cells at which the main leads are joined
     */
    private function __construct(public array $strips, public array $leads) {}

    public static function of(LayoutPlan $plan, Strip $strip, float $loadA): self
    {
        $leads = $plan->leads ?? [
            'minus' => self::best($plan, $strip, 0, $loadA),
            'plus' => self::best($plan, $strip, $plan->series, $loadA),
        ];
        $out = [];
        foreach ($plan->strips as $s) {
            $node = $s['node'];
            $sections = self::sections($plan, $strip, $node, $loadA, $node === 0 ? $leads['minus'] : $leads['plus']);
            // A tab carries its cell's current to the lead.
            $worst = [$s['cells'][0], $s['cells'][0], $loadA / $plan->parallel, $plan->diameter];
            $layers = $sections === [] ? $strip->layersFor($worst[2], $plan->diameter) : 1;
            $heat = 0.0;
            foreach ($sections as [$a, $b, $amps]) {
                $length = $plan->apart($a, $b);
                $need = $strip->layersFor(abs($amps), $length);
                $layers = max($layers, $need);
                if (abs($amps) / $strip->amps($length) > $heat) {
                    $heat = abs($amps) / $strip->amps($length);
                    $worst = [$a, $b, abs($amps), $length];
                }
            }
            $out[] = [
                'node' => $node,
                'amps' => round($worst[2], 3),
                'length_mm' => round($worst[3], 2),
                'layers' => $layers,
                'from' => $worst[0] + 1,
                'to' => $worst[1] + 1,
                'limit_a' => round((new Strip($strip->material, $strip->widthMm, $strip->thicknessMm, $layers))->amps($worst[3]), 3),
                'sections' => array_map(
                    fn(array $x): array => ['from' => $x[0] + 1, 'to' => $x[1] + 1, 'amps' => round($x[2], 3)],
                    $sections,
                ),
            ];
        }

        return new self($out, $leads);
    }

    /** @return array<int, int> layers of each node's strip */
    public function layers(): array
    {
        return array_column($this->strips, 'layers', 'node');
    }

    /** Layers of the strips between groups: the most of them. */
    public function between(): int
    {
        $inner = array_slice($this->strips, 1, -1);

        return $inner === [] ? 1 : max(array_column($inner, 'layers'));
    }

    /** Layers of both end strips. */
    public function ends(): int
    {
        return max($this->strips[0]['layers'], $this->strips[count($this->strips) - 1]['layers']);
    }

    /** The cell of an end strip where a lead loads it least. */
    private static function best(LayoutPlan $plan, Strip $strip, int $node, float $loadA): int
    {
        $cells = $plan->strips[$node]['cells'];
        $step = max(1, (int) ceil(count($cells) / self::TRIED));
        $best = $cells[0];
        $least = INF;
        foreach ($cells as $k => $cell) {
            if ($k % $step !== 0) {
                continue;
            }
            $worst = max([0.0, ...array_map(fn(array $x): float => abs($x[2]), self::sections($plan, $strip, $node, $loadA, $cell))]);
            if ($worst < $least - Tiny::SUM) {
                [$best, $least] = [$cell, $worst];
            }
        }

        return $best;
    }

    /** @return list<array{int, int, float}> from cell, to cell, amps */
    private static function sections(LayoutPlan $plan, Strip $strip, int $node, float $loadA, int $lead): array
    {
        $s = $plan->strips[$node];
        if ($s['edges'] === []) {
            return [];
        }
        $fed = [];
        foreach ($s['cells'] as $i) {
            // Of the group below its positive ends give, of the group above its negative ends take.
            $fed[$i] = ($plan->cells[$i]['group'] === $node ? 1 : -1) * ($loadA / $plan->parallel);
        }
        if ($plan->isEnd($node)) {
            $fed[$lead] -= array_sum($fed);
        }
        $edges = array_map(fn(array $e): array => [$e[0], $e[1], $strip->ohm(max(Tiny::SUM, $plan->apart(...$e)))], $s['edges']);
        $amps = Graph::currents($edges, $fed);

        return array_map(fn(array $e, float $a): array => [$e[0], $e[1], $a], $s['edges'], $amps);
    }
}
