<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Maths\Step;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Recovery\HoldTest;

/** What a cell loses lying by itself, from two rest voltages days apart (handbook "Self-discharge"). */
final readonly class CellHold
{
    /** @param  'holds'|'leaks'|'cannot-tell-yet'  $outcome */
    private function __construct(public string $outcome, public float $percentMonth, public float $sigma, public string $text) {}

    /**
     * @param  float  $resolutionV  of the meter; both readings by the same one
     * @param  float  $limit  percent a month that the shop lets pass
     */
    public static function of(
        Chemistry $chemistry,
        float $before,
        float $after,
        float $days,
        float $resolutionV = 0.001,
        float $limit = HoldTest::PASS_PERCENT_MONTH,
    ): self {
        if ($days <= 0) {
            throw new \InvalidArgumentException('the second reading comes after the first: days over 0');
        }
        $curve = RestCurve::of($chemistry);
        $months = (HoldTest::HOURS_A_DAY * $days) / HoldTest::HOURS_A_MONTH;
        $perMonth = (100 * ($curve->socAt($before) - $curve->socAt($after))) / $months;
        $slope = $curve->slope($curve->socAt(($before + $after) / 2));
        $sigma = hypot((100 * Step::ofTwo($resolutionV)) / $slope / $months, HoldTest::SLOPE_SHARE * abs($perMonth));
        $figures = sprintf('%.1f %% a month, 1 sigma %.1f, over %.1f days', $perMonth, $sigma, $days);
        $moved = $after - $before > max(RunLimits::HOLD_RISES_V, HoldTest::RISE_SIGMAS * Step::ofTwo($resolutionV));
        $outcome =
            $moved || $curve->onPlateau($after)
                ? 'cannot-tell-yet'
                : ($perMonth + 2 * $sigma < $limit
                    ? 'holds'
                    : ($perMonth - 2 * $sigma > $limit
                        ? 'leaks'
                        : 'cannot-tell-yet'));

        return new self(
            $outcome,
            $perMonth,
            $sigma,
            match ($outcome) {
                'holds' => "$figures: it holds.",
                'leaks' => "$figures: it leaks.",
                default => $moved
                    ? sprintf(
                        'It has risen by %.1f mV: something else moved it, a cell by itself only falls. Read it again.',
                        1000 * ($after - $before),
                    )
                    : ($curve->onPlateau($after)
                        ? 'On the phosphate plateau volts do not tell: fill it, wait a week, measure the refill.'
                        : "$figures: cannot be told yet, read again later."),
            },
        );
    }
}
