<?php

declare(strict_types=1);

namespace Tests\Feature;

use App\Models\Job;
use App\Models\Person;
use App\Models\Workshop;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;
use Tests\TestCase;

/** A workshop with its people, and the requests that its screens make. */
final class Workbench
{
    public Workshop $workshop;

    /** @var array<string, Person> */
    public array $people = [];

    public string $outbox;

    public int $seq = 0;

    public function __construct(private readonly TestCase $test)
    {
        $this->workshop = Workshop::query()->create([
            'name' => 'Test bench',
            'settings' => ['rate_cents' => 6000, 'fee_cents' => 2000, 'new_per_wh_cents' => 60.0, 'currency' => 'EUR'],
        ]);
        foreach (['owner', 'senior', 'technician', 'trainee'] as $role) {
            $this->people[$role] = Person::query()->create([
                'workshop_id' => $this->workshop->id,
                'name' => ucfirst($role),
                'email' => $role . Str::random(6) . '@bench.example',
                'password' => 'secret-word',
                'role' => $role,
            ]);
        }
        $this->outbox = (string) Str::uuid7();
    }

    public function as(string $role): self
    {
        $this->test->actingAs($this->people[$role]);

        return $this;
    }

    /** @return list<array<string, mixed>> what stands on the bench */
    public function bench(): array
    {
        return $this->test->getJson('/api/bench')->json('jobs');
    }

    /** @param  array<string, mixed>  $body */
    public function post(string $path, array $body = [], ?string $key = null): TestResponse
    {
        return $this->test->postJson("/api/$path", $body, ['Idempotency-Key' => $key ?? (string) Str::uuid()]);
    }

    /** Whoever looked saw none of it. */
    public const NOTHING = [
        'swollen' => false,
        'leaking' => false,
        'venting' => false,
        'smell' => false,
        'punctured' => false,
        'warm_at_rest' => false,
        'wet' => false,
        'crushed' => false,
        'burnt' => false,
    ];

    /**
     * @param  list<string>  $symptoms
     * @param  array<string, mixed>  $inspection
     * @param  array<string, mixed>  $pack
     * @param  bool  $looked  whether it was looked at, as it came and open: a sound one of plastic
     */
    public function open(array $symptoms = [], array $inspection = [], array $pack = [], bool $looked = true): Job
    {
        $inspection += $looked ? self::NOTHING + ['metal_case' => false] : [];
        $response = $this->post('jobs', [
            'customer' => 'Customer',
            'name' => 'Test pack',
            'symptoms' => $symptoms,
            'inspection' => $inspection,
            'pack' => $pack + ['chemistry' => 'nmc', 'series' => 4, 'parallel' => 3, 'kind' => 'tool', 'cell' => ['capacity_ah' => 2.5]],
        ])->assertCreated();

        $job = Job::query()->findOrFail($response->json('id'));
        if ($looked && $job->safety_state === 'clear') {
            $this->look($job);
        }

        return $job->refresh();
    }

    /** Somebody looks at the open pack. */
    public function look(Job $job, array $more = []): TestResponse
    {
        return $this->post("jobs/{$job->id}/triage", [
            'moment' => 'open',
            'inspection' => $more + self::NOTHING,
            'second_person' => 'Piet',
        ]);
    }

    /** Steps of a teardown as they are typed. */
    public function apart(Job $job, string ...$lines): TestResponse
    {
        return $this->post("jobs/{$job->id}/teardown", [
            'lines' => array_map(fn(string $l): array => ['id' => (string) Str::uuid7(now()), 'line' => $l], $lines),
        ]);
    }

    /**
     * Walks the steps of what was decided: what nothing can prove by a word, the rest left with a reason, as a person would who did it
     * all without the tool.
     */
    public function walk(Job $job): TestResponse
    {
        $answer = $this->test->getJson("/api/jobs/{$job->id}");
        foreach ($answer->json('decision.steps') as $step) {
            $said = match (true) {
                $step['closed_by'] === 'no-current' => ['done' => true, 'entry' => '0.00'],
                $step['word'] => ['done' => true, 'entry' => 'noted'],
                default => ['skip' => 'Done by hand before the tool was asked.'],
            };
            $answer = $this->post("jobs/{$job->id}/steps/{$step['id']}", $said)->assertOk();
        }

        return $answer;
    }

    /** A photo of a job, as a camera makes it. @param array<string, mixed> $more */
    public function photo(Job $job, ?string $file = null, array $more = []): TestResponse
    {
        $file ??= Pictures::jpeg();

        return $this->test->post(
            "/api/jobs/{$job->id}/photos",
            $more + ['id' => (string) Str::uuid7(), 'file' => new UploadedFile($file, 'p.jpg', null, null, true)],
            ['Idempotency-Key' => (string) Str::uuid(), 'Accept' => 'application/json'],
        );
    }

    /** @return array<string, mixed> */
    public function entry(Job $job, string $kind, array $data, ?string $id = null): array
    {
        return [
            'seq' => ++$this->seq,
            'id' => $id ?? (string) Str::uuid7(),
            'kind' => $kind,
            'job_id' => $job->id,
            'at' => now()->toIso8601ZuluString(),
            'data' => $data,
        ];
    }

    /** @param  list<array<string, mixed>>  $entries */
    public function send(array $entries, ?string $check = null): TestResponse
    {
        return $this->test->postJson('/api/outbox', ['outbox_id' => $this->outbox, 'entries' => $entries, 'check' => $check]);
    }

    /** @param  list<float>  $volts across each group, then the whole string */
    public function read(Job $job, array $volts, string $condition = 'rest', float $current = 0.0): string
    {
        $set = (string) Str::uuid7();
        $entries = [
            $this->entry(
                $job,
                'measurement',
                [
                    'condition' => $condition,
                    'current_a' => $current,
                    'rested_min' => 600,
                    'instrument' => ['id' => 'm', 'percent' => 0.5, 'counts' => 2, 'resolution_v' => 0.001],
                ],
                $set,
            ),
        ];
        foreach ($volts as $i => $v) {
            $entries[] = $this->entry($job, 'reading', [
                'measurement_id' => $set,
                'from' => "T$i",
                'to' => 'T' . ($i + 1),
                'typed' => number_format($v, 3),
            ]);
        }
        $entries[] = $this->entry($job, 'reading', [
            'measurement_id' => $set,
            'from' => 'T0',
            'to' => 'T' . count($volts),
            'typed' => number_format(array_sum($volts), 2),
        ]);
        $this->send($entries)->assertOk();

        return $set;
    }
}
