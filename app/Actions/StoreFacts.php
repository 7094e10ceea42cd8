<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\BenchTest;
use App\Models\Event;
use App\Models\Job;
use App\Models\Measurement;
use App\Models\Outbox;
use App\Models\Person;
use App\Models\Reading;
use Carbon\CarbonImmutable;
use Heartwood\Core\Limits\WorkLimits;
use Heartwood\Core\Reading\TypedValue;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Ramsey\Uuid\Uuid;

/**
 * Takes what a bench's outbox sends, in order, each entry in its own transaction together with the outbox's number.
 * An entry seen before is answered as stored; one that cannot be read is refused with the field, and the numbering
 * goes on: the bench keeps it and shows it. Facts are stored in any safety state.
 */
final class StoreFacts
{
    /** Where an entry of each kind lies under its own id. */
    private const TABLES = [
        'measurement' => 'measurements',
        'reading' => 'readings',
        'test' => 'bench_tests',
        'guided' => 'guided_entries',
    ];

    /** What may be done to a pack between readings, and the kind of place it needs ('' for the pack). */
    private const DONE_AT_THE_BENCH = ['retightened' => 'joint', 'group-charged' => 'group', 'balanced' => '', 'sense-unplugged' => ''];

    /**
     * @param  list<array<string, mixed>>  $entries  by rising `seq`
     * @param  CarbonImmutable|null  $sent  now, by the clock that the times of the entries are of; null: it is taken for right
     * @return array{results: list<array<string, mixed>>, last_seq: int}
     *
     * @throws Refused the outbox is another person's, or a number is missing
     */
    public function handle(Person $person, string $outboxId, array $entries, ?CarbonImmutable $sent = null): array
    {
        $late = self::late($sent);
        // The same number in another workshop is another box.
        $box = Outbox::of($person->workshop_id, $outboxId);
        $whose = (clone $box)->value('person_id');
        if ($whose === null) {
            (clone $box)->insertOrIgnore([
                'workshop_id' => $person->workshop_id,
                'id' => $outboxId,
                'person_id' => $person->id,
                'last_seq' => 0,
                'created_at' => now(),
                'updated_at' => now(),
            ]);
            // Of two that begin the same box at once one is first.
            $whose = (clone $box)->value('person_id');
        }
        if ((int) $whose !== $person->id) {
            throw new Refused('other-person', 'These entries were taken by somebody else: they are sent when that person signs in.', 403);
        }
        $results = [];
        foreach ($entries as $entry) {
            $results[] = $this->one($person, $outboxId, ['at' => self::corrected((string) $entry['at'], $late)] + $entry);
        }

        return ['results' => $results, 'last_seq' => (int) (clone $box)->value('last_seq')];
    }

    /** A box of its own for what comes under a number that another entry of its box has. */
    private static function again(string $outboxId, string $id): string
    {
        return Uuid::uuid5($outboxId, $id)->toString();
    }

    /**
     * Which of these are not here: asked by a bench that finds this server further back than it was.
     *
     * @param  list<array{id: string, kind: string, job_id: int}>  $entries
     * @return list<string> ids
     */
    public function missing(Person $person, array $entries): array
    {
        $ids = fn(string $kind): array => array_column(array_filter($entries, fn(array $e): bool => $e['kind'] === $kind), 'id');
        $here = [];
        foreach (self::TABLES as $kind => $table) {
            array_push($here, ...DB::table($table)->whereIn('id', $ids($kind))->pluck('id')->all());
        }
        $events = $ids('event');
        if ($events !== []) {
            $kept = Event::query()
                ->where('workshop_id', $person->workshop_id)
                ->where('kind', EventKind::PackEvent)
                ->whereIn('job_id', array_unique(array_column($entries, 'job_id')))
                ->pluck('data');
            array_push($here, ...array_filter(array_map(fn(mixed $d): string => (string) (((array) $d)['entry'] ?? ''), $kept->all())));
        }

        return array_values(array_diff(array_column($entries, 'id'), $here));
    }

    /**
     * @param  array<string, mixed>  $entry
     * @return array<string, mixed>
     */
    private function one(Person $person, string $outboxId, array $entry): array
    {
        $seq = (int) $entry['seq'];

        return DB::transaction(function () use ($person, $outboxId, $entry, $seq): array {
            $box = Outbox::of($person->workshop_id, $outboxId);
            $last = (int) (clone $box)->lockForUpdate()->value('last_seq');
            $answer = ['seq' => $seq, 'id' => $entry['id'], 'status' => 'stored', 'errors' => (object) []];
            if ($seq > $last + 1) {
                throw new Refused('gap', sprintf('Entry %d came before entry %d: send from %d.', $seq, $last + 1, $last + 1));
            }
            // What is here is here by its own id, whatever number it came under: a number alone says nothing after this server, or a
            // bench, was set back.
            $known = $this->isStored($person, $entry);
            $errors =
                $known === true
                    ? []
                    : ($known === null
                        ? ['id' => 'This entry carries the id of another one: it is kept here, type it again.']
                        : $this->store($person, $seq > $last ? $outboxId : self::again($outboxId, (string) $entry['id']), $entry));
            if ($seq > $last) {
                (clone $box)->update(['last_seq' => $seq, 'updated_at' => now()]);
            }
            if ($known === true) {
                return ['status' => 'duplicate'] + $answer;
            }
            if ($errors === [] && $entry['kind'] === 'test') {
                KeepLotFacts::of(Job::query()->findOrFail((int) $entry['job_id']));
            }

            return $errors === [] ? $answer : ['status' => 'refused', 'errors' => (object) $errors] + $answer;
        });
    }

    /** Seconds that a bench's clock is behind this one; what a network takes is not told from it, and left. */
    private static function late(?CarbonImmutable $sent): float
    {
        $late = $sent === null ? 0.0 : $sent->diffInMilliseconds(CarbonImmutable::now()) / 1000;

        return abs($late) <= WorkLimits::CLOCK_S ? 0.0 : $late;
    }

    private static function corrected(string $at, float $late): string
    {
        return $late === 0.0
            ? $at
            : CarbonImmutable::parse($at)->addMilliseconds((int) round($late * 1000))->toIso8601ZuluString('millisecond');
    }

    /**
     * Whether this very entry is stored; null when its id belongs to another one, of another job or workshop: that is
     * never answered as if it were stored.
     *
     * @param  array<string, mixed>  $entry
     */
    private function isStored(Person $person, array $entry): ?bool
    {
        if ($entry['kind'] === 'event') {
            return Event::query()
                ->where('workshop_id', $person->workshop_id)
                ->where('job_id', $entry['job_id'])
                ->where('kind', EventKind::PackEvent)
                ->where('data->entry', $entry['id'])
                ->exists();
        }
        $table = self::TABLES[$entry['kind']] ?? null;
        $row =
            $table === null
                ? null
                : DB::table($table)
                    ->where('id', $entry['id'])
                    ->first(['workshop_id', 'job_id', 'taken_by']);

        return $row === null
            ? false
            : ($row->workshop_id === $person->workshop_id && $row->job_id === (int) $entry['job_id'] && $row->taken_by === $person->id
                ? true
                : null);
    }

    /**
     * @param  array<string, mixed>  $entry
     * @return array<string, string> field errors, empty when stored
     */
    private function store(Person $person, string $outboxId, array $entry): array
    {
        $job = Job::query()->where('workshop_id', $person->workshop_id)->whereKey($entry['job_id'])->first();
        if ($job === null) {
            return ['job_id' => 'This job does not exist in your workshop.'];
        }
        $base = [
            'id' => $entry['id'],
            'workshop_id' => $job->workshop_id,
            'job_id' => $job->id,
            'taken_by' => $person->id,
            'taken_at' => CarbonImmutable::parse($entry['at'])->utc(),
            'received_at' => now(),
        ];
        $data = $entry['data'] ?? [];

        return match ($entry['kind']) {
            'measurement' => $this->measurement($job, $base, $data),
            'reading' => $this->reading($job, $base, $data, $outboxId, (int) $entry['seq']),
            'test' => $this->test($person, $job, $base, $data),
            'event' => $this->event($person, $job, $base, $data),
            'guided' => (new GuideRun())->entry($job, $base, $data),
            default => ['kind' => 'Measurement, reading, test, event or guided.'],
        };
    }

    /**
     * @param  array<string, mixed>  $base
     * @param  array<string, mixed>  $data
     * @return array<string, string>
     */
    private function measurement(Job $job, array $base, array $data): array
    {
        $errors = FactCheck::errors('measurement', ['id' => $base['id']] + $data, $job);
        if ($errors === []) {
            $condition = $data['condition'];
            unset($data['condition'], $data['readings'], $data['id'], $data['at'], $data['revision']);
            Measurement::query()->create($base + ['revision' => $job->revision, 'condition' => $condition, 'data' => $data]);
        }

        return $errors;
    }

    /**
     * @param  array<string, mixed>  $base
     * @param  array<string, mixed>  $data
     * @return array<string, string>
     */
    private function reading(Job $job, array $base, array $data, string $outboxId, int $seq): array
    {
        $errors = [];
        $measurement = Str::isUuid($data['measurement_id'] ?? null)
            ? Measurement::query()->where('job_id', $job->id)->whereKey($data['measurement_id'])->first()
            : null;
        if ($measurement === null) {
            $errors['measurement_id'] = 'The set of this reading has not arrived.';
        }
        $corrects = $data['corrects_id'] ?? null;
        if (
            $corrects !== null &&
            !(Str::isUuid($corrects) && Reading::query()->where('job_id', $job->id)->where('id', $corrects)->exists())
        ) {
            $errors['corrects_id'] = 'The reading that this corrects does not exist.';
        }
        $typed = trim((string) ($data['typed'] ?? ''));
        $value = TypedValue::parse($typed);
        if ($value === null && !($typed === '' && $corrects !== null)) {
            $errors['typed'] = 'This is not a number: type volts such as 3.71.';
        }
        if ($value !== null) {
            $fact = ['from' => $data['from'] ?? '', 'to' => $data['to'] ?? '', 'v' => $value->volts];
            $errors += FactCheck::errors('reading', $fact, $job);
        }
        if ($errors !== [] || $measurement === null) {
            return $errors;
        }
        Reading::query()->create(
            $base + [
                'measurement_id' => $measurement->id,
                'from_point' => $data['from'],
                'to_point' => $data['to'],
                'typed' => mb_substr($typed, 0, 40),
                'value' => $value?->volts,
                'resolution_v' => $value?->resolutionV,
                'corrects_id' => $corrects,
                'outbox_id' => $outboxId,
                'seq' => $seq,
            ],
        );

        return [];
    }

    /**
     * Something done to the pack between readings. What alters cells or board opens a revision and is a step of the work.
     *
     * @param  array<string, mixed>  $base
     * @param  array<string, mixed>  $data
     * @return array<string, string>
     */
    private function event(Person $person, Job $job, array $base, array $data): array
    {
        $kind = $data['kind'] ?? null;
        $needs = is_string($kind) ? self::DONE_AT_THE_BENCH[$kind] ?? null : null;
        if ($needs === null) {
            return [
                'kind' =>
                    'At the bench: ' .
                    implode(', ', array_keys(self::DONE_AT_THE_BENCH)) .
                    '. A changed cell or board is a step of the work.',
            ];
        }
        $place = $data['where'][$needs] ?? null;
        if ($needs !== '' && (!is_int($place) || $place > $job->series || $place < ($needs === 'group' ? 1 : 0))) {
            return ['where' => $needs === 'group' ? "Which group: 1 to {$job->series}." : "Which joint: its tap, 0 to {$job->series}."];
        }
        $event =
            ['at' => $base['taken_at']->toIso8601ZuluString(), 'kind' => $kind, 'revision' => $job->revision] +
            ($needs === '' ? [] : ['where' => [$needs => $place]]);
        $errors = FactCheck::errors('event', $event, $job);
        if ($errors === []) {
            EventLog::add($person, $job, EventKind::PackEvent, $event + ['entry' => $base['id']]);
        }

        return $errors;
    }

    /**
     * @param  array<string, mixed>  $base
     * @param  array<string, mixed>  $data
     * @return array<string, string>
     */
    private function test(Person $person, Job $job, array $base, array $data): array
    {
        $corrects = $data['corrects_id'] ?? null;
        unset($data['corrects_id']);
        $withdraws = $corrects !== null && !isset($data['kind']);
        if (
            $corrects !== null &&
            !(Str::isUuid($corrects) && BenchTest::query()->where('job_id', $job->id)->where('id', $corrects)->exists())
        ) {
            return ['corrects_id' => 'The test that this corrects does not exist.'];
        }
        $errors = $withdraws ? [] : FactCheck::errors('test', $data, $job);
        if ($errors === []) {
            $kind = $data['kind'] ?? (string) BenchTest::query()->where('id', $corrects)->value('kind');
            unset($data['kind'], $data['at'], $data['revision']);
            BenchTest::query()->create(
                $base + ['revision' => $job->revision, 'kind' => $kind, 'data' => $data, 'corrects_id' => $corrects],
            );
            EventLog::add($person, $job, EventKind::Test, ['kind' => $kind]);
        }

        return $errors;
    }
}
