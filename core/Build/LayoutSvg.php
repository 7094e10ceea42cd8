<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

use Heartwood\Core\Limits\BuildLimits;

/**
 * One face of a build, to scale: one unit is a millimetre. The back is drawn as it is seen when the pack lies on its
 * front, so that nobody mirrors in their head.
 */
final class LayoutSvg
{
    private const MARGIN = 16.0;

    /** How thick a board at the side is drawn, and where along it it begins. */
    private const BOARD = 4.0;

    private const QUARTER = 0.25;

    /**
     * @param  'front'|'back'  $face
     * @param  list<float>|null  $tapsV  volts expected at each tap today
     * @param  array{minus: int, plus: int}|null  $leads  cells at which the main leads are joined
     */
    public static function face(LayoutPlan $plan, string $face, ?array $tapsV = null, float $stripMm = 8.0, ?array $leads = null): string
    {
        $m = self::MARGIN;
        $w = $plan->widthMm;
        $h = $plan->heightMm;
        $x = fn(float $x): float => round($m + ($face === 'back' ? $w - $x : $x), 3);
        $y = fn(float $y): float => round($m + $y, 3);
        $r = $plan->packing === 'stack' ? min(6.0, $plan->diameter / 2.2) : $plan->diameter / 2;
        $out = sprintf(
            '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %s %s" width="%smm" height="%smm" data-face="%s" ' .
                'data-width="%s" data-margin="%s" font-family="Atkinson Hyperlegible Next, DejaVu Sans, sans-serif">',
            $w + 2 * $m,
            $h + 2 * $m,
            $w + 2 * $m,
            $h + 2 * $m,
            $face,
            $w,
            $m,
        );
        $out .= self::outline($plan, $face, $m, $w, $h);
        // Flat cells lie in rows one behind the other: each is as long as its row is high.
        $long = ($h - ($plan->rows - 1) * BuildLimits::BETWEEN_MM) / max(1, $plan->rows);
        foreach ($plan->cells as $i => $c) {
            $plus = $face === 'front' ? $c['up'] : !$c['up'];
            if ($plan->packing === 'stack') {
                $out .= sprintf(
                    '<rect x="%s" y="%s" width="%s" height="%s" fill="%s" stroke="#4a3826" stroke-width="0.3"/>',
                    $x($c['x']) - $plan->diameter / 2,
                    $y($c['y'] - $long / 2),
                    $plan->diameter,
                    $long,
                    $c['group'] % 2 === 1 ? '#f1e2c6' : '#fbf4e6',
                );
            }
            $out .= sprintf(
                '<circle class="cell %s" data-cell="%d" data-place="%d %d" cx="%s" cy="%s" r="%s" fill="%s" stroke="#4a3826" ' .
                    'stroke-width="0.4"/>',
                $plus ? 'plus' : 'minus',
                $i + 1,
                $c['column'],
                $c['row'],
                $x($c['x']),
                $y($c['y']),
                round($r, 3),
                $plus ? '#f1d9a6' : '#e4e7ea',
            );
        }
        foreach ($plan->strips as $s) {
            if ($s['face'] !== $face) {
                continue;
            }
            $d = '';
            foreach ($s['edges'] as [$a, $b]) {
                $d .= sprintf(
                    'M %s %s L %s %s ',
                    $x($plan->cells[$a]['x']),
                    $y($plan->cells[$a]['y']),
                    $x($plan->cells[$b]['x']),
                    $y($plan->cells[$b]['y']),
                );
            }
            if ($s['edges'] === []) {
                $c = $plan->cells[$s['cells'][0]];
                $d = sprintf('M %s %s L %s %s ', $x($c['x']), $y($c['y']), $x($c['x']), round($y($c['y']) - 0.3 * $plan->diameter, 3));
            }
            $out .= sprintf(
                '<path class="strip" data-node="%d" d="%s" fill="none" stroke="#8c9aa5" stroke-opacity="0.75" stroke-width="%s" ' .
                    'stroke-linecap="round"/>',
                $s['node'],
                trim($d),
                round($stripMm, 2),
            );
        }
        foreach ($plan->cells as $c) {
            $plus = $face === 'front' ? $c['up'] : !$c['up'];
            $out .= sprintf(
                '<text x="%s" y="%s" font-size="%s" text-anchor="middle" fill="#241a12" font-weight="700">%s%d</text>',
                $x($c['x']),
                round($y($c['y']) + 0.16 * $plan->diameter, 2),
                round(max(3.2, 0.34 * min(18.0, $plan->diameter)), 2),
                $plus ? '+' : '&#8211;',
                $c['group'],
            );
        }
        foreach ($plan->strips as $s) {
            if ($s['face'] !== $face) {
                continue;
            }
            $pad = $plan->cells[self::pad($plan, $s['cells'])];
            $px = $x($pad['x']);
            $py = round($y($pad['y']) - 0.3 * $plan->diameter, 2);
            $label = 'T' . $s['node'] . (isset($tapsV[$s['node']]) ? sprintf(' %.2f V', $tapsV[$s['node']]) : '');
            $out .= sprintf(
                '<circle class="pad" cx="%s" cy="%s" r="1.3" fill="#17456b"/><text class="tap" x="%s" y="%s" font-size="4" ' .
                    'fill="#17456b" font-weight="700" text-anchor="middle" stroke="#fffef9" stroke-width="0.9" ' .
                    'paint-order="stroke">%s</text>',
                $px,
                $py,
                $px,
                $pad['y'] <= 0.6 * $plan->diameter + 1 ? round($m - 1.4, 2) : round($py - 1.9, 2),
                $label,
            );
        }
        foreach (['minus' => 0, 'plus' => $plan->series] as $name => $node) {
            if ($leads !== null && $plan->strips[$node]['face'] === $face) {
                $c = $plan->cells[$leads[$name]];
                $out .= sprintf(
                    '<rect class="lead" data-lead="%s" x="%s" y="%s" width="7" height="7" rx="1" fill="#7a2e12" stroke="#fffef9" ' .
                        'stroke-width="0.5"/><text x="%s" y="%s" font-size="4" font-weight="700" fill="#fffef9" text-anchor="middle">%s' .
                        '</text>',
                    $name,
                    $x($c['x']) - 3.5,
                    round($y($c['y']) + 0.22 * $plan->diameter - 1, 2),
                    $x($c['x']),
                    round($y($c['y']) + 0.22 * $plan->diameter + 4, 2),
                    $name === 'minus' ? 'B&#8211;' : 'B+',
                );
            }
        }
        $title = $face === 'back' ? 'Back face, seen with the pack turned over' : 'Front face';
        // As large as the drawing is wide enough for.
        $out .= sprintf(
            '<text x="%s" y="%s" font-size="%s" fill="#241a12" font-weight="700">%s</text>',
            $m,
            round($m - 9, 1),
            round(min(5.0, ($w + $m) / (0.56 * strlen($title))), 2),
            $title,
        );
        // A rule of fifty millimetres proves the scale on paper.
        $out .= sprintf(
            '<path class="rule" d="M %1$s %2$s h 50 M %1$s %3$s v 4 M %4$s %3$s v 4" stroke="#241a12" stroke-width="0.5" ' .
                'fill="none"/><text x="%5$s" y="%6$s" font-size="4" fill="#241a12">50 mm</text>',
            $m,
            round($h + $m + 7, 1),
            round($h + $m + 5, 1),
            $m + 50,
            $m + 53,
            round($h + $m + 8.4, 1),
        );

        return $out . '</svg>';
    }

    /** The case: a box, a circle or steps; where it folds; at which side its board is. */
    private static function outline(LayoutPlan $plan, string $face, float $m, float $w, float $h): string
    {
        $stroke = 'fill="#fffef9" stroke="#6b4423" stroke-width="0.6" class="case"';
        $out = sprintf('<rect x="%s" y="%s" width="%s" height="%s" rx="3" %s/>', $m, $m, $w, $h, $stroke);
        if ($plan->shape === 'round') {
            $out = sprintf('<ellipse cx="%s" cy="%s" rx="%s" ry="%s" %s/>', $m + $w / 2, $m + $h / 2, $w / 2, $h / 2, $stroke);
        }
        if ($plan->foldMm !== null) {
            // Turned, the line lies across; else it stands, in the middle of the drawing either way.
            $stands = array_filter($plan->cells, fn(array $c): bool => $c['layer'] === 1 && $c['x'] < $w / 2) === [];
            $out .= sprintf(
                '<path class="fold" d="%s" stroke="#6b4423" stroke-width="0.5" stroke-dasharray="3 2" fill="none"/>',
                $stands ? sprintf('M %s %s v %s', $m + $w / 2, $m - 4, $h + 8) : sprintf('M %s %s h %s', $m - 4, $m + $h / 2, $w + 8),
            );
        }
        if ($plan->board !== null) {
            $side =
                $face === 'back' ? ['left' => 'right', 'right' => 'left'][$plan->board->side] ?? $plan->board->side : $plan->board->side;
            [$bx, $by, $bw, $bh] = match ($side) {
                'left' => [$m - self::BOARD - 1, $m + self::QUARTER * $h, self::BOARD, $h / 2],
                'right' => [$m + $w + 1, $m + self::QUARTER * $h, self::BOARD, $h / 2],
                'top' => [$m + self::QUARTER * $w, $m - self::BOARD - 1, $w / 2, self::BOARD],
                default => [$m + self::QUARTER * $w, $m + $h + 1, $w / 2, self::BOARD],
            };
            $out .= sprintf('<rect class="board" x="%s" y="%s" width="%s" height="%s" rx="1" fill="#275445"/>', $bx, $by, $bw, $bh);
        }

        return $out;
    }

    /**
     * Where the sense lead sits: the cell of the node nearest to an edge of the case.
     *
     * @param  list<int>  $cells
     */
    public static function pad(LayoutPlan $plan, array $cells): int
    {
        $best = $cells[0] ?? 0;
        foreach ($cells as $i) {
            if ([$plan->cells[$i]['y'], $plan->cells[$i]['x']] < [$plan->cells[$best]['y'], $plan->cells[$best]['x']]) {
                $best = $i;
            }
        }

        return $best;
    }
}
