<?php

declare(strict_types=1);

namespace Heartwood\Core\Money;

/** Parts, hours and test fee of one option against a new pack (handbook "Repair options"). Money in cents. */
final readonly class Quote
{
    /** Repair above this share of a new pack is not worth it (shop setting). */
    public const SCRAP_COST = 0.6;

    /** Restored capacity below this share of the label is not worth it (shop setting). */
    public const SCRAP_CAPACITY = 0.6;

    /** Amp-hours of the cell that a shop's price of "a cell" means where no model is known (assumed). */
    public const TYPICAL_CELL_AH = 3.0;

    public int $totalCents;

    public ?float $centsPerWh;

    /**
     * @param  list<array{what: string, cents: int}>  $lines  the parts one by one
     * @param  string|null  $scrap  why the scrap line says no, null when it says yes or cannot tell
     */
    private function __construct(
        public array $lines,
        public int $partsCents,
        public int $labourCents,
        public int $feeCents,
        public ?int $newPackCents,
        ?float $restoredWh,
        public ?string $scrap,
    ) {
        $this->totalCents = $partsCents + $labourCents + $feeCents;
        $this->centsPerWh = $restoredWh !== null && $restoredWh > 0 ? round($this->totalCents / $restoredWh, 1) : null;
    }

    /** What a cell of no known model costs: the shop's price of a typical one, in proportion to what it holds. */
    public static function cellCents(int $typicalCents, ?float $cellAh): int
    {
        return (int) round($typicalCents * ($cellAh ?? self::TYPICAL_CELL_AH) / self::TYPICAL_CELL_AH);
    }

    /**
     * @param  int  $rateCents  per hour of hands
     * @param  float|null  $newPerWhCents  price of a new pack per Wh
     * @param  float|null  $labelWh  and $restoredWh decide the scrap line
     * @param  int  $boardCents  of a new board, where the option takes one
     * @param  int  $stripCents  strip, rings and leads of the cells that are changed
     */
    public static function of(int $cells, int $cellCents, int $handsMinutes, int $rateCents, int $feeCents, ?float $newPerWhCents, ?float $labelWh, ?float $restoredWh, int $boardCents = 0, int $stripCents = 0): self
    {
        $lines = array_values(array_filter([
            ['what' => sprintf('%d cell%s', $cells, $cells === 1 ? '' : 's'), 'cents' => $cells * $cellCents], ['what' => 'board', 'cents' => $boardCents], ['what' => 'strip, insulators, leads', 'cents' => $stripCents],
        ], fn (array $l): bool => $l['cents'] > 0));
        $parts = array_sum(array_column($lines, 'cents'));
        $labour = (int) round($handsMinutes * $rateCents / 60);
        $new = $newPerWhCents !== null && $labelWh !== null ? (int) round($newPerWhCents * $labelWh) : null;
        $scrap = match (true) {
            $new !== null && $parts + $labour + $feeCents > self::SCRAP_COST * $new => sprintf('costs over %.0f %% of a new pack', 100 * self::SCRAP_COST),
            $labelWh !== null && $restoredWh !== null && $restoredWh < self::SCRAP_CAPACITY * $labelWh => sprintf('brings under %.0f %% of the label', 100 * self::SCRAP_CAPACITY),
            default => null,
        };

        return new self($lines, $parts, $labour, $feeCents, $new, $restoredWh, $scrap);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'lines' => $this->lines, 'parts_cents' => $this->partsCents, 'labour_cents' => $this->labourCents, 'fee_cents' => $this->feeCents,
            'total_cents' => $this->totalCents, 'new_pack_cents' => $this->newPackCents, 'cents_per_wh' => $this->centsPerWh, 'scrap' => $this->scrap,
        ];
    }
}
