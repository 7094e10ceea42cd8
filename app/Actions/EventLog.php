<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Cell;
use App\Models\Event;
use App\Models\Job;
use App\Models\Person;
use App\Models\Run;
use Illuminate\Support\Facades\DB;

/** The one writer of the append-only logs: who did what to which job, and to which cell. */
final class EventLog
{
    private const ROWS_AT_ONCE = 200;

    /** @param  array<string, mixed>  $data  with the facts that its kind must carry */
    public static function add(Person $person, ?Job $job, EventKind $kind, array $data = []): void
    {
        self::many($person->workshop_id, $person->id, $job?->id, $kind, [$data]);
    }

    /**
     * What a run did by itself counts as done by whoever started it.
     *
     * @param  array<string, mixed>  $data
     */
    public static function ofRun(Run $run, EventKind $kind, array $data): void
    {
        self::many($run->workshop_id, $run->started_by, $run->job_id, $kind, [$data]);
    }

    /** @param  list<array<string, mixed>>  $each  the data of one event each */
    public static function many(int $workshop, int $person, ?int $job, EventKind $kind, array $each): void
    {
        $at = now();
        foreach ($each as $data) {
            $missing = array_diff($kind->facts(), array_keys($data));
            if ($missing !== []) {
                throw new \LogicException("the event {$kind->value} is written without " . implode(', ', $missing));
            }
        }
        foreach (array_chunk($each, self::ROWS_AT_ONCE) as $rows) {
            Event::query()->insert(
                array_map(
                    fn(array $data): array => [
                        'workshop_id' => $workshop,
                        'job_id' => $job,
                        'person_id' => $person,
                        'kind' => $kind->value,
                        'data' => json_encode($data === [] ? (object) [] : $data, JSON_THROW_ON_ERROR),
                        'at' => $at->format('Y-m-d H:i:s.u'),
                    ],
                    $rows,
                ),
            );
        }
    }

    /** @param  array<string, mixed>  $data */
    public static function ofCell(Cell $cell, Person $person, string $kind, array $data): void
    {
        DB::table('cell_events')->insert([
            'cell_id' => $cell->id,
            'person_id' => $person->id,
            'kind' => $kind,
            'data' => json_encode((object) $data, JSON_THROW_ON_ERROR),
            'at' => now()->format('Y-m-d H:i:s.u'),
        ]);
    }
}
