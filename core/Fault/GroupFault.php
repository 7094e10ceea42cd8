<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault;

/** A state that one group may be in: exclusive with the others. Where it has no signature of its own it looks like a sound group. */
abstract class GroupFault extends Fault
{
    public function family(): Family
    {
        return Family::Cells;
    }

    public function placeKind(): string
    {
        return 'group';
    }
}
