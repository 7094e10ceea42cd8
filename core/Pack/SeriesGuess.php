<?php

declare(strict_types=1);

namespace Heartwood\Core\Pack;

/** One way to read a pack's voltage: so many groups of this chemistry, at that voltage per cell. */
final readonly class SeriesGuess
{
    public function __construct(
        public Chemistry $chemistry,
        public int $series,
        public string $reading,
        public float $perCellV,
        public float $misfit,
    ) {}

    /** @return array{chemistry: string, series: int, reading: string, per_cell_v: float, misfit: float} */
    public function toArray(): array
    {
        return [
            'chemistry' => $this->chemistry->value,
            'series' => $this->series,
            'reading' => $this->reading,
            'per_cell_v' => round($this->perCellV, 3),
            'misfit' => round($this->misfit, 4),
        ];
    }
}
