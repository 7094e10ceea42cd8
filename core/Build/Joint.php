<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

/** A bolted joint: the torque to set, so that tool tolerance stays between the maker's limits (handbook "Build sheet"). */
final class Joint
{
    /** Days after which a joint that was set is looked at again (handbook "Build sheet"). */
    public const CHECK_AGAIN_DAYS = 7;

    /**
     * The torque that is set: the one in the middle, or one that was chosen.
     *
     * @throws \InvalidArgumentException limits or tolerance are none
     * @throws \DomainException it would leave the maker's limits with this tool
     */
    public static function set(float $minNm, float $maxNm, float $tolerance, ?float $chosenNm): float
    {
        $target = self::torque($minNm, $maxNm, $tolerance);
        $set = $chosenNm ?? $target['set_nm'];
        if ($set === null || $set * (1 - $tolerance) < $minNm || $set * (1 + $tolerance) > $maxNm) {
            throw new \DomainException($target['text']);
        }

        return $set;
    }

    /**
     * @return array{set_nm: float|null, text: string}
     *
     * @throws \InvalidArgumentException limits or tolerance are none
     */
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
