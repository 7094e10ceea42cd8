<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** One group of a pack that was topped up where it stands: what was measured before, how it ended, and how the pack went back. */
final class Topping extends Row
{
    public $timestamps = false;

    protected $table = 'toppings';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'plan' => 'array',
            'begun' => 'array',
            'ended' => 'array',
            'joined' => 'array',
            'begun_at' => 'immutable_datetime',
            'ended_at' => 'immutable_datetime',
            'joined_at' => 'immutable_datetime',
        ];
    }

    /** @return BelongsTo<Pack, $this> */
    public function pack(): BelongsTo
    {
        return $this->belongsTo(Pack::class);
    }

    /** @return BelongsTo<Person, $this> */
    public function begunBy(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'begun_by');
    }
}
