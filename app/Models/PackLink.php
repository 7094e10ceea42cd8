<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** Lets whoever holds it see one pack in plain words and tell its readings, without an account, until it is withdrawn. */
final class PackLink extends Row
{
    public $timestamps = false;

    protected $table = 'pack_links';

    protected $hidden = ['hash'];

    protected $attributes = ['entries' => 0];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['opened_at' => 'immutable_datetime', 'ended_at' => 'immutable_datetime', 'used_at' => 'immutable_datetime'];
    }

    /** @return BelongsTo<Pack, $this> */
    public function pack(): BelongsTo
    {
        return $this->belongsTo(Pack::class);
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'opened_by');
    }
}
