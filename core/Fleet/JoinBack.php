<?php

declare(strict_types=1);

namespace Heartwood\Core\Fleet;

use Heartwood\Core\Cell\JoinRule;
use Heartwood\Core\Cell\JoinSide;
use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Record\PackSpec;

/** A pack that goes back beside its siblings, by the join rule: it on one side, they in parallel on the other. Volts, ohms, amps. */
final class JoinBack
{
    /**
     * @param  int  $siblings  that stand in parallel, one at least
     * @param  float  $packV  of the pack, at rest
     * @param  float  $siblingsV  of those beside it
     */
    public static function check(PackSpec $pack, int $siblings, float $packV, float $siblingsV): JoinRule
    {
        $ohm = ($pack->series * $pack->groupResistanceMohm()) / 1000;
        $ah = $pack->groupCapacityAh() ?? PackSpec::UNKNOWN_AH;
        $most = self::mostChargeA($pack);
        $side = fn(float $v, int $n): JoinSide => new JoinSide($v, $ohm / $n, $ah * $n, $most * $n, $pack->chemistry);

        return JoinRule::check($side($packV, 1), $side($siblingsV, max(1, $siblings)), $pack->series);
    }

    /** What a group's cells take of a charge: as their sheet says, else half of what they hold. */
    public static function mostChargeA(PackSpec $pack): float
    {
        $cell = $pack->cell->float('max_charge_a');

        return $cell !== null && $pack->parallel !== null
            ? $cell * $pack->parallel
            : ($pack->groupCapacityAh() ?? PackSpec::UNKNOWN_AH) * CellLimits::CHARGE_C;
    }
}
