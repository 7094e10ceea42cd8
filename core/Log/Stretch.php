<?php

declare(strict_types=1);

namespace Heartwood\Core\Log;

/** A stretch of a stored series as it is drawn: lows and highs in at most so many points, whatever its length. */
final class Stretch
{
    /** Rows that are drawn themselves, however few points are asked for. */
    private const NEAR = 8192;

    /** Decimals of seconds, and of volts and amps, that a drawing shows. */
    private const OF_TIME = 2;

    private const OF_VALUES = 4;

    /** @var list<float> seconds */
    private array $t = [];

    /** @var array{v_min: list<float>, v_max: list<float>, a_min: list<float>, a_max: list<float>} */
    private array $of = ['v_min' => [], 'v_max' => [], 'a_min' => [], 'a_max' => []];

    /** Near enough that the rows themselves are drawn. */
    public static function near(int $rows, int $points): bool
    {
        return $rows <= max($points, self::NEAR);
    }

    /** @param  array{t: list<float>, v: list<float>, a: list<float>}  $rows */
    public function rows(array $rows): void
    {
        array_push($this->t, ...$rows['t']);
        array_push($this->of['v_min'], ...$rows['v']);
        array_push($this->of['v_max'], ...$rows['v']);
        array_push($this->of['a_min'], ...$rows['a']);
        array_push($this->of['a_max'], ...$rows['a']);
    }

    /** @param  list<array{t: float, v_min: float, v_max: float, a_min: float, a_max: float}>  $levels */
    public function levels(array $levels): void
    {
        foreach ($levels as $l) {
            $this->t[] = $l['t'];
            $this->of['v_min'][] = $l['v_min'];
            $this->of['v_max'][] = $l['v_max'];
            $this->of['a_min'][] = $l['a_min'];
            $this->of['a_max'][] = $l['a_max'];
        }
    }

    /** @return array{t: list<float>, v_min: list<float>, v_max: list<float>, a_min: list<float>, a_max: list<float>} */
    public function thinned(int $points): array
    {
        $n = count($this->t);
        $every = max(1, (int) ceil($n / max(1, $points)));
        $out = ['t' => [], 'v_min' => [], 'v_max' => [], 'a_min' => [], 'a_max' => []];
        for ($k = 0; $k < $n; $k += $every) {
            $out['t'][] = round($this->t[$k], self::OF_TIME);
            foreach ($this->of as $name => $values) {
                $some = array_slice($values, $k, $every) ?: [0.0];
                $out[$name][] = round(str_ends_with($name, 'min') ? min($some) : max($some), self::OF_VALUES);
            }
        }

        return $out;
    }
}
