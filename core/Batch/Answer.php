<?php

declare(strict_types=1);

namespace Heartwood\Core\Batch;

/** How a group answered the current of a recovery: volts risen by an amp-hour, and how much it warmed. */
final readonly class Answer
{
    private const MINUTES_AN_HOUR = 60.0;

    /** Amp-hours from which a rise says something. */
    private const LEAST_AH = 1e-3;

    private function __construct(public ?float $rise, public ?float $warmK) {}

    /** @param  array<array-key, mixed>  $samples  min in minutes, v, a, and c where it was read */
    public static function of(array $samples, ?float $ambientC): self
    {
        $ah = 0.0;
        $first = $last = $before = $warmest = null;
        foreach ($samples as $s) {
            if (!is_array($s) || !is_numeric($s['min'] ?? null) || !is_numeric($s['v'] ?? null)) {
                continue;
            }
            $a = is_numeric($s['a'] ?? null) ? (float) $s['a'] : 0.0;
            if (is_numeric($s['c'] ?? null)) {
                $warmest = max($warmest ?? -INF, (float) $s['c']);
            }
            if ($a <= 0.0) {
                continue;
            }
            $first ??= (float) $s['v'];
            $last = (float) $s['v'];
            if ($before !== null) {
                $ah += ($a * max(0.0, (float) $s['min'] - $before)) / self::MINUTES_AN_HOUR;
            }
            $before = (float) $s['min'];
        }

        return new self(
            $first === null || $last === null || $ah < self::LEAST_AH ? null : round(($last - $first) / $ah, 4),
            $warmest === null || $ambientC === null ? null : round($warmest - $ambientC, 2),
        );
    }
}
