<?php

declare(strict_types=1);

use App\Contract\SchemaCheck;
use App\Models\BenchTest;
use App\Models\Decision;
use App\Models\Event;
use App\Models\Job;
use App\Models\Measurement;
use App\Models\PackRevision;
use App\Models\Reading;
use App\Models\SignOff;
use App\Models\WorkStep;
use App\Support\CoreSampleSvg;
use App\Support\ReportPdf;
use Carbon\Carbon;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('technician');
});

afterEach(fn() => Carbon::setTestNow());

it('numbers jobs of a workshop one after another and reuses a customer by name', function (): void {
    $a = $this->bench->open();
    $b = $this->bench->open();
    expect($b->number)
        ->toBe($a->number + 1)
        ->and($b->customer_id)
        ->toBe($a->customer_id);
    $other = new Workbench($this);
    $other->as('owner');
    expect($other->open()->number)->toBe(1);
});

it('takes the pack model\'s description and keeps a new one for the next of its kind', function (): void {
    $first = $this->bench
        ->post('jobs', [
            'customer' => 'C',
            'name' => 'Crate cart',
            'save_model' => true,
            'symptoms' => [],
            'inspection' => [],
            'pack' => ['chemistry' => 'lfp', 'series' => 8, 'parallel' => 1, 'cell' => ['capacity_ah' => 40]],
        ])
        ->assertCreated();
    $model = collect($this->getJson('/api/lookups')->json('pack_models'))->firstWhere('name', 'Crate cart');
    expect($model['spec']['series'])->toBe(8);
    $second = $this->bench
        ->post('jobs', [
            'customer' => 'C',
            'name' => 'Crate cart 2',
            'pack_model_id' => $model['id'],
            'symptoms' => [],
            'inspection' => [],
            'pack' => ['chemistry' => 'lfp', 'series' => 8],
        ])
        ->assertCreated();
    expect($second->json('pack.cell.capacity_ah'))
        ->toEqual(40)
        ->and($second->json('pack.name'))
        ->toBe('Crate cart 2')
        ->and($first->json('pack.name'))
        ->toBe('Crate cart');
});

it('refuses to change the number of groups once groups have been read, and says the way out', function (): void {
    $job = $this->bench->open();
    $patch = fn(array $body) => $this->patchJson("/api/jobs/{$job->id}", $body, [
        'Idempotency-Key' => (string) Str::uuid(),
        'If-Match' => $this->getJson("/api/jobs/{$job->id}")->json('version'),
    ]);
    $patch(['pack' => ['chemistry' => 'nmc', 'series' => 5]])
        ->assertOk()
        ->assertJsonPath('series', 5);
    $patch(['pack' => ['chemistry' => 'nmc', 'series' => 4]])->assertOk();
    $this->bench->read($job, [3.8, 3.8, 3.8, 3.8]);
    $patch(['pack' => ['chemistry' => 'nmc', 'series' => 5]])
        ->assertStatus(409)
        ->assertJsonPath('code', 'has-readings');
    $patch(['pack' => ['chemistry' => 'nmc', 'series' => 4, 'parallel' => 2]])
        ->assertOk()
        ->assertJsonPath('parallel', 2);
    expect(Event::query()->where('job_id', $job->id)->where('kind', 'intake-edited')->count())->toBe(3);
});

it('moves to work only after a decision, and back to any stage', function (): void {
    $job = $this->bench->open();
    $this->bench
        ->post("jobs/{$job->id}/stage", ['stage' => 'work'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'no-decision');
    $this->bench->post("jobs/{$job->id}/stage", ['stage' => 'nowhere'])->assertStatus(422);
    $this->bench
        ->post("jobs/{$job->id}/stage", ['stage' => 'proof'])
        ->assertOk()
        ->assertJsonPath('stage', 'proof');
    $this->bench
        ->post("jobs/{$job->id}/stage", ['stage' => 'intake'])
        ->assertOk()
        ->assertJsonPath('stage', 'intake');
});

it('takes a tick back without taking back the revision it opened', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.85, 3.851, 0.1, 3.849]);
    $verdict = $this->bench->post("jobs/{$job->id}/verdict");
    $work = $this->bench->post("jobs/{$job->id}/decision", [
        'verdict_id' => $verdict->json('verdict.id'),
        'action' => 'replace-group',
        'reason' => 'Dead.',
    ]);
    $isolate = $work->json('decision.steps.0.id');
    $this->bench->post("jobs/{$job->id}/steps/$isolate", ['done' => true, 'entry' => '0.00'])->assertOk();
    $weld = collect($work->json('decision.steps'))->firstWhere('alters', true);
    $this->bench->post("jobs/{$job->id}/steps/{$weld['id']}", ['done' => true, 'entry' => 'setting 4'])->assertJsonPath('revision', 2);
    $this->bench->post("jobs/{$job->id}/steps/{$weld['id']}", ['done' => false, 'entry' => 'setting 4'])->assertJsonPath('revision', 2);
    $this->bench->post("jobs/{$job->id}/steps/{$weld['id']}", ['done' => true, 'entry' => 'setting 5'])->assertJsonPath('revision', 2);
    expect(PackRevision::query()->where('job_id', $job->id)->count())
        ->toBe(2)
        ->and(WorkStep::query()->find($weld['id'])->entry)
        ->toBe('setting 5');
});

it('offers a step of another job to nobody', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.85, 3.851, 3.62, 3.849]);
    $verdict = $this->bench->post("jobs/{$job->id}/verdict");
    $work = $this->bench->post("jobs/{$job->id}/decision", [
        'verdict_id' => $verdict->json('verdict.id'),
        'action' => 'charge-group',
        'reason' => 'Low.',
    ]);
    $other = $this->bench->open();
    $this->bench->post("jobs/{$other->id}/steps/{$work->json('decision.steps.0.id')}", ['done' => true])->assertNotFound();
});

it('gives a trainee no recovery, neither to choose nor to carry out', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.85, 3.851, 2.3, 3.849]);
    $id = $this->bench->post("jobs/{$job->id}/verdict")->json('verdict.id');
    $body = ['verdict_id' => $id, 'action' => 'recover-group', 'reason' => 'Slowly.'];
    $this->bench
        ->as('trainee')
        ->post("jobs/{$job->id}/decision", $body)
        ->assertStatus(403);
    $work = $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/decision", $body)
        ->assertOk();
    $this->bench
        ->as('trainee')
        ->post("jobs/{$job->id}/steps/{$work->json('decision.steps.0.id')}", ['done' => true])
        ->assertStatus(403);
    $this->bench
        ->as('technician')
        ->post("jobs/{$job->id}/steps/{$work->json('decision.steps.0.id')}", ['done' => true, 'entry' => '0.01 A'])
        ->assertOk();
});

it('decides only what the verdict offers, with a reason', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.85, 3.851, 0.1, 3.849]);
    $id = $this->bench->post("jobs/{$job->id}/verdict")->json('verdict.id');
    $this->bench
        ->post("jobs/{$job->id}/decision", ['verdict_id' => $id, 'action' => 'recover-group', 'reason' => 'Please.'])
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-such-option');
    $this->bench->post("jobs/{$job->id}/decision", ['verdict_id' => $id, 'action' => 'replace-group', 'reason' => ''])->assertStatus(422);
    expect(Decision::query()->where('job_id', $job->id)->exists())->toBeFalse();
});

it('keeps every number of a quote with the decision that was made on it', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.85, 3.851, 3.62, 3.849]);
    $verdict = $this->bench->post("jobs/{$job->id}/verdict");
    $quoted = collect($verdict->json('verdict.detail.options'))->firstWhere('action', 'charge-group')['quote'];
    expect($quoted['total_cents'])
        ->toBe($quoted['parts_cents'] + $quoted['labour_cents'] + $quoted['fee_cents'])
        ->and($quoted['fee_cents'])
        ->toBe(2000);
    $this->bench->post("jobs/{$job->id}/decision", [
        'verdict_id' => $verdict->json('verdict.id'),
        'action' => 'charge-group',
        'reason' => 'Low.',
    ]);
    $this->bench->workshop->update(['settings' => ['fee_cents' => 9900] + $this->bench->workshop->settings]);
    expect($this->getJson("/api/jobs/{$job->id}")->json('decision.quote.fee_cents'))->toBe(2000);
});

it('takes a test back by a correction and shows only what stands', function (): void {
    $job = $this->bench->open();
    $id = (string) Str::uuid7();
    $this->bench->send([$this->bench->entry($job, 'test', ['kind' => 'wake', 'action' => 'button', 'woke' => true], $id)])->assertOk();
    $this->bench
        ->send([$this->bench->entry($job, 'test', ['kind' => 'wake', 'action' => 'button', 'woke' => false, 'corrects_id' => $id])])
        ->assertOk();
    $shown = $this->getJson("/api/jobs/{$job->id}")->json('tests');
    expect($shown)
        ->toHaveCount(1)
        ->and($shown[0]['data']['woke'])
        ->toBeFalse()
        ->and(BenchTest::query()->where('job_id', $job->id)->count())
        ->toBe(2);
    $this->bench->send([$this->bench->entry($job, 'test', ['corrects_id' => $shown[0]['id']])])->assertOk();
    expect($this->getJson("/api/jobs/{$job->id}")->json('tests'))->toBe([]);
});

it('refuses a reading of a set that has not arrived, or of another job', function (): void {
    $job = $this->bench->open();
    $other = $this->bench->open();
    $set = $this->bench->read($other, [3.8, 3.8, 3.8, 3.8]);
    $answer = $this->bench
        ->send([
            $this->bench->entry($job, 'reading', [
                'measurement_id' => (string) Str::uuid7(),
                'from' => 'T0',
                'to' => 'T1',
                'typed' => '3.8',
            ]),
            $this->bench->entry($job, 'reading', ['measurement_id' => $set, 'from' => 'T0', 'to' => 'T1', 'typed' => '3.8']),
            $this->bench->entry($job, 'test', ['kind' => 'tug-weld', 'where' => ['group' => 9], 'loose' => true]),
            $this->bench->entry($job, 'test', ['kind' => 'dance']),
        ])
        ->assertOk();
    expect(array_column($answer->json('results'), 'status'))
        ->toBe(['refused', 'refused', 'refused', 'refused'])
        ->and($answer->json('results.2.errors'))
        ->toHaveKey('where/group');
    expect(Reading::query()->where('job_id', $job->id)->count())->toBe(0);
});

it('checks the shape of an outbox before it stores any of it', function (array $body): void {
    $this->postJson('/api/outbox', $body)->assertStatus(422)->assertJsonPath('code', 'invalid');
    expect(Measurement::query()->where('workshop_id', $this->bench->workshop->id)->count())->toBe(0);
})->with([
    [[]],
    [['outbox_id' => 'x', 'entries' => []]],
    [
        [
            'outbox_id' => '0190b7f0-0000-7000-8000-000000000001',
            'entries' => [['seq' => 0, 'id' => 'no', 'kind' => 'reading', 'job_id' => 1, 'at' => 'now', 'data' => []]],
        ],
    ],
]);

it('stores an entry once even when a bench had to start a new box and numbers it anew', function (): void {
    $job = $this->bench->open();
    $entry = $this->bench->entry($job, 'test', ['kind' => 'flex', 'changed' => false]);
    $this->bench->send([$entry])->assertOk();
    $this->bench->outbox = (string) Str::uuid7();
    $this->bench
        ->send([$entry])
        ->assertOk()
        ->assertJsonPath('results.0.status', 'duplicate')
        ->assertJsonPath('last_seq', 1);
    expect(BenchTest::query()->where('job_id', $job->id)->count())
        ->toBe(1)
        ->and((int) DB::table('outboxes')->where('id', $this->bench->outbox)->value('last_seq'))
        ->toBe(1);
});

it('holds a wet pack until a senior releases it after a day, and counts water anew when it is seen anew', function (): void {
    $job = $this->bench->open(['wet']);
    expect($job->safety_state)->toBe('hold');
    $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/safety", ['way' => 'released', 'reason' => 'dry'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'watch');
    Carbon::setTestNow(now()->addHours(24)->addMinute());
    $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/safety", ['way' => 'released', 'reason' => 'opened, dried, inspected'])
        ->assertOk()
        ->assertJsonPath('safety_state', 'clear');
    expect($this->bench->post("jobs/{$job->id}/verdict")->json('verdict.document.safety.state'))->toBe('clear');
    $this->bench->post("jobs/{$job->id}/triage", ['inspection' => ['wet' => true]])->assertJsonPath('safety_state', 'hold');
    $this->bench
        ->post("jobs/{$job->id}/safety", ['way' => 'cell-removed', 'reason' => 'not in quarantine'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-quarantined');
});

it('says nothing of safety that was not asked: no answer is neither yes nor no', function (): void {
    $job = $this->bench->open(looked: false);
    $known = $this->getJson("/api/jobs/{$job->id}");
    expect($known->json('inspection'))
        ->toBe([])
        ->and($job->safety_state)
        ->toBe('clear')
        ->and($known->json('unseen'))
        ->toHaveCount(11)
        ->and($known->json('look.moment'))
        ->toBe('never')
        ->and(collect($known->json('proof'))->firstWhere('code', 'insulation'))
        ->toMatchArray(['status' => 'missing'])
        ->and(collect($known->json('proof'))->firstWhere('code', 'insulation')['found'])
        ->toContain('not looked at');
    $this->bench->post("jobs/{$job->id}/triage", ['inspection' => ['metal_case' => false]])->assertOk();
    $known = $this->getJson("/api/jobs/{$job->id}");
    expect(collect($known->json('proof'))->firstWhere('code', 'insulation')['status'])->toBe('not-needed');
});

it('asks for a whole look at the open pack, names what was left out, and starts nothing before it', function (): void {
    $job = $this->bench->open(looked: false);
    $this->bench->post("jobs/{$job->id}/triage", ['inspection' => Workbench::NOTHING])->assertOk();
    expect($this->getJson("/api/jobs/{$job->id}")->json('look.moment'))->toBe('open');
    $this->bench
        ->post("jobs/{$job->id}/runs", ['kind' => 'charge', 'checks' => []])
        ->assertStatus(409)
        ->assertJsonPath('code', 'look-first');
    $this->bench
        ->post("jobs/{$job->id}/triage", ['moment' => 'open', 'inspection' => ['leaking' => null] + Workbench::NOTHING])
        ->assertStatus(422)
        ->assertJsonPath('fields', ['inspection.leaking' => 'Neither yes nor no: look, and say which.']);
    $this->bench->look($job)->assertOk()->assertJsonPath('look', null);
    $this->bench
        ->post("jobs/{$job->id}/runs", ['kind' => 'charge', 'checks' => []])
        ->assertStatus(422)
        ->assertJsonPath('code', 'check-missing');
    // Inside it leaks: quarantine, and nothing more is asked of who stays away from it.
    $leaks = $this->bench->open(looked: false);
    $this->bench
        ->post("jobs/{$leaks->id}/triage", ['moment' => 'open', 'inspection' => ['leaking' => true]])
        ->assertOk()
        ->assertJsonPath('safety_state', 'quarantine')
        ->assertJsonPath('look', null);
});

it('owes a look after a run that warmth ended, and none after one that a person did', function (): void {
    $job = $this->bench->open();
    $moment = fn(): ?string => $this->getJson("/api/jobs/{$job->id}")->json('look.moment');
    $ended = fn(string $why) => Event::query()->insert([
        'workshop_id' => $job->workshop_id,
        'job_id' => $job->id,
        'person_id' => $this->bench->people['technician']->id,
        'kind' => 'run-ended',
        'data' => json_encode(['kind' => 'charge', 'group' => null, 'outcome' => $why, 'text' => '']),
        'at' => now()->format('Y-m-d H:i:s.u'),
    ]);
    $ended('person');
    expect($moment())->toBeNull();
    $ended('temperature.hot');
    expect($moment())->toBe('stopped');
    $this->bench
        ->post("jobs/{$job->id}/runs", ['kind' => 'charge', 'checks' => []])
        ->assertStatus(409)
        ->assertJsonPath('code', 'look-first');
    // A word on one thing is no whole look.
    $this->bench->post("jobs/{$job->id}/triage", ['inspection' => ['wet' => false]])->assertOk();
    expect($moment())->toBe('stopped');
    $this->bench->look($job)->assertOk();
    expect($moment())->toBeNull();
});

it('lets nobody probe high voltage alone, and says its rule before anything was read', function (): void {
    $high = ['chemistry' => 'lfp', 'series' => 20, 'parallel' => 1, 'kind' => 'storage'];
    $job = $this->bench->open(pack: $high, looked: false);
    $known = $this->getJson("/api/jobs/{$job->id}");
    expect($known->json('rules.0'))->toContain('73.0 V when full is high voltage')->and($known->json('look.second_person'))->toBeTrue();
    $alone = ['moment' => 'open', 'inspection' => Workbench::NOTHING];
    $this->bench
        ->post("jobs/{$job->id}/triage", $alone)
        ->assertStatus(422)
        ->assertJsonPath('code', 'alone');
    $this->bench
        ->post("jobs/{$job->id}/triage", ['second_person' => 'Sunniva Holm'] + $alone)
        ->assertOk()
        ->assertJsonPath('look', null);
    $look = Event::query()->where('job_id', $job->id)->where('kind', 'triage')->latest('id')->first();
    expect($look->data['second_person'])->toBe('Sunniva Holm')->and($look->data['moment'])->toBe('open');
    // Damage may be said by whoever stands there alone.
    $burnt = $this->bench->open(pack: $high, looked: false);
    $this->bench
        ->post("jobs/{$burnt->id}/triage", ['moment' => 'open', 'inspection' => ['burnt' => true]])
        ->assertOk()
        ->assertJsonPath('safety_state', 'hold');
});

it('gates by the state at the moment of the act and shows why on the job', function (): void {
    $job = $this->bench->open(['dropped']);
    $gates = $this->getJson("/api/jobs/{$job->id}")->json('gates');
    expect($gates['sign-off'])->toContain('hold')->and($gates['open'])->toContain('senior');
    $this->bench->as('senior');
    expect($this->getJson("/api/jobs/{$job->id}")->json('gates')['open'])->toBeNull();
});

it('signs a revision once and names who did', function (): void {
    $job = $this->bench->open();
    $this->bench->post("jobs/{$job->id}/sign-off", ['reason' => 'Shown only.'])->assertOk();
    $this->bench
        ->post("jobs/{$job->id}/sign-off", ['reason' => 'Again.'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'signed');
    expect(SignOff::query()->where('job_id', $job->id)->sole()->signed_by)->toBe($this->bench->people['technician']->id);
});

it('wants the cause of a short circuit before it signs', function (): void {
    $job = $this->bench->open(['short-circuited']);
    Carbon::setTestNow(now()->addHours(25));
    $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/safety", ['way' => 'released', 'reason' => 'watched'])
        ->assertOk();
    $this->bench
        ->post("jobs/{$job->id}/sign-off", ['reason' => 'fine'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'cause');
    $this->bench->post("jobs/{$job->id}/proof", ['check' => 'cause-named', 'data' => ['cause' => 'A key in the bag']])->assertOk();
    $this->bench->post("jobs/{$job->id}/sign-off", ['reason' => 'fine'])->assertOk();
});

it('takes proof entries by their fields and refuses what is none', function (string $check, array $data, int $status): void {
    $job = $this->bench->open();
    $this->bench->post("jobs/{$job->id}/proof", ['check' => $check, 'data' => $data])->assertStatus($status);
})->with([
    ['board-high-cut', ['v' => 4.26], 200],
    ['board-high-cut', ['v' => 'high'], 422],
    ['board-high-cut', [], 422],
    ['output-live', ['live' => true], 200],
    ['output-live', ['live' => 'perhaps'], 422],
    ['cause-named', ['cause' => ''], 422],
    ['finished-voltage', ['v' => 50], 422],
    ['no-such-check', [], 422],
]);

it('returns nothing that is not signed, and closes a scrapped one without', function (): void {
    $job = $this->bench->open();
    $this->bench
        ->post("jobs/{$job->id}/return")
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-signed');
    $this->bench->read($job, [0.1, 0.2, 3.8, 3.8]);
    $id = $this->bench->post("jobs/{$job->id}/verdict")->json('verdict.id');
    $this->bench->post("jobs/{$job->id}/decision", ['verdict_id' => $id, 'action' => 'recycle', 'reason' => 'Gone.']);
    $this->bench
        ->post("jobs/{$job->id}/return")
        ->assertOk()
        ->assertJsonPath('status', 'scrapped');
    $this->bench
        ->post("jobs/{$job->id}/wait", ['until' => now()->addDay()->toIso8601ZuluString()])
        ->assertStatus(409)
        ->assertJsonPath('code', 'closed');
});

it('answers every kind of error in the one shape of the contract', function (): void {
    $job = $this->bench->open();
    $answers = [
        [$this->getJson('/api/jobs/0'), 'get', '/api/jobs/{job}'],
        [$this->bench->post("jobs/{$job->id}/stage", ['stage' => 'work']), 'post', '/api/jobs/{job}/stage'],
        [$this->bench->post('jobs', []), 'post', '/api/jobs'],
        [$this->bench->as('trainee')->post("jobs/{$job->id}/sign-off"), 'post', '/api/jobs/{job}/sign-off'],
        [$this->postJson('/api/outbox', []), 'post', '/api/outbox'],
    ];
    foreach ($answers as [$response, $method, $path]) {
        expect(Contract::complaints($response, $method, $path))->toBe([])->and($response->json('message'))->not->toBe('');
    }
    expect($this->getJson('/api/no/such/thing')->assertNotFound()->json('code'))->toBe('not-found');
});

it('finds nothing by a percent sign that is not there', function (): void {
    $this->bench->open();
    expect($this->getJson('/api/search?q=' . urlencode('%'))->json('jobs'))
        ->toBe([])
        ->and($this->getJson('/api/search?q=' . urlencode('_'))->json('jobs'))
        ->toBe([]);
    $this->getJson('/api/search')->assertStatus(422);
});

it('names the field of a label check and guesses groups from volts', function (): void {
    $guess = $this->postJson('/api/label-check', ['pack' => ['chemistry' => 'nmc', 'label' => ['full_v' => 54.6]]])
        ->assertOk()
        ->json('series');
    expect($guess[0]['series'])->toBe(13)->and($guess[0]['reading'])->toBe('full');
    $wrong = $this->postJson('/api/label-check', [
        'pack' => [
            'chemistry' => 'nmc',
            'series' => 10,
            'parallel' => 2,
            'label' => ['nominal_v' => 36, 'capacity_ah' => 5, 'energy_wh' => 250],
        ],
    ])->json('mismatches');
    expect(array_column($wrong, 'field'))
        ->toBe(['energy_wh'])
        ->and($wrong[0]['should_be'])
        ->toEqual(180);
    $this->postJson('/api/label-check', ['pack' => ['chemistry' => 'nmc', 'series' => 900]])
        ->assertStatus(422)
        ->assertJsonStructure(['fields' => ['pack.series']]);
});

it('draws the core sample for paper from the looks that the screens use', function (): void {
    $states = json_decode((string) file_get_contents(base_path('contract/states.json')), true);
    $groups = array_map(
        fn(string $s, int $i): array => ['group' => $i + 1, 'v' => $s === 'unread' ? null : 3.7, 'state' => $s, 'probability' => 0.9],
        array_keys($states),
        array_keys(array_keys($states)),
    );
    $svg = CoreSampleSvg::draw($groups);
    foreach ($states as $look) {
        expect($svg)->toContain($look['fill'])->toContain($look['word']);
    }
    expect(simplexml_load_string($svg))
        ->not->toBeFalse()
        ->and(CoreSampleSvg::draw([['group' => 1, 'v' => 3.7, 'state' => 'group.dead', 'probability' => 0.4]]))
        ->toContain('dead?');
    expect(strpos($svg, '>1   '))->toBeGreaterThan(strpos($svg, '>2   '));
});

it('has a look for every state a group can be in', function (): void {
    $states = array_keys(json_decode((string) file_get_contents(base_path('contract/states.json')), true));
    $schema = json_decode((string) file_get_contents(base_path('contract/verdict.schema.json')), true);
    expect(array_diff($schema['properties']['groups']['items']['properties']['state']['enum'], $states))->toBe([]);
});

it('prints a report of a pack that has nothing yet, and of one in quarantine', function (): void {
    $bare = $this->bench->open();
    expect(
        $this->get("/api/jobs/{$bare->id}/report.pdf")
            ->assertOk()
            ->headers->get('content-type'),
    )->toBe('application/pdf');
    $held = $this->bench->open([], ['leaking' => true]);
    $view = $this->getJson("/api/jobs/{$held->id}")->json();
    expect(
        strlen(
            ReportPdf::render(
                App\Http\Views\JobView::of(Job::query()->findOrFail($held->id), $this->bench->people['technician']),
                'Test bench',
            ),
        ),
    )
        ->toBeGreaterThan(2000)
        ->and($view['safety_reasons'])
        ->toBe(['a cell leaks']);
});

it('keeps the schemas to what they say: unknown fields, wrong types, numbers out of range', function (
    mixed $change,
    string $pointer,
    string $message,
): void {
    $record = ['format' => 'heartwood.job', 'version' => 1, 'pack' => ['chemistry' => 'nmc', 'series' => 4]];
    $problems = SchemaCheck::problems(json_decode((string) json_encode(array_replace_recursive($record, $change))), 'job.schema.json');
    expect(collect($problems)->firstWhere('pointer', $pointer)['message'] ?? '')->toContain($message);
})->with([
    [['pack' => ['series' => 201]], '/pack/series', 'or less'],
    [['pack' => ['series' => '4']], '/pack/series', 'must be integer'],
    [['colour' => 1], '/colour', 'not known'],
    [['symptoms' => ['itches']], '/symptoms/0', 'not one of'],
    [['pack' => ['chemistry' => null]], '/pack/chemistry', 'not one of'],
    [['tests' => [['kind' => 'wake', 'action' => 'button']]], '/tests/0/woke', 'missing'],
    [
        ['measurements' => [['id' => 'a', 'condition' => 'rest', 'readings' => [['from' => 'X1', 'to' => 'T1', 'v' => 1]]]]],
        '/measurements/0/readings/0/from',
        'written',
    ],
]);

it('says on the bench what is due, who touched each job last and when, and forgets a due once somebody does', function (): void {
    $row = fn(int $id): array => collect($this->getJson('/api/bench')->assertOk()->json('jobs'))->firstWhere('id', $id);
    $job = $this->bench->open();
    $this->bench->read($job, [3.8, 3.8, 3.8, 3.8]);
    $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/wait", ['until' => now()->addDay()->toIso8601ZuluString(), 'for' => 'Read group 3 again']);
    expect($row($job->id))->toMatchArray([
        'lane' => 'waiting',
        'due' => false,
        'next' => 'Read group 3 again',
        'by' => $this->bench->people['senior']->name,
    ]);
    $this->travel(25)->hours();
    $this->bench->as('technician');
    expect($row($job->id))->toMatchArray(['lane' => 'hands', 'due' => true, 'next' => 'Read group 3 again']);
    $this->bench->read($job, [3.8, 3.8, 3.79, 3.8]);
    expect($row($job->id))
        ->toMatchArray(['lane' => 'hands', 'due' => false, 'by' => $this->bench->people['technician']->name])
        ->and($row($job->id)['next'])
        ->not->toBe('Read group 3 again')
        ->and(abs(now()->diffInSeconds($row($job->id)['touched_at'])))
        ->toBeLessThan(10);
});

it('shows every open job of a bench of two hundred in a handful of questions', function (): void {
    $job = $this->bench->open();
    $rows = array_map(
        fn(int $n): array => ['number' => 1000 + $n, 'created_at' => now(), 'updated_at' => now()] +
            array_diff_key((array) DB::table('jobs')->find($job->id), ['id' => 1]),
        range(1, 200),
    );
    DB::table('jobs')->insert(array_map(fn(array $r): array => $r, $rows));
    DB::enableQueryLog();
    $shown = $this->getJson('/api/bench')->assertOk()->json('jobs');
    expect(count($shown))->toBe(201)->and(count(DB::getQueryLog()))->toBeLessThan(16);
});
