<?php

declare(strict_types=1);

namespace Heartwood\Core\Build;

/** No layout fits, and what would; with the field of the wish that stands in the way. */
final class CannotBuild extends \DomainException
{
    public function __construct(string $message, public readonly string $field = '/max_width_mm')
    {
        parent::__construct($message);
    }
}
