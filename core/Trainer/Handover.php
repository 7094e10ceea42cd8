<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Record\Fields;

/** What was done after the answer to carry the choice out, and whether the pack goes back to whoever brought it. */
final readonly class Handover
{
    /**
     * @param  list<Fields>  $acts
     * @param  bool|null  $returned  null: it is still being worked on, or was left
     */
    public function __construct(public array $acts, public ?bool $returned) {}
}
