<?php

declare(strict_types=1);

namespace Heartwood\Core\Maths;

/** Currents in a network of conductances, by conjugate gradients (Hestenes and Stiefel 1952). */
final class Graph
{
    /** Share of what is fed in that may be left over in any node. */
    private const LEFT = 1.0e-9;

    /**
     * @param  list<array{int, int, float}>  $edges  from node, to node, ohms; one piece
     * @param  array<int, float>  $fed  amps into each node, none of them left out; they add up to nothing
     * @return list<float> amps along each edge, from its first node to its second
     */
    public static function currents(array $edges, array $fed): array
    {
        $v = array_map(fn(): float => 0.0, $fed);
        $left = $fed;
        $way = $fed;
        $norm = self::square($left);
        $enough = self::LEFT ** 2 * max(Tiny::WEIGHT, $norm);
        for ($step = 0; $step < 2 * count($fed) + 2 && $norm > $enough; $step++) {
            $flow = array_map(fn(): float => 0.0, $fed);
            foreach ($edges as [$a, $b, $ohm]) {
                $i = ($way[$a] - $way[$b]) / $ohm;
                $flow[$a] += $i;
                $flow[$b] -= $i;
            }
            $along = 0.0;
            foreach ($way as $k => $x) {
                $along += $x * $flow[$k];
            }
            if ($along <= Tiny::WEIGHT) {
                break;
            }
            $by = $norm / $along;
            foreach ($way as $k => $x) {
                $v[$k] += $by * $x;
                $left[$k] -= $by * $flow[$k];
            }
            $next = self::square($left);
            foreach ($left as $k => $x) {
                $way[$k] = $x + ($next / $norm) * $way[$k];
            }
            $norm = $next;
        }

        return array_map(fn(array $e): float => ($v[$e[0]] - $v[$e[1]]) / $e[2], $edges);
    }

    /** @param  array<int, float>  $x */
    private static function square(array $x): float
    {
        $sum = 0.0;
        foreach ($x as $one) {
            $sum += $one * $one;
        }

        return $sum;
    }
}
