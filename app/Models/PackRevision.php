<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** Opened by each repair step that alters cells, joints or board; evidence belongs to one revision. */
final class PackRevision extends Row
{
    public $timestamps = false;

    protected $table = 'pack_revisions';

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['opened_at' => 'immutable_datetime'];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'opened_by');
    }
}
