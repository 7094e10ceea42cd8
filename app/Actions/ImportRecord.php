<?php

declare(strict_types=1);

namespace App\Actions;

use App\Contract\RecordReader;
use App\Models\BenchTest;
use App\Models\Job;
use App\Models\Measurement;
use App\Models\Outbox;
use App\Models\Person;
use App\Models\Reading;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

/** A job record becomes a job: all of it or nothing. Evidence keeps its revisions and its times. */
final class ImportRecord
{
    /** @throws \Heartwood\Core\Record\InvalidRecord with every problem by pointer */
    public function handle(Person $person, string $json, string $customer): Job
    {
        $input = RecordReader::read($json);
        $data = $input['data'];

        return DB::transaction(function () use ($person, $data, $customer): Job {
            $pack = $data['pack'];
            $job = (new OpenJob)->handle($person, [
                'customer' => $customer, 'name' => ($pack['name'] ?? '') !== '' ? $pack['name'] : 'Imported pack', 'pack' => $pack,
                'complaint' => $data['inspection']['notes'] ?? '', 'symptoms' => $data['symptoms'] ?? [], 'inspection' => $data['inspection'] ?? [],
            ]);
            if (isset($data['workshop'])) {
                $job->workshop_notes = (string) json_encode($data['workshop']);
            }
            for ($n = 2, $last = $data['revision'] ?? 1; $n <= $last; $n++) {
                OpenRevision::next($person, $job, 'imported');
            }
            $job->save();
            $outbox = Outbox::query()->create(['id' => (string) Str::uuid7(), 'person_id' => $person->id, 'last_seq' => 0]);
            $seq = 0;
            foreach ($data['measurements'] ?? [] as $m) {
                $at = isset($m['at']) ? CarbonImmutable::parse($m['at'])->utc() : CarbonImmutable::now();
                $measurement = Measurement::query()->create([
                    'id' => (string) Str::uuid7(), 'workshop_id' => $job->workshop_id, 'job_id' => $job->id, 'revision' => $m['revision'] ?? 1, 'condition' => $m['condition'],
                    'data' => array_diff_key($m, ['id' => 1, 'at' => 1, 'revision' => 1, 'condition' => 1, 'readings' => 1]), 'taken_by' => $person->id, 'taken_at' => $at, 'received_at' => now(),
                ]);
                foreach ($m['readings'] ?? [] as $r) {
                    Reading::query()->create([
                        'id' => (string) Str::uuid7(), 'workshop_id' => $job->workshop_id, 'job_id' => $job->id, 'measurement_id' => $measurement->id,
                        'from_point' => $r['from'], 'to_point' => $r['to'], 'typed' => (string) $r['v'], 'value' => $r['v'], 'resolution_v' => $r['resolution_v'] ?? null,
                        'taken_by' => $person->id, 'taken_at' => $at, 'received_at' => now(), 'outbox_id' => $outbox->id, 'seq' => ++$seq,
                    ]);
                }
            }
            foreach ($data['tests'] ?? [] as $t) {
                BenchTest::query()->create([
                    'id' => (string) Str::uuid7(), 'workshop_id' => $job->workshop_id, 'job_id' => $job->id, 'revision' => $t['revision'] ?? 1, 'kind' => $t['kind'],
                    'data' => array_diff_key($t, ['kind' => 1, 'at' => 1, 'revision' => 1]), 'taken_by' => $person->id,
                    'taken_at' => isset($t['at']) ? CarbonImmutable::parse($t['at'])->utc() : now(), 'received_at' => now(),
                ]);
            }
            foreach ($data['events'] ?? [] as $event) {
                EventLog::add($person, $job, 'pack-event', $event);
            }
            $outbox->update(['last_seq' => $seq]);
            EventLog::add($person, $job, 'imported', ['readings' => $seq]);

            return $job;
        });
    }
}
