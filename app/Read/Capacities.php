<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\PutCapacity;
use App\Models\BenchTest;
use App\Models\Job;
use App\Models\TestLog;
use Heartwood\Core\Log\CapacityHistory;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Illuminate\Database\Eloquent\Collection;

/** What a pack gave, in this job and in every earlier one with its serial, beside its label; and the logs of this job. */
final class Capacities
{
    /** @return array{history: array<string, mixed>, logs: list<TestLog>} */
    public static function of(Job $job): array
    {
        $pack = PackSpec::from(new Fields($job->pack));
        $jobs = Job::query()->where('workshop_id', $job->workshop_id);
        $serial = trim((string) $job->serial);
        $ids = ($serial === '' ? $jobs->whereKey($job->id) : $jobs->where('serial', $serial))->pluck('number', 'id');
        /** @var Collection<int, TestLog> $logs */
        $logs = TestLog::query()->whereIn('job_id', $ids->keys())->orderBy('id')->get();
        $made = $logs->mapWithKeys(fn(TestLog $l): array => [PutCapacity::idOf($l) => $l]);
        $tests = [];
        foreach ($logs as $log) {
            $c = $log->figures['capacity'] ?? null;
            if ($log->group_no === null && is_array($c)) {
                $tests[] = [
                    // When it was tested, where its own time says it; else when it came here.
                    'at' => $log->figures['began_at'] ?? $log->imported_at->toIso8601ZuluString(),
                    'ah' => (float) $c['ah'],
                    'sigma' => CapacityHistory::sigma((float) $c['ah'], true),
                    'counts' => ($c['counts'] ?? false) === true,
                    'from' => $log->name . ($log->job_id === $job->id ? '' : ", job {$ids[$log->job_id]}"),
                ];
            }
        }
        $typed = BenchTest::query()->whereIn('job_id', $ids->keys())->where('kind', 'capacity')->get();
        $gone = $typed->pluck('corrects_id')->filter()->all();
        foreach ($typed as $t) {
            $whole = ($t->data['scope'] ?? 'pack') === 'pack';
            if ($made->has($t->id) || !$whole || in_array($t->id, $gone, true) || !isset($t->data['measured_ah'])) {
                continue;
            }
            $tests[] = [
                'at' => $t->taken_at->toIso8601ZuluString(),
                'ah' => (float) $t->data['measured_ah'],
                'sigma' => CapacityHistory::sigma((float) $t->data['measured_ah'], false),
                'counts' => ($t->data['started_full'] ?? null) === true,
                'from' => 'typed' . ($t->job_id === $job->id ? '' : ", job {$ids[$t->job_id]}"),
            ];
        }

        return [
            'history' => CapacityHistory::of($tests, $pack->label->float('capacity_ah') ?? $pack->groupCapacityAh()),
            'logs' => array_values(array_filter([...$logs], fn(TestLog $l): bool => $l->job_id === $job->id)),
        ];
    }
}
