<?php

declare(strict_types=1);

namespace Heartwood\Core\Fleet;

use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\PackSpec;

/** One pack among those of its owner, as it was read last. Volts from B-, amp-hours, charge 0..1. */
final readonly class Sibling
{
    /**
     * @param  string  $condition  rest | full | charge | discharge
     * @param  list<float|null>  $volts  of its groups; null: not read
     * @param  list<float|null>|null  $ah  that its groups hold, where it was measured
     */
    public function __construct(
        public string $name,
        public PackSpec $pack,
        public string $condition,
        public ?float $soc,
        public array $volts,
        public ?array $ah,
    ) {}

    /** @return list<float> */
    public function read(): array
    {
        return array_values(array_filter($this->volts, fn(?float $v): bool => $v !== null));
    }

    /** Charge at which it was read: as said; at the top when full; at rest from its middle group; else not known. */
    public function charge(): ?float
    {
        $read = $this->read();

        return match (true) {
            $this->soc !== null => $this->soc,
            $this->condition === 'full' => 1.0,
            $this->condition === 'rest' && $read !== [] => RestCurve::of($this->pack->chemistry)->socAt(Robust::median($read)),
            default => null,
        };
    }

    /** Millivolts of a group from the middle of its own pack; null where it was not read. */
    public function offMv(int $group): ?float
    {
        $v = $this->volts[$group - 1] ?? null;
        $read = $this->read();

        return $v === null || $read === [] ? null : Fleet::MV * ($v - Robust::median($read));
    }

    /** What a group holds: as measured, else as its cells or its label promise; null where nobody said. */
    public function holds(int $group): ?float
    {
        return $this->ah[$group - 1] ?? $this->pack->groupCapacityAh();
    }

    /** @return array{field: string, text: string}|null what makes it none, and the mend */
    public function problem(): ?array
    {
        $n = $this->pack->series;

        return match (true) {
            count($this->volts) !== $n => [
                'field' => 'groups_v',
                'text' => sprintf(
                    'has %d values, the pack has %d groups: one for each, null where it was not read',
                    count($this->volts),
                    $n,
                ),
            ],
            $this->ah !== null && count($this->ah) !== $n => [
                'field' => 'groups_ah',
                'text' => sprintf(
                    'has %d values, the pack has %d groups: one for each, null where it was not measured',
                    count($this->ah),
                    $n,
                ),
            ],
            default => null,
        };
    }
}
