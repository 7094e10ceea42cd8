<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\BenchTest;
use App\Models\Event;
use App\Models\Job;
use App\Models\Measurement;
use Illuminate\Support\Collection;

/** The job record (heartwood.job) of a job as the database holds it: corrected readings replaced, withdrawn ones left out. */
final class BuildRecord
{
    /**
     * @param  Collection<int, Measurement>  $measurements
     * @param  array<string, list<ReadingRow>>  $live  readings that count, by set
     * @param  Collection<int, BenchTest>  $tests
     * @param  Collection<int, Event>|null  $events  those of kind pack-event: retightened, group-charged ...
     * @return array<string, mixed>
     */
    public static function from(Job $job, Collection $measurements, array $live, Collection $tests, ?Collection $events = null): array
    {
        $record = [
            'format' => 'heartwood.job',
            'version' => 1,
            'pack' => $job->pack,
            'symptoms' => $job->symptoms,
            'inspection' => $job->inspection,
            'revision' => $job->revision,
            'events' => ($events ?? collect())->map(fn(Event $e): array => array_diff_key($e->data, ['entry' => 1]))->values()->all(),
            'measurements' => $measurements
                ->map(
                    fn(Measurement $m): array => [
                        'id' => $m->id,
                        'at' => $m->taken_at->toIso8601ZuluString(),
                        'revision' => $m->revision,
                        'condition' => $m->condition,
                        ...$m->data,
                        'readings' => array_map(fn(ReadingRow $r): array => $r->recorded(), $live[$m->id] ?? []),
                    ],
                )
                ->values()
                ->all(),
            'tests' => self::live($tests)
                ->map(
                    fn(BenchTest $t): array => [
                        'kind' => $t->kind,
                        'at' => $t->taken_at->toIso8601ZuluString(),
                        'revision' => $t->revision,
                        ...$t->data,
                    ],
                )
                ->values()
                ->all(),
        ];

        return array_filter(
            $record,
            fn(mixed $v, string $k): bool => $v !== [] || in_array($k, ['measurements', 'tests'], true),
            ARRAY_FILTER_USE_BOTH,
        );
    }

    /** @return array<string, mixed> */
    public static function of(Job $job): array
    {
        return self::from($job, $job->measurements()->get(), ReadingRow::live($job), $job->benchTests()->get(), self::packEvents($job));
    }

    /** @return Collection<int, Event> */
    public static function packEvents(Job $job): Collection
    {
        return Event::query()->where('job_id', $job->id)->where('kind', EventKind::PackEvent)->orderBy('id')->get();
    }

    /**
     * Tests that nothing corrects and that withdraw nothing.
     *
     * @param  Collection<int, BenchTest>  $entries
     * @return Collection<int, BenchTest>
     */
    public static function live(Collection $entries): Collection
    {
        $corrected = $entries->pluck('corrects_id')->filter()->flip();

        return $entries->filter(fn(BenchTest $e): bool => !$corrected->has($e->id) && $e->data !== []);
    }
}
