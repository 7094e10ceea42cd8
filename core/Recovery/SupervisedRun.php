<?php

declare(strict_types=1);

namespace Heartwood\Core\Recovery;

/** A run that a supply is driven by: moved by samples and by what people say, and by no clock of its own. */
interface SupervisedRun
{
    public function take(Sample $s): Order;

    public function tick(float $t): Order;

    public function pause(float $t, string $why): Order;

    public function resume(float $t): Order;

    public function abort(float $t, string $why): Order;

    /** The clips sit on what the run asks for; only for runs that ask. */
    public function clipped(float $t): Order;

    public function order(): Order;

    public function isOver(): bool;

    public function isPaused(): bool;

    /** The group that the supply sits on now. */
    public function group(): int;

    /** @return array<string, mixed> */
    public function view(): array;
}
