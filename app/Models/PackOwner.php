<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** Whose a pack was, and from when to when. */
final class PackOwner extends Row
{
    public $timestamps = false;

    protected $table = 'pack_owners';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['from_at' => 'immutable_datetime', 'to_at' => 'immutable_datetime'];
    }

    /** @return BelongsTo<Customer, $this> */
    public function customer(): BelongsTo
    {
        return $this->belongsTo(Customer::class);
    }
}
