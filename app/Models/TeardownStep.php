<?php

declare(strict_types=1);

namespace App\Models;

use Heartwood\Core\Teardown\Part;
use Heartwood\Core\Teardown\Step;
use Illuminate\Database\Eloquent\Concerns\HasUuids;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** One thing that came off a pack of a job, and how it went back. */
final class TeardownStep extends Row
{
    use HasUuids;

    public $timestamps = false;

    protected $table = 'teardown_steps';

    protected $attributes = [
        'place' => '',
        'tool' => '',
        'lay' => '',
        'remark' => '',
        'hidden' => false,
        'back_note' => '',
        'version' => 1,
    ];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'hidden' => 'boolean',
            'volts' => 'float',
            'minutes' => 'float',
            'taken_at' => 'immutable_datetime',
            'back_at' => 'immutable_datetime',
        ];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class, 'taken_by');
    }

    /** @return BelongsTo<Job, $this> */
    public function job(): BelongsTo
    {
        return $this->belongsTo(Job::class);
    }

    public function forRules(): Step
    {
        return new Step(
            $this->id,
            Part::from($this->part),
            (int) $this->count,
            $this->what,
            $this->place,
            $this->remark,
            (bool) $this->hidden,
            $this->volts,
            $this->photo_id,
            $this->minutes,
            $this->tool,
            $this->lay,
        );
    }
}
