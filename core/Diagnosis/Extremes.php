<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Record\JobRecord;

/** Only the highest and the lowest group, as a pack's own display tells them: enough for the spread, and for nothing else. */
final readonly class Extremes
{
    /** 1 sigma of a board's figure for one group, volts (assumed), and of a meter's. */
    private const BOARD_V = 0.005;

    private const METER_V = 0.002;

    private function __construct(public float $lowestV, public float $highestV, public bool $reported, private float $sigmaV) {}

    /**
     * The latest set at rest that gives both and no single readings.
     *
     * @param  \DateTimeImmutable|null  $since  of the latest readings of all groups: what is older says nothing beside them
     */
    public static function latest(JobRecord $record, ?\DateTimeImmutable $since): ?self
    {
        $out = null;
        foreach ($record->current() as $m) {
            if (
                $m->isRest() &&
                $m->readings === [] &&
                $m->highestV !== null &&
                $m->lowestV !== null &&
                ($since === null || $m->at === null || $m->at > $since)
            ) {
                $out = new self(
                    min($m->lowestV, $m->highestV),
                    max($m->lowestV, $m->highestV),
                    $m->fromBoard,
                    M_SQRT2 * ($m->fromBoard ? self::BOARD_V : self::METER_V),
                );
            }
        }

        return $out;
    }

    public function spreadV(): float
    {
        return $this->highestV - $this->lowestV;
    }

    /** Probability that the groups are further apart than a limit, volts. */
    public function over(float $limit): float
    {
        return Normal::cumulative(($this->spreadV() - $limit) / $this->sigmaV);
    }
}
