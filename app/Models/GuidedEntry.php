<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** What was typed at one step of a guided run; another may withdraw it, none changes it. */
final class GuidedEntry extends Row
{
    public $timestamps = false;

    public $incrementing = false;

    protected $keyType = 'string';

    protected $table = 'guided_entries';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['data' => 'array', 'left' => 'boolean', 'taken_at' => 'immutable_datetime', 'received_at' => 'immutable_datetime'];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'taken_by');
    }
}
