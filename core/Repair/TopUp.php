<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

use Heartwood\Core\Diagnosis\GroupEvidence;
use Heartwood\Core\Limits\DriftLimits;
use Heartwood\Core\Maths\Tiny;

/**
 * A leaking group that is kept in service: after how long it is topped up, from what it may lose before the pack gives less, and its
 * leak (handbook "A leak kept in service"). Days, amp-hours, shares of capacity a month.
 */
final readonly class TopUp
{
    public const MONTH_D = 30.0;

    /** What a customer, an eye, a hand or a nose has said, after which no leaking group stays in service. */
    private const SAID = [
        'hot' => 'it gets warm',
        'hot-on-charge' => 'it gets warm on charge',
        'hot-in-use' => 'it gets warm in use',
        'short-circuited' => 'it was short-circuited',
        'wet' => 'water was in it',
        'swelling' => 'it swells',
    ];

    private const SEEN = [
        'warm_at_rest' => 'it is warm with no current',
        'wet' => 'water was in it',
        'salt_water' => 'water was in it',
        'swollen' => 'it is swollen',
    ];

    private const FOUND = [
        'cell.hot' => 'a cell gets warm',
        'cell.swollen' => 'a cell is swollen',
        'group.deep-discharged' => 'it was deep-discharged',
        'pack.deep-discharged' => 'it was deep-discharged',
        'load.shorted' => 'its load is shorted',
    ];

    /** A finding from this probability up is minded. */
    private const MINDED = 0.2;

    private function __construct(
        public int $group,
        public float $toLoseAh,
        public float $leakAMonth,
        public float $leakSigmaAMonth,
        public float $likelyDays,
        public float $sigmaDays,
        public float $days,
    ) {}

    /** @return self|string the reason for which it is never kept in service */
    public static function of(RepairCase $case, int $group): self|string
    {
        $e = $case->evidence->groups[$group - 1];
        $harm = self::harm($case, $group);
        if ($harm !== null) {
            return $harm;
        }
        if ($e->leakPerDay === null || $e->leakPerDay <= 0.0) {
            return 'how fast it leaks is not known: read it at rest twice, days apart';
        }
        $worst = $e->leakPerDay + DriftLimits::TOPUP_SIGMAS * $e->leakSigma;
        if (self::MONTH_D * $worst > DriftLimits::TOPUP_LEAK_A_MONTH + Tiny::SUM) {
            return sprintf(
                'it may lose %.0f %% a month, and over %.0f %% no group stays in service',
                100 * self::MONTH_D * $worst,
                100 * DriftLimits::TOPUP_LEAK_A_MONTH,
            );
        }
        if ($e->leakGrew) {
            return 'its leak grew from one measurement to the next';
        }
        $holds = array_map(fn(GroupEvidence $g): ?float => $case->evidence->holdsAh($g), $case->evidence->groups);
        $own = $holds[$group - 1];
        unset($holds[$group - 1]);
        if ($own === null || $own <= 0.0 || $holds === [] || in_array(null, $holds, true)) {
            return 'what its groups hold is not known';
        }
        $least = min($holds);
        $lose = max(0.0, $own - $least) + DriftLimits::TOPUP_LOSS * min($own, $least);
        $likely = $lose / ($own * $e->leakPerDay);

        return new self(
            $group,
            $lose,
            self::MONTH_D * $e->leakPerDay,
            self::MONTH_D * $e->leakSigma,
            $likely,
            ($likely * $e->leakSigma) / $e->leakPerDay,
            $lose / ($own * $worst),
        );
    }

    /** Days after which it is topped up: whole ones, by the leak at its worst. */
    public function every(): int
    {
        return max(1, (int) floor($this->days));
    }

    public function sentence(): string
    {
        return sprintf(
            'Told, not advised: group %d loses %.1f +- %.1f %% a month and may lose %.2f Ah before the pack gives noticeably less. ' .
                'Top it up every %d days (likely %.0f +- %.0f), attended.',
            $this->group,
            100 * $this->leakAMonth,
            100 * $this->leakSigmaAMonth,
            $this->toLoseAh,
            $this->every(),
            $this->likelyDays,
            $this->sigmaDays,
        );
    }

    /** @return array{group: int, every_days: int, likely_days: float, sigma_days: float, to_lose_ah: float, leak_a_month: float} */
    public function toArray(): array
    {
        return [
            'group' => $this->group,
            'every_days' => $this->every(),
            'likely_days' => round($this->likelyDays, 1),
            'sigma_days' => round($this->sigmaDays, 1),
            'to_lose_ah' => round($this->toLoseAh, 3),
            'leak_a_month' => round($this->leakAMonth, 4),
        ];
    }

    private static function harm(RepairCase $case, int $group): ?string
    {
        $record = $case->evidence->record;
        foreach (self::SAID as $symptom => $text) {
            if ($record->says($symptom)) {
                return $text;
            }
        }
        foreach (self::SEEN as $look => $text) {
            if ($record->inspection->bool($look) === true) {
                return $text;
            }
        }
        foreach (self::FOUND as $code => $text) {
            if ($case->found(self::MINDED, $code)) {
                return $text;
            }
        }

        return $case->mayBeDead($group) || ($case->volts($group) ?? 0.0) < $case->pack->lowCutV()
            ? 'it rests under its low cut, or may be dead'
            : null;
    }
}
