<?php

declare(strict_types=1);

use App\Models\Event;
use App\Models\Job;
use Illuminate\Routing\Route as Address;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Route;
use Illuminate\Support\Str;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('owner');
});

/** @return list<array{string, string}> method and path of every write that may be tried with any body */
function writes(int $job, int $cell, int $customer, int $person): array
{
    $out = [];
    foreach (Route::getRoutes() as $route) {
        /** @var Address $route */
        $method = array_values(array_diff($route->methods(), ['HEAD']))[0];
        if (
            str_starts_with($route->uri(), 'api/') &&
            $method !== 'GET' &&
            $route->uri() !== 'api/simulated-bench' &&
            !($method === 'DELETE' && $route->uri() === 'api/session')
        ) {
            $out[] = [
                $method,
                (string) preg_replace_callback(
                    '/\{(\w+)\}/',
                    fn(array $m): string => (string) ([
                        'job' => $job,
                        'cell' => $cell,
                        'customer' => $customer,
                        'colleague' => $person,
                        'kind' => 'budget',
                    ][$m[1]] ?? 0),
                    $route->uri(),
                ),
            ];
        }
    }

    return $out;
}

it('refuses any body that is not what it should be with a reason, and never breaks', function (): void {
    mt_srand(20261129);
    $job = $this->bench->open();
    $this->bench->read($job, [3.8, 3.8, 3.8, 3.8]);
    $odd = [
        null,
        true,
        [],
        [[]],
        ['a' => ['b' => 'c']],
        '',
        'x',
        str_repeat('ä', 300),
        "\u{0}",
        -1,
        0,
        1e30,
        9999999999999,
        '1e999',
        '<script>',
        ['x', 'y'],
        'not-a-date',
        "'; drop table jobs; --",
        "\u{202E}",
    ];
    $names = [
        'email',
        'password',
        'name',
        'role',
        'active',
        'pack',
        'symptoms',
        'inspection',
        'customer',
        'entries',
        'outbox_id',
        'origin',
        'codes',
        'lot',
        'model',
        'chemistry',
        'rated_ah',
        'state',
        'verdict_id',
        'action',
        'reason',
        'check',
        'data',
        'values',
        'price_cents',
        'from',
        'kind',
        'group',
        'host',
        'port',
        'text',
        'csv',
        'record',
        'truth',
        'stage',
        'until',
        'for',
        'way',
        'withdrawn',
        'secret',
        'code',
        'setup_code',
        'workshop',
        'mohm',
        'window',
        'groups',
        'tap',
        'cells',
        'person_id',
        'competence',
    ];
    $jobs = Job::query()->count();
    $tried = 0;
    foreach (writes($job->id, 0, $job->customer_id, $this->bench->people['trainee']->id) as [$method, $path]) {
        for ($n = 0; $n < 6; $n++) {
            $body = [];
            foreach ((array) array_rand(array_flip($names), 9) as $name) {
                $body[$name] = $odd[mt_rand(0, count($odd) - 1)];
            }
            $this->bench->as('owner');
            DB::beginTransaction();
            $answer = $this->json($method, "/$path", $body, ['Idempotency-Key' => (string) Str::uuid(), 'If-Match' => '*']);
            DB::rollBack();
            expect($answer->getStatusCode())->toBeLessThan(
                500,
                "$method $path " . json_encode($body) . ' ' . substr((string) $answer->getContent(), 0, 200),
            );
            $tried++;
        }
    }
    expect($tried)
        ->toBeGreaterThan(250)
        ->and(Job::query()->count())
        ->toBe($jobs);
});

it('answers a number that is none with its field: too large to be one, a list, a word', function (string $raw): void {
    $job = $this->bench->open();
    $answer = $this->call(
        'POST',
        "/api/jobs/{$job->id}/proof",
        [],
        [],
        [],
        ['CONTENT_TYPE' => 'application/json', 'HTTP_ACCEPT' => 'application/json', 'HTTP_IDEMPOTENCY_KEY' => (string) Str::uuid()],
        '{"check":"capacity","data":{"ah":' . $raw . '}}',
    );
    expect($answer->getStatusCode())->toBe(422)->and(implode(' ', array_keys($answer->json('fields'))))->toMatch('/(^| |\.)ah/');
})->with(['1e999', '"1e999"', '[1]', '"much"', 'null', '{}', 'true']);

it('takes no yes for a number, and no named entries for a list', function (): void {
    $job = $this->bench->open();
    $this->bench
        ->post("jobs/{$job->id}/decision", ['verdict_id' => true, 'action' => 'none', 'reason' => 'because'])
        ->assertStatus(422)
        ->assertJsonPath('fields.verdict_id', fn(string $m): bool => $m !== '');
    $this->bench->post("jobs/{$job->id}/decision", ['verdict_id' => '7', 'action' => 'none', 'reason' => 'because'])->assertStatus(409);
    $this->postJson('/api/outbox', [
        'outbox_id' => (string) Str::uuid7(),
        'check' => null,
        'entries' => ['a' => $this->bench->entry($job, 'test', ['kind' => 'wake', 'action' => 'button', 'woke' => true])],
    ])
        ->assertStatus(422)
        ->assertJsonPath('fields.entries', fn(string $m): bool => $m !== '');
    $this->postJson('/api/label-check', ['pack' => ['chemistry' => [], 'series' => 'x', 'label' => 7], 'cells_counted' => 3])->assertOk();
});

it('takes an edit of a pack on the version that was read, and shows both sides of a clash', function (): void {
    $job = $this->bench->open();
    $version = $this->getJson("/api/jobs/{$job->id}")->json('version');
    $edit = fn(array $body, ?string $v) => $this->patchJson(
        "/api/jobs/{$job->id}",
        $body,
        ['Idempotency-Key' => (string) Str::uuid()] + ($v === null ? [] : ['If-Match' => $v]),
    );
    $edit(['complaint' => 'Stops on the hill'], null)->assertStatus(428);
    $next = $edit(['complaint' => 'Stops on the hill'], $version)
        ->assertOk()
        ->json('version');
    $edit(['complaint' => 'Hums'], $version)
        ->assertStatus(412)
        ->assertJsonPath('now.complaint', 'Stops on the hill')
        ->assertHeader('ETag', $next);
    // What others do to the pack meanwhile is no edit of what is known of it.
    $this->bench->post("jobs/{$job->id}/triage", ['inspection' => ['wet' => false]])->assertOk();
    $edit(['complaint' => 'Hums'], $next)->assertOk();
});

it('takes an edit of a cell on the version that was read, and counts a grading as a change', function (): void {
    $lot = DB::table('lots')->insertGetId([
        'workshop_id' => $this->bench->workshop->id,
        'name' => 'L',
        'created_at' => now(),
        'updated_at' => now(),
    ]);
    $id = DB::table('cells')->insertGetId([
        'workshop_id' => $this->bench->workshop->id,
        'code' => 'c1',
        'lot_id' => $lot,
        'model' => 'QX',
        'chemistry' => 'nmc',
        'rated_ah' => 2.5,
        'capacity_ah' => 2.4,
        'mohm' => 30,
        'rest_v' => 3.6,
        'created_at' => now(),
        'updated_at' => now(),
    ]);
    $version = fn(): string => $this->getJson("/api/cells/$id")->json('cell.version');
    $old = $version();
    $this->bench->post('cells/grade', ['ids' => [$id], 'rated_ah' => 2.5])->assertSuccessful();
    $state = DB::table('cells')->where('id', $id)->value('state');
    $edit = fn(array $body, string $v) => $this->patchJson("/api/cells/$id", $body, [
        'Idempotency-Key' => (string) Str::uuid(),
        'If-Match' => $v,
    ]);
    expect($state)->toBe('accepted');
    $edit(['state' => 'untested'], $old)
        ->assertStatus(412)
        ->assertJsonPath('now.state', 'accepted');
    $edit(['mohm' => 31], $version())->assertOk();
    $edit(['mohm' => 32], $old)
        ->assertStatus(412)
        ->assertJsonPath('now.mohm', 31);
});

it('imports a long record whole: every reading, in few statements', function (): void {
    $sets = 40;
    $each = 50;
    $record = json_decode((string) json_encode($this->getJson('/api/jobs/' . $this->bench->open()->id . '/record')->json()), true);
    $record['measurements'] = array_map(
        fn(int $s): array => [
            'id' => "m$s",
            'at' => now()
                ->subMinutes(1000 - $s)
                ->toIso8601ZuluString(),
            'condition' => 'rest',
            'current_a' => 0,
            'readings' => array_map(
                fn(int $r): array => ['from' => 'T' . $r % 4, 'to' => 'T' . (($r % 4) + 1), 'v' => 3.7 + $r / 10000],
                range(0, $each - 1),
            ),
        ],
        range(1, $sets),
    );
    $record['inspection'] = (object) $record['inspection'];
    DB::enableQueryLog();
    DB::flushQueryLog();
    $made = $this->bench->post('import', ['customer' => 'Long', 'record' => json_encode($record)]);
    expect($made->getStatusCode())->toBe(201, (string) $made->getContent());
    $inserts = count(array_filter(DB::getQueryLog(), fn(array $q): bool => str_starts_with($q['query'], 'insert into `readings`')));
    expect(DB::table('readings')->where('job_id', $made->json('id'))->count())
        ->toBe($sets * $each)
        ->and($inserts)
        ->toBeLessThan(6);
});

it('writes no event without the facts of its kind, and knows every kind that is stored', function (): void {
    $job = $this->bench->open();
    expect(
        fn() => App\Actions\EventLog::add($this->bench->people['owner'], $job, App\Actions\EventKind::Closed, ['as' => 'returned']),
    )->toThrow(LogicException::class, 'note');
    foreach (Event::query()->where('job_id', $job->id)->pluck('kind') as $kind) {
        expect(App\Actions\EventKind::tryFrom($kind))->not->toBeNull();
    }
});

/**
 * @param  list<int>  $sets  how many readings each has
 * @return array{customer: string, record: string}
 */
function recordOf(array $sets): array
{
    $readings = fn(int $n): array => array_map(
        fn(int $i): array => ['from' => 'T' . $i % 4, 'to' => 'T' . (($i % 4) + 1), 'v' => 3.8],
        range(0, $n - 1),
    );

    return [
        'customer' => 'Large',
        'record' => (string) json_encode([
            'format' => 'heartwood.job',
            'version' => 1,
            'pack' => ['chemistry' => 'nmc', 'series' => 4],
            'measurements' => array_map(
                fn(int $n, int $i): array => [
                    'id' => "m$i",
                    'at' => sprintf('2026-01-%02dT10:00:00Z', $i + 1),
                    'condition' => 'rest',
                    'readings' => $readings($n),
                ],
                $sets,
                array_keys($sets),
            ),
        ]),
    ];
}

it('imports as many readings as a record may have, and of one more keeps nothing and says how many', function (): void {
    $answer = $this->bench->post('import', recordOf([5000, 5000, 5000, 5000]))->assertCreated()->json();
    expect(array_keys($answer))->toContain('id', 'stage')->not->toContain('measurements');
    $view = $this->getJson("/api/jobs/{$answer['id']}")
        ->assertOk()
        ->json();
    expect(array_sum(array_map(fn(array $m): int => count($m['readings']), $view['measurements'])))
        ->toBe(20000)
        ->and($view['measurements'][3]['groups_v'])
        ->toBe([3.8, 3.8, 3.8, 3.8])
        ->and($view['measurements'][0]['readings'][0])
        ->toMatchArray([
            'from' => 'T0',
            'to' => 'T1',
            'typed' => '3.8',
            'v' => 3.8,
            'corrects_id' => null,
            'by' => $this->bench->people['owner']->name,
            'at' => '2026-01-01T10:00:00Z',
        ]);
    $before = [Job::query()->count(), DB::table('readings')->count(), DB::table('customers')->count()];
    $refused = $this->bench->post('import', recordOf([5000, 5000, 5000, 5000, 1]))->assertStatus(422)->json();
    expect($refused['fields']['/measurements'])
        ->toBe('20,001 readings, and a record may have 20,000: split it by time, one job each')
        ->and([Job::query()->count(), DB::table('readings')->count(), DB::table('customers')->count()])
        ->toBe($before);
});

it(
    'shows of a corrected reading the last one, of a withdrawn one none but what others tell of it, in the record as on the page',
    function (): void {
        $job = $this->bench->open();
        $set = $this->bench->read($job, [3.8, 3.81, 3.82, 3.83]);
        $shown = fn(): array => $this->getJson("/api/jobs/{$job->id}")->json('measurements.0.readings');
        $all = count($shown());
        $first = collect($shown())->firstWhere('to', 'T2');
        $this->bench
            ->send([
                $this->bench->entry($job, 'reading', [
                    'measurement_id' => $set,
                    'from' => 'T1',
                    'to' => 'T2',
                    'typed' => '3.7910',
                    'corrects_id' => $first['id'],
                ]),
            ])
            ->assertOk();
        $second = collect($shown())->firstWhere('to', 'T2');
        expect($shown())
            ->toHaveCount($all)
            ->and($second)
            ->toMatchArray(['v' => 3.791, 'corrects_id' => $first['id']])
            ->and($second['id'])
            ->not->toBe($first['id']);
        $volts = fn(): array => array_column($this->getJson("/api/jobs/{$job->id}/record")->json('measurements.0.readings'), 'v');
        expect($volts())
            ->toContain(3.791)
            ->not->toContain(3.81)
            ->and($this->getJson("/api/jobs/{$job->id}")->json('measurements.0.groups_v.1'))
            ->toEqualWithDelta(3.791, 0.001);
        $this->bench
            ->send([
                $this->bench->entry($job, 'reading', [
                    'measurement_id' => $set,
                    'from' => 'T1',
                    'to' => 'T2',
                    'typed' => '',
                    'corrects_id' => $second['id'],
                ]),
            ])
            ->assertOk();
        expect($shown())
            ->toHaveCount($all - 1)
            ->and($volts())
            ->toHaveCount($all - 1)
            ->and($this->getJson("/api/jobs/{$job->id}")->json('measurements.0.groups_v.1'))
            ->toEqualWithDelta(3.81, 0.005);
    },
);

it('tells the second of two who decide what the first decided, and lets either stand', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.8, 3.8, 3.3, 3.8]);
    $view = $this->bench->post("jobs/{$job->id}/verdict")->json();
    $say = fn(string $reason, array $seen) => $this->bench->post(
        "jobs/{$job->id}/decision",
        ['verdict_id' => $view['verdict']['id'], 'action' => 'charge-group', 'reason' => $reason] + $seen,
    );
    // Of a decision that nobody took there is nothing to clash with.
    $none = $say('It drifted.', ['seen' => 4711])
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-such-decision');
    expect($none->json('fields'))
        ->toHaveKey('seen')
        ->and(Event::query()->where('job_id', $job->id)->where('kind', 'decided')->count())
        ->toBe(0);
    $first = $say('It drifted.', ['seen' => null])
        ->assertOk()
        ->json('decision');
    $this->bench->as('senior');
    $clash = $say('It only drifted.', ['seen' => null])
        ->assertStatus(412)
        ->assertJsonPath('code', 'clash');
    expect($clash->json('now'))
        ->toBe(['action' => $first['option']['title'], 'reason' => 'It drifted.', 'by' => $this->bench->people['owner']->name])
        ->and(Contract::complaints($clash, 'post', '/api/jobs/{job}/decision'))
        ->toBe([])
        ->and(Event::query()->where('job_id', $job->id)->where('kind', 'decided')->count())
        ->toBe(1);
    $say('It only drifted.', ['seen' => $first['id']])
        ->assertOk()
        ->assertJsonPath('decision.reason', 'It only drifted.');
    // Who does not say what they saw is not asked: a script decides as before.
    $say('Third.', [])->assertOk();
});
