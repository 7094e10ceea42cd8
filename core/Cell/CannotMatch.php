<?php

declare(strict_types=1);

namespace Heartwood\Core\Cell;

/** No deal keeps every hard limit: which one stands in the way, and the nearest relaxation that would let it through. */
final class CannotMatch extends \DomainException
{
    public function __construct(string $message, public readonly ?string $relaxation = null)
    {
        parent::__construct($message);
    }
}
