<?php

declare(strict_types=1);

namespace Heartwood\Core\Batch;

use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\PackSpec;

/** What is measured of one pack of a lot, as far as it is. Volts, amp-hours, milliohm, kelvin; volts risen by an amp-hour. */
final readonly class LotFacts
{
    /** @param  list<float|null>  $groupsV  at rest */
    public function __construct(
        public ?float $cameV = null,
        public array $groupsV = [],
        public ?float $capacityAh = null,
        public ?float $mohm = null,
        public ?float $rise = null,
        public ?float $warmK = null,
    ) {}

    /** @param  array<string, mixed>  $kept  as `toArray()` gave it */
    public static function from(array $kept, ?float $cameV): self
    {
        $f = fn(string $k): ?float => isset($kept[$k]) && is_numeric($kept[$k]) ? (float) $kept[$k] : null;

        return new self(
            $cameV,
            array_map(fn(mixed $v): ?float => is_numeric($v) ? (float) $v : null, array_values((array) ($kept['groups_v'] ?? []))),
            $f('capacity_ah'),
            $f('mohm'),
            $f('rise'),
            $f('warm_k'),
        );
    }

    public function value(Quantity $q): ?float
    {
        $read = $this->read();

        return match ($q) {
            Quantity::Came => $this->cameV,
            Quantity::Spread => count($read) < 2 ? null : max($read) - min($read),
            Quantity::Capacity => $this->capacityAh,
            Quantity::Ohm => $this->mohm,
            Quantity::Rise => $this->rise,
            Quantity::Warm => $this->warmK,
            Quantity::Group => null,
        };
    }

    /** Energy in it, by its groups where they were read, else by its volts as it came; null where neither was, nor what it holds. */
    public function wattHours(PackSpec $pack): ?float
    {
        $ah = $pack->groupCapacityAh();
        $read = $this->read();
        $volts = $read !== [] ? $read : ($this->cameV === null ? [] : array_fill(0, $pack->series, $this->cameV / $pack->series));
        if ($ah === null || $volts === []) {
            return null;
        }
        $curve = RestCurve::of($pack->chemistry);
        $one = array_sum(array_map(fn(float $v): float => $curve->socAt(max(0.0, $v)) * $ah * max(0.0, $v), $volts)) / count($volts);

        return $one * $pack->series;
    }

    /** @return list<float> */
    private function read(): array
    {
        return array_values(array_filter($this->groupsV, fn(?float $v): bool => $v !== null));
    }
}
