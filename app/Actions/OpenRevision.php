<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\PackRevision;
use App\Models\Person;

/** Opens the next revision of a pack: from now on evidence and verdicts belong to the pack as it is after the change. */
final class OpenRevision
{
    public static function next(Person $person, Job $job, string $reason): void
    {
        $job->revision = $job->revision + 1;
        self::write($person, $job, $reason);
        EventLog::add($person, $job, EventKind::Revision, ['number' => $job->revision, 'reason' => $reason]);
    }

    public static function write(Person $person, Job $job, string $reason): void
    {
        PackRevision::query()->create([
            'job_id' => $job->id,
            'number' => $job->revision,
            'reason' => $reason,
            'opened_by' => $person->id,
            'opened_at' => now(),
        ]);
    }
}
