<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

use Heartwood\Core\Record\Place;

/** One way on: what to do, where, what it brings and what it leaves. Amp-hours are predicted. */
final readonly class Option
{
    /** Minutes of a person. */
    public int $handsMinutes;

    /** Hours of the calendar. */
    public float $waitHours;

    /**
     * @param  list<Place>  $places
     * @param  list<string>  $leaves  finding codes that stay unsolved
     * @param  int  $cells  new cells it takes
     * @param  int|null  $minutes  of a person; what such an action takes (BenchTimes) when null
     * @param  float|null  $hours  of the calendar; the same
     * @param  list<TopUp>  $topUps  of groups that stay in service though they leak
     */
    public function __construct(
        public RepairAction $action,
        public array $places,
        public ?float $usableAh,
        public array $leaves,
        public string $why = '',
        public int $cells = 0,
        ?int $minutes = null,
        ?float $hours = null,
        public array $topUps = [],
    ) {
        $this->handsMinutes = $minutes ?? $action->minutes();
        $this->waitHours = $hours ?? $action->hours();
    }

    /**
     * The same with nothing to be drawn from the pack.
     *
     * @param  list<string>  $leaves
     */
    public function without(array $leaves): self
    {
        return $this->with(null, $leaves);
    }

    /**
     * The same, with what it leaves unsolved.
     *
     * @param  list<string>  $leaves
     */
    public function leaving(array $leaves): self
    {
        return $this->with($this->usableAh, $leaves);
    }

    /** @param  list<string>  $leaves */
    private function with(?float $usableAh, array $leaves): self
    {
        return new self(
            $this->action,
            $this->places,
            $usableAh,
            $leaves,
            $this->why,
            $this->cells,
            $this->handsMinutes,
            $this->waitHours,
            $this->topUps,
        );
    }

    /** @return array{action: string, where: list<array<string, int|string>>, usable_ah: float|null, leaves: list<string>} */
    public function toArray(): array
    {
        return [
            'action' => $this->action->value,
            'where' => array_values(array_filter(array_map(fn(Place $p): ?array => $p->toArray(), $this->places))),
            'usable_ah' => $this->usableAh === null ? null : round($this->usableAh, 2),
            'leaves' => $this->leaves,
        ];
    }
}
