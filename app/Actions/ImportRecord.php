<?php

declare(strict_types=1);

namespace App\Actions;

use App\Contract\RecordReader;
use App\Models\Job;
use App\Models\Outbox;
use App\Models\Person;
use Carbon\CarbonImmutable;
use Heartwood\Core\Record\InvalidRecord;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

/** A job record becomes a job: all of it or nothing. Evidence keeps its revisions and its times. */
final class ImportRecord
{
    private const TIME = 'Y-m-d H:i:s.u';

    private const ROWS_AT_ONCE = 500;

    /** Readings of one record: what is imported and opened in seconds (bench/large). */
    public const MOST_READINGS = 20000;

    /** @throws InvalidRecord with every problem by pointer */
    public function handle(Person $person, string $json, string $customer): Job
    {
        $input = RecordReader::read($json);
        $data = $input['data'];
        $readings = array_sum(array_map(fn(array $m): int => count($m['readings'] ?? []), $data['measurements'] ?? []));
        if ($readings > self::MOST_READINGS) {
            throw new InvalidRecord([
                [
                    'pointer' => '/measurements',
                    'message' => sprintf(
                        '%s readings, and a record may have %s: split it by time, one job each',
                        number_format($readings),
                        number_format(self::MOST_READINGS),
                    ),
                ],
            ]);
        }

        return DB::transaction(function () use ($person, $data, $customer): Job {
            $pack = $data['pack'];
            $job = (new OpenJob())->handle($person, [
                'customer' => $customer,
                'name' => ($pack['name'] ?? '') !== '' ? $pack['name'] : 'Imported pack',
                'pack' => $pack,
                'complaint' => $data['inspection']['notes'] ?? '',
                'symptoms' => $data['symptoms'] ?? [],
                'inspection' => $data['inspection'] ?? [],
            ]);
            if (isset($data['workshop'])) {
                $job->workshop_notes = (string) json_encode($data['workshop']);
            }
            for ($n = 2, $last = $data['revision'] ?? 1; $n <= $last; $n++) {
                OpenRevision::next($person, $job, 'imported');
            }
            $job->save();
            $readings = $this->evidence($person, $job, $data);
            EventLog::many(
                $job->workshop_id,
                $person->id,
                $job->id,
                EventKind::PackEvent,
                array_map(fn(array $e): array => $e + ['at' => now()->toIso8601ZuluString()], array_values($data['events'] ?? [])),
            );
            EventLog::add($person, $job, EventKind::Imported, ['readings' => $readings]);

            return $job;
        });
    }

    /**
     * Readings and tests in statements of many rows each: the time grows with the record, not with its square.
     *
     * @param  array<string, mixed>  $data  a record that was checked
     * @return int how many readings were stored
     */
    private function evidence(Person $person, Job $job, array $data): int
    {
        $now = now()->format(self::TIME);
        $time = fn(mixed $at): string => $at === null ? $now : CarbonImmutable::parse($at)->utc()->format(self::TIME);
        $outbox = (string) Str::uuid7();
        $seq = 0;
        $sets = $readings = [];
        foreach ($data['measurements'] ?? [] as $m) {
            $set = (string) Str::uuid7();
            $at = $time($m['at'] ?? null);
            $base = [
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'taken_by' => $person->id,
                'taken_at' => $at,
                'received_at' => $now,
            ];
            $sets[] = ['id' => $set] +
                $base + [
                    'revision' => $m['revision'] ?? 1,
                    'condition' => $m['condition'],
                    'data' => self::json(array_diff_key($m, ['id' => 1, 'at' => 1, 'revision' => 1, 'condition' => 1, 'readings' => 1])),
                ];
            foreach ($m['readings'] ?? [] as $r) {
                $readings[] = ['id' => (string) Str::uuid7()] +
                    $base + [
                        'measurement_id' => $set,
                        'from_point' => $r['from'],
                        'to_point' => $r['to'],
                        'typed' => mb_substr((string) $r['v'], 0, 40),
                        'value' => $r['v'],
                        'resolution_v' => $r['resolution_v'] ?? null,
                        'outbox_id' => $outbox,
                        'seq' => ++$seq,
                    ];
            }
        }
        $tests = array_map(
            fn(array $t): array => [
                'id' => (string) Str::uuid7(),
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'revision' => $t['revision'] ?? 1,
                'kind' => $t['kind'],
                'data' => self::json(array_diff_key($t, ['kind' => 1, 'at' => 1, 'revision' => 1])),
                'taken_by' => $person->id,
                'taken_at' => $time($t['at'] ?? null),
                'received_at' => $now,
            ],
            $data['tests'] ?? [],
        );
        Outbox::of($job->workshop_id, $outbox)->insert([
            'workshop_id' => $job->workshop_id,
            'id' => $outbox,
            'person_id' => $person->id,
            'last_seq' => $seq,
            'created_at' => $now,
            'updated_at' => $now,
        ]);
        foreach (['measurements' => $sets, 'readings' => $readings, 'bench_tests' => $tests] as $table => $rows) {
            foreach (array_chunk($rows, self::ROWS_AT_ONCE) as $some) {
                DB::table($table)->insert($some);
            }
        }

        return $seq;
    }

    /** @param  array<string, mixed>  $data */
    private static function json(array $data): string
    {
        return json_encode($data, JSON_THROW_ON_ERROR);
    }
}
