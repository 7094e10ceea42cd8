<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** One line of the work checklist. */
final class WorkStep extends Row
{
    public $timestamps = false;

    protected $table = 'work_steps';

    protected $attributes = ['skipped' => ''];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return ['step' => 'array', 'done_at' => 'immutable_datetime', 'started_at' => 'immutable_datetime'];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'done_by');
    }
}
