<?php

declare(strict_types=1);

namespace App\Models;

/** A bench's outbox: one person, numbered without gaps. */
final class Outbox extends Row
{
    public $timestamps = true;

    protected $table = 'outboxes';

    public $incrementing = false;

    protected $keyType = 'string';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [];
    }
}
