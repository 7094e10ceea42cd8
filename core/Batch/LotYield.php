<?php

declare(strict_types=1);

namespace Heartwood\Core\Batch;

use Heartwood\Core\Limits\BatchLimits;
use Heartwood\Core\Maths\Beta;

/**
 * How many of a lot come good, as far as it is finished, with the interval in which it lies nine times of ten; and what that makes the
 * rest and the next lot worth (handbook "Batches"). Money in cents.
 */
final readonly class LotYield
{
    public float $mean;

    public float $low;

    public float $high;

    /**
     * @param  int  $good  packs that went back proved
     * @param  int  $bad  that ended as donors or scrap
     * @param  int  $open  not finished
     */
    public function __construct(public int $good, public int $bad, public int $open)
    {
        [$a, $b] = [BatchLimits::PRIOR_PACKS + $good, BatchLimits::PRIOR_PACKS + $bad];
        $tail = (1.0 - BatchLimits::YIELD_INTERVAL) / 2;
        $this->mean = $a / ($a + $b);
        $this->low = Beta::quantile($tail, $a, $b);
        $this->high = Beta::quantile(1.0 - $tail, $a, $b);
    }

    public function sentence(): string
    {
        $done = $this->good + $this->bad;

        return $done === 0
            ? 'Nothing is finished yet: a yield between 0 and 100 of 100 is as good as any.'
            : sprintf(
                '%d of %d came good: %.0f of 100, between %.0f and %.0f nine times of ten.',
                $this->good,
                $done,
                100 * $this->mean,
                100 * $this->low,
                100 * $this->high,
            );
    }

    /**
     * The most to pay for a pack of the next lot, so that of what is sold the margin is left: yield x price x (1 - margin) - cost.
     *
     * @param  int  $sellsCents  for one that came good
     * @param  float  $margin  0..1 of what it sells for
     * @param  float  $costCents  hands and parts of one that was taken in, good or not
     * @return array{low: int, mean: int, high: int} never under nothing
     */
    public function ceiling(int $sellsCents, float $margin, float $costCents): array
    {
        $at = fn(float $y): int => max(0, (int) floor($y * $sellsCents * (1.0 - $margin) - $costCents));

        return ['low' => $at($this->low), 'mean' => $at($this->mean), 'high' => $at($this->high)];
    }

    /**
     * What the rest brings over what it still costs.
     *
     * @return array{low: int, mean: int, high: int}
     */
    public function rest(int $sellsCents, float $costCents): array
    {
        $at = fn(float $y): int => (int) round($this->open * ($y * $sellsCents - $costCents));

        return ['low' => $at($this->low), 'mean' => $at($this->mean), 'high' => $at($this->high)];
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'good' => $this->good,
            'bad' => $this->bad,
            'open' => $this->open,
            'mean' => round($this->mean, 4),
            'low' => round($this->low, 4),
            'high' => round($this->high, 4),
            'text' => $this->sentence(),
        ];
    }
}
