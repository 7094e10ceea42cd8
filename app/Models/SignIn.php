<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** One person at one bench, from signing in until the end: the session's own limits are kept here, not in a cookie. */
final class SignIn extends Row
{
    public $timestamps = false;

    public $incrementing = false;

    protected $keyType = 'string';

    protected $table = 'sign_ins';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'opened_at' => 'immutable_datetime',
            'started_at' => 'immutable_datetime',
            'seen_at' => 'immutable_datetime',
            'proved_at' => 'immutable_datetime',
            'ended_at' => 'immutable_datetime',
        ];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class);
    }
}
