<?php

declare(strict_types=1);

namespace Heartwood\Core\Balance;

use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Twin\Twin;

/**
 * Time that a constant-current, constant-voltage supply takes from one state of charge to another: the integral of
 * dq / I(q), with I held until the limit in volts is met and (V - rest) / R after that.
 */
final readonly class Fill
{
    /** Under this share of the set current it is the voltage that limits. */
    private const LIMITED = 0.999;

    private const STEPS = 2000;

    private function __construct(public float $hours, public float $ah, public float $taperHours, public float $reached) {}

    /**
     * @param  float  $from  charge 0..1; below 0 for a group past empty
     * @param  float  $to  charge 0..1 at which it is stopped, when the taper does not stop it before
     * @param  float  $ohm  of the group as the supply sees it, slow part included
     * @param  float  $volts  the supply's limit
     * @param  float  $taperA  tail current at which it is stopped
     */
    public static function of(
        RestCurve $curve,
        float $from,
        float $to,
        float $capacityAh,
        float $ohm,
        float $amps,
        float $volts,
        float $taperA,
    ): self {
        $table = Twin::table($curve);
        $hours = $taper = $ah = 0.0;
        $x = $from;
        $dx = max(Tiny::SLACK, ($to - $from) / self::STEPS);
        while ($x < $to - Tiny::SLACK) {
            $i = min($amps, ($volts - Twin::volts($table, $x + $dx / 2)) / max(Tiny::DIVISOR, $ohm));
            if ($i <= $taperA) {
                break;
            }
            $dt = ($dx * $capacityAh) / $i;
            $hours += $dt;
            $taper += $i < self::LIMITED * $amps ? $dt : 0.0;
            $ah += $dx * $capacityAh;
            $x += $dx;
        }

        return new self($hours, $ah, $taper, $x);
    }
}
