<?php

declare(strict_types=1);

namespace Heartwood\Core\Money;

/** Parts, hours and test fee of one option against a new pack (handbook "Repair options"). Money in cents. */
final readonly class Quote
{
    /** Amp-hours of the cell that a shop's price of "a cell" means where no model is known (assumed). */
    public const TYPICAL_CELL_AH = 3.0;

    /** What the customer pays: with the tax. */
    public int $totalCents;

    public int $taxCents;

    public ?float $centsPerWh;

    /**
     * @param  list<array{what: string, cents: int}>  $lines  the parts one by one
     * @param  bool  $newPackListed  whether the price list says what a new one costs; else it is worked out from its Wh
     * @param  string|null  $scrap  why the scrap line says no, null when it says yes or cannot tell
     */
    private function __construct(
        public array $lines,
        public int $partsCents,
        public int $labourCents,
        public int $feeCents,
        public ?int $newPackCents,
        public bool $newPackListed,
        ?float $restoredWh,
        public ?string $scrap,
        private Prices $prices,
    ) {
        $net = $partsCents + $labourCents + $feeCents;
        $this->taxCents = (int) round($net * $prices->taxShare);
        $this->totalCents = $net + $this->taxCents;
        $this->centsPerWh = $restoredWh !== null && $restoredWh > 0 ? round($this->totalCents / $restoredWh, 1) : null;
    }

    /** What a cell of no known model costs: the shop's price of a typical one, in proportion to what it holds. */
    public static function cellCents(int $typicalCents, ?float $cellAh): int
    {
        return (int) round(($typicalCents * ($cellAh ?? self::TYPICAL_CELL_AH)) / self::TYPICAL_CELL_AH);
    }

    /**
     * @param  int|null  $cellCents  the price of this cell model, null where it has none
     * @param  float|null  $cellAh  what a cell holds, where its model has no price
     * @param  float|null  $labelWh  and $restoredWh decide the scrap line
     * @param  int|null  $newPackCents  what a new pack of this model costs, with the tax; else by its Wh
     * @param  bool  $repairs  whether the pack goes back as one
     */
    public static function of(
        Prices $prices,
        int $cells,
        ?int $cellCents,
        ?float $cellAh,
        int $handsMinutes,
        ?float $labelWh,
        ?float $restoredWh,
        bool $board = false,
        bool $joins = false,
        ?int $newPackCents = null,
        bool $repairs = true,
    ): self {
        $sold = fn(int $cents): int => (int) round($cents * (1 + $prices->margin));
        $lines = array_values(
            array_filter(
                [
                    [
                        'what' => sprintf('%d cell%s', $cells, $cells === 1 ? '' : 's'),
                        'cents' => $cells * $sold($cellCents ?? self::cellCents($prices->cellCents, $cellAh)),
                    ],
                    ['what' => 'board', 'cents' => $board ? $sold($prices->boardCents) : 0],
                    ['what' => 'strip, insulators, leads', 'cents' => $joins ? max(1, $cells) * $sold($prices->stripCents) : 0],
                ],
                fn(array $l): bool => $l['cents'] > 0,
            ),
        );
        $parts = array_sum(array_column($lines, 'cents'));
        $labour = (int) round(($handsMinutes * $prices->rateCents) / 60);
        $new =
            $newPackCents ?? ($prices->newPerWhCents !== null && $labelWh !== null ? (int) round($prices->newPerWhCents * $labelWh) : null);
        $total = (int) round(($parts + $labour + $prices->feeCents) * (1 + $prices->taxShare));
        $scrap = match (true) {
            // What ends a pack is not held against buying one.
            !$repairs => null,
            $new !== null && $total > $prices->scrapCost * $new => sprintf('costs over %.3g %% of a new pack', 100 * $prices->scrapCost),
            $labelWh !== null && $restoredWh !== null && $restoredWh < $prices->scrapCapacity * $labelWh => sprintf(
                'brings under %.3g %% of the label',
                100 * $prices->scrapCapacity,
            ),
            default => null,
        };

        return new self($lines, $parts, $labour, $prices->feeCents, $new, $newPackCents !== null, $restoredWh, $scrap, $prices);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'lines' => $this->lines,
            'parts_cents' => $this->partsCents,
            'labour_cents' => $this->labourCents,
            'fee_cents' => $this->feeCents,
            'tax_cents' => $this->taxCents,
            'tax' => $this->prices->taxName,
            'tax_percent' => round(100 * $this->prices->taxShare, 2),
            'currency' => $this->prices->currency,
            'total_cents' => $this->totalCents,
            'new_pack_cents' => $this->newPackCents,
            'new_pack_listed' => $this->newPackListed,
            'cents_per_wh' => $this->centsPerWh,
            'scrap' => $this->scrap,
        ];
    }
}
