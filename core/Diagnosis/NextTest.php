<?php

declare(strict_types=1);

namespace Heartwood\Core\Diagnosis;

use Heartwood\Core\Record\Place;

final readonly class NextTest
{
    public function __construct(
        public TestKind $test,
        public Place $place,
        public string $why,
        public int $minutes,
        public float $gainBits,
    ) {}

    /** @return array{test: string, where: array<string, int|string>|null, why: string, minutes: int, gain_bits: float} */
    public function toArray(): array
    {
        return [
            'test' => $this->test->value,
            'where' => $this->place->toArray(),
            'why' => $this->why,
            'minutes' => $this->minutes,
            'gain_bits' => round($this->gainBits, 2),
        ];
    }
}
