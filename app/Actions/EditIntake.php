<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\Person;
use Illuminate\Support\Facades\DB;

/** Corrects what is known of the pack; the log keeps what it was before. */
final class EditIntake
{
    /** @param  array{name?: string, serial?: string, batch?: string, complaint?: string, pack?: array<string, mixed>}  $data */
    public function handle(Person $person, Job $job, array $data, ?string $version): Job
    {
        return DB::transaction(function () use ($person, $job, $data, $version): Job {
            Version::lock($job, $version, array_keys($data));
            Gatekeeper::open($job);
            if (isset($data['pack']) && (int) $data['pack']['series'] !== $job->series && $job->readings()->exists()) {
                throw new Refused(
                    'has-readings',
                    'The number of groups is fixed once groups have been read: open a new job for a different pack.',
                );
            }
            $before = $job->only(['name', 'serial', 'batch', 'complaint', 'pack']);
            $job->fill(array_intersect_key($data, ['name' => 1, 'serial' => 1, 'batch' => 1, 'complaint' => 1]));
            if (isset($data['pack'])) {
                $job->pack = array_replace($data['pack'], ['name' => $job->name]);
                $job->fill([
                    'chemistry' => $data['pack']['chemistry'],
                    'series' => $data['pack']['series'],
                    'parallel' => $data['pack']['parallel'] ?? null,
                ]);
            }
            $job->version++;
            $job->save();
            KeepPack::of($job);
            EventLog::add($person, $job, EventKind::IntakeEdited, ['before' => $before]);

            return (new AssessSafety())->handle($person, $job, [], null);
        });
    }
}
