<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\BenchTest;
use App\Models\Job;
use App\Models\Person;
use App\Models\TestLog;
use Ramsey\Uuid\Uuid;

/** A log of a pack or a group that counts is a capacity test of the job's record: the verdict and the proof use it. Once for a log. */
final class PutCapacity
{
    public static function idOf(TestLog $log): string
    {
        return Uuid::uuid5(Uuid::NAMESPACE_URL, "heartwood:log:$log->id")->toString();
    }

    public function handle(Person $person, TestLog $log): void
    {
        $c = $log->figures['capacity'] ?? null;
        $job = Job::query()
            ->whereKey($log->job_id ?? 0)
            ->first();
        $id = self::idOf($log);
        if ($job === null || !is_array($c) || ($c['counts'] ?? false) !== true || BenchTest::query()->whereKey($id)->exists()) {
            return;
        }
        BenchTest::query()->create([
            'id' => $id,
            'workshop_id' => $log->workshop_id,
            'job_id' => $job->id,
            'revision' => $job->revision,
            'kind' => 'capacity',
            'taken_by' => $person->id,
            'taken_at' => now(),
            'received_at' => now(),
            'data' => array_filter(
                [
                    'scope' => $log->group_no === null ? 'pack' : ['group' => $log->group_no],
                    'measured_ah' => $c['ah'],
                    'rate_a' => $c['amps'],
                    'started_full' => true,
                    'ambient_c' => $c['temperature_c'] ?? null,
                ],
                fn(mixed $x): bool => $x !== null,
            ),
        ]);
        EventLog::add($person, $job, EventKind::Test, ['kind' => 'capacity', 'log' => $log->id]);
    }
}
