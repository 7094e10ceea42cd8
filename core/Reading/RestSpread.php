<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;

/** How far the groups are apart at rest and what that means (handbook "Rest spread"). Volts. */
final readonly class RestSpread
{
    public const LIMITS = [
        'matched' => VerdictLimits::MATCHED_V,
        'good' => VerdictLimits::GOOD_V,
        'balance-soon' => VerdictLimits::BALANCE_SOON_V,
        'balance-before-use' => VerdictLimits::LAST_V,
    ];

    /** Tippett's expected range of n normal values, in sigmas. */
    private const RANGES = [
        2 => 1.128,
        3 => 1.693,
        4 => 2.059,
        5 => 2.326,
        7 => 2.704,
        10 => 3.078,
        15 => 3.472,
        20 => 3.735,
        30 => 4.086,
        50 => 4.498,
        100 => 5.015,
        200 => 5.492,
    ];

    /** Share of the spread from which the meter's own noise is taken off (assumed). */
    private const MOSTLY_NOISE = 0.5;

    /** Probability of a slip from which a value no longer speaks for the spread alone. */
    private const DOUBTED = 0.3;

    /**
     * @param  string  $class  matched | good | balance-soon | balance-before-use | do-not-charge | no-verdict
     * @param  float  $noiseV  what the meter alone would make of so many equal groups, where that is most of the spread; else 0
     * @param  float  $overLast  probability that the true spread is over the last limit
     */
    private function __construct(
        public float $spreadV,
        public float $sigmaV,
        public string $class,
        public float $overLast,
        public int $lowest,
        public int $highest,
        public float $noiseV = 0.0,
    ) {}

    /** Whether the groups lie within a limit, with what the meter alone makes of them taken off. */
    public function isWithin(float $limitV): bool
    {
        return sqrt(max(0.0, $this->spreadV ** 2 - $this->noiseV ** 2)) <= $limitV;
    }

    public static function lastLimit(Chemistry $chemistry): float
    {
        return $chemistry->isPhosphate() ? VerdictLimits::LAST_PHOSPHATE_V : self::LIMITS['balance-before-use'];
    }

    /** @return self|null null with fewer than two groups read */
    public static function of(NetworkSolution $solution, Chemistry $chemistry): ?self
    {
        $read = $solution->read();
        if (count($read) < 2) {
            return null;
        }
        $last = self::lastLimit($chemistry);
        [$low, $high] = self::extremes($read);
        $overLast = self::over($low, $high, $last);
        // A value that is probably a slip makes no spread.
        $doubt = max($low->doubtProbability, $high->doubtProbability);
        $trusted = array_values(array_filter($read, fn(GroupVoltage $g): bool => $g->doubtProbability < self::DOUBTED));
        if ($doubt >= self::DOUBTED && count($trusted) >= 2) {
            [$trustedLow, $trustedHigh] = self::extremes($trusted);
            $overLast = (1 - $doubt) * $overLast + $doubt * self::over($trustedLow, $trustedHigh, $last);
            [$low, $high] = $doubt > 0.5 ? [$trustedLow, $trustedHigh] : [$low, $high];
        }
        $spread = (float) $high->volts - (float) $low->volts;
        $sigma = max(1e-4, hypot((float) $high->sigmaV, (float) $low->sigmaV));
        // The range of many noisy values is wider than their sigma: what so many equal groups would show through this
        // meter is taken off where it is most of what is seen.
        $noise = self::expectedRange(count($read)) * Robust::median(array_map(fn(GroupVoltage $g): float => $g->ownSigmaV, $read));
        $beyond = $noise > self::MOSTLY_NOISE * $spread ? sqrt(max(0.0, $spread * $spread - $noise * $noise)) : $spread;
        $class = 'do-not-charge';
        foreach (self::LIMITS as $name => $limit) {
            if ($beyond <= ($name === 'balance-before-use' ? $last : $limit)) {
                $class = $name;
                break;
            }
        }
        // Between readings, phosphate on its plateau hides large differences of charge behind few millivolts.
        $curve = RestCurve::of($chemistry);
        if (
            $chemistry->isPhosphate() &&
            $class !== 'do-not-charge' &&
            (float) $high->volts < VerdictLimits::TAPER_END_V &&
            ($curve->onPlateau((float) $low->volts) || $curve->onPlateau((float) $high->volts))
        ) {
            $class = $spread >= VerdictLimits::PLATEAU_APART_V ? 'balance-before-use' : 'no-verdict';
        }

        return new self($spread, $sigma, $class, $overLast, $low->group, $high->group, $beyond < $spread ? $noise : 0.0);
    }

    /**
     * @param  non-empty-list<GroupVoltage>  $read
     * @return array{GroupVoltage, GroupVoltage} lowest and highest
     */
    private static function extremes(array $read): array
    {
        $low = $high = $read[0];
        foreach ($read as $g) {
            $low = $g->volts < $low->volts ? $g : $low;
            $high = $g->volts > $high->volts ? $g : $high;
        }

        return [$low, $high];
    }

    private static function over(GroupVoltage $low, GroupVoltage $high, float $limit): float
    {
        return Normal::cumulative(
            ((float) $high->volts - (float) $low->volts - $limit) / max(1e-4, hypot((float) $high->sigmaV, (float) $low->sigmaV)),
        );
    }

    /**
     * Expected range of so many normal values, in sigmas (Tippett's range, the d2 of control charts; by its logarithm
     * between the values tabled).
     */
    public static function expectedRange(int $n): float
    {
        $before = [2, 1.128];
        foreach (self::RANGES as $count => $d2) {
            if ($n <= $count) {
                return $n <= $before[0] ? $before[1] : $before[1] + (($d2 - $before[1]) * log($n / $before[0])) / log($count / $before[0]);
            }
            $before = [$count, $d2];
        }

        return $before[1];
    }

    public function sentence(): string
    {
        $mv = (int) round($this->spreadV * 1000);
        if ($this->noiseV > 0.0) {
            return sprintf(
                'Groups are within %d mV, of which the meter alone would make %d mV: read them with a finer one to tell more.',
                $mv,
                (int) round($this->noiseV * 1000),
            );
        }

        return match ($this->class) {
            'matched' => "Groups are within $mv mV of one another: matched.",
            'good' => "Groups are within $mv mV of one another: good.",
            'balance-soon' => "Groups are $mv mV apart at rest: balance soon.",
            'balance-before-use' => "Groups are $mv mV apart at rest: balance before use.",
            'no-verdict' => "Groups are within $mv mV, but on the flat part of a phosphate curve that says little about charge.",
            default => "Groups are $mv mV apart at rest: do not charge as a pack.",
        };
    }
}
