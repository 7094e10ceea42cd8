<?php

declare(strict_types=1);

namespace Heartwood\Core\Pack;

/** State of charge 0..1 with its 1-sigma bounds; on a plateau the bounds are all that is known. */
final readonly class SocEstimate
{
    public function __construct(
        public float $low,
        public float $mid,
        public float $high,
        public bool $belowCurve,
        public bool $aboveCurve,
        public bool $plateau,
    ) {}

    /** @return array{low: float, mid: float, high: float} */
    public function toArray(): array
    {
        return ['low' => round($this->low, 3), 'mid' => round($this->mid, 3), 'high' => round($this->high, 3)];
    }
}
