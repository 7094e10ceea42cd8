<?php

declare(strict_types=1);

namespace Heartwood\Core\Recovery;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Maths\Step;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;

/**
 * Whether a recovered group keeps its charge beside its neighbours (handbook "Recovery of a deep-discharged group"):
 * screening from 6 h after charge, over 24 h. Rejected beyond 5 mV more than the neighbours' median; passed only when
 * leak and twice its uncertainty stay under 10 % a month; anything between cannot be told yet.
 */
final readonly class HoldTest
{
    public const FROM_H = 6.0;

    public const OVER_H = 24.0;

    public const REJECT_V = 0.005;

    public const PASS_PERCENT_MONTH = 10.0;

    public const HOURS_A_MONTH = 730.5;

    public const HOURS_A_DAY = 24.0;

    /** Sigmas of the meter from which a rise is one. */
    public const RISE_SIGMAS = 3.0;

    /** What the slope of the rest curve is good to, as a share. */
    public const SLOPE_SHARE = 0.25;

    /** 1 sigma of what neighbours would have sunk that nobody read, volts. */
    private const ALONE_V = 0.002;

    /** A meter that shows less than this cannot pass a group. */
    private const FINE_V = 0.001;

    /** Room that is left under the limit for the doubt of the next reading, percent a month, and what the rate may yet grow by. */
    private const LEAST_ROOM = 0.5;

    private const MARGIN = 1.5;

    /**
     * @param  'pass'|'reject'|'moved'|'cannot-tell-yet'  $outcome
     * @param  float|null  $percentMonth  of its own capacity, beyond the neighbours
     * @param  float|null  $sigma  1 sigma of that
     * @param  float|null  $readAgainInH  hours from the last reading after which it can be told
     */
    private function __construct(
        public string $outcome,
        public string $text,
        public ?float $percentMonth,
        public ?float $sigma,
        public ?float $readAgainInH,
    ) {}

    /**
     * @param  list<array{h: float, v: float, others: list<float>}>  $readings  hours after the charge ended, the group, its
     *   neighbours at the same time
     * @param  float  $resolutionV  of the meter
     */
    public static function judge(array $readings, Chemistry $chemistry, float $resolutionV = 0.001): self
    {
        $late = array_values(array_filter($readings, fn(array $r): bool => $r['h'] >= self::FROM_H));
        if ($late === []) {
            return new self(
                'cannot-tell-yet',
                'The first reading counts from 6 h after the charge.',
                null,
                null,
                $readings === [] ? self::FROM_H : self::FROM_H - $readings[count($readings) - 1]['h'],
            );
        }
        if ($chemistry->isPhosphate()) {
            return new self(
                'cannot-tell-yet',
                'On phosphate volts say next to nothing of a leak: fill all groups, wait a week or more, measure what refills each.',
                null,
                null,
                null,
            );
        }
        $first = $late[0];
        $last = $late[count($late) - 1];
        $hours = $last['h'] - $first['h'];
        if ($hours <= 0) {
            return new self('cannot-tell-yet', 'One reading is a start: read again after 24 h.', null, null, self::OVER_H);
        }
        $others = [];
        foreach ($first['others'] as $i => $before) {
            if (isset($last['others'][$i])) {
                $others[] = $before - $last['others'][$i];
            }
        }
        $common = $others === [] ? 0.0 : Robust::median($others);
        $beyond = $first['v'] - $last['v'] - $common;
        $curve = RestCurve::of($chemistry);
        $slope = $curve->slope($curve->socAt(($first['v'] + $last['v']) / 2));
        // Two readings of the group, and the neighbours' median, each rounded to the meter's last digit.
        $sigmaV = hypot(
            Step::ofTwo($resolutionV),
            $others === [] ? self::ALONE_V : Robust::spread($others, Step::ofTwo($resolutionV)) / sqrt(count($others)),
        );
        $perMonth = ((100 * $beyond) / $slope / $hours) * self::HOURS_A_MONTH;
        $sigma = hypot(((100 * $sigmaV) / $slope / $hours) * self::HOURS_A_MONTH, self::SLOPE_SHARE * abs($perMonth));
        $need = max(self::OVER_H - $hours, 0.0);
        $figures = sprintf(
            '%.1f mV beyond its neighbours in %.0f h: %.1f %% a month, 1 sigma %.1f',
            1000 * $beyond,
            $hours,
            $perMonth,
            $sigma,
        );
        if (-$beyond > max(RunLimits::HOLD_RISES_V, self::RISE_SIGMAS * $sigmaV)) {
            return new self(
                'moved',
                sprintf(
                    'It has risen %.1f mV against its neighbours in %.0f h: no cell does that by itself, something else moved it ' .
                        '(a bleed, a charger, warmth, another meter). Begin the hold test anew.',
                    -1000 * $beyond,
                    $hours,
                ),
                $perMonth,
                $sigma,
                null,
            );
        }
        if ($beyond > self::REJECT_V + 2 * $sigmaV || ($hours >= self::OVER_H && $beyond > self::REJECT_V)) {
            return new self('reject', "$figures. It leaks: replace it.", $perMonth, $sigma, null);
        }
        if ($hours < self::OVER_H || $resolutionV > self::FINE_V) {
            return new self(
                'cannot-tell-yet',
                $resolutionV > self::FINE_V ? "$figures. Use a meter that shows 1 mV." : "$figures. Not 24 h yet.",
                $perMonth,
                $sigma,
                $need > 0 ? $need : self::OVER_H,
            );
        }
        if ($perMonth + 2 * $sigma < self::PASS_PERCENT_MONTH) {
            return new self('pass', "$figures. It holds; it keeps the watch mark for life.", $perMonth, $sigma, null);
        }
        if ($perMonth - 2 * $sigma > self::PASS_PERCENT_MONTH) {
            return new self('reject', "$figures. It leaks: replace it.", $perMonth, $sigma, null);
        }
        // The uncertainty of the reading shrinks with time; what is left of it must fit under the limit.
        $room = max(self::LEAST_ROOM, self::PASS_PERCENT_MONTH - max(0.0, $perMonth) * self::MARGIN);
        $more = ((2 * 100 * $sigmaV) / $slope / $room) * self::HOURS_A_MONTH - $hours;

        return new self(
            'cannot-tell-yet',
            "$figures. Between holding and leaking: read again.",
            $perMonth,
            $sigma,
            max(self::OVER_H / 2, min(self::HOURS_A_MONTH, $more)),
        );
    }
}
