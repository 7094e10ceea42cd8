<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

/**
 * One face of a build, to scale: one unit is a millimetre. The back is drawn as it is seen when the pack lies on its
 * front, so that nobody mirrors in their head.
 */
final class LayoutSvg
{
    private const MARGIN = 16.0;

    /**
     * @param  'front'|'back'  $face
     * @param  list<float>|null  $tapsV  volts expected at each tap today
     */
    public static function face(LayoutPlan $plan, string $face, ?array $tapsV = null, float $stripMm = 8.0): string
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
        $out .= sprintf(
            '<rect x="%s" y="%s" width="%s" height="%s" rx="3" fill="#fffef9" stroke="#6b4423" stroke-width="0.6" class="case"/>',
            $m,
            $m,
            $w,
            $h,
        );
        foreach ($plan->cells as $i => $c) {
            $plus = $face === 'front' ? $c['up'] : !$c['up'];
            if ($plan->packing === 'stack') {
                $out .= sprintf(
                    '<rect x="%s" y="%s" width="%s" height="%s" fill="%s" stroke="#4a3826" stroke-width="0.3"/>',
                    $x($c['x']) - $plan->diameter / 2,
                    $m,
                    $plan->diameter,
                    $h,
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
                round(min($stripMm, 0.55 * $plan->diameter), 2),
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
