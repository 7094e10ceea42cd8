<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUuids;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** A picture of a job, named by who took it; what is marked on it is data beside it, and the picture stays as it came. */
final class Photo extends Row
{
    use HasUuids;

    /** What it shows; empty where nobody said. */
    public const ABOUT = ['', 'side', 'label', 'connector', 'damage', 'seal', 'inside', 'step', 'display'];

    public $timestamps = false;

    protected $table = 'photos';

    protected $attributes = ['marks' => '[]', 'about' => '', 'note' => '', 'on_report' => false, 'removed' => false, 'version' => 1];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'marks' => 'array',
            'on_report' => 'boolean',
            'removed' => 'boolean',
            'taken_at' => 'immutable_datetime',
            'received_at' => 'immutable_datetime',
        ];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'taken_by');
    }
}
