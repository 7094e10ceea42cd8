<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasOne;

/** What was agreed for a job, by whom, how, in the words that were put to them. */
final class Consent extends Row
{
    public const HOW = ['counter', 'phone', 'message'];

    public $timestamps = false;

    protected $table = 'consents';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['terms' => 'array', 'words' => 'array', 'taken_at' => 'immutable_datetime'];
    }

    /** @return HasOne<ConsentPerson, $this> */
    public function said(): HasOne
    {
        return $this->hasOne(ConsentPerson::class);
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'taken_by');
    }
}
