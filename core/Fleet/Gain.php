<?php

declare(strict_types=1);

namespace Heartwood\Core\Fleet;

use Heartwood\Core\Limits\FleetLimits;
use Heartwood\Core\Maths\Tiny;
use Heartwood\Core\Money\Prices;
use Heartwood\Core\Money\Quote;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Repair\RepairAction;

/** What replacing the weakest group of a pack brings and costs. Amp-hours, watt-hours, cents. */
final readonly class Gain
{
    private function __construct(
        public float $usableAh,
        public float $afterAh,
        public float $gainWh,
        public int $minutes,
        private Quote $quote,
        private ?int $cells,
    ) {}

    /** @param  int|null  $cellCents  the price of this cell model, null where it has none */
    public static function of(PackSpec $pack, float $usableAh, float $afterAh, Prices $prices, ?int $cellCents): self
    {
        $volts = $pack->series * $pack->profile()->nominalV;
        $label = $pack->label->float('capacity_ah') ?? $pack->groupCapacityAh();
        $minutes = RepairAction::ReplaceGroup->minutes();
        $quote = Quote::of(
            $prices,
            $pack->parallel ?? 1,
            $cellCents,
            $pack->cell->float('capacity_ah') ?? ($label === null ? null : $label / ($pack->parallel ?? 1)),
            $minutes,
            $label === null ? null : $label * $volts,
            $afterAh * $volts,
            joins: true,
        );

        return new self($usableAh, $afterAh, ($afterAh - $usableAh) * $volts, $minutes, $quote, $pack->parallel);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $worth = $this->gainWh > 0.0 ? $this->quote->totalCents / $this->gainWh : null;

        return [
            'usable_ah' => round($this->usableAh, 3),
            'after_ah' => round($this->afterAh, 3),
            'worth' => $this->afterAh - $this->usableAh >= FleetLimits::WORTH_SHARE * $this->usableAh - Tiny::SUM,
            'gain_wh' => round($this->gainWh, 1),
            'minutes' => $this->minutes,
            'cells' => $this->cells,
            'total_cents' => $this->quote->totalCents,
            'cents_per_wh' => $worth === null ? null : round($worth, 1),
            'currency' => $this->quote->toArray()['currency'],
        ];
    }
}
