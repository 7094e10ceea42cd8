<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

/** One line of the work checklist: what to do, the caution that belongs to it, what to write down. */
final readonly class WorkStep
{
    public function __construct(public string $code, public string $title, public string $caution = '', public string $entry = '')
    {
    }

    /** @return array{code: string, title: string, caution: string, entry: string} */
    public function toArray(): array
    {
        return ['code' => $this->code, 'title' => $this->title, 'caution' => $this->caution, 'entry' => $this->entry];
    }
}
