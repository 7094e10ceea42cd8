<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Log\SampleOfLot;

/**
 * A delivery by its sample (handbook "Grading and matching": a sample is tested before acceptance): enough of it tested,
 * none too many out, and the mean of the whole, by its 95 % interval, not under what its maker says.
 */
final readonly class LotInspection
{
    /**
     * @param  'test-more'|'take'|'refuse'  $outcome
     * @param  int  $wanted  cells to be tested before anything is said
     */
    private function __construct(public string $outcome, public int $wanted, public string $text) {}

    /**
     * @param  list<float>  $shares  capacity of each tested cell, of its own rating
     * @param  int  $out  of those, found damaged or rejected
     * @param  int  $cells  in the lot
     */
    public static function of(array $shares, int $out, int $cells): self
    {
        $n = count($shares);
        $wanted = min($cells, max(CellLimits::SAMPLE_LEAST, (int) ceil(CellLimits::SAMPLE_SHARE * $cells)));
        if ($shares === [] || $n < $wanted) {
            return new self('test-more', $wanted, sprintf('%d of %d tested, %d are wanted before it is taken.', $n, $cells, $wanted));
        }
        if ($out > CellLimits::SAMPLE_OUT * $n) {
            return new self(
                'refuse',
                $wanted,
                sprintf('%d of %d tested are out: more than one in %.0f.', $out, $n, 1 / CellLimits::SAMPLE_OUT),
            );
        }
        $s = SampleOfLot::of($shares, $cells);
        $mean = sprintf('%.1f %% of the rating', 100 * $s['mean']);
        $least = CellLimits::NEW_SHARE;
        if (($s['low'] ?? $s['mean']) >= $least) {
            return new self('take', $wanted, "The lot holds $mean, and no less than " . sprintf('%.0f %% by its sample.', 100 * $least));
        }
        if (($s['high'] ?? $s['mean']) < $least) {
            return new self(
                'refuse',
                $wanted,
                "The lot holds $mean: under " . sprintf('%.0f %%, by all that its sample says.', 100 * $least),
            );
        }

        return new self(
            'test-more',
            min($cells, 2 * $n),
            sprintf('The sample says %s, and cannot tell it from %.0f %%: test more of it.', $mean, 100 * $least),
        );
    }
}
