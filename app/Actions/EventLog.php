<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Event;
use App\Models\Job;
use App\Models\Person;

/** The append-only log: who did what to which job. */
final class EventLog
{
    /** @param  array<string, mixed>  $data */
    public static function add(Person $person, ?Job $job, string $kind, array $data = []): void
    {
        Event::query()->create([
            'workshop_id' => $person->workshop_id, 'job_id' => $job?->id, 'person_id' => $person->id,
            'kind' => $kind, 'data' => $data, 'at' => now(),
        ]);
    }
}
