<?php

declare(strict_types=1);

namespace Heartwood\Core\Balance;

use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Record\PackSpec;

/** What the bench and the pack have for balancing: amps; and which school of phosphate top balance. */
final readonly class BalanceMeans
{
    /** Amps that a passive board bleeds where nobody wrote it (assumed). */
    private const BLEED_A = 0.05;

    /**
     * @param  bool  $active  the board itself moves charge from group to group
     * @param  'A'|'B'  $phosphate  A: full voltage to a tail of C/20; B: a lower voltage held for longer
     */
    public function __construct(
        public float $supplyA,
        public float $bleedA,
        public float $activeA,
        public float $chargerA,
        public bool $heldAtTop = true,
        public string $phosphate = 'A',
        public float $clipMinutes = 4.0,
        public bool $active = false,
    ) {}

    public static function of(
        PackSpec $pack,
        ?float $supplyA = null,
        ?float $activeA = null,
        bool $heldAtTop = true,
        string $phosphate = 'A',
    ): self {
        $c = $pack->groupCapacityAh() ?? PackSpec::UNKNOWN_AH;
        $charge = $pack->cell->float('max_charge_a');

        return new self(
            min($supplyA ?? RunLimits::RAISE_C * $c, $charge === null ? INF : $charge * ($pack->parallel ?? 1)),
            match ($pack->bms->string('balance')) {
                'active', 'none' => 0.0,
                default => $pack->bms->float('balance_current_a') ?? self::BLEED_A,
            },
            $activeA ?? ($pack->bms->string('balance') === 'active' ? $pack->bms->float('balance_current_a') ?? 1.0 : 1.0),
            $pack->charger->float('cc_a') ?? RunLimits::RAISE_C * $c,
            $heldAtTop,
            $phosphate === 'B' ? 'B' : 'A',
            active: $pack->bms->string('balance') === 'active',
        );
    }
}
