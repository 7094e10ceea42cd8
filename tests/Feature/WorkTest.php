<?php

declare(strict_types=1);

use App\Models\BenchTest;
use App\Models\PackRevision;
use App\Models\Workshop;
use Heartwood\Core\Build\Joint;
use Heartwood\Core\Limits\WorkLimits;
use Illuminate\Support\Carbon;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

/* Steps of the work, through the server: each closed by its evidence, by a word where nothing can prove it, or left with a reason. */

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('technician');
    $this->decide = function (array $groups, string $action, array $pack = []): TestResponse {
        $this->job = $this->bench->open(pack: $pack);
        $this->bench->read($this->job, $groups);
        ($this->later)();
        $this->begun = $this->bench->post("jobs/{$this->job->id}/verdict");

        return $this->bench->post("jobs/{$this->job->id}/decision", [
            'verdict_id' => $this->begun->json('verdict.id'),
            'action' => $action,
            'reason' => 'By the verdict.',
        ]);
    };
    $this->steps = fn(): array => array_column($this->getJson("/api/jobs/{$this->job->id}")->json('decision.steps'), null, 'code');
    $this->say = fn(string $code, array $said): TestResponse => $this->bench->post(
        "jobs/{$this->job->id}/steps/{$this->steps->call($this)[$code]['id']}",
        $said,
    );
    $this->later = fn(int $minutes = 2): null => Carbon::setTestNow(now()->addMinutes($minutes));
});

afterEach(fn() => Carbon::setTestNow());

it('closes each step of a single charge by what was measured, and none by a tick', function (): void {
    $work = ($this->decide)([3.85, 3.851, 3.62, 3.849], 'charge-group')->assertOk();
    expect(Contract::complaints($work, 'post', '/api/jobs/{job}/decision'))
        ->toBe([])
        ->and(array_column($work->json('decision.steps'), 'closed_by', 'code'))
        ->toBe([
            'isolate' => 'no-current',
            'open' => 'teardown',
            'voltage' => 'run-started',
            'fill' => 'charged',
            'reread' => 'rest-set',
            'close' => 'way-back',
        ]);
    // A tick proves nothing, and neither does a word where a figure is wanted.
    ($this->say)('reread', ['done' => true])
        ->assertStatus(409)
        ->assertJsonPath('code', 'evidence-wanted')
        ->assertJsonPath('message', fn(string $m): bool => str_contains($m, 'After step 4'));
    foreach (['noted', '', '0.4'] as $typed) {
        ($this->say)('isolate', ['done' => true, 'entry' => $typed])
            ->assertStatus(422)
            ->assertJsonStructure(['fields' => ['entry']]);
    }
    $said = ($this->say)('isolate', ['done' => true, 'entry' => '0,00 A'])->assertOk();
    expect(Contract::complaints($said, 'post', '/api/jobs/{job}/steps/{step}'))->toBe([]);
    ($this->later)();
    ($this->say)('open', ['start' => true])->assertOk();
    ($this->later)(4);
    $this->bench->apart($this->job, '6 screws M3 @ lid', 'lid')->assertCreated();
    expect(($this->steps)()['open'])->toMatchArray(['state' => 'done', 'proof' => '2 steps written down', 'by' => null, 'minutes' => 4.0]);
    ($this->later)();
    $this->bench
        ->send([
            $this->bench->entry($this->job, 'event', [
                'kind' => 'group-charged',
                'where' => ['group' => 3],
                'at' => now()->toIso8601ZuluString(),
            ]),
        ])
        ->assertOk();
    $steps = ($this->steps)();
    expect($steps['voltage']['state'])
        ->toBe('done')
        ->and($steps['fill']['proof'])
        ->toBe('Charged singly: group 3')
        ->and($steps['reread']['state'])
        ->toBe('open');
    ($this->later)();
    $this->bench->read($this->job->refresh(), [3.85, 3.851, 3.85, 3.849]);
    expect(($this->steps)()['reread']['state'])->toBe('done');
    // Closed already: a tick on top of it says so.
    ($this->say)('reread', ['done' => true])
        ->assertStatus(409)
        ->assertJsonPath('code', 'proved');
    ($this->later)();
    foreach ($this->getJson("/api/jobs/{$this->job->id}/teardown")->json('steps') as $s) {
        $this->bench->post("teardown-steps/{$s['id']}/back", ['count' => $s['count'], 'note' => ''])->assertSuccessful();
    }
    foreach (
        array_filter($this->getJson("/api/jobs/{$this->job->id}/teardown")->json('way_back'), fn(array $s): bool => !$s['done'])
        as $s
    ) {
        $this->bench
            ->post("jobs/{$this->job->id}/teardown/checks", ['act' => $s['act'], 'of' => $s['of'], 'value' => 20, 'note' => ''])
            ->assertSuccessful();
    }
    expect(array_unique(array_column(($this->steps)(), 'state')))->toBe(['done']);
});

it('leaves a step for a reason alone, which the report tells, and takes it back', function (): void {
    ($this->decide)([3.85, 3.851, 3.62, 3.849], 'charge-group');
    ($this->say)('open', ['skip' => ' '])
        ->assertStatus(422)
        ->assertJsonStructure(['fields' => ['skip']]);
    ($this->say)('open', ['skip' => 'It came without a case.'])->assertOk();
    expect(($this->steps)()['open'])->toMatchArray(['state' => 'skipped', 'skipped' => 'It came without a case.', 'by' => 'Technician']);
    expect(
        $this->get("/api/jobs/{$this->job->id}/report.pdf")
            ->assertOk()
            ->getContent(),
    )->toStartWith('%PDF-');
    ($this->say)('open', ['done' => false])->assertOk();
    expect(($this->steps)()['open'])->toMatchArray(['state' => 'open', 'skipped' => '', 'by' => null]);
    $this->bench->post("jobs/{$this->job->id}/steps/{$this->steps->call($this)['open']['id']}", [])->assertStatus(422);
});

it('opens the next revision when the work on what alters the pack is begun, once', function (): void {
    ($this->decide)([3.85, 3.851, 0.1, 3.849], 'replace-group');
    ($this->say)('cells', ['start' => true])->assertJsonPath('revision', 1);
    ($this->say)('weld', ['start' => true])->assertJsonPath('revision', 2);
    // The weld is loosened work: zero current first, and that is not left out.
    ($this->say)('weld', ['done' => true, 'entry' => 'setting 4'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-yet');
    ($this->say)('isolate', ['skip' => 'no time'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'never-left');
    ($this->say)('isolate', ['done' => true, 'entry' => '0'])->assertOk();
    // What is read from here on is of the changed pack, and still older than the weld that is not finished.
    ($this->later)();
    $this->bench->read($this->job->refresh(), [3.85, 3.851, 3.85, 3.849]);
    expect(($this->steps)()['reread'])->toMatchArray(['state' => 'open', 'proof' => 'After step 5.']);
    ($this->later)();
    ($this->say)('weld', ['done' => true, 'entry' => ''])->assertStatus(422);
    ($this->say)('weld', ['done' => true, 'entry' => 'setting 4'])->assertJsonPath('revision', 2);
    expect(($this->steps)()['reread']['proof'])
        ->toBe('No set at rest since.')
        ->and(PackRevision::query()->where('job_id', $this->job->id)->count())
        ->toBe(2);
    ($this->later)();
    $this->bench->read($this->job->refresh(), [3.85, 3.851, 3.85, 3.849]);
    expect(($this->steps)()['reread']['state'])
        ->toBe('done')
        ->and(($this->steps)()['fill']['state'])
        ->toBe('done');
});

it('takes the cells of a group from the drawer and lets the join rule speak by itself', function (): void {
    ($this->decide)([3.85, 3.851, 0.1, 3.849], 'replace-group', ['series' => 4, 'parallel' => 2]);
    $tray = fn(string $lot, array $volts): array => $this->bench
        ->post('cells', [
            'lot' => ['name' => $lot],
            'model' => 'M',
            'chemistry' => 'nmc',
            'rated_ah' => 3.0,
            'cells' => array_map(fn(float $v): array => ['capacity_ah' => 2.95, 'mohm' => 33, 'rest_v' => $v], $volts),
        ])
        ->assertCreated()
        ->json('cells');
    $cells = $tray('J', [3.97, 3.79]);
    $this->bench->post('cells/grade', ['ids' => array_column($cells, 'id'), 'rated_ah' => 3.0])->assertOk();
    expect(($this->steps)()['cells'])->toMatchArray([
        'state' => 'open',
        'proof' => 'No cells yet for group 3.',
        'room' => 'build?do=match',
    ]);
    $this->bench->post("jobs/{$this->job->id}/cells", ['groups' => [[], [], array_column($cells, 'code'), []]])->assertOk();
    $steps = ($this->steps)();
    expect($steps['cells'])
        ->toMatchArray(['state' => 'done', 'proof' => '2 cells out of the drawer'])
        ->and($steps['join']['state'])
        ->toBe('open')
        ->and($steps['join']['proof'])
        ->toContain('180 mV apart')
        ->toContain('ohm');
    $this->patchJson(
        "/api/cells/{$cells[0]['id']}",
        ['rest_v' => 3.795],
        [
            'Idempotency-Key' => (string) Str::uuid(),
            'If-Match' => $this->getJson("/api/cells/{$cells[0]['id']}")->json('cell.version'),
        ],
    )->assertOk();
    expect(($this->steps)()['join'])->toMatchArray(['state' => 'done', 'proof' => 'Joined directly by the rule: 5 mV apart at the most']);
});

it(
    'closes the work on a joint by its record, and has it looked at again in a week, on the bench, also when the pack went back',
    function (): void {
        $this->bench->as('senior');
        $this->job = $this->bench->open(pack: ['series' => 8, 'chemistry' => 'lfp']);
        $joint = fn(array $more = []): TestResponse => $this->bench->post(
            "jobs/{$this->job->id}/joints",
            $more + [
                'tap' => 4,
                'min_nm' => 4,
                'max_nm' => 6,
                'tolerance' => 0.05,
                'contact' => 'nickel on copper',
                'tool' => 'torque key',
                'both_ends' => true,
            ],
        );
        $joint(['after_mv' => 8])
            ->assertStatus(422)
            ->assertJsonStructure(['fields' => ['amps']]);
        $set = $joint(['before_mv' => -112, 'after_mv' => 9, 'amps' => 45])->assertCreated();
        expect(Contract::complaints($set, 'post', '/api/jobs/{job}/joints'))
            ->toBe([])
            ->and($set->json('joints.0'))
            ->toMatchArray(['brought' => '2.49 mohm before, 0.20 after.', 'tool' => 'torque key', 'both_ends' => true])
            ->and($set->json('checks.0.due'))
            ->toBeFalse();
        $row = fn(): ?array => array_values(
            array_filter($this->getJson('/api/bench')->json('jobs'), fn(array $j): bool => $j['id'] === $this->job->id),
        )[0] ?? null;
        expect($row()['due'])->toBeFalse();
        $this->job->update(['status' => 'returned', 'closed_at' => now()]);
        $again = fn(array $said): TestResponse => $this->bench->post(
            "jobs/{$this->job->id}/joints/{$this->getJson("/api/jobs/{$this->job->id}/joints")->json('checks.0.id')}/again",
            $said,
        );
        Carbon::setTestNow(now()->addDays(Joint::CHECK_AGAIN_DAYS)->subMinute());
        $this->bench->as('senior');
        expect($row()['due'])->toBeFalse();
        Carbon::setTestNow(now()->addMinutes(2));
        expect($row())->toMatchArray([
            'lane' => 'hands',
            'due' => true,
            'next' => 'Look again at the joint at T4',
            'door' => 'build?do=checks',
        ]);
        $again(['mv' => 20])->assertStatus(422);
        $read = $again(['mv' => 20, 'amps' => 45])->assertOk();
        expect(Contract::complaints($read, 'post', '/api/jobs/{job}/joints/{jointCheck}/again'))
            ->toBe([])
            ->and($read->json('checks.0'))
            ->toMatchArray(['holds' => false, 'by' => 'Senior'])
            ->and($read->json('checks.0.text'))
            ->toContain('it has come back. Clean it')
            ->and($row()['due'])
            ->toBeFalse();
        $again(['mv' => 20, 'amps' => 45])->assertStatus(409);
        // The same pack again, and the same joint: not set a third time as it was.
        $this->job->update(['serial' => 'TR-9']);
        $this->job = $this->bench->open(pack: ['series' => 8, 'chemistry' => 'lfp']);
        $this->job->update(['serial' => 'TR-9']);
        $joint()
            ->assertStatus(422)
            ->assertJsonStructure(['fields' => ['contact']]);
        $joint(['contact' => 'tinned copper, compound'])->assertCreated();
    },
);

it(
    'decides several ways as one plan: one price, one prediction, steps of each part, cells for the groups that are replaced alone',
    function (): void {
        $this->job = $this->bench->open();
        $this->bench->read($this->job, [3.85, 0.02, 3.62, 3.849]);
        ($this->later)();
        $verdict = $this->bench->post("jobs/{$this->job->id}/verdict");
        $offered = array_column($verdict->json('verdict.document.options'), null, 'action');
        expect($offered)->toHaveKeys(['replace-group', 'charge-group']);
        $plan = $this->getJson("/api/jobs/{$this->job->id}/plan?action=charge-group&with=replace-group")->assertOk();
        $single = $this->getJson("/api/jobs/{$this->job->id}/plan?action=replace-group")->assertOk();
        expect(Contract::complaints($plan, 'get', '/api/jobs/{job}/plan'))
            ->toBe([])
            ->and($plan->json('title'))
            ->toBe('Replace group 2, top group 3 up by itself')
            ->and($plan->json('action'))
            ->toBe('replace-group')
            ->and($plan->json('quote.fee_cents'))
            ->toBe($single->json('quote.fee_cents'))
            ->and($plan->json('quote.labour_cents'))
            ->toBeGreaterThan($single->json('quote.labour_cents'))
            ->and($plan->json('leaves'))
            ->toBe(array_values(array_intersect($offered['replace-group']['leaves'], $offered['charge-group']['leaves'])));
        $this->getJson("/api/jobs/{$this->job->id}/plan?action=recycle&with=replace-group")
            ->assertUnprocessable()
            ->assertJsonPath('fields.with', fn(string $w): bool => str_contains($w, 'stands by itself'));
        $this->getJson("/api/jobs/{$this->job->id}/plan?action=replace-group&with=solder")->assertUnprocessable();
        $decided = $this->bench
            ->post("jobs/{$this->job->id}/decision", [
                'verdict_id' => $verdict->json('verdict.id'),
                'action' => 'charge-group',
                'with' => ['replace-group'],
                'reason' => 'Both at once.',
            ])
            ->assertOk();
        $steps = collect($decided->json('decision.steps'));
        expect($steps->pluck('code')->all())
            ->toBe(['isolate', 'open', 'cells', 'join', 'weld', 'insulate', 'fill', 'pin-check', 'voltage', 'fill', 'reread', 'close'])
            ->and($steps->where('code', 'cells')->first()['proof'])
            ->toBe('No cells yet for group 2.')
            ->and($steps->where('action', 'charge-group')->where('code', 'fill')->first()['proof'])
            ->toContain('group 3')
            ->and($decided->json('decision.quote.total_cents'))
            ->toBe($plan->json('quote.total_cents'));
        // Cells are dealt to the group that is replaced, and to no other.
        expect($this->getJson("/api/jobs/{$this->job->id}/quote")->json('title'))->toBe('Replace group 2, top group 3 up by itself');
        $this->bench->as('trainee');
        $this->bench
            ->post("jobs/{$this->job->id}/decision", [
                'verdict_id' => $verdict->json('verdict.id'),
                'action' => 'charge-group',
                'with' => ['replace-group'],
                'reason' => 'x y',
            ])
            ->assertForbidden();
    },
);

it('takes a hand-back back within the day, with its reason, and not what ended otherwise', function (): void {
    ($this->decide)([3.85, 3.851, 0.1, 3.849], 'recycle')->assertOk();
    $back = fn(array $said = ['reason' => 'The wrong one of two.']): TestResponse => $this->bench->post(
        "jobs/{$this->job->id}/take-back",
        $said,
    );
    $back()->assertStatus(409)->assertJsonPath('code', 'open');
    $close = fn(): TestResponse => $this->bench->post("jobs/{$this->job->id}/return", [
        'truth' => [['code' => 'group.dead', 'where' => ['group' => 3]]],
    ]);
    $learnt = fn(): int => (int) (Workshop::query()->findOrFail($this->job->workshop_id)->settings['prior_counts']['group.dead'] ?? 0);
    expect($close()->assertOk()->json('may_take_back'))
        ->toBeTrue()
        ->and($learnt())
        ->toBe(1);
    $back([])
        ->assertStatus(422)
        ->assertJsonStructure(['fields' => ['reason']]);
    $open = $back()->assertOk();
    expect(Contract::complaints($open, 'post', '/api/jobs/{job}/take-back'))
        ->toBe([])
        ->and($open->json('status'))
        ->toBe('open')
        ->and($learnt())
        ->toBe(0)
        ->and(array_column($open->json('events'), 'kind'))
        ->toContain('taken-back');
    // Just within the day, and just after it.
    $close()->assertOk();
    $this->job->update(['closed_at' => now()->subMinutes((int) (WorkLimits::TAKE_BACK_H * 60) - 1)]);
    $back()->assertOk();
    $close()->assertOk();
    $this->job->update(['closed_at' => now()->subMinutes((int) (WorkLimits::TAKE_BACK_H * 60) + 1)]);
    $back()->assertStatus(409)->assertJsonPath('code', 'too-late');
});

it('takes nothing back that a quarantine ended', function (): void {
    $this->job = $this->bench->open([], ['swollen' => true]);
    $this->bench->as('senior');
    $this->bench->post("jobs/{$this->job->id}/safety", ['way' => 'scrapped', 'reason' => 'Swollen.'])->assertOk();
    $this->bench
        ->post("jobs/{$this->job->id}/take-back", ['reason' => 'x'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-here');
});

it('quotes what is decided, or any way of the plan, in words and on paper, by the ceiling that was agreed', function (): void {
    $this->job = $this->bench->open();
    $url = fn(string $more = ''): string => "/api/jobs/{$this->job->id}/quote$more";
    $this->getJson($url())->assertStatus(409);
    $work = ($this->decide)([3.85, 3.851, 0.1, 3.849], 'replace-group')->assertOk();
    $quote = $this->getJson($url())->assertOk();
    expect(Contract::complaints($quote, 'get', '/api/jobs/{job}/quote'))
        ->toBe([])
        ->and($quote->json('action'))
        ->toBe('replace-group')
        ->and($quote->json('total'))
        ->toContain(number_format($work->json('decision.quote.total_cents') / 100, 2, '.', ''))
        ->and(array_column($quote->json('parts'), 'title'))
        ->toContain('What we found', 'If more is found')
        ->and(array_sum(array_map(fn(array $l): float => (float) $l['amount'], $quote->json('lines'))))
        ->toEqualWithDelta((float) $quote->json('total'), 0.011);
    expect($this->getJson($url('?action=recycle'))->json('action'))->toBe('recycle');
    $this->getJson($url('?action=bridge-it'))->assertStatus(422);
    $this->bench->post("jobs/{$this->job->id}/consents", [
        'terms' => ['opening'],
        'seal' => 'whole',
        'how' => 'phone',
        'said_by' => 'The mate',
        'ceiling_cents' => 100,
    ]);
    expect(collect($this->getJson($url())->json('parts'))->firstWhere('title', 'If more is found')['lines'][0])->toContain(
        'This is more than the 1.00',
    );
    expect($this->get($url('.pdf'))->assertOk()->getContent())->toStartWith('%PDF-');
    // Every way of the plan says how it is done and where.
    $steps = collect($this->getJson("/api/jobs/{$this->job->id}")->json('verdict.detail.options'))->firstWhere('action', 'replace-group')[
        'steps'
    ];
    expect(array_column($steps, 'room'))->toContain('build?do=match', 'build?do=pins', 'probe', 'teardown');
});

it('sets the clock of a bench right, so that what was read after a step is newer than it', function (int $behind, bool $right): void {
    $job = $this->bench->open();
    $entry =
        ['at' => now()->subSeconds($behind)->toIso8601ZuluString('millisecond')] +
        $this->bench->entry($job, 'test', ['kind' => 'tug-weld', 'where' => ['group' => 1], 'loose' => false]);
    $this->postJson(
        '/api/outbox',
        [
            'outbox_id' => (string) Str::uuid7(),
            'sent_at' => now()->subSeconds($behind)->toIso8601ZuluString('millisecond'),
            'entries' => [['seq' => 1] + $entry],
        ],
        ['Idempotency-Key' => (string) Str::uuid()],
    )
        ->assertOk()
        ->assertJsonPath('results.0.status', 'stored');
    $taken = BenchTest::query()->whereKey($entry['id'])->sole()->taken_at;
    expect(abs($taken->floatDiffInSeconds(now())) < 2.0)->toBe($right);
})->with(['ten minutes behind' => [600, true], 'a day ahead' => [-86400, true], 'right' => [0, true]]);

it('leaves a time as it came where nobody says what the clock shows now', function (): void {
    $job = $this->bench->open();
    $entry =
        ['at' => now()->subMinutes(10)->toIso8601ZuluString()] +
        $this->bench->entry($job, 'test', ['kind' => 'tug-weld', 'where' => ['group' => 1], 'loose' => false]);
    $this->postJson(
        '/api/outbox',
        ['outbox_id' => (string) Str::uuid7(), 'entries' => [['seq' => 1] + $entry]],
        ['Idempotency-Key' => (string) Str::uuid()],
    )->assertOk();
    expect(BenchTest::query()->whereKey($entry['id'])->sole()->taken_at->floatDiffInMinutes(now()))->toEqualWithDelta(10.0, 0.1);
});

it('takes its own minutes in the place of the handbook\'s from the fifth time on', function (): void {
    ($this->decide)([3.85, 3.851, 3.62, 3.849], 'charge-group')->assertOk();
    $minutes = fn(): array => collect($this->getJson("/api/jobs/{$this->job->id}")->json('verdict.detail.options'))
        ->map(fn(array $o): array => [$o['action'] ?? '', $o['hands_minutes'], $o['hands_from']])
        ->firstWhere(0, 'charge-group');
    $before = $minutes();
    $timed = function (float $m): void {
        $job = $this->bench->open();
        App\Actions\EventLog::add($this->bench->people['technician'], $job, App\Actions\EventKind::WorkTimed, [
            'action' => 'charge-group',
            'minutes' => $m,
        ]);
    };
    foreach ([30.0, 31.0, 33.0, 200.0] as $m) {
        $timed($m);
    }
    expect($minutes())->toBe($before)->and($before[2])->toBeNull();
    $timed(32.0);
    expect($minutes())->toBe(['charge-group', 32, 5]);
    $plan = $this->getJson("/api/jobs/{$this->job->id}/plan?action=charge-group")->assertOk();
    expect($plan->json('hands_minutes'))->toBe(32);
    // Another workshop has its own.
    $theirs = (new Workbench($this))->as('technician');
    expect(App\Read\OwnMinutes::of($theirs->workshop->id))->toBe([]);
});

it('writes down what the work of a pack took when it is closed, for each part of its plan', function (): void {
    ($this->decide)([3.85, 0.01, 3.85, 3.85], 'recycle')->assertOk();
    ($this->say)('away', ['start' => true])->assertOk();
    ($this->later)(7);
    ($this->say)('away', ['done' => true, 'entry' => 'To the yard'])->assertOk();
    $this->bench->post("jobs/{$this->job->id}/return", ['note' => 'Gone.'])->assertOk();
    $event = App\Models\Event::query()->where('job_id', $this->job->id)->where('kind', App\Actions\EventKind::WorkTimed)->sole();
    expect($event->data)->toBe(['action' => 'recycle', 'minutes' => 7]);
});
