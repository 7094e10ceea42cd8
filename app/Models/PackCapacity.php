<?php

declare(strict_types=1);

namespace App\Models;

/** What the groups of a pack hold, as it was measured and told. Never altered: what was measured later counts. */
final class PackCapacity extends Row
{
    public $timestamps = false;

    public $incrementing = false;

    protected $keyType = 'string';

    protected $table = 'pack_capacities';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['at' => 'immutable_datetime', 'told_at' => 'immutable_datetime', 'groups_ah' => 'array'];
    }
}
