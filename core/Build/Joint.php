<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

/** A bolted joint: the torque to set, so that tool tolerance stays between the maker's limits (handbook "Build sheet"). */
final class Joint
{
    /** @return array{set_nm: float|null, text: string} */
    public static function torque(float $minNm, float $maxNm, float $tolerance): array
    {
        $low = $minNm / (1 - $tolerance);
        $high = $maxNm / (1 + $tolerance);
        if ($minNm <= 0 || $maxNm < $minNm || $tolerance < 0 || $tolerance >= 1) {
            throw new \InvalidArgumentException('torque: minimum over 0, maximum not under it, tolerance as a share under 1');
        }

        return $low > $high
            ? [
                'set_nm' => null,
                'text' => sprintf(
                    'A tool of %.0f %% cannot stay between %.1f and %.1f Nm: use a finer one.',
                    100 * $tolerance,
                    $minNm,
                    $maxNm,
                ),
            ]
            : [
                'set_nm' => round(($low + $high) / 2, 2),
                'text' => sprintf(
                    'Set %.1f Nm (%.1f to %.1f), both ends; check again after a week. A joint that comes back wants another ' .
                        'contact material or compound.',
                    ($low + $high) / 2,
                    $low,
                    $high,
                ),
            ];
    }
}
