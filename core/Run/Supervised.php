<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/** A run that a supply or a load is driven by: moved by samples and by what people say. */
interface Supervised
{
    public function take(Sample $s): Order;

    /** The clock went on and no sample came. */
    public function tick(float $t): Order;

    public function hear(Said $said): Order;

    public function order(): Order;

    public function isOver(): bool;

    public function isPaused(): bool;

    /** Whether the watch after the end is over too: nothing of this run needs an instrument any more. */
    public function isWatchedOut(): bool;

    /** The group that the clips sit on now; 0 for the whole string. */
    public function group(): int;

    /** @return array<string, mixed> everything a screen shows, made here so that the screen decides nothing */
    public function view(): array;
}
