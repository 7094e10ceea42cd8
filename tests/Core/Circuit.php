<?php

declare(strict_types=1);

namespace Tests\Core;

use DOMDocument;
use Heartwood\Core\Build\LayoutPlan;
use Heartwood\Core\Build\LayoutSvg;

/** Drawings of a build, read back as a circuit by their geometry alone. */
final class Circuit
{
    /**
     * What the two drawings would be as a circuit, from their geometry alone: which cell ends every strip touches, and
     * whether cells between the nets make S groups of P in one chain.
     *
     * @return list<string> what is wrong; empty when the build is what it should be
     */
    public static function faults(string $front, string $back, int $series, int $parallel): array
    {
        $faults = [];
        $ends = []; // terminal name => net
        $parent = [];
        $find = function (string $x) use (&$parent, &$find): string {
            return ($parent[$x] ?? $x) === $x ? $x : ($parent[$x] = $find($parent[$x]));
        };
        $polarity = $spots = [];
        foreach (['front' => $front, 'back' => $back] as $face => $svg) {
            $dom = new DOMDocument();
            $dom->loadXML($svg);
            $w = (float) $dom->documentElement->getAttribute('data-width') + 2 * (float) $dom->documentElement->getAttribute('data-margin');
            $circles = [];
            foreach ($dom->getElementsByTagName('circle') as $c) {
                $class = explode(' ', $c->getAttribute('class'));
                if (in_array('cell', $class, true)) {
                    $x = (float) $c->getAttribute('cx');
                    // The same cell on both faces: the back is mirrored, and rounded once more.
                    [$px, $py] = [$face === 'back' ? $w - $x : $x, (float) $c->getAttribute('cy')];
                    $place = sprintf('%.2f/%.2f', $px, $py);
                    $cell = $c->getAttribute('data-cell');
                    // Drawings number their cells; the number is believed only where the place is the same.
                    $place =
                        $face === 'back' && isset($spots[$cell]) && hypot($spots[$cell][1] - $px, $spots[$cell][2] - $py) < 0.2
                            ? $spots[$cell][0]
                            : $place;
                    $spots[$cell] ??= [$place, $px, $py];
                    $circles[] = [$x, (float) $c->getAttribute('cy'), (float) $c->getAttribute('r'), $place];
                    $polarity[$place][$face] = in_array('plus', $class, true) ? '+' : '-';
                    $parent["$face@$place"] = "$face@$place";
                }
            }
            $touched = [];
            foreach ($dom->getElementsByTagName('path') as $n => $p) {
                if ($p->getAttribute('class') !== 'strip') {
                    continue;
                }
                preg_match_all('/M (\S+) (\S+) L (\S+) (\S+)/', $p->getAttribute('d'), $m, PREG_SET_ORDER);
                $mine = [];
                foreach ($m as [, $x1, $y1, $x2, $y2]) {
                    foreach ($circles as [$cx, $cy, $r, $place]) {
                        $l2 = ($x2 - $x1) ** 2 + ($y2 - $y1) ** 2;
                        $t = $l2 > 0 ? max(0.0, min(1.0, (($cx - $x1) * ($x2 - $x1) + ($cy - $y1) * ($y2 - $y1)) / $l2)) : 0.0;
                        if (hypot($x1 + $t * ($x2 - $x1) - $cx, $y1 + $t * ($y2 - $y1) - $cy) < 0.55 * $r) {
                            $mine["$face@$place"] = true;
                        }
                    }
                }
                // Pieces of one strip must hang together by the cells they share, not only by being one drawing.
                foreach (array_keys($mine) as $k => $end) {
                    if (isset($touched[$end])) {
                        $faults[] = "two strips touch $end";
                    }
                    $touched[$end] = $n;
                }
                foreach ($m as [, $x1, $y1, $x2, $y2]) {
                    $at = array_values(
                        array_filter(array_keys($mine), function (string $end) use ($circles, $x1, $y1, $x2, $y2): bool {
                            foreach ($circles as [$cx, $cy, $r, $place]) {
                                if (str_ends_with($end, "@$place")) {
                                    return min(hypot($x1 - $cx, $y1 - $cy), hypot($x2 - $cx, $y2 - $cy)) < 0.55 * $r;
                                }
                            }

                            return false;
                        }),
                    );
                    foreach ($at as $end) {
                        $parent[$find($end)] = $find($at[0]);
                    }
                }
            }
            // Strips as wide as they are drawn: none of them comes to lie on another.
            $drawn = [];
            foreach ($dom->getElementsByTagName('path') as $n => $p) {
                if ($p->getAttribute('class') === 'strip') {
                    preg_match_all('/M (\S+) (\S+) L (\S+) (\S+)/', $p->getAttribute('d'), $m, PREG_SET_ORDER);
                    foreach ($m as [, $x1, $y1, $x2, $y2]) {
                        $drawn[] = [$n, (float) $x1, (float) $y1, (float) $x2, (float) $y2, (float) $p->getAttribute('stroke-width')];
                    }
                }
            }
            foreach ($drawn as $k => $a) {
                foreach (array_slice($drawn, $k + 1) as $b) {
                    if ($a[0] !== $b[0] && self::apart($a, $b) < ($a[5] + $b[5]) / 2) {
                        $faults[] = "strips on the $face lie on one another";
                    }
                }
            }
            foreach ($circles as [, , , $place]) {
                if (!isset($touched["$face@$place"])) {
                    $faults[] = "no strip on $face@$place";
                }
            }
        }
        // Nets joined by cells, from minus to plus.
        $next = $count = [];
        foreach ($polarity as $place => $p) {
            if (($p['front'] ?? '') === ($p['back'] ?? '')) {
                $faults[] = "$place has one polarity on both faces";

                continue;
            }
            $minus = $find(($p['front'] === '-' ? 'front' : 'back') . "@$place");
            $plus = $find(($p['front'] === '+' ? 'front' : 'back') . "@$place");
            if ($minus === $plus) {
                $faults[] = "$place is shorted";
            }
            if (isset($next[$minus]) && $next[$minus] !== $plus) {
                $faults[] = "net $minus leads to two nets";
            }
            $next[$minus] = $plus;
            $count[$minus] = ($count[$minus] ?? 0) + 1;
        }
        $starts = array_diff(array_keys($next), array_values($next));
        if (count($starts) !== 1) {
            return [...$faults, count($starts) . ' ends of the chain'];
        }
        $net = array_values($starts)[0];
        $length = 0;
        while (isset($next[$net])) {
            if ($count[$net] !== $parallel) {
                $faults[] = "{$count[$net]} cells between two nets, $parallel wanted";
            }
            $net = $next[$net];
            if (++$length > $series) {
                break;
            }
        }
        if ($length !== $series) {
            $faults[] = "$length groups in the chain, $series wanted";
        }

        return $faults;
    }

    /**
     * The least distance of two lines, by nine points of each: no formula of the product's.
     *
     * @param  array{int, float, float, float, float, float}  $a
     * @param  array{int, float, float, float, float, float}  $b
     */
    private static function apart(array $a, array $b): float
    {
        $reach = (hypot($a[3] - $a[1], $a[4] - $a[2]) + hypot($b[3] - $b[1], $b[4] - $b[2])) / 2 + $a[5] + $b[5];
        if (hypot($a[1] + $a[3] - $b[1] - $b[3], $a[2] + $a[4] - $b[2] - $b[4]) / 2 > $reach) {
            return INF;
        }
        $least = INF;
        for ($i = 0; $i <= 8; $i++) {
            [$x, $y] = [$a[1] + ($i / 8) * ($a[3] - $a[1]), $a[2] + ($i / 8) * ($a[4] - $a[2])];
            for ($j = 0; $j <= 8; $j++) {
                $least = min($least, hypot($b[1] + ($j / 8) * ($b[3] - $b[1]) - $x, $b[2] + ($j / 8) * ($b[4] - $b[2]) - $y));
            }
        }

        return $least;
    }

    /** @param  array<string, string>  $svg  by face: millimetres of every line of every strip */
    public static function drawnMm(array $svg): float
    {
        $mm = 0.0;
        foreach (['front', 'back'] as $face) {
            preg_match_all('/class="strip"[^>]* d="([^"]*)"/', $svg[$face], $paths);
            preg_match_all('/M (\S+) (\S+) L (\S+) (\S+)/', implode(' ', $paths[1]), $m, PREG_SET_ORDER);
            foreach ($m as [, $x1, $y1, $x2, $y2]) {
                $mm += hypot((float) $x2 - (float) $x1, (float) $y2 - (float) $y1);
            }
        }

        return $mm;
    }

    /** @return list<string> */
    public static function faultsOf(LayoutPlan $plan): array
    {
        $front = LayoutSvg::face($plan, 'front');

        return self::faults($front, LayoutSvg::face($plan, 'back'), $plan->series, $plan->parallel);
    }
}
