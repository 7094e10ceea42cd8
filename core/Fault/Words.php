<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault;

/**
 * What a fault is called: a title for the technician (%d is its place), plain words for the owner, and what would overturn it; and the
 * title of several places at once (%s are those, "5 to 8"), empty where it is never said so.
 */
final readonly class Words
{
    public function __construct(public string $title, public string $plain, public string $overturn, public string $many = '') {}

    /** The title where no place is meant: "The joint at tap has high resistance". */
    public function anywhere(): string
    {
        return trim(str_replace([' %d', '%d'], '', $this->title));
    }

    public function titleAt(int $place): string
    {
        return str_replace('%d', (string) $place, $this->title);
    }
}
