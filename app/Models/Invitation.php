<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** A word to somebody who is not here yet, or who has lost the password: good once, for a few days. */
final class Invitation extends Row
{
    public const JOIN = 'join';

    public const RESET = 'reset';

    public $timestamps = false;

    protected $table = 'invitations';

    protected $hidden = ['secret_hash'];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'made_at' => 'immutable_datetime',
            'expires_at' => 'immutable_datetime',
            'used_at' => 'immutable_datetime',
            'withdrawn_at' => 'immutable_datetime',
        ];
    }

    public function isOpen(): bool
    {
        return $this->used_at === null && $this->withdrawn_at === null && $this->expires_at->isFuture();
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class);
    }

    /** @return BelongsTo<Workshop, $this> */
    public function workshop(): BelongsTo
    {
        return $this->belongsTo(Workshop::class);
    }
}
