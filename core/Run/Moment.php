<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

use Heartwood\Core\Maths\Step;
use Heartwood\Core\Maths\Tiny;

/** What a stop rule may look at: the sample, the order that was in force up to it, and what came before. */
final readonly class Moment
{
    /** Half a step of the ammeter that the limits were made for. */
    private const FINE_A = 0.005;

    /**
     * @param  Phase  $working  the phase that drives, or is being proved for
     * @param  bool  $on  the output was ordered on up to this sample
     * @param  float|null  $offFor  seconds since the output was ordered off; null when it never was on
     * @param  float  $ah  put in altogether
     * @param  float  $gapAh  put in since the gap to the target began to count
     * @param  float|null  $mostAh  what the gap allows; null where a charge is not known
     * @param  float  $nextAh  what will be in by the next sample
     */
    public function __construct(
        public RunPlan $plan,
        public Sample $s,
        public Order $order,
        public Phase $working,
        public bool $on,
        public ?float $offFor,
        public History $history,
        public float $ambientC,
        public float $ah = 0.0,
        public float $gapAh = 0.0,
        public ?float $mostAh = null,
        public float $nextAh = 0.0,
    ) {}

    /** 1 sigma of one reading of volts, from its resolution (GUM, Type B). */
    public function sigmaV(): float
    {
        return Step::sigma($this->plan->resolutionV);
    }

    /** Amps in the direction that was ordered. */
    public function along(): ?float
    {
        return $this->s->a === null ? null : $this->s->a * $this->plan->sign();
    }

    /** An ammeter whose last digit is more than the order cannot see it. */
    public function isBlind(): bool
    {
        return abs($this->order->amps) < $this->plan->resolutionA - Tiny::SLACK;
    }

    /** Amps into the pack; where the ammeter cannot see them, what was ordered. */
    public function amps(): float
    {
        return $this->on && $this->isBlind() ? $this->order->amps : (float) $this->s->a;
    }

    /** What of a current is only the ammeter's last digit, beyond a usual one. */
    public function slackA(): float
    {
        return max(0.0, $this->plan->resolutionA / 2 - self::FINE_A);
    }
}
