<?php

declare(strict_types=1);

namespace App\Support;

/**
 * The core sample for paper: groups stacked from B- at the foot to B+ at the crown. Fills, patterns and words come
 * from contract/states.json, which the screens read too.
 */
final class CoreSampleSvg
{
    private const WIDTH = 190;

    /**
     * @param  list<array{group: int, v: float|null, state: string, probability: float, doubt?: string|null}>  $groups
     */
    public static function draw(array $groups, float $height = 420.0): string
    {
        $states = json_decode((string) file_get_contents(base_path('contract/states.json')), true);
        $n = max(1, count($groups));
        $band = min(34.0, ($height - 40) / $n);
        $top = 18.0;
        $svg = sprintf('<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%.1f">', self::WIDTH, $n * $band + 40);
        $svg .= sprintf(
            '<text x="4" y="12" font-size="10" fill="#5b4c3d">B+</text><text x="4" y="%.1f" font-size="10" fill="#5b4c3d">B-</text>',
            $top + $n * $band + 13,
        );
        foreach (array_reverse($groups) as $i => $g) {
            $key = $g['v'] === null ? 'unread' : (isset($g['doubt']) ? 'doubtful' : $g['state']);
            $s = $states[$key];
            $y = $top + $i * $band;
            $svg .= sprintf(
                '<rect x="4" y="%.1f" width="180" height="%.1f" fill="%s" stroke="#4a3826" stroke-width="1"/>',
                $y,
                $band,
                $s['fill'],
            );
            foreach (self::strokes($s['pattern'], 4, $y, 180, $band) as [$x1, $y1, $x2, $y2]) {
                $svg .= sprintf(
                    '<line x1="%.1f" y1="%.1f" x2="%.1f" y2="%.1f" stroke="%s" stroke-width="0.6"/>',
                    $x1,
                    $y1,
                    $x2,
                    $y2,
                    $s['ink'] === '#ffffff' ? '#8d8074' : '#bfa985',
                );
            }
            $word = $g['v'] === null ? $s['word'] : ($key !== 'doubtful' && $g['probability'] < 0.6 ? $s['word'] . '?' : $s['word']);
            $text = sprintf('%d   %s   %s', $g['group'], $g['v'] === null ? '--' : number_format($g['v'], 3) . ' V', $word);
            $svg .= sprintf(
                '<text x="12" y="%.1f" font-size="%.1f" fill="%s">%s</text>',
                $y + $band / 2 + 3.5,
                min(11, $band * 0.62),
                $s['ink'],
                $text,
            );
        }

        return $svg . '</svg>';
    }

    /** @return list<array{float, float, float, float}> line segments of a pattern inside a rectangle */
    private static function strokes(string $pattern, float $x, float $y, float $w, float $h): array
    {
        $out = [];
        $slants = fn(int $sign): array => array_map(function (float $a) use ($sign, $x, $y, $w, $h): array {
            $run = min($h, $w - $a);

            return $sign > 0 ? [$x + $a, $y + $h, $x + $a + $run, $y + $h - $run] : [$x + $a, $y, $x + $a + $run, $y + $run];
        }, range(0.0, $w - 1, 9.0));
        match ($pattern) {
            'level' => array_push(
                $out,
                ...array_map(fn(float $d): array => [$x, $y + $d, $x + $w, $y + $d], $h > 5 ? range(4.0, $h - 1, 5.0) : []),
            ),
            'upright' => array_push($out, ...array_map(fn(float $d): array => [$x + $d, $y, $x + $d, $y + $h], range(6.0, $w - 1, 8.0))),
            'slant' => array_push($out, ...$slants(1)),
            'mesh' => array_push($out, ...$slants(1), ...$slants(-1)),
            'gaps' => array_push(
                $out,
                ...array_map(fn(float $d): array => [$x + $d, $y + $h * 0.84, $x + $d + 8, $y + $h * 0.84], range(4.0, $w - 12, 16.0)),
            ),
            'dots' => array_push(
                $out,
                ...array_map(fn(float $d): array => [$x + $d, $y + $h * 0.75, $x + $d + 1.2, $y + $h * 0.75], range(6.0, $w - 2, 9.0)),
            ),
            default => null,
        };

        return $out;
    }
}
