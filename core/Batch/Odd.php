<?php

declare(strict_types=1);

namespace Heartwood\Core\Batch;

/** Why a pack of a lot is questionable: one figure of it beside the lot's. */
final readonly class Odd
{
    /** @param  float  $z  modified z-score, its sign that of the deviation */
    public function __construct(
        public int $pack,
        public Quantity $of,
        public ?int $group,
        public float $value,
        public float $lot,
        public float $z,
    ) {}

    public function text(): string
    {
        $say = fn(float $v): string => $this->of->say($v);

        return sprintf(
            '%s%s %s, the others %s',
            $this->group === null ? '' : "group $this->group: ",
            $this->of->words(),
            $say($this->value),
            $say($this->lot),
        );
    }
}
