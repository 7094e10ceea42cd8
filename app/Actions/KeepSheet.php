<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\Person;
use App\Read\Sheets;
use Illuminate\Support\Facades\DB;

/** Keeps what was entered for a sheet of a build. */
final class KeepSheet
{
    public const KINDS = ['budget', 'layout'];

    /**
     * @param  'budget'|'layout'  $kind
     * @param  array<string, mixed>  $data
     *
     * @throws Refused it cannot be worked out, with its field
     */
    public function handle(Person $person, Job $job, string $kind, array $data): void
    {
        // Worked out before it is kept: what cannot be read is refused with its field.
        $kind === 'budget' ? Sheets::budget($job, $data) : Sheets::layout($job, $data);
        DB::transaction(function () use ($person, $job, $kind, $data): void {
            Gatekeeper::open(LockJob::now($job));
            DB::table('job_sheets')->updateOrInsert(
                ['job_id' => $job->id, 'kind' => $kind],
                ['data' => json_encode((object) $data), 'kept_by' => $person->id, 'kept_at' => now()->format('Y-m-d H:i:s.u')],
            );
            EventLog::add($person, $job, EventKind::from("$kind-kept"));
        });
    }
}
