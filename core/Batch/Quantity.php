<?php

declare(strict_types=1);

namespace Heartwood\Core\Batch;

use Heartwood\Core\Limits\BatchLimits;

/** What the packs of a lot are held against one another by. */
enum Quantity: string
{
    case Came = 'came';
    case Group = 'group';
    case Spread = 'spread';
    case Capacity = 'capacity';
    case Ohm = 'ohm';
    case Rise = 'rise';
    case Warm = 'warm';

    public function words(): string
    {
        return match ($this) {
            self::Came => 'as it came',
            self::Group => 'from the middle of its pack',
            self::Spread => 'its groups are apart by',
            self::Capacity => 'gave',
            self::Ohm => 'resistance of a group',
            self::Rise => 'rose by an amp-hour',
            self::Warm => 'warmed by',
        };
    }

    public function say(float $v): string
    {
        return match ($this) {
            self::Came => sprintf('%.1f V', $v),
            self::Group => sprintf('%+.0f mV', 1000 * $v),
            self::Spread, self::Rise => sprintf('%.0f mV', 1000 * $v),
            self::Capacity => sprintf('%.2f Ah', $v),
            self::Ohm => sprintf('%.1f mohm', $v),
            self::Warm => sprintf('%.1f K', $v),
        };
    }

    /** Which way out of the lot is a question: -1 less, 1 more, 0 either. */
    public function bad(): int
    {
        return match ($this) {
            self::Came, self::Group => 0,
            self::Capacity, self::Rise => -1,
            self::Spread, self::Ohm, self::Warm => 1,
        };
    }

    /** The least spread that is believed of a lot whose middle is this. */
    public function leastSpread(float $middle): float
    {
        return match ($this) {
            self::Came => BatchLimits::CAME_SHARE * abs($middle),
            self::Group => BatchLimits::GROUP_V,
            self::Spread => BatchLimits::SPREAD_V,
            self::Capacity => BatchLimits::CAPACITY_SHARE * abs($middle),
            self::Ohm => BatchLimits::OHM_SHARE * abs($middle),
            self::Rise => BatchLimits::RISE_SHARE * abs($middle),
            self::Warm => BatchLimits::WARM_K,
        };
    }
}
