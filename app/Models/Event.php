<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** The append-only log. */
final class Event extends Row
{
    public $timestamps = false;

    protected $table = 'events';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['data' => 'array', 'at' => 'immutable_datetime'];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'person_id');
    }
}
