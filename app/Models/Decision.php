<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** Which option was chosen, why, at what quote. Immutable. */
final class Decision extends Row
{
    public $timestamps = false;

    protected $table = 'decisions';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['option' => 'array', 'quote' => 'array', 'decided_at' => 'immutable_datetime'];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'decided_by');
    }
}
