<?php

declare(strict_types=1);

namespace Heartwood\Core\Maths;

/**
 * Monotone cubic interpolation through fixed points (Fritsch and Carlson, 1980), with its exact inverse.
 */
final readonly class Pchip
{
    /** Steps after which an inverse is taken as it is, and how near two of them are. */
    private const STEPS = 60;

    private const CLOSE = 1e-9;

    /** @var list<float> */
    private array $slopes;

    /**
     * @param  list<float>  $x  strictly increasing
     * @param  list<float>  $y  strictly increasing, as many as $x, at least 3
     */
    public function __construct(private array $x, private array $y)
    {
        $n = count($x);
        $h = $d = [];
        for ($i = 0; $i < $n - 1; $i++) {
            $h[$i] = $x[$i + 1] - $x[$i];
            $d[$i] = ($y[$i + 1] - $y[$i]) / $h[$i];
        }
        $m = [self::edgeSlope($h[0], $h[1], $d[0], $d[1])];
        for ($i = 1; $i < $n - 1; $i++) {
            $w1 = 2 * $h[$i] + $h[$i - 1];
            $w2 = $h[$i] + 2 * $h[$i - 1];
            $m[] = $d[$i - 1] * $d[$i] <= 0 ? 0.0 : ($w1 + $w2) / ($w1 / $d[$i - 1] + $w2 / $d[$i]);
        }
        $m[] = self::edgeSlope($h[$n - 2], $h[$n - 3], $d[$n - 2], $d[$n - 3]);
        $this->slopes = $m;
    }

    /** Value at $at; the end values outside the points. */
    public function value(float $at): float
    {
        $last = count($this->x) - 1;
        if ($at <= $this->x[0]) {
            return $this->y[0];
        }
        if ($at >= $this->x[$last]) {
            return $this->y[$last];
        }

        return $this->onSegment(self::segment($this->x, $at), $at);
    }

    /** Derivative at $at; inside the nearest segment when outside the points. */
    public function slope(float $at): float
    {
        $at = max($this->x[0], min($this->x[count($this->x) - 1], $at));

        return $this->slopeOn(self::segment($this->x, $at), $at);
    }

    private function slopeOn(int $i, float $at): float
    {
        $h = $this->x[$i + 1] - $this->x[$i];
        $t = ($at - $this->x[$i]) / $h;
        $dy = $this->y[$i + 1] - $this->y[$i];

        return (6 * $t * (1 - $t) * $dy) / $h + (1 - $t) * (1 - 3 * $t) * $this->slopes[$i] + $t * (3 * $t - 2) * $this->slopes[$i + 1];
    }

    /**
     * The $x at which value() is $value; the end points outside. Newton on the one segment that holds it, halved where that would
     * leave it.
     */
    public function inverse(float $value): float
    {
        $last = count($this->y) - 1;
        if ($value <= $this->y[0]) {
            return $this->x[0];
        }
        if ($value >= $this->y[$last]) {
            return $this->x[$last];
        }
        $i = self::segment($this->y, $value);
        $low = $this->x[$i];
        $high = $this->x[$i + 1];
        $at = $low + (($high - $low) * ($value - $this->y[$i])) / ($this->y[$i + 1] - $this->y[$i]);
        for ($n = 0; $n < self::STEPS; $n++) {
            $off = $this->onSegment($i, $at) - $value;
            if ($off < 0.0) {
                $low = $at;
            } else {
                $high = $at;
            }
            $slope = $this->slopeOn($i, $at);
            $next = $slope > 0.0 ? $at - $off / $slope : $low;
            if ($next <= $low || $next >= $high) {
                $next = ($low + $high) / 2;
            }
            if (abs($next - $at) < self::CLOSE) {
                return $next;
            }
            $at = $next;
        }

        return $at;
    }

    private function onSegment(int $i, float $at): float
    {
        $h = $this->x[$i + 1] - $this->x[$i];
        $t = ($at - $this->x[$i]) / $h;
        $u = 1 - $t;

        return $this->y[$i] * (1 + 2 * $t) * $u * $u +
            $this->slopes[$i] * $h * $t * $u * $u +
            $this->y[$i + 1] * $t * $t * (3 - 2 * $t) -
            $this->slopes[$i + 1] * $h * $t * $t * $u;
    }

    /** @param  list<float>  $grid */
    private static function segment(array $grid, float $at): int
    {
        $low = 0;
        $high = count($grid) - 2;
        while ($low < $high) {
            $mid = intdiv($low + $high + 1, 2);
            if ($grid[$mid] <= $at) {
                $low = $mid;
            } else {
                $high = $mid - 1;
            }
        }

        return $low;
    }

    private static function edgeSlope(float $h0, float $h1, float $d0, float $d1): float
    {
        $m = ((2 * $h0 + $h1) * $d0 - $h0 * $d1) / ($h0 + $h1);
        if ($m * $d0 <= 0) {
            return 0.0;
        }

        return $d0 * $d1 <= 0 && abs($m) > 3 * abs($d0) ? 3 * $d0 : $m;
    }
}
