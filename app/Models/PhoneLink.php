<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** Lets whoever holds it add photos to one job for a while, and nothing else. */
final class PhoneLink extends Row
{
    public $timestamps = false;

    protected $table = 'phone_links';

    protected $hidden = ['hash'];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['opened_at' => 'immutable_datetime', 'expires_at' => 'immutable_datetime', 'ended_at' => 'immutable_datetime'];
    }

    public function isOpen(): bool
    {
        return $this->ended_at === null && $this->expires_at->isFuture();
    }

    /** @return BelongsTo<Job, $this> */
    public function job(): BelongsTo
    {
        return $this->belongsTo(Job::class);
    }
}
