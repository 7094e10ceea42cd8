<?php

declare(strict_types=1);

namespace Heartwood\Core\Safety;

use Heartwood\Core\Limits\RunLimits;

/**
 * Instruments on one pack are isolated from earth and from each other (handbook "Driving the bench"): measured once, kept
 * with the instrument, measured again every year. One that is not proved is no harm by itself; two are a short.
 */
final readonly class Isolation
{
    /**
     * @param  float|null  $mohm  megohm from output to earth as measured; INF for what has no earth; null when never measured
     * @param  float|null  $daysAgo  when that was
     */
    public function __construct(public string $name, public ?float $mohm, public ?float $daysAgo) {}

    public function isProved(): bool
    {
        return $this->mohm !== null &&
            $this->mohm > RunLimits::ISOLATION_MOHM &&
            (is_infinite($this->mohm) || ($this->daysAgo !== null && $this->daysAgo <= RunLimits::ISOLATION_DAYS));
    }

    /**
     * @param  list<self>  $onOnePack
     * @return string|null why these may not sit on one pack together; null when they may
     */
    public static function refuses(array $onOnePack): ?string
    {
        $doubtful = array_values(
            array_unique(array_map(fn(self $i): string => $i->name, array_filter($onOnePack, fn(self $i): bool => !$i->isProved()))),
        );

        return count($doubtful) > 1
            ? sprintf(
                '%s are not proved isolated from earth: at most one such instrument on a pack. Measure output to earth (over ' .
                    '%.0f Mohm) and enter it under Instruments; it counts for a year.',
                implode(' and ', $doubtful),
                RunLimits::ISOLATION_MOHM,
            )
            : null;
    }
}
