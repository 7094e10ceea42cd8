<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** The look at a joint some days after it was set: due, or done with what it read. */
final class JointCheck extends Row
{
    public $timestamps = false;

    protected $table = 'joint_checks';

    protected $attributes = ['text' => ''];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'mohm' => 'float',
            'now_mohm' => 'float',
            'holds' => 'boolean',
            'due_at' => 'immutable_datetime',
            'done_at' => 'immutable_datetime',
        ];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'done_by');
    }
}
