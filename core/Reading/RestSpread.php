<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;

/** How far the groups are apart at rest and what that means (handbook "Rest spread"). Volts. */
final readonly class RestSpread
{
    public const LIMITS = ['matched' => 0.010, 'good' => 0.030, 'balance-soon' => 0.100, 'balance-before-use' => 0.300];

    private const PHOSPHATE_LAST = 0.250;

    private const TAPER_END_V = 3.45;

    /** Probability of a slip from which a value no longer speaks for the spread alone. */
    private const DOUBTED = 0.3;

    /**
     * @param  string  $class  matched | good | balance-soon | balance-before-use | do-not-charge | no-verdict
     * @param  float  $overLast  probability that the true spread is over the last limit
     */
    private function __construct(
        public float $spreadV,
        public float $sigmaV,
        public string $class,
        public float $overLast,
        public int $lowest,
        public int $highest,
    ) {
    }

    public static function lastLimit(Chemistry $chemistry): float
    {
        return $chemistry->isPhosphate() ? self::PHOSPHATE_LAST : self::LIMITS['balance-before-use'];
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
        $trusted = array_values(array_filter($read, fn (GroupVoltage $g): bool => $g->doubtProbability < self::DOUBTED));
        if ($doubt >= self::DOUBTED && count($trusted) >= 2) {
            [$trustedLow, $trustedHigh] = self::extremes($trusted);
            $overLast = (1 - $doubt) * $overLast + $doubt * self::over($trustedLow, $trustedHigh, $last);
            [$low, $high] = $doubt > 0.5 ? [$trustedLow, $trustedHigh] : [$low, $high];
        }
        $spread = (float) $high->volts - (float) $low->volts;
        $sigma = max(1e-4, hypot((float) $high->sigmaV, (float) $low->sigmaV));
        $class = 'do-not-charge';
        foreach (self::LIMITS as $name => $limit) {
            if ($spread <= ($name === 'balance-before-use' ? $last : $limit)) {
                $class = $name;
                break;
            }
        }
        // Between readings, phosphate on its plateau hides large differences of charge behind few millivolts.
        $curve = RestCurve::of($chemistry);
        if ($chemistry->isPhosphate() && $class !== 'do-not-charge' && (float) $high->volts < self::TAPER_END_V
            && ($curve->onPlateau((float) $low->volts) || $curve->onPlateau((float) $high->volts))) {
            $class = $spread >= 0.020 ? 'balance-before-use' : 'no-verdict';
        }

        return new self($spread, $sigma, $class, $overLast, $low->group, $high->group);
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
        return Normal::cumulative(((float) $high->volts - (float) $low->volts - $limit) / max(1e-4, hypot((float) $high->sigmaV, (float) $low->sigmaV)));
    }

    public function sentence(): string
    {
        $mv = (int) round($this->spreadV * 1000);

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
