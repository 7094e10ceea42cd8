<?php

declare(strict_types=1);

namespace Heartwood\Core\Protocol;

use Heartwood\Core\Record\Fields;

/** What was typed at a step, or found on record for it. */
final readonly class Entry
{
    /**
     * @param  float  $at  seconds of the epoch
     * @param  array<string, mixed>  $values  by the name of the field, as typed
     * @param  bool  $left  whether the step was left out
     * @param  string  $found  what of the record stands for it; empty where it was typed
     */
    public function __construct(
        public string $step,
        public float $at,
        public array $values = [],
        public bool $left = false,
        public string $found = '',
        public string $id = '',
    ) {}

    public function fields(): Fields
    {
        return new Fields($this->values);
    }
}
