<?php

declare(strict_types=1);

use App\Models\Customer;
use App\Models\Instrument;
use App\Models\Job;
use App\Models\Run;
use App\Models\TestLog;
use App\Policies\Rights;
use Illuminate\Routing\Route as Address;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Route;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;
use Tests\Feature\Workbench;

// The matrix of who may reach what is made from the routes themselves: a new address is in it without being asked.

/** Addresses that stand before the door, each with its own limits of tries. */
const BEFORE_THE_DOOR = [
    'GET api/health',
    'GET api/door',
    'POST api/session',
    'DELETE api/session',
    'POST api/start',
    'POST api/join/look',
    'POST api/join',
    'GET api/phone',
    'POST api/phone/photos',
    'GET api/owner',
    'POST api/owner/readings',
    'POST api/owner/photos',
    'GET api/watch/run',
    'POST api/watch/meter',
];

/** Addresses that are one's own, whatever the role. */
const ONES_OWN = [
    'GET api/session',
    'GET api/sessions',
    'DELETE api/sessions/{signIn}',
    'GET api/colleagues',
    'POST api/session/prove',
    'POST api/session/hand-over',
    'POST api/me/password',
    'POST api/me/code',
    'POST api/me/second-factor',
    'POST api/me/second-factor/confirm',
    'DELETE api/me/second-factor',
];

/** @return array<string, array{Address}> by method and address */
function addresses(): array
{
    $out = [];
    foreach (Route::getRoutes() as $route) {
        if (str_starts_with($route->uri(), 'api/')) {
            $out[array_values(array_diff($route->methods(), ['HEAD']))[0] . ' ' . $route->uri()] = [$route];
        }
    }

    return $out;
}

/** @return list<string> rights that an address asks for */
function rightsOf(Address $route): array
{
    return array_values(
        array_map(
            fn(string $m): string => substr($m, 4),
            array_filter($route->gatherMiddleware(), fn($m): bool => is_string($m) && str_starts_with($m, 'can:')),
        ),
    );
}

/** A photo of a job, by its number. */
function photoOf(Workbench $bench, Job $job): string
{
    return (string) $bench->photo($job)->assertCreated()->json('id');
}

/** One of everything, so that every address of the API leads somewhere. @return array<string, string|int> by parameter */
function oneOfEach(Workbench $bench): array
{
    $bench->as('owner');
    $job = $bench->open();
    $bench->read($job, [3.85, 3.85, 1.2, 3.85]);
    $bench->post("jobs/{$job->id}/verdict")->assertOk();
    $bench
        ->post("jobs/{$job->id}/decision", [
            'verdict_id' => DB::table('verdicts')->where('job_id', $job->id)->max('id'),
            'action' => DB::table('verdicts')
                ->where('job_id', $job->id)
                ->latest('id')
                ->value(DB::raw("json_value(document, '$.options[0].action')")),
            'reason' => 'because',
        ])
        ->assertOk();
    $bench->post('cells', ['codes' => ['M-1'], 'lot' => 'L', 'model' => 'QX', 'chemistry' => 'nmc', 'rated_ah' => 2.5]);
    $w = $bench->workshop->id;
    $lot = DB::table('lots')->insertGetId([
        'workshop_id' => $w,
        'name' => 'Matrix ' . Str::random(4),
        'created_at' => now(),
        'updated_at' => now(),
    ]);
    $cell = DB::table('cells')->insertGetId([
        'workshop_id' => $w,
        'code' => 'MX-' . Str::random(4),
        'lot_id' => $lot,
        'model' => 'QX',
        'chemistry' => 'nmc',
        'rated_ah' => 2.5,
        'created_at' => now(),
        'updated_at' => now(),
    ]);
    $log = TestLog::query()->create([
        'workshop_id' => $w,
        'name' => 'a',
        'sha256' => hash('sha256', (string) $w),
        'bytes' => 1,
        'mapping' => [],
        'figures' => [],
        'imported_by' => $bench->people['owner']->id,
        'imported_at' => now(),
    ])->id;
    $run = Run::query()->create([
        'id' => (string) Str::uuid7(),
        'workshop_id' => $w,
        'job_id' => $job->id,
        'revision' => 1,
        'kind' => 'recovery',
        'plan' => [],
        'state' => [],
        'reason' => '',
        'started_by' => $bench->people['owner']->id,
        'started_at' => now(),
        'ended_at' => now(),
        'closed_at' => now(),
    ])->id;
    $instrument = Instrument::query()->create([
        'workshop_id' => $w,
        'name' => 'Meter',
        'kind' => 'meter',
        'host' => '127.0.0.1',
        'port' => 9,
        'identity' => [],
    ])->id;
    $bench->post('invitations', ['name' => 'X', 'role' => 'trainee']);

    $pack = $job->refresh()->pack_id;
    $reading = (string) Str::uuid7();
    DB::table('service_readings')->insert([
        'id' => $reading,
        'workshop_id' => $w,
        'pack_id' => $pack,
        'at' => now(),
        'told_at' => now(),
        'source' => 'bench',
        'condition' => 'rest',
        'resolution_v' => 0.001,
    ]);

    $ofJob = photoOf($bench, $job);
    $photo = (string) Str::uuid7();
    DB::table('service_photos')->insert([
        'id' => $photo,
        'workshop_id' => $w,
        'pack_id' => $pack,
        'sha256' => DB::table('photos')->where('id', $ofJob)->value('sha256'),
        'bytes' => 1,
        'width' => 1,
        'height' => 1,
        'taken_at' => now(),
        'received_at' => now(),
    ]);

    return [
        'pack' => $pack,
        'servicePhoto' => $photo,
        'message' => (int) DB::table('messages')->insertGetId([
            'workshop_id' => $w,
            'pack_id' => $pack,
            'customer_id' => $job->customer_id,
            'kind' => 'reading-due',
            'about' => Str::random(8),
            'subject' => 's',
            'body' => 'b',
            'state' => 'prepared',
            'prepared_at' => now(),
        ]),
        'batch' => (int) DB::table('batches')->insertGetId([
            'workshop_id' => $w,
            'name' => 'Lot ' . Str::random(4),
            'customer_id' => $job->customer_id,
            'pack' => json_encode($job->pack),
            'opened_by' => $bench->people['owner']->id,
            'created_at' => now(),
            'updated_at' => now(),
        ]),
        'topping' => (int) DB::table('toppings')->insertGetId([
            'workshop_id' => $w,
            'pack_id' => $pack,
            'group_no' => 1,
            'plan' => '{"hours":null,"full_v":4.2,"supply_a":1,"stop_from_a":1,"stop_to_a":0.4}',
            'begun' => '{}',
            'begun_by' => $bench->people['owner']->id,
            'begun_at' => now(),
        ]),
        'serviceReading' => $reading,
        'job' => $job->id,
        'step' => (int) DB::table('work_steps')->where('job_id', $job->id)->value('id'),
        'cell' => $cell,
        'lot' => $lot,
        'log' => $log,
        'run' => $run,
        'instrument' => $instrument,
        'customer' => (int) Customer::of($w)->value('id'),
        'cellModel' => DB::table('cell_models')->insertGetId([
            'workshop_id' => $w,
            'name' => 'QX ' . Str::random(4),
            'chemistry' => 'nmc',
            'spec' => '{}',
            'price_cents' => 1,
        ]),
        'packModel' => DB::table('pack_models')->insertGetId(['workshop_id' => $w, 'name' => 'P ' . Str::random(4), 'spec' => '{}']),
        'teardownStep' => (string) $bench->apart($job, 'lid')->assertCreated()->json('steps.0.id'),
        'jointCheck' => (int) DB::table('joint_checks')->insertGetId([
            'workshop_id' => $w,
            'job_id' => $job->id,
            'tap' => 1,
            'due_at' => now(),
        ]),
        'guidedRun' => (int) DB::table('guided_runs')->insertGetId([
            'workshop_id' => $w,
            'job_id' => $job->id,
            'revision' => 1,
            'code' => 'insulation',
            'scope' => '{}',
            'started_by' => $bench->people['owner']->id,
            'started_at' => now(),
        ]),
        'photo' => $ofJob,
        'size' => 'small',
        'colleague' => $bench->people['trainee']->id,
        'invitation' => (int) DB::table('invitations')->where('workshop_id', $w)->value('id'),
        'signIn' => (string) DB::table('sign_ins')->where('workshop_id', $w)->value('id'),
        'measurement' => (string) DB::table('measurements')->where('job_id', $job->id)->value('id'),
        'kind' => 'budget',
    ];
}

/** @param  array<string, string|int>  $parameters */
function reach(mixed $test, Address $route, array $parameters): TestResponse
{
    $method = array_values(array_diff($route->methods(), ['HEAD']))[0];
    $path = preg_replace_callback('/\{(\w+)\??\}/', fn(array $m): string => (string) ($parameters[$m[1]] ?? 'none'), $route->uri());

    return $test->json($method, "/$path", [], ['Idempotency-Key' => (string) Str::uuid(), 'If-Match' => '*']);
}

it('asks every address for a right, but for those before the door and one\'s own', function (): void {
    foreach (addresses() as $name => [$route]) {
        $middleware = $route->gatherMiddleware();
        if (in_array($name, BEFORE_THE_DOOR, true)) {
            expect($middleware)->not->toContain('auth');

            continue;
        }
        expect($middleware)
            ->toContain('auth', 'live')
            ->and(in_array($name, ONES_OWN, true) || rightsOf($route) !== [])
            ->toBeTrue("$name asks for no right");
        foreach (rightsOf($route) as $right) {
            expect(Rights::TABLE)->toHaveKey($right);
            if (in_array($right, Rights::PROVED, true) && $route->methods()[0] !== 'GET') {
                expect($middleware)->toContain('proved');
            }
        }
    }
});

it('makes every write safe to repeat: by its key, or because its own numbers make it so', function (): void {
    // Numbered by themselves; counted tries at a secret; and what only computes and writes nothing.
    $without = [
        'POST api/outbox',
        'POST api/outbox/missing',
        'POST api/phone/photos',
        'POST api/owner/photos',
        'POST api/owner/readings',
        'POST api/session',
        'DELETE api/session',
        'POST api/start',
        'POST api/join',
        'POST api/join/look',
        'POST api/session/prove',
        'POST api/session/hand-over',
        'POST api/me/password',
        'DELETE api/sessions/{signIn}',
        'POST api/jobs/{job}/join-check',
        'POST api/logs/preview',
        'POST api/jobs/{job}/deal',
        'POST api/jobs/{job}/pin-check',
        'POST api/jobs/{job}/board-swap',
        'POST api/instruments/{instrument}/watch/{job}',
        'POST api/watch/meter',
        'POST api/jobs/{job}/board-report',
        'POST api/registers',
        'POST api/training/paper',
        'POST api/simulated-bench',
        'POST api/jobs/{job}/recovery-plan',
        'POST api/label-check',
    ];
    foreach (addresses() as $name => [$route]) {
        expect(
            str_starts_with($name, 'GET ') || in_array($name, $without, true) || in_array('idempotent', $route->gatherMiddleware(), true),
        )->toBeTrue("$name keeps no key");
    }
});

it('is in the description of the API, every address by its method, and nothing is described that is not there', function (): void {
    $described = [];
    foreach (Symfony\Component\Yaml\Yaml::parseFile(base_path('contract/openapi.yaml'))['paths'] as $path => $methods) {
        foreach (array_keys(array_diff_key($methods, ['parameters' => 1])) as $method) {
            $described[] = strtoupper($method) . ' ' . ltrim($path, '/');
        }
    }
    $there = array_keys(addresses());
    expect(array_values(array_diff($there, $described)))
        ->toBe([], 'not described')
        ->and(array_values(array_diff($described, $there)))
        ->toBe([], 'described, and not there');
});

it('describes nothing twice: every part of the description is used', function (): void {
    $text = (string) file_get_contents(base_path('contract/openapi.yaml'));
    $components = Symfony\Component\Yaml\Yaml::parse($text)['components'];
    $unused = [];
    foreach ($components as $kind => $parts) {
        foreach (array_keys($parts) as $name) {
            if (
                $kind !== 'securitySchemes' &&
                !str_contains($text, "#/components/$kind/$name'") &&
                !str_contains($text, "#/components/$kind/$name\"")
            ) {
                $unused[] = "$kind/$name";
            }
        }
    }
    expect($unused)->toBe([]);
});

it('lets each role through where it has the right, and nowhere else', function (): void {
    $bench = new Workbench($this);
    $parameters = oneOfEach($bench);
    $wrong = [];
    foreach (['owner', 'senior', 'technician', 'trainee'] as $role) {
        foreach (addresses() as $name => [$route]) {
            if (in_array($name, BEFORE_THE_DOOR, true) || in_array($name, ONES_OWN, true)) {
                continue;
            }
            $bench->as($role);
            $may = !in_array(false, array_map(fn(string $r): bool => Rights::allows($bench->people[$role], $r), rightsOf($route)), true);
            DB::beginTransaction();
            $status = reach($this, $route, $parameters)->getStatusCode();
            DB::rollBack();
            if (($status === 403) === $may || ($status >= 500 && $status !== 503)) {
                $wrong[] = "$role $name: $status";
            }
        }
    }
    // A senior's own rule inside an action answers 403 as well: none of these is reached with an empty body.
    expect($wrong)->toBe([]);
});

it('shows nothing without a session, at any address behind the door', function (): void {
    $bench = new Workbench($this);
    $parameters = oneOfEach($bench);
    app('auth')->forgetGuards();
    app('session')->flush();
    foreach (addresses() as $name => [$route]) {
        if (!in_array($name, BEFORE_THE_DOOR, true)) {
            app('auth')->forgetGuards();
            expect(reach($this, $route, $parameters)->getStatusCode())->toBe(401, $name);
        }
    }
});

it('keeps another workshop out: nothing read, nothing written, nothing dropped in silence', function (): void {
    $mine = new Workbench($this);
    $parameters = oneOfEach($mine);
    $theirs = new Workbench($this);
    $tables = array_values(
        array_diff(array_map(fn(object $r): string => (string) array_values((array) $r)[0], DB::select('show tables')), [
            'sign_ins',
            'sessions',
            'idempotency_keys',
            'security_events',
            'migrations',
        ]),
    );
    $state = fn(): array => array_combine(
        $tables,
        array_map(fn(string $t): string => json_encode(DB::select("checksum table `$t`")), $tables),
    );
    foreach (['owner', 'trainee'] as $role) {
        $theirs->as($role);
        $before = $state();
        foreach (addresses() as $name => [$route]) {
            if (preg_match('/\{(?!kind)\w+\}/', $name) !== 1) {
                continue;
            }
            $theirs->as($role);
            $answer = reach($this, $route, $parameters);
            // Another's row is not there; a role that may not even ask is told so.
            expect($answer->getStatusCode())
                ->toBeIn([403, 404], "$role $name")
                ->and((string) $answer->getContent())
                ->not->toContain('Test pack');
        }
        expect($state())->toBe($before);
    }
    // What is compared does see a change.
    DB::table('customers')
        ->where('workshop_id', $mine->workshop->id)
        ->update(['notes' => 'seen']);
    expect($state())->not->toBe($before);
    // Entries for another's job are refused with their reason, never taken or dropped.
    $theirs->as('technician');
    $answer = $this->postJson('/api/outbox', [
        'outbox_id' => (string) Str::uuid7(),
        'check' => null,
        'entries' => [
            [
                'seq' => 1,
                'id' => (string) Str::uuid7(),
                'kind' => 'test',
                'job_id' => $parameters['job'],
                'at' => now()->toIso8601ZuluString(),
                'data' => ['kind' => 'wake', 'action' => 'button', 'woke' => true],
            ],
        ],
    ]);
    expect($answer->json('results.0.status'))->toBe('refused')->and($answer->json('results.0.errors.job_id'))->not->toBeNull();
});

it('keeps outboxes of two workshops apart, also when they carry the same number', function (): void {
    $a = new Workbench($this);
    $b = new Workbench($this);
    $b->outbox = $a->outbox;
    foreach ([$a, $b] as $bench) {
        $bench->as('technician');
        $bench->read($bench->open(), [3.8, 3.8, 3.8, 3.8]);
    }
    expect(DB::table('outboxes')->where('id', $a->outbox)->count())->toBe(2);
});

it('never answers an entry as stored whose id belongs to another one', function (): void {
    $a = new Workbench($this);
    $a->as('technician');
    $job = $a->open();
    $set = $a->read($job, [3.8, 3.8, 3.8, 3.8]);
    $b = new Workbench($this);
    $b->as('technician');
    $theirs = $b->open();
    $stolen = fn(Workbench $bench, int $jobId): TestResponse => $bench->send([
        [
            'seq' => ++$bench->seq,
            'id' => $set,
            'kind' => 'measurement',
            'job_id' => $jobId,
            'at' => now()->toIso8601ZuluString(),
            'data' => ['condition' => 'rest', 'current_a' => 0],
        ],
    ]);
    expect($stolen($b, $theirs->id)->json('results.0'))
        ->toMatchArray(['status' => 'refused'])
        ->toHaveKey('errors.id');
    $a->as('technician');
    $second = $a->open();
    expect($stolen($a, $second->id)->json('results.0.status'))
        ->toBe('refused')
        ->and($stolen($a, $job->id)->json('results.0.status'))
        ->toBe('duplicate');
});
