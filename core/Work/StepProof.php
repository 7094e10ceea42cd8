<?php

declare(strict_types=1);

namespace Heartwood\Core\Work;

/** Whether a step of the work is proved, since when, by what, and what is missing while it is not. */
final readonly class StepProof
{
    /**
     * @param  float|null  $at  seconds of the epoch at which it was proved
     * @param  string  $text  what proves it, or what is missing
     */
    public function __construct(public ClosedBy $by, public bool $closed, public ?float $at, public string $text) {}
}
