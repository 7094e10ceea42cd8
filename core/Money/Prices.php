<?php

declare(strict_types=1);

namespace Heartwood\Core\Money;

use Heartwood\Core\Shop\Settings;

/** What a shop charges, out of its settings. Money in cents, before tax but for the new pack. */
final readonly class Prices
{
    private const PERCENT = 100;

    /**
     * @param  int  $rateCents  per hour of hands
     * @param  int  $cellCents  of a cell of no known model, of 3 Ah
     * @param  int  $stripCents  strip, rings and leads of a cell that is changed
     * @param  float|null  $newPerWhCents  price of a new pack per Wh, with the tax
     * @param  float  $margin  on parts, as a share
     */
    public function __construct(
        public int $rateCents,
        public int $feeCents,
        public int $cellCents,
        public int $boardCents,
        public int $stripCents,
        public ?float $newPerWhCents,
        public float $margin,
        public string $taxName,
        public float $taxShare,
        public float $scrapCost,
        public float $scrapCapacity,
        public string $currency,
    ) {}

    public static function of(Settings $s): self
    {
        return new self(
            $s->int('rate_cents'),
            $s->int('fee_cents'),
            $s->int('cell_cents'),
            $s->int('board_cents'),
            $s->int('strip_cents'),
            $s->float('new_per_wh_cents'),
            (float) $s->float('margin_percent') / self::PERCENT,
            $s->text('tax_name'),
            (float) $s->float('tax_percent') / self::PERCENT,
            (float) $s->float('scrap_cost_percent') / self::PERCENT,
            (float) $s->float('scrap_capacity_percent') / self::PERCENT,
            $s->text('currency'),
        );
    }
}
