<?php

declare(strict_types=1);

use App\Console\GrantCommand;
use App\Models\Job;
use App\Models\Person;
use App\Models\Reading;
use App\Models\Run;
use App\Models\Verdict;
use App\Policies\Rights;
use Carbon\Carbon;
use Carbon\CarbonImmutable;
use Illuminate\Database\QueryException;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('technician');
});

afterEach(fn() => Carbon::setTestNow());

it('answers as the contract says, on every screen\'s request', function (): void {
    $job = $this->bench->open(['low-range']);
    $this->bench->read($job, [3.85, 3.851, 3.62, 3.849]);
    $job->refresh();
    foreach (
        [
            ['get', '/api/session', '/api/session'],
            ['get', '/api/bench', '/api/bench'],
            ['get', '/api/lookups', '/api/lookups'],
            ['get', '/api/search?q=Test', '/api/search'],
            ['get', "/api/jobs/{$job->id}", '/api/jobs/{job}'],
            ['get', '/api/jobs/99999999', '/api/jobs/{job}'],
        ]
        as [$method, $url, $path]
    ) {
        expect(Contract::complaints($this->json($method, $url), $method, $path))->toBe([]);
    }
    $verdict = $this->bench->post("jobs/{$job->id}/verdict");
    expect(Contract::complaints($verdict, 'post', '/api/jobs/{job}/verdict'))->toBe([]);
    $decided = $this->bench->post("jobs/{$job->id}/decision", [
        'verdict_id' => $verdict->json('verdict.id'),
        'action' => 'charge-group',
        'reason' => 'It only drifted.',
    ]);
    expect(Contract::complaints($decided, 'post', '/api/jobs/{job}/decision'))->toBe([])->and($decided->json('stage'))->toBe('work');
    expect(Contract::complaints($this->bench->post('jobs', ['name' => '']), 'post', '/api/jobs'))->toBe([]);
    expect(
        Contract::complaints(
            $this->postJson('/api/label-check', ['pack' => ['chemistry' => 'nmc', 'series' => 10, 'label' => ['nominal_v' => 48]]]),
            'post',
            '/api/label-check',
        ),
    )->toBe([]);
    expect(
        $this->get("/api/jobs/{$job->id}/report.pdf")
            ->assertOk()
            ->getContent(),
    )->toStartWith('%PDF');
});

it('learns from what it was in the end and from nothing else, keeps it, exports it, and says no to what is no fault', function (): void {
    $learnt = fn(): array => array_column($this->getJson('/api/priors')->json('shares'), 'jobs', 'code');
    $close = function (array $body): Job {
        $job = $this->bench->open(['dies-early']);
        $this->bench->read($job, [3.85, 3.851, 0.02, 3.849]);
        $verdict = $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
        $this->bench
            ->post("jobs/{$job->id}/decision", [
                'verdict_id' => $verdict->json('verdict.id'),
                'action' => 'recycle',
                'reason' => 'Not worth it.',
            ])
            ->assertOk();
        foreach ($body['bad'] ?? [] as $bad) {
            $this->bench->post("jobs/{$job->id}/return", ['truth' => $bad])->assertStatus(422);
        }
        $this->bench
            ->post("jobs/{$job->id}/return", $body['good'])
            ->assertOk()
            ->assertJsonPath('status', 'scrapped');

        return $job;
    };
    $this->bench->as('senior');
    $silent = $close(['good' => []]);
    expect($learnt()['group.dead'])->toBe(0);
    $told = $close([
        'bad' => [[['code' => 'group.imaginary']], [['code' => 'group.dead', 'seen_by' => 'guessed']], [['where' => ['group' => 3]]]],
        'good' => [
            'truth' => [
                ['code' => 'group.dead', 'where' => ['group' => 3], 'seen_by' => 'opened'],
                ['code' => 'path.fuse-open', 'seen_by' => 'replaced'],
            ],
        ],
    ]);
    $sound = $close(['good' => ['truth' => []]]);
    expect($learnt()['group.dead'])->toBe(1)->and($learnt()['path.fuse-open'])->toBe(1)->and(array_sum($learnt()))->toBe(2);
    $record = fn(Job $job): array => json_decode(
        (string) $this->get("/api/jobs/{$job->id}/record")
            ->assertOk()
            ->getContent(),
        true,
    );
    expect($record($told)['truth'][0])
        ->toBe(['code' => 'group.dead', 'where' => ['group' => 3], 'seen_by' => 'opened'])
        ->and($record($sound)['truth'])
        ->toBe([])
        ->and($record($silent))
        ->not->toHaveKey('truth');
    $faults = $this->getJson('/api/faults')->assertOk();
    expect(Contract::complaints($faults, 'get', '/api/faults'))
        ->toBe([])
        ->and(array_column($faults->json(), 'code'))
        ->toContain('pack.aged', 'bms.latched')
        ->not->toContain('group.ok');
});

it('replays what the customer saw and runs every option through', function (): void {
    $job = $this->bench->open(['charger-full-at-once', 'dies-early']);
    expect($this->getJson("/api/jobs/{$job->id}/replay")->json('ready'))->toBeFalse();
    $this->bench->read($job, [4.13, 3.82, 3.82, 3.56]);
    $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
    $answer = $this->getJson("/api/jobs/{$job->id}/replay")->assertOk();
    expect(Contract::complaints($answer, 'get', '/api/jobs/{job}/replay'))
        ->toBe([])
        ->and($answer->json('sentence'))
        ->toContain('group 1 is full')
        ->toContain('group 4 is empty')
        ->and($answer->json('options'))
        ->not->toBe([])
        ->and(count($answer->json('charge.groups_v')))
        ->toBe(4);
});

it('takes a pack from the door to the signed report', function (): void {
    $job = $this->bench->open(['dies-early']);
    $this->bench->read($job, [3.85, 3.851, 3.62, 3.849]);
    $verdict = $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
    expect($verdict->json('verdict.document.findings.0.code'))
        ->toBe('group.undercharged')
        ->and($verdict->json('verdict.stale'))
        ->toBeFalse();
    $this->bench
        ->post("jobs/{$job->id}/decision", [
            'verdict_id' => $verdict->json('verdict.id'),
            'action' => 'charge-group',
            'reason' => 'Drifted.',
        ])
        ->assertOk();
    $this->bench->walk($job);
    $this->bench->send([$this->bench->entry($job, 'test', ['kind' => 'charge', 'stopped_by' => 'charger'])])->assertOk();
    $this->bench->read($job, [4.19, 4.191, 4.19, 4.189]);
    $this->bench
        ->send([$this->bench->entry($job, 'test', ['kind' => 'capacity', 'scope' => 'pack', 'measured_ah' => 7.3, 'started_full' => true])])
        ->assertOk();
    $signed = $this->bench->post("jobs/{$job->id}/sign-off", ['reason' => 'Cuts and temperature not needed for this tool.'])->assertOk();
    expect($signed->json('sign_off.by'))->toBe('Technician');
    $results = array_column($this->getJson("/api/jobs/{$job->id}")->json('proof'), 'status', 'code');
    expect($results['finished-voltage'])
        ->toBe('passed')
        ->and($results['capacity'])
        ->toBe('passed')
        ->and($results['board-high-cut'])
        ->toBe('missing')
        ->and($results['insulation'])
        ->toBe('not-needed');
    expect(
        $this->bench
            ->post("jobs/{$job->id}/return")
            ->assertOk()
            ->json('status'),
    )->toBe('returned');
    $this->bench->post("jobs/{$job->id}/stage", ['stage' => 'probe'])->assertStatus(409);
});

it('moves its priors with what its own closed jobs turned out to be, shows them and can be reset', function (): void {
    $before = collect($this->getJson('/api/priors')->json('shares'))->pluck('here', 'code');
    $job = $this->bench->open();
    $this->bench->read($job, [3.85, 0.05, 3.85, 3.85]);
    $verdict = $this->bench->post("jobs/{$job->id}/verdict");
    expect($verdict->json('verdict.document.priors'))->toBe('default');
    $this->bench
        ->post("jobs/{$job->id}/decision", [
            'verdict_id' => $verdict->json('verdict.id'),
            'action' => 'recycle',
            'reason' => 'Not worth it.',
        ])
        ->assertOk();
    $this->bench
        ->post("jobs/{$job->id}/return", ['truth' => [['code' => 'group.dead', 'where' => ['group' => 3], 'seen_by' => 'opened']]])
        ->assertOk();
    $after = $this->getJson('/api/priors');
    expect(Contract::complaints($after, 'get', '/api/priors'))
        ->toBe([])
        ->and(collect($after->json('shares'))->pluck('here', 'code')['group.dead'])
        ->toBeGreaterThan($before['group.dead']);
    $next = $this->bench->open();
    $this->bench->read($next, [3.85, 3.851, 3.62, 3.849]);
    expect($this->bench->post("jobs/{$next->id}/verdict")->json('verdict.document.priors'))->toContain('group.dead 1');
    $this->bench->post('priors/reset')->assertStatus(403);
    expect($this->bench->as('owner')->post('priors/reset')->assertOk()->json('name'))->toBe('default');
});

it('never signs a failed check nor silently a missing one', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [4.19, 4.191, 4.19, 4.189]);
    $this->bench->post("jobs/{$job->id}/sign-off")->assertStatus(422);
    $this->bench->post("jobs/{$job->id}/proof", ['check' => 'capacity', 'data' => ['ah' => 3.0]])->assertOk();
    $this->bench
        ->post("jobs/{$job->id}/sign-off", ['reason' => 'please'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'failed-checks');
});

it('stores every reading with what was typed and never twice', function (): void {
    $job = $this->bench->open();
    $set = (string) Str::uuid7();
    $entries = [
        $this->bench->entry($job, 'measurement', ['condition' => 'rest', 'rested_min' => 60], $set),
        $this->bench->entry($job, 'reading', ['measurement_id' => $set, 'from' => 'T0', 'to' => 'T1', 'typed' => '3,710']),
        $this->bench->entry($job, 'reading', ['measurement_id' => $set, 'from' => 'T0', 'to' => 'T2', 'typed' => '7.42 V']),
    ];
    $first = $this->bench->send($entries, $set)->assertOk();
    expect(Contract::complaints($first, 'post', '/api/outbox'))->toBe([])->and($first->json('last_seq'))->toBe(3);
    $again = $this->bench->send($entries)->assertOk();
    expect(array_column($again->json('results'), 'status'))->toBe(['duplicate', 'duplicate', 'duplicate']);
    $kept = Reading::query()->where('job_id', $job->id)->orderBy('seq')->get();
    expect($kept)
        ->toHaveCount(2)
        ->and($kept[0]->typed)
        ->toBe('3,710')
        ->and($kept[0]->value)
        ->toBe(3.71)
        ->and($kept[1]->value)
        ->toBe(7.42)
        ->and($kept[0]->taken_by)
        ->toBe($this->bench->people['technician']->id);
});

it('refuses a gap in the numbering and another person\'s outbox', function (): void {
    $job = $this->bench->open();
    $this->bench->seq = 4;
    $this->bench
        ->send([$this->bench->entry($job, 'test', ['kind' => 'flex', 'changed' => false])])
        ->assertStatus(409)
        ->assertJsonPath('code', 'gap');
    $this->bench->seq = 0;
    $this->bench->send([$this->bench->entry($job, 'test', ['kind' => 'flex', 'changed' => false])])->assertOk();
    $this->bench
        ->as('trainee')
        ->send([$this->bench->entry($job, 'test', ['kind' => 'flex', 'changed' => false])])
        ->assertStatus(403)
        ->assertJsonPath('code', 'other-person');
});

it('refuses what is no number by its field, keeps the numbering and stores the rest', function (): void {
    $job = $this->bench->open();
    $set = (string) Str::uuid7();
    $answer = $this->bench
        ->send([
            $this->bench->entry($job, 'measurement', ['condition' => 'rest'], $set),
            $this->bench->entry($job, 'reading', ['measurement_id' => $set, 'from' => 'T0', 'to' => 'T1', 'typed' => 'three']),
            $this->bench->entry($job, 'reading', ['measurement_id' => $set, 'from' => 'T0', 'to' => 'T9', 'typed' => '3.7']),
            $this->bench->entry($job, 'reading', ['measurement_id' => $set, 'from' => 'T0', 'to' => 'T2', 'typed' => '7.4']),
            $this->bench->entry($job, 'measurement', ['condition' => 'boiling']),
        ])
        ->assertOk();
    expect(array_column($answer->json('results'), 'status'))
        ->toBe(['stored', 'refused', 'refused', 'stored', 'refused'])
        ->and(array_keys($answer->json('results.1.errors')))
        ->toBe(['typed'])
        ->and(array_keys($answer->json('results.2.errors')))
        ->toBe(['to'])
        ->and($answer->json('last_seq'))
        ->toBe(5);
});

it('corrects by a new entry that points to the old, and withdraws the same way', function (): void {
    $job = $this->bench->open();
    $set = $this->bench->read($job, [3.8, 3.8, 0.38, 3.8]);
    $wrong = Reading::query()->where('job_id', $job->id)->where('to_point', 'T3')->firstOrFail();
    $this->bench
        ->send([
            $this->bench->entry($job, 'reading', [
                'measurement_id' => $set,
                'from' => 'T2',
                'to' => 'T3',
                'typed' => '3.801',
                'corrects_id' => $wrong->id,
            ]),
        ])
        ->assertOk();
    $shown = collect($this->getJson("/api/jobs/{$job->id}")->json('measurements.0.readings'));
    expect($shown->firstWhere('to', 'T3')['v'])
        ->toBe(3.801)
        ->and($shown->where('to', 'T3'))
        ->toHaveCount(1)
        ->and(Reading::query()->find($wrong->id)->value)
        ->toBe(0.38);
    $this->bench
        ->send([
            $this->bench->entry($job, 'reading', [
                'measurement_id' => $set,
                'from' => 'T2',
                'to' => 'T3',
                'typed' => '',
                'corrects_id' => $shown->firstWhere('to', 'T3')['id'],
            ]),
        ])
        ->assertOk();
    expect(collect($this->getJson("/api/jobs/{$job->id}")->json('measurements.0.readings'))->where('to', 'T3'))->toHaveCount(0);
});

it('questions a suspicious value at once', function (): void {
    $job = $this->bench->open();
    $set = (string) Str::uuid7();
    $entries = [$this->bench->entry($job, 'measurement', ['condition' => 'rest'], $set)];
    foreach (['3.800', '7.601', '7.601'] as $i => $typed) {
        $entries[] = $this->bench->entry($job, 'reading', [
            'measurement_id' => $set,
            'from' => 'T0',
            'to' => 'T' . ($i + 1),
            'typed' => $typed,
        ]);
    }
    $check = $this->bench->send($entries, $set)->json('check');
    expect($check['questions'][0]['kind'])
        ->toBe('same-value')
        ->and($check['questions'][0]['settle'])
        ->toBe(['from' => 'T2', 'to' => 'T3'])
        ->and($check['groups'][0]['v'])
        ->toBe(3.8);
});

it('gives the database account no way to alter what was observed', function (string $table): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.8, 3.8, 3.8, 3.8]);
    expect(
        fn() => DB::table($table)
            ->where('job_id', $job->id)
            ->update(['job_id' => $job->id]),
    )
        ->toThrow(QueryException::class, 'denied')
        ->and(fn() => DB::table($table)->where('job_id', $job->id)->delete())
        ->toThrow(QueryException::class, 'denied');
})->with(array_diff(GrantCommand::APPEND_ONLY, ['migrations']));

it('stores facts in quarantine and gates every action', function (): void {
    $job = $this->bench->open([], ['swollen' => true]);
    expect($job->safety_state)->toBe('quarantine');
    $this->bench->read($job, [3.8, 3.6, 3.8, 3.8]);
    expect(Reading::query()->where('job_id', $job->id)->count())->toBe(5);
    $verdict = $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
    expect(array_column($verdict->json('verdict.document.options'), 'action'))->toBe(['quarantine', 'recycle']);
    $this->bench
        ->as('owner')
        ->post("jobs/{$job->id}/sign-off", ['reason' => 'x x'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'gate');
    $this->bench
        ->post("jobs/{$job->id}/return")
        ->assertStatus(409)
        ->assertJsonPath('code', 'gate');
    $this->bench
        ->post("jobs/{$job->id}/safety", ['way' => 'released', 'reason' => 'looks fine'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'quarantine');
});

it('gates work that was decided before the pack went on hold', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.85, 3.851, 3.62, 3.849]);
    $id = $this->bench->post("jobs/{$job->id}/verdict")->json('verdict.id');
    $work = $this->bench->post("jobs/{$job->id}/decision", ['verdict_id' => $id, 'action' => 'charge-group', 'reason' => 'Drifted.']);
    $this->bench
        ->post("jobs/{$job->id}/triage", ['inspection' => ['wet' => true]])
        ->assertOk()
        ->assertJsonPath('safety_state', 'hold');
    $this->bench
        ->post("jobs/{$job->id}/steps/{$work->json('decision.steps.0.id')}", ['done' => true])
        ->assertStatus(409)
        ->assertJsonPath('code', 'gate');
});

it('leaves quarantine only by its three recorded ways', function (): void {
    $job = $this->bench->open([], ['swollen' => true]);
    $this->bench
        ->as('technician')
        ->post("jobs/{$job->id}/safety", ['way' => 'mistake', 'reason' => 'wrong box ticked'])
        ->assertStatus(403);
    $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/safety", ['way' => 'cell-removed', 'reason' => 'removed outdoors'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'watch');
    Carbon::setTestNow(now()->addHours(25));
    $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/safety", ['way' => 'cell-removed', 'reason' => 'removed outdoors'])
        ->assertOk()
        ->assertJsonPath('safety_state', 'hold')
        ->assertJsonPath('revision', 2);
    $this->bench->post("jobs/{$job->id}/safety", ['way' => 'released', 'reason' => 'cold'])->assertStatus(409);
    Carbon::setTestNow(now()->addHours(25));
    $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/safety", ['way' => 'released', 'reason' => 'cold and dry'])
        ->assertOk()
        ->assertJsonPath('safety_state', 'clear');
    $this->bench
        ->post("jobs/{$job->id}/triage", ['inspection' => ['swollen' => true]])
        ->assertOk()
        ->assertJsonPath('safety_state', 'quarantine');
    $this->bench
        ->post("jobs/{$job->id}/safety", ['way' => 'mistake', 'reason' => 'the other pack was meant'])
        ->assertOk()
        ->assertJsonPath('safety_state', 'clear');
    $this->bench->post("jobs/{$job->id}/triage", ['inspection' => ['leaking' => true]])->assertOk();
    $this->bench
        ->post("jobs/{$job->id}/safety", ['way' => 'scrapped', 'reason' => 'gone'])
        ->assertOk()
        ->assertJsonPath('status', 'scrapped');
});

it('opens the next revision when a step alters the pack and judges only what came after', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.85, 3.851, 0.1, 3.849]);
    $verdict = $this->bench->post("jobs/{$job->id}/verdict");
    $this->bench
        ->post("jobs/{$job->id}/decision", ['verdict_id' => $verdict->json('verdict.id'), 'action' => 'replace-group', 'reason' => 'Dead.'])
        ->assertOk();
    $answer = $this->bench->walk($job);
    expect($answer->json('revision'))->toBe(2)->and($answer->json('verdict.stale'))->toBeTrue();
    $this->bench->read($job->refresh(), [3.85, 3.851, 3.85, 3.849]);
    $after = $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
    expect(array_column($after->json('verdict.document.findings'), 'code'))
        ->not->toContain('group.dead')
        ->and($after->json('decision.found.findings.0.code'))
        ->toBe('group.dead')
        ->and(Verdict::query()->where('job_id', $job->id)->pluck('revision')->all())
        ->toBe([1, 2]);
});

it('gives the same verdict for the same evidence and refuses a decision on an older one', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.85, 3.851, 3.62, 3.849]);
    $a = $this->bench->post("jobs/{$job->id}/verdict")->json('verdict.id');
    expect($this->bench->post("jobs/{$job->id}/verdict")->json('verdict.id'))->toBe($a);
    $this->bench->read($job, [3.85, 3.851, 3.61, 3.849]);
    expect($this->getJson("/api/jobs/{$job->id}")->json('verdict.stale'))->toBeTrue();
    expect($this->bench->post("jobs/{$job->id}/verdict")->json('verdict.id'))->not->toBe($a);
    $this->bench
        ->post("jobs/{$job->id}/decision", ['verdict_id' => $a, 'action' => 'charge-group', 'reason' => 'old'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'stale-verdict');
});

it('repeats a write with the same key and refuses the key for another body', function (): void {
    $key = (string) Str::uuid();
    $body = ['customer' => 'C', 'name' => 'Twice', 'symptoms' => [], 'inspection' => [], 'pack' => ['chemistry' => 'nmc', 'series' => 3]];
    $a = $this->bench->post('jobs', $body, $key)->assertCreated();
    $b = $this->bench->post('jobs', $body, $key)->assertCreated()->assertHeader('Idempotency-Replayed');
    expect($b->json('id'))
        ->toBe($a->json('id'))
        ->and(Job::query()->where('name', 'Twice')->count())
        ->toBe(1);
    $this->bench
        ->post('jobs', ['name' => 'Other'] + $body, $key)
        ->assertStatus(409)
        ->assertJsonPath('code', 'key-reused');
    $this->postJson('/api/jobs', $body)->assertStatus(400)->assertJsonPath('code', 'no-key');
});

it('leaves nothing behind when a write fails, not even its key', function (): void {
    $key = (string) Str::uuid();
    $bad = ['customer' => 'C', 'name' => 'Bad', 'symptoms' => [], 'inspection' => [], 'pack' => ['chemistry' => 'nmc', 'series' => 0]];
    $this->bench
        ->post('jobs', $bad, $key)
        ->assertStatus(422)
        ->assertJsonPath('fields', ['pack.series' => 'must be 1 or more']);
    expect(Job::query()->where('name', 'Bad')->exists())->toBeFalse();
    $this->bench->post('jobs', ['pack' => ['chemistry' => 'nmc', 'series' => 3]] + $bad, $key)->assertCreated();
});

it('keeps to the table of rights', function (string $right, string $path, array $body): void {
    $job = $this->bench->open();
    foreach (['owner', 'senior', 'technician', 'trainee'] as $role) {
        $status = $this->bench->as($role)->post(str_replace('{job}', (string) $job->id, $path), $body)->getStatusCode();
        expect($status === 403)->toBe(!Rights::allows($this->bench->people[$role], $right), "$role $path gave $status");
    }
})->with([
    ['intake', 'jobs', ['name' => '']],
    ['triage', 'jobs/{job}/triage', ['inspection' => ['swollen' => 'perhaps']]],
    ['release', 'jobs/{job}/safety', []],
    ['decide', 'jobs/{job}/decision', []],
    ['sign-off', 'jobs/{job}/sign-off', ['reason' => ['x']]],
    ['return', 'jobs/{job}/return', ['note' => ['x']]],
    ['import', 'import', []],
    ['wait', 'jobs/{job}/wait', ['until' => 'never']],
]);

it('shows a workshop nothing of another', function (): void {
    $job = $this->bench->open();
    $other = new Workbench($this);
    $other->as('owner');
    $this->getJson("/api/jobs/{$job->id}")->assertNotFound();
    expect($this->getJson('/api/search?q=Test')->json('jobs'))
        ->toBe([])
        ->and($this->getJson('/api/bench')->json('jobs'))
        ->toBe([]);
    $sent = $other->send([$other->entry($job, 'test', ['kind' => 'flex', 'changed' => true])]);
    expect($sent->json('results.0.status'))->toBe('refused');
});

it('lets nobody in who is signed out, and signs in by name and password', function (): void {
    app('auth')->forgetGuards();
    $this->getJson('/api/bench')->assertStatus(401)->assertJsonPath('code', 'signed-out');
    $this->postJson('/api/session', ['email' => $this->bench->people['owner']->email, 'password' => 'wrong'])
        ->assertStatus(422)
        ->assertJsonPath('fields', ['password' => 'E-mail and password do not match.']);
    $this->postJson('/api/session', ['email' => $this->bench->people['owner']->email, 'password' => 'secret-word'])
        ->assertOk()
        ->assertJsonPath('role', 'owner');
    Person::query()
        ->where('id', $this->bench->people['trainee']->id)
        ->update(['active' => false]);
    $this->postJson('/api/session', ['email' => $this->bench->people['trainee']->email, 'password' => 'secret-word'])->assertStatus(422);
});

it('takes a record in and gives the same evidence out', function (): void {
    $record = json_decode((string) file_get_contents(base_path('tests/Core/cases/03-leak.json')), true)['job'];
    $record['workshop'] = ['paid' => true];
    $record['events'] = [['at' => '2026-11-03T09:00:00Z', 'kind' => 'retightened', 'where' => ['joint' => 1], 'revision' => 1]];
    $job = $this->bench->post('import', ['customer' => 'Elsewhere', 'record' => (string) json_encode($record)])->assertCreated();
    $text = $this->getJson("/api/jobs/{$job->json('id')}/record")
        ->assertOk()
        ->getContent();
    $out = json_decode((string) $text, true);
    expect($out['workshop'])
        ->toBe(['paid' => true])
        ->and($out['events'])
        ->toBe($record['events'])
        ->and(count($out['measurements']))
        ->toBe(4)
        ->and(array_column($out['measurements'][0]['readings'], 'v'))
        ->toEqual(array_column($record['measurements'][0]['readings'], 'v'));
    $verdict = $this->bench->post("jobs/{$job->json('id')}/verdict")->json('verdict.document.findings');
    expect(
        collect($verdict)->contains(
            fn(array $f) => $f['code'] === 'group.self-discharge' && $f['where'] === ['group' => 4] && $f['probability'] > 0.7,
        ),
    )->toBeTrue();
    $again = $this->bench->post('import', ['customer' => 'Elsewhere', 'record' => $text])->assertCreated();
    expect($again->json('series'))->toBe(4);
});

it('imports nothing of a record with an error and names the place', function (): void {
    $record = json_decode((string) file_get_contents(base_path('tests/Core/cases/03-leak.json')), true)['job'];
    $record['measurements'][1]['readings'][0]['to'] = 'T7';
    $before = Job::query()->count();
    $this->bench
        ->post('import', ['customer' => 'Elsewhere', 'record' => (string) json_encode($record)])
        ->assertStatus(422)
        ->assertJsonPath('code', 'invalid-record');
    $this->bench->post('import', ['customer' => 'Elsewhere', 'record' => '{'])->assertStatus(422);
    expect(Job::query()->count())->toBe($before);
});

it('finds jobs by number, name, customer and batch', function (): void {
    $job = $this->bench->open();
    $this->patchJson(
        "/api/jobs/{$job->id}",
        ['batch' => 'Crate seven', 'serial' => 'SN-44%'],
        ['Idempotency-Key' => (string) Str::uuid(), 'If-Match' => '*'],
    )->assertOk();
    foreach (['#' . $job->number, 'test pa', 'CUSTOMER', 'crate', '44%'] as $term) {
        expect(array_column($this->getJson('/api/search?q=' . urlencode($term))->json('jobs'), 'id'))->toContain($job->id);
    }
    expect($this->getJson('/api/search?q=nothing-like-it')->json('jobs'))->toBe([]);
});

it('puts a job in the lane where it belongs', function (): void {
    $hands = $this->bench->open();
    $held = $this->bench->open(['dropped']);
    $waits = $this->bench->open();
    $this->bench
        ->post("jobs/{$waits->id}/wait", ['until' => now()->addDay()->toIso8601ZuluString(), 'for' => 'a leak to show'])
        ->assertOk();
    $lanes = collect($this->getJson('/api/bench')->json('jobs'))->pluck('lane', 'id');
    expect([$lanes[$hands->id], $lanes[$held->id], $lanes[$waits->id]])->toBe(['hands', 'held', 'waiting']);
    Carbon::setTestNow(now()->addDays(2));
    $this->bench->as('technician');
    expect(collect($this->getJson('/api/bench')->json('jobs'))->pluck('lane', 'id')[$waits->id])->toBe('hands');
});

it('loads a demo of at least fourteen jobs over every stage, two of its batches of one model', function (): void {
    DB::table('sessions')->delete();
    $loaded = (new App\Demo\DemoWorkshop(CarbonImmutable::now()))->load();
    Carbon::setTestNow();
    CarbonImmutable::setTestNow();
    $jobs = Job::query()
        ->whereHas(
            'customer',
            fn($q) => $q->where('workshop_id', Person::query()->where('email', App\Demo\DemoWorkshop::PEOPLE[0][1])->value('workshop_id')),
        )
        ->get();
    expect($loaded)
        ->toBeGreaterThanOrEqual(14)
        ->and($jobs)
        ->toHaveCount($loaded)
        ->and($jobs->pluck('stage')->unique()->sort()->values()->all())
        ->toBe(['plan', 'probe', 'proof', 'report', 'verdict', 'work'])
        ->and(
            $jobs
                ->where('batch', '!=', '')
                ->groupBy('batch')
                ->filter(fn($b) => $b->pluck('pack_model_id')->unique()->count() === 1)
                ->count(),
        )
        ->toBeGreaterThanOrEqual(2)
        ->and($jobs->pluck('safety_state')->unique()->sort()->values()->all())
        ->toBe(['clear', 'hold', 'quarantine']);
});

it('knows an entry by its own id, whatever number it comes under after this server or a bench was set back', function (): void {
    $bench = (new Workbench($this))->as('technician');
    $job = $bench->open();
    $box = (string) Str::uuid7();
    $send = fn(array $entries) => $this->postJson('/api/outbox', ['outbox_id' => $box, 'entries' => $entries]);
    $entry = fn(int $seq, string $kind, array $data, ?string $id = null): array => [
        'seq' => $seq,
        'id' => $id ?? (string) Str::uuid7(),
        'kind' => $kind,
        'job_id' => $job->id,
        'at' => now()->toIso8601ZuluString(),
        'data' => $data,
    ];
    $set = $entry(1, 'measurement', ['condition' => 'rest', 'rested_min' => 600]);
    $read = fn(int $seq, int $k, ?string $id = null): array => $entry(
        $seq,
        'reading',
        ['measurement_id' => $set['id'], 'from' => "T$k", 'to' => 'T' . ($k + 1), 'typed' => '3.80'],
        $id,
    );
    $all = [$set, $read(2, 0), $read(3, 1), $read(4, 2)];
    $send($all)->assertOk()->assertJsonPath('last_seq', 4)->assertJsonPath('epoch', '');
    // A bench that was set back gives numbers a second time: what comes under them is another entry, and kept.
    $again = $send([$read(2, 0, $all[1]['id']), ($two = $read(3, 1)), ($three = $read(4, 3))])->assertOk();
    expect(array_column($again->json('results'), 'status'))
        ->toBe(['duplicate', 'stored', 'stored'])
        ->and($again->json('last_seq'))
        ->toBe(4)
        ->and(DB::table('readings')->where('job_id', $job->id)->count())
        ->toBe(5);
    // Which of what it holds is not here: asked by a bench that finds this server set back.
    $gone = $read(5, 0);
    $asked = array_map(fn(array $e): array => ['id' => $e['id'], 'kind' => $e['kind'], 'job_id' => $e['job_id']], [
        ...$all,
        $two,
        $gone,
        $three,
    ]);
    $this->postJson('/api/outbox/missing', ['entries' => $asked])
        ->assertOk()
        ->assertExactJson(['missing' => [$gone['id']]]);
    // None at all asks how far it has come; of a box that nobody knows, nowhere.
    $send([])->assertOk()->assertJsonPath('last_seq', 4)->assertJsonPath('results', []);
    config(['heartwood.epoch' => 'after']);
    $send([])->assertOk()->assertJsonPath('epoch', 'after');
    $send([$read(9, 3)])
        ->assertStatus(409)
        ->assertJsonPath('code', 'gap');
    // An event of the pack is known by the entry that it was.
    $event = $entry(5, 'event', ['kind' => 'group-charged', 'where' => ['group' => 1], 'at' => now()->toIso8601ZuluString()]);
    $send([$event])
        ->assertOk()
        ->assertJsonPath('results.0.status', 'stored');
    $ask = fn(string $id) => $this->postJson('/api/outbox/missing', [
        'entries' => [['id' => $id, 'kind' => 'event', 'job_id' => $job->id]],
    ]);
    expect([$ask($event['id'])->json('missing'), count($ask((string) Str::uuid7())->json('missing'))])->toBe([[], 1]);
    $this->postJson('/api/outbox/missing', ['entries' => []])->assertStatus(422);
});

it('ends what was under way when a backup is put back, and what cannot be opened without its keys', function (): void {
    $bench = (new Workbench($this))->as('technician');
    $job = $bench->open();
    $run = Run::query()->create([
        'id' => (string) Str::uuid7(),
        'workshop_id' => $job->workshop_id,
        'job_id' => $job->id,
        'revision' => 1,
        'kind' => 'recovery',
        'group_no' => 2,
        'plan' => [],
        'state' => [],
        'reason' => '',
        'started_by' => $bench->people['technician']->id,
        'started_at' => now(),
    ]);
    DB::table('people')
        ->where('id', $bench->people['owner']->id)
        ->update(['totp_secret' => 'x']);
    $this->artisan('heartwood:restored')->assertSuccessful();
    expect([$run->refresh()->outcome, $run->closed_at === null, $run->state['over']])
        ->toBe(['restored', false, true])
        ->and(DB::table('events')->where('job_id', $job->id)->where('kind', 'run-ended')->count())
        ->toBe(1)
        ->and(DB::table('sign_ins')->where('workshop_id', $job->workshop_id)->whereNull('ended_at')->count())
        ->toBe(0)
        ->and(DB::table('people')->where('id', $bench->people['owner']->id)->value('totp_secret'))
        ->toBe('x');
    $this->getJson('/api/bench')->assertUnauthorized();
    $this->artisan('heartwood:restored --without-keys')->assertSuccessful();
    expect(DB::table('people')->where('id', $bench->people['owner']->id)->value('totp_secret'))
        ->toBeNull()
        ->and(DB::table('events')->where('job_id', $job->id)->where('kind', 'run-ended')->count())
        ->toBe(1);
});
