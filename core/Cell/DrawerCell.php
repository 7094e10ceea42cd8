<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

/** A tested cell as it lies in the drawer: Ah, milliohm at 1 s, volts at rest, percent a month, lot; what its own
 * maker rates it for. Null where not tested or not known. */
final readonly class DrawerCell
{
    public function __construct(
        public string $id,
        public float $capacityAh,
        public float $mohm,
        public ?float $restV = null,
        public ?float $leakPercentMonth = null,
        public string $lot = '',
        public string $chemistry = 'nmc',
        public ?float $fullV = null,
        public ?float $maxA = null,
        public bool $damaged = false,
        public float $capacitySigma = 0.0,
        public ?float $ratedAh = null,
        public string $model = '',
    ) {}

    /** @param  array<int, self>  $cells */
    public static function totalAh(array $cells): float
    {
        return array_sum(array_map(fn(self $c): float => $c->capacityAh, $cells));
    }

    /** What cells of one lot and one model have in common. */
    public function kind(): string
    {
        return "$this->lot\n$this->model";
    }
}
