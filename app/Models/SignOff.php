<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** The proof of one revision, signed. Immutable. */
final class SignOff extends Row
{
    public $timestamps = false;

    protected $table = 'sign_offs';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['results' => 'array', 'signed_at' => 'immutable_datetime'];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'signed_by');
    }
}
