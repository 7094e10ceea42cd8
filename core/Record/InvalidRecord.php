<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

/** A job record that cannot be read, with every problem by JSON pointer. */
final class InvalidRecord extends \InvalidArgumentException
{
    /** @param  non-empty-list<array{pointer: string, message: string}>  $problems */
    public function __construct(public readonly array $problems)
    {
        parent::__construct($problems[0]['pointer'] . ': ' . $problems[0]['message']);
    }
}
