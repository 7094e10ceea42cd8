<?php

declare(strict_types=1);

namespace Heartwood\Core\Fault;

/** What a fault is called: a title for the technician (%d is its place), plain words for the owner, and what would overturn it. */
final readonly class Words
{
    public function __construct(public string $title, public string $plain, public string $overturn) {}

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
