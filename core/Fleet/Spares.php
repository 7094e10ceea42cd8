<?php

declare(strict_types=1);

namespace Heartwood\Core\Fleet;

use Heartwood\Core\Limits\FleetLimits;

/**
 * How many spares are kept of a part that fails now and then: failures over the lead time, predicted from what was seen (a Gamma prior and
 * Poisson failures give a negative binomial; A. Gelman and others, Bayesian Data Analysis, 2.6), and the fewest spares with which none is
 * lacking as often as is wanted (handbook "Many packs of one owner").
 */
final readonly class Spares
{
    /** Spares that are counted up to, where a wanted level asks for more than anybody keeps. */
    private const MOST = 10_000;

    private function __construct(
        public int $keep,
        public float $expected,
        public float $stockout,
        public float $leadMonths,
        public float $ratePerMonth,
        private int $inService,
        private int $failures,
        private float $unitMonths,
        private bool $assumed = false,
    ) {}

    /**
     * @param  int  $inService  units that are in service
     * @param  float  $unitMonths  over which failures were counted
     * @param  float|null  $leadWeeks  until one is delivered; FleetLimits::LEAD_WEEKS where nobody says
     * @param  bool  $assumed  whether those months are assumed, and not their own
     * @param  float|null  $level  0..1, how often none is to be lacking; FleetLimits::LEVEL where nobody says
     */
    public static function of(
        int $inService,
        int $failures,
        float $unitMonths,
        ?float $leadWeeks = null,
        ?float $level = null,
        bool $assumed = false,
    ): self {
        [$leadWeeks, $level] = [$leadWeeks ?? FleetLimits::LEAD_WEEKS, $level ?? FleetLimits::LEVEL];
        $shape = FleetLimits::PRIOR_FAILURES + $failures;
        $lead = $leadWeeks / FleetLimits::MONTH_WEEKS;
        $exposed = $inService * $lead;
        $stays = $unitMonths / ($unitMonths + $exposed);
        // P(X = n), one after the other: p0 r^n (a)_n / n!.
        $p = $stays ** $shape;
        $sum = $p;
        $n = 0;
        while ($sum < $level && $n < self::MOST) {
            $p *= ((1.0 - $stays) * ($shape + $n)) / ($n + 1);
            $n++;
            $sum += $p;
        }

        return new self(
            $n,
            ($shape / $unitMonths) * $exposed,
            max(0.0, 1.0 - $sum),
            $lead,
            $shape / $unitMonths,
            $inService,
            $failures,
            $unitMonths,
            $assumed,
        );
    }

    /**
     * By their own history where it is long enough to say something, else by an assumed one.
     *
     * @param  float  $assumedMonths  of one unit, over which half a failure is expected where nobody knows better
     */
    public static function known(
        int $inService,
        int $failures,
        float $unitMonths,
        float $assumedMonths,
        ?float $leadWeeks = null,
        ?float $level = null,
    ): self {
        return self::of($inService, $failures, max($unitMonths, $assumedMonths), $leadWeeks, $level, $unitMonths < $assumedMonths);
    }

    public function sentence(): string
    {
        return sprintf(
            'Keep %d. %s: %d failed in %.0f months of all together, so (%.1f + %d) / %.0f = %.4f a month of one. %d in service for the ' .
                '%.1f months until one is delivered: %.2f are expected, and none is lacking in %.1f of 100 times.',
            $this->keep,
            $this->assumed ? 'Their own history is short, so assumed' : 'Seen',
            $this->failures,
            $this->unitMonths,
            FleetLimits::PRIOR_FAILURES,
            $this->failures,
            $this->unitMonths,
            $this->ratePerMonth,
            $this->inService,
            $this->leadMonths,
            $this->expected,
            100 * (1 - $this->stockout),
        );
    }

    /** @return array{keep: int, expected_failures: float, stockout: float} */
    public function toArray(): array
    {
        return ['keep' => $this->keep, 'expected_failures' => round($this->expected, 4), 'stockout' => round($this->stockout, 4)];
    }
}
