<?php

declare(strict_types=1);

namespace Heartwood\Core\Twin;

use Heartwood\Core\Pack\RestCurve;

/**
 * A pack run live, a step at a time, with current through the whole string and through any group by itself: what the
 * simulated bench measures and charges. Rest voltage, resistance, two RC pairs a group (exact exponential update),
 * leak, internal short, heat against ambient.
 */
final class LivePack
{
    private const QUICK_S = 45.0;

    private const SLOW_S = 900.0;

    /** Heat capacity of cells, joule per kelvin and amp-hour; and how slowly they give it to the air. */
    private const JOULE_PER_K_AH = 15.0;

    private const COOLING_S = 1800.0;

    /** @var non-empty-list<float> */
    private array $table;

    /** @var list<float> amps into each group in the last step */
    private array $amps;

    public float $seconds = 0.0;

    /**
     * @param  list<LiveGroup>  $groups  from B-
     * @param  float  $belowV  how steeply the rest voltage falls past empty, volts per unit of charge
     */
    public function __construct(
        RestCurve $curve,
        public array $groups,
        public float $ambientC = 20.0,
        private readonly float $belowV = Twin::BELOW_V,
    ) {
        $this->table = Twin::table($curve);
        $this->amps = array_fill(0, count($groups), 0.0);
    }

    /** @return float volts of group k (from 1) as a meter across it sees them */
    public function volts(int $k): float
    {
        return $this->open($k - 1) + $this->amps[$k - 1] * $this->groups[$k - 1]->ohm;
    }

    /** @return float volts of tap k against B- */
    public function tap(int $k): float
    {
        $v = 0.0;
        for ($i = 1; $i <= $k; $i++) {
            $v += $this->volts($i);
        }

        return $v;
    }

    /** @return float amps into group k in the last step */
    public function amps(int $k): float
    {
        return $this->amps[$k - 1];
    }

    /**
     * @param  float  $string  amps through the whole string, positive into it
     * @param  array<int, array{volts: float, amps: float}>  $clips  a supply on a group (number from 1): its limits
     */
    public function step(float $dt, float $string = 0.0, array $clips = []): void
    {
        $quick = exp(-$dt / self::QUICK_S);
        $slow = exp(-$dt / self::SLOW_S);
        $cool = exp(-$dt / self::COOLING_S);
        $amps = [];
        foreach ($this->groups as $i => $g) {
            $open = $this->open($i);
            $in = $string;
            $clip = $clips[$i + 1] ?? null;
            if ($clip !== null) {
                $in += max(0.0, min($clip['amps'], ($clip['volts'] - $open - $string * $g->ohm) / max(1e-6, $g->ohm)));
            }
            $v = $open + $in * $g->ohm;
            $short = is_finite($g->shortOhm) && $v > 0 ? $v / $g->shortOhm : 0.0;
            $g->charge += (($in - $g->leakA - $short) * $dt) / 3600 / $g->capacityAh;
            $g->quickV = $g->quickV * $quick + $in * $g->quickOhm * (1 - $quick);
            $g->slowV = $g->slowV * $slow + $in * $g->slowOhm * (1 - $slow);
            $heat = $in * $in * ($g->ohm + $g->quickOhm + $g->slowOhm) + $v * $short;
            $g->c =
                $this->ambientC +
                ($g->c - $this->ambientC) * $cool +
                $heat * (self::COOLING_S / (self::JOULE_PER_K_AH * $g->capacityAh)) * (1 - $cool);
            $amps[] = $in;
        }
        $this->amps = $amps;
        $this->seconds += $dt;
    }

    /** Amps that a supply across the whole string pushes, within its limits. */
    public function across(float $volts, float $amps): float
    {
        $open = $ohm = 0.0;
        foreach ($this->groups as $i => $g) {
            $open += $this->open($i);
            $ohm += $g->ohm;
        }

        return max(0.0, min($amps, ($volts - $open) / max(1e-6, $ohm)));
    }

    private function open(int $i): float
    {
        $g = $this->groups[$i];
        $rest = $g->charge < 0.0 ? $this->table[0] + $g->charge * $this->belowV : Twin::volts($this->table, $g->charge);

        return max(0.0, $rest) + $g->quickV + $g->slowV;
    }
}
