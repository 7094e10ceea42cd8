<?php

declare(strict_types=1);

namespace Heartwood\Core\Pack;

use Heartwood\Core\Maths\Pchip;

/**
 * Rest voltage against state of charge at 25 degC and its inverse (handbook "Chemistry profiles").
 *
 * The curve's own error is common to all groups of a pack: it belongs into a state of charge that is shown,
 * not into the difference of two groups.
 */
final class RestCurve
{
    /** 1 sigma of the curve on slopes, as a fraction of charge. */
    public const CURVE_SIGMA = 0.03;

    /** How far a phosphate rest voltage can stray on the plateau from hysteresis and history. */
    private const PLATEAU_SIGMA_V = 0.02;

    private const SOC = [0.0, 0.02, 0.05, 0.1, 0.15, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 1.0];

    private const VOLTS = [
        'nmc' => [2.95, 3.12, 3.27, 3.41, 3.48, 3.53, 3.6, 3.645, 3.7, 3.79, 3.885, 3.985, 4.075, 4.125, 4.19],
        'lco' => [3.0, 3.28, 3.45, 3.61, 3.67, 3.7, 3.75, 3.78, 3.82, 3.87, 3.94, 4.02, 4.1, 4.145, 4.19],
        'lco-hv' => [3.0, 3.3, 3.48, 3.63, 3.69, 3.72, 3.77, 3.81, 3.86, 3.93, 4.02, 4.12, 4.23, 4.285, 4.34],
        'lfp' => [2.6, 2.9, 3.1, 3.19, 3.215, 3.235, 3.265, 3.285, 3.292, 3.3, 3.32, 3.33, 3.334, 3.338, 3.42],
        'lto' => [1.8, 1.95, 2.05, 2.12, 2.16, 2.19, 2.23, 2.26, 2.29, 2.32, 2.36, 2.41, 2.49, 2.55, 2.68],
    ];

    private function __construct(private readonly Pchip $curve, private readonly bool $phosphate) {}

    /** Pure spinel has no curve of its own; blends, which are what packs hold, follow the nmc row. */
    public static function of(Chemistry $chemistry): self
    {
        /** @var array<string, self> $known */
        static $known = [];
        $row = match ($chemistry) {
            Chemistry::Nca, Chemistry::Lmo => 'nmc',
            default => $chemistry->value,
        };

        return $known[$chemistry->value] ??= new self(new Pchip(self::SOC, self::VOLTS[$row]), $chemistry->isPhosphate());
    }

    /** Rest voltage per cell at a state of charge 0..1. */
    public function volts(float $soc): float
    {
        return $this->curve->value($soc);
    }

    /** Volts per unit of charge. */
    public function slope(float $soc): float
    {
        return max(1e-4, $this->curve->slope($soc));
    }

    /** State of charge 0..1 on the curve itself, without uncertainty. */
    public function socAt(float $volts): float
    {
        return $this->curve->inverse($volts);
    }

    public function emptyV(): float
    {
        return $this->curve->value(0.0);
    }

    public function topV(): float
    {
        return $this->curve->value(1.0);
    }

    /** Whether a rest voltage lies where phosphate says next to nothing about charge. */
    public function onPlateau(float $volts): bool
    {
        return $this->phosphate && $volts >= $this->curve->value(0.2) && $volts <= $this->curve->value(0.95) + 0.005;
    }

    /**
     * State of charge from a rest voltage, with the curve's own error.
     *
     * @param  float  $sigmaV  1 sigma of the reading, volts
     */
    public function soc(float $volts, float $sigmaV): SocEstimate
    {
        $mid = $this->socAt($volts);
        $below = $volts < $this->emptyV();
        $above = $volts > $this->topV();
        if ($this->onPlateau($volts)) {
            $reach = self::PLATEAU_SIGMA_V + 2 * $sigmaV;

            return new SocEstimate($this->socAt($volts - $reach), $mid, $this->socAt($volts + $reach), $below, $above, true);
        }
        $low = $mid - $this->socAt($volts - $sigmaV);
        $high = $this->socAt($volts + $sigmaV) - $mid;

        return new SocEstimate(
            max(0.0, $mid - hypot($low, self::CURVE_SIGMA)),
            $mid,
            min(1.0, $mid + hypot($high, self::CURVE_SIGMA)),
            $below,
            $above,
            false,
        );
    }
}
