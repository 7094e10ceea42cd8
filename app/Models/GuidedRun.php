<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** A guided run of a job: under way, or ended with what it came to. Its state is what was typed, and no more. */
final class GuidedRun extends Row
{
    public $timestamps = false;

    protected $table = 'guided_runs';

    protected $attributes = ['next_text' => '', 'left_reason' => ''];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'scope' => 'array',
            'outcome' => 'array',
            'started_at' => 'immutable_datetime',
            'waits_until' => 'immutable_datetime',
            'ended_at' => 'immutable_datetime',
        ];
    }

    /** @return BelongsTo<Job, $this> */
    public function job(): BelongsTo
    {
        return $this->belongsTo(Job::class);
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'started_by');
    }

    /** @return BelongsTo<Person, $this> */
    public function ender(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'ended_by');
    }
}
