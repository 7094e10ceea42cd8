<?php

declare(strict_types=1);

namespace Heartwood\Core\Drift;

use Heartwood\Core\Limits\DriftLimits;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Maths\TheilSen;

/**
 * One figure of a pack against time: whether it stays inside the limit, grows past it, or cannot be told yet. Days and millivolts.
 */
final readonly class Trend
{
    /**
     * @param  list<float>  $days  of the readings, in order
     * @param  list<float>  $mv
     */
    private function __construct(private array $days, private array $mv, public TheilSen $slope) {}

    /**
     * @param  list<float>  $days
     * @param  list<float>  $mv
     * @param  float  $sigmaMv  1 sigma of one value
     * @param  float  $roundingMv  1 sigma of what the display's steps alone make of it
     * @return self|null null under two times
     */
    public static function of(array $days, array $mv, float $sigmaMv, float $roundingMv): ?self
    {
        $slope = TheilSen::of($days, $mv, $sigmaMv, $roundingMv);

        return $slope === null ? null : new self($days, $mv, $slope);
    }

    /** Where it stands on a day, by the line through the middle of all readings. */
    public function at(float $day): float
    {
        $on = [];
        foreach ($this->days as $i => $d) {
            $on[] = $this->mv[$i] + $this->slope->mid * ($day - $d);
        }

        return Robust::median($on === [] ? [0.0] : $on);
    }

    public function readings(): int
    {
        return count($this->days);
    }

    /** Day of the last reading. */
    public function last(): float
    {
        return $this->days[count($this->days) - 1];
    }

    /** A figure that widens one way: the spread. Holding comes first. */
    public function state(): State
    {
        $now = max($this->at($this->last()), $this->mv[count($this->mv) - 1]);

        return match (true) {
            $now + max(0.0, $this->slope->high) * DriftLimits::HOLDS_D <= self::limit() => State::Holds,
            $this->slope->low > 0.0 && $this->slope->mid >= DriftLimits::GROWS_MV_D => State::Grows,
            default => State::CannotTell,
        };
    }

    /** A figure that may leave to either side: one group against the middle of the others. */
    public function stateOfEither(): State
    {
        $now = $this->at($this->last());
        $inside = fn(float $slope): bool => abs($now + $slope * DriftLimits::HOLDS_D) <= self::limit();

        return match (true) {
            abs($now) <= self::limit() && $inside($this->slope->low) && $inside($this->slope->high) => State::Holds,
            ($this->slope->low > 0.0 || $this->slope->high < 0.0) && abs($this->slope->mid) >= DriftLimits::GROWS_MV_D => State::Grows,
            default => State::CannotTell,
        };
    }

    /**
     * Days on which the limit is passed, by the steepest, the middle and the flattest slope of the interval; those of a limit that was
     * passed already lie in the past.
     *
     * @return array{early: float|null, likely: float|null, late: float|null}|null null where it does not grow
     */
    public function passes(): ?array
    {
        if ($this->slope->high <= 0.0) {
            return null;
        }
        $room = self::limit() - $this->at($this->last());
        $day = fn(float $slope): ?float => $slope <= 0.0 ? null : $this->last() + $room / $slope;
        $days = [$day($this->slope->high), $day($this->slope->mid), $day($this->slope->low)];
        if ($room < 0.0) {
            // Passed already: the steeper it rose, the later that was.
            usort($days, fn(?float $a, ?float $b): int => ($a ?? -INF) <=> ($b ?? -INF));
        }

        return ['early' => $days[0], 'likely' => $days[1], 'late' => $days[2]];
    }

    /** The same with one more reading, on the line, on a later day. */
    public function with(float $day, float $sigmaMv, float $roundingMv): self
    {
        return self::of([...$this->days, $day], [...$this->mv, $this->at($day)], $sigmaMv, $roundingMv) ?? $this;
    }

    public static function limit(): float
    {
        return DriftLimits::SPREAD_V * Verdict::MV;
    }
}
