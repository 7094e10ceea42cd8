<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\Measurement;
use Heartwood\Core\Reading\LiveCheck;
use Heartwood\Core\Record\JobRecord;

/** What core makes of one set while it is being taken: group voltages so far, and what to question at once. */
final class CheckReadings
{
    /** @return array<string, mixed> */
    public static function of(Job $job, string $measurementId): array
    {
        $measurements = Measurement::query()->where('job_id', $job->id)->where('id', $measurementId)->get();
        $record = BuildRecord::from($job, $measurements, ReadingRow::live($job, $measurementId), collect());
        $record['revision'] = $measurements->first()->revision ?? $job->revision;

        return ['measurement_id' => $measurementId] + LiveCheck::of(JobRecord::fromArray($record));
    }
}
