<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** What a person entered for an acceptance check; the latest counts. Immutable. */
final class ProofEntry extends Row
{
    public $timestamps = false;

    protected $table = 'proof_entries';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['data' => 'array', 'entered_at' => 'immutable_datetime'];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'entered_by');
    }
}
