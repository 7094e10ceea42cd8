<?php

declare(strict_types=1);

namespace Heartwood\Core\Run;

/** What comes of a sample that broke no rule: stay, begin another phase, or be at the end. */
final readonly class Step
{
    private function __construct(public ?Phase $begin, public ?Broken $end, public string $note) {}

    public static function stay(): self
    {
        return new self(null, null, '');
    }

    public static function begin(Phase $phase, string $note): self
    {
        return new self($phase, null, $note);
    }

    public static function end(Why $why, string $text): self
    {
        return new self(null, new Broken($why, $text), $text);
    }
}
