<?php

declare(strict_types=1);

namespace Heartwood\Core\Repair;

/**
 * One line of the work checklist: what to do, the caution that belongs to it, what to write down; `alters` when it changes cells,
 * joints or board.
 */
final readonly class WorkStep
{
    public function __construct(
        public string $code,
        public string $title,
        public string $caution = '',
        public string $entry = '',
        public bool $alters = false,
    ) {}

    /** @return array{code: string, title: string, caution: string, entry: string, alters: bool} */
    public function toArray(): array
    {
        return [
            'code' => $this->code,
            'title' => $this->title,
            'caution' => $this->caution,
            'entry' => $this->entry,
            'alters' => $this->alters,
        ];
    }
}
