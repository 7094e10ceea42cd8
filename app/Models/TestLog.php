<?php

declare(strict_types=1);

namespace App\Models;

/** A tester's log: its figures, how it was read, and the hash under which the file itself is kept. */
final class TestLog extends Row
{
    public $timestamps = false;

    protected $table = 'logs';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['mapping' => 'array', 'figures' => 'array', 'imported_at' => 'immutable_datetime'];
    }
}
