<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

use Heartwood\Core\Record\Place;

/** One way on: what to do, where, what it brings and what it leaves. Amp-hours are predicted. */
final readonly class Option
{
    /**
     * @param  list<Place>  $places
     * @param  list<string>  $leaves  finding codes that stay unsolved
     * @param  int  $handsMinutes  of a person
     * @param  float  $waitHours  of the calendar
     * @param  int  $cells  new cells it takes
     */
    public function __construct(
        public RepairAction $action,
        public array $places,
        public ?float $usableAh,
        public array $leaves,
        public int $handsMinutes = 0,
        public float $waitHours = 0.0,
        public int $cells = 0,
        public string $why = '',
    ) {
    }

    /**
     * The same with nothing to be drawn from the pack.
     *
     * @param  list<string>  $leaves
     */
    public function without(array $leaves): self
    {
        return new self($this->action, $this->places, null, $leaves, $this->handsMinutes, $this->waitHours, $this->cells, $this->why);
    }

    /** @return array{action: string, where: list<array<string, int|string>>, usable_ah: float|null, leaves: list<string>} */
    public function toArray(): array
    {
        return [
            'action' => $this->action->value,
            'where' => array_values(array_filter(array_map(fn (Place $p): ?array => $p->toArray(), $this->places))),
            'usable_ah' => $this->usableAh === null ? null : round($this->usableAh, 2),
            'leaves' => $this->leaves,
        ];
    }
}
