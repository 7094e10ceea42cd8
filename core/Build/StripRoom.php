<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Limits\BuildLimits;

/** How wide a strip may be in a build: clear of the next strip of its face, and of cells that are not its own. */
final class StripRoom
{
    /** Who lies further off, in pitches, middle to middle, is in nobody's way: strips between neighbours are one pitch long. */
    private const FAR = 2.1;

    /** @return float millimetres; INF where nothing is near */
    public static function widest(LayoutPlan $plan): float
    {
        // Bars between rows of flat cells are as long as a cell: there, all are looked at.
        $pitch = $plan->packing === 'stack' ? $plan->widthMm + $plan->heightMm : Places::pitch($plan->diameter);
        $cells = $plan->cells;
        $widest = INF;
        foreach (['front', 'back'] as $face) {
            $lines = $owner = $grid = [];
            foreach ($plan->strips as $s) {
                if ($s['face'] !== $face) {
                    continue;
                }
                foreach ($s['cells'] as $i) {
                    $owner[$i] = $s['node'];
                }
                foreach ($s['edges'] as [$a, $b]) {
                    $at = count($lines);
                    $line = [$s['node'], $cells[$a]['x'], $cells[$a]['y'], $cells[$b]['x'], $cells[$b]['y']];
                    $lines[] = $line;
                    $grid[self::square(($line[1] + $line[3]) / 2, ($line[2] + $line[4]) / 2, $pitch)][] = $at;
                }
            }
            foreach ($lines as $k => $line) {
                foreach (self::around(($line[1] + $line[3]) / 2, ($line[2] + $line[4]) / 2, $pitch) as $square) {
                    foreach ($grid[$square] ?? [] as $j) {
                        if ($j > $k && $lines[$j][0] !== $line[0]) {
                            $widest = min($widest, self::between($line, $lines[$j]) - BuildLimits::CLEARANCE_MM);
                        }
                    }
                }
            }
            // Flat cells end in terminals, not in a rim as wide as the cell.
            if ($plan->packing === 'stack') {
                continue;
            }
            $spots = [];
            foreach ($cells as $i => $c) {
                $spots[self::square($c['x'], $c['y'], $pitch)][] = $i;
            }
            foreach ($lines as $line) {
                foreach (self::around(($line[1] + $line[3]) / 2, ($line[2] + $line[4]) / 2, $pitch) as $square) {
                    foreach ($spots[$square] ?? [] as $i) {
                        if (($owner[$i] ?? null) !== $line[0]) {
                            $off = self::off($cells[$i]['x'], $cells[$i]['y'], $line) - $plan->diameter / 2;
                            $widest = min($widest, 2 * ($off - BuildLimits::CLEARANCE_MM));
                        }
                    }
                }
            }
        }

        return $widest;
    }

    private static function square(float $x, float $y, float $pitch): string
    {
        return (int) floor($x / (self::FAR * $pitch)) . '/' . (int) floor($y / (self::FAR * $pitch));
    }

    /** @return list<string> the square of a place and those around it */
    private static function around(float $x, float $y, float $pitch): array
    {
        $out = [];
        foreach ([-1, 0, 1] as $dx) {
            foreach ([-1, 0, 1] as $dy) {
                $out[] = self::square($x + $dx * self::FAR * $pitch, $y + $dy * self::FAR * $pitch, $pitch);
            }
        }

        return $out;
    }

    /** @param  array{int, float, float, float, float}  $line */
    private static function off(float $x, float $y, array $line): float
    {
        [, $x1, $y1, $x2, $y2] = $line;
        $long = ($x2 - $x1) ** 2 + ($y2 - $y1) ** 2;
        $t = $long > 0 ? max(0.0, min(1.0, (($x - $x1) * ($x2 - $x1) + ($y - $y1) * ($y2 - $y1)) / $long)) : 0.0;

        return hypot($x1 + $t * ($x2 - $x1) - $x, $y1 + $t * ($y2 - $y1) - $y);
    }

    /**
     * Two straight lines that do not cross.
     *
     * @param  array{int, float, float, float, float}  $a
     * @param  array{int, float, float, float, float}  $b
     */
    private static function between(array $a, array $b): float
    {
        return min(self::off($a[1], $a[2], $b), self::off($a[3], $a[4], $b), self::off($b[1], $b[2], $a), self::off($b[3], $b[4], $a));
    }
}
