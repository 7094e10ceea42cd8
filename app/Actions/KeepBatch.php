<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Batch;
use App\Models\Job;
use App\Models\PackModel;
use App\Models\Person;
use Illuminate\Database\Eloquent\Collection;
use Illuminate\Support\Facades\DB;

/** What a shop says of a lot: supplies, places, hours, prices; and the figures of one of its packs for all that are open. */
final class KeepBatch
{
    /** Of a pack: what is the same in all of a lot. */
    private const SHARED = ['parallel', 'label', 'cell', 'bms', 'charger', 'load'];

    public function __construct(private readonly EditIntake $edit) {}

    /** @param  array<string, mixed>  $data */
    public function edit(Person $person, Batch $batch, array $data, ?string $version): Batch
    {
        return DB::transaction(function () use ($batch, $data, $version, $person): Batch {
            Version::lock($batch, $version, array_keys($data));
            $batch->fill($data);
            $batch->version++;
            $batch->save();
            EventLog::add($person, null, EventKind::BatchEdited, ['batch' => $batch->id, 'fields' => array_keys($data)]);

            return $batch;
        });
    }

    /**
     * What was found out of one pack, its board's limits and its cells, and its sheets, becomes that of every other that is open.
     *
     * @return int jobs that it was written to
     *
     * @throws Refused the job is none of this lot
     */
    public function share(Person $person, Batch $batch, int $from): int
    {
        return DB::transaction(function () use ($person, $batch, $from): int {
            $first = Job::query()->where('batch_id', $batch->id)->whereKey($from)->first();
            if ($first === null) {
                throw new Refused('other-lot', 'This is no pack of this lot.', 422, ['job' => 'No pack of this lot.']);
            }
            $shared = array_intersect_key($first->pack, array_flip(self::SHARED));
            $written = 0;
            /** @var Collection<int, Job> $others */
            $others = Job::query()
                ->where('batch_id', $batch->id)
                ->where('status', 'open')
                ->where('id', '!=', $first->id)
                ->orderBy('id')
                ->get();
            foreach ($others as $job) {
                $pack = array_replace($job->pack, $shared);
                if ($pack != $job->pack) {
                    $this->edit->handle($person, $job, ['pack' => $pack], '*');
                    $written++;
                }
            }
            $this->sheets($person, $first, array_values(array_map(fn(Job $j): int => $j->id, $others->all())));
            $batch->update(['pack' => array_replace($batch->pack, $shared), 'version' => $batch->version + 1]);
            PackModel::query()
                ->whereKey($batch->pack_model_id)
                ->get()
                ->each(fn(PackModel $m) => $m->update(['spec' => array_replace($m->spec, $shared)]));
            EventLog::add($person, null, EventKind::BatchShared, ['batch' => $batch->id, 'from' => $first->id, 'jobs' => $written]);

            return $written;
        });
    }

    /**
     * Sheets of a build go along where another has none of its own.
     *
     * @param  list<int>  $to
     */
    private function sheets(Person $person, Job $first, array $to): void
    {
        foreach (
            DB::table('job_sheets')
                ->where('job_id', $first->id)
                ->get(['kind', 'data'])
            as $sheet
        ) {
            $has = DB::table('job_sheets')->whereIn('job_id', $to)->where('kind', $sheet->kind)->pluck('job_id')->all();
            DB::table('job_sheets')->insert(
                array_map(
                    fn(int $id): array => [
                        'job_id' => $id,
                        'kind' => $sheet->kind,
                        'data' => $sheet->data,
                        'kept_by' => $person->id,
                        'kept_at' => now()->format('Y-m-d H:i:s.u'),
                    ],
                    array_values(array_diff($to, $has)),
                ),
            );
        }
    }
}
