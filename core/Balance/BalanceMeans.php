<?php

declare(strict_types=1);

namespace Heartwood\Core\Balance;

use Heartwood\Core\Record\PackSpec;

/** What the bench and the pack have for balancing: amps; and which school of phosphate top balance. */
final readonly class BalanceMeans
{
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
    ) {
    }

    public static function of(PackSpec $pack, ?float $supplyA = null, ?float $activeA = null, bool $heldAtTop = true, string $phosphate = 'A'): self
    {
        $c = $pack->groupCapacityAh() ?? 5.0;
        $charge = $pack->cell->float('max_charge_a');

        return new self(
            min($supplyA ?? $c / 5, $charge === null ? INF : $charge * ($pack->parallel ?? 1)),
            match ($pack->bms->string('balance')) {
                'active', 'none' => 0.0,
                default => $pack->bms->float('balance_current_a') ?? 0.05,
            },
            $activeA ?? ($pack->bms->string('balance') === 'active' ? $pack->bms->float('balance_current_a') ?? 1.0 : 1.0),
            $pack->charger->float('cc_a') ?? $c / 5,
            $heldAtTop, $phosphate === 'B' ? 'B' : 'A', active: $pack->bms->string('balance') === 'active',
        );
    }
}
