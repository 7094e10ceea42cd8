<?php

declare(strict_types=1);

use App\Actions\FoldRuns;
use App\Instruments\RunFolder;
use App\Instruments\Runner;
use App\Models\BenchTest;
use App\Models\Instrument;
use App\Models\Job;
use App\Models\Run;
use Heartwood\Core\Recovery\BypassRules;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

const CHECKED = ['place' => true, 'awake' => true, 'extinguisher' => true, 'isolated' => true, 'temperature' => true, 'fused' => true];

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('technician');
});

afterEach(function (): void {
    foreach (Run::query()->pluck('id') as $id) {
        exec('rm -rf ' . escapeshellarg(RunFolder::of($id)->path));
    }
});

function lowJob(Workbench $bench, array $inspection = []): Job
{
    $job = $bench->open(inspection: $inspection);
    $bench->read($job, [3.7, 2.3, 3.7, 3.71]);

    return $job->refresh();
}

function meter(Workbench $bench, bool $simulated = true): Instrument
{
    return Instrument::query()->create([
        'workshop_id' => $bench->workshop->id,
        'name' => 'Meter',
        'kind' => 'meter',
        'host' => '127.0.0.1',
        'port' => 9,
        'identity' => [],
        'simulated' => $simulated,
        'checked_at' => now(),
    ]);
}

function supply(Workbench $bench, string $timer = 'OUTP:TIM'): Instrument
{
    return Instrument::query()->create([
        'workshop_id' => $bench->workshop->id,
        'name' => 'Supply',
        'kind' => 'supply',
        'host' => '127.0.0.1',
        'port' => 10,
        'identity' => [],
        'timer' => $timer,
        'simulated' => true,
        'checked_at' => now(),
    ]);
}

function byHand(array $more = []): array
{
    return $more + ['kind' => 'recovery', 'group' => 2, 'checks' => CHECKED];
}

it('shows what can be brought up, as described', function (): void {
    $job = lowJob($this->bench);
    $r = $this->getJson("/api/jobs/{$job->id}/recovery")->assertOk();
    expect(Contract::complaints($r, 'get', '/api/jobs/{job}/recovery'))
        ->toBe([])
        ->and($r->json('groups.1.low'))
        ->toBeTrue()
        ->and($r->json('groups.1.plan.refusals'))
        ->toBe([])
        ->and($r->json('balance.refuses'))
        ->toContain('Group 2')
        ->and($r->json('wake.ready'))
        ->toBeFalse();
});

it('starts only with every line confirmed', function (string $line): void {
    $job = lowJob($this->bench);
    $this->bench
        ->post("jobs/{$job->id}/runs", byHand(['checks' => [$line => false] + CHECKED]))
        ->assertStatus(422)
        ->assertJsonPath('code', 'check-missing');
    expect(Run::query()->count())->toBe(0);
})->with(array_keys(CHECKED));

it('does not start for a trainee, on hold, in quarantine, or on a closed job', function (): void {
    $job = lowJob($this->bench);
    $this->bench
        ->as('trainee')
        ->post("jobs/{$job->id}/runs", byHand())
        ->assertForbidden();
    $this->bench->as('technician');
    $job->update(['safety_state' => 'hold']);
    $this->bench
        ->post("jobs/{$job->id}/runs", byHand())
        ->assertStatus(409)
        ->assertJsonPath('code', 'gate');
    $job->update(['safety_state' => 'quarantine']);
    $this->bench
        ->post("jobs/{$job->id}/runs", byHand())
        ->assertStatus(409)
        ->assertJsonPath('code', 'gate');
    $job->update(['safety_state' => 'clear', 'status' => 'returned']);
    $this->bench->post("jobs/{$job->id}/runs", byHand())->assertStatus(409);
    expect(Run::query()->count())->toBe(0);
});

it('refuses a group that the rules refuse, with the reason', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.7, 0.3, 3.7, 3.71]);
    $this->bench
        ->post("jobs/{$job->id}/runs", byHand())
        ->assertStatus(409)
        ->assertJsonPath('code', 'refused');
});

it('lets only a senior answer for a group under the floor', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.7, 1.2, 3.7, 3.71]);
    $entry = byHand(['below_floor_days' => 2, 'override' => 'Seen daily since it went flat']);
    $this->bench
        ->post("jobs/{$job->id}/runs", $entry)
        ->assertStatus(409)
        ->assertJsonPath('code', 'senior-only');
    $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/runs", $entry)
        ->assertCreated()
        ->assertJsonPath('reason', 'Seen daily since it went flat');
});

it('drives no supply that stays on by itself, and none without a meter', function (): void {
    $job = lowJob($this->bench);
    $this->bench
        ->post("jobs/{$job->id}/runs", byHand(['meter_id' => meter($this->bench)->id, 'supply_id' => supply($this->bench, '')->id]))
        ->assertStatus(422)
        ->assertJsonPath('code', 'supply-stays-on');
    Instrument::query()
        ->where('kind', 'supply')
        ->update(['timer' => 'OUTP:TIM']);
    $this->bench
        ->post("jobs/{$job->id}/runs", byHand(['supply_id' => Instrument::query()->where('kind', 'supply')->value('id')]))
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-meter');
});

it('lets time run quicker on the simulated bench alone', function (): void {
    $job = lowJob($this->bench);
    $this->bench
        ->post("jobs/{$job->id}/runs", byHand(['meter_id' => meter($this->bench, false)->id, 'time_scale' => 30]))
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-hurry');
});

it('does not start what would run across closing time', function (): void {
    $this->bench->workshop->update([
        'settings' => ['closes_at' => now()->addMinutes(30)->format('H:i'), 'timezone' => 'UTC'] + $this->bench->workshop->settings,
    ]);
    $this->travelTo(now()->setTime(12, 0));
    $this->bench->as('technician');
    $this->bench->workshop->update(['settings' => ['closes_at' => '12:30', 'timezone' => 'UTC'] + $this->bench->workshop->settings]);
    $this->bench->people['technician']->unsetRelation('workshop');
    $job = lowJob($this->bench);
    $this->bench
        ->post("jobs/{$job->id}/runs", byHand())
        ->assertStatus(409)
        ->assertJsonPath('code', 'closing');
});

it('starts once for one key, and not a second run on the same pack', function (): void {
    $job = lowJob($this->bench);
    $key = (string) Illuminate\Support\Str::uuid();
    $first = $this->bench->post("jobs/{$job->id}/runs", byHand(), $key)->assertCreated();
    expect(Contract::complaints($first, 'post', '/api/jobs/{job}/runs'))->toBe([]);
    $this->bench
        ->post("jobs/{$job->id}/runs", byHand(), $key)
        ->assertCreated()
        ->assertJsonPath('id', $first->json('id'));
    $this->bench
        ->post("jobs/{$job->id}/runs", byHand())
        ->assertStatus(409)
        ->assertJsonPath('code', 'in-use');
    expect(Run::query()->count())->toBe(1);
});

it('does not put a supply on for balancing while a group is low', function (): void {
    $job = lowJob($this->bench);
    $this->bench
        ->post("jobs/{$job->id}/runs", ['kind' => 'balance', 'checks' => CHECKED])
        ->assertStatus(409)
        ->assertJsonPath('code', 'low-first');
});

it('hides instruments and runs of another workshop', function (): void {
    $job = lowJob($this->bench);
    $run = $this->bench->post("jobs/{$job->id}/runs", byHand())->json('id');
    $meter = meter($this->bench);
    (new Workbench($this))->as('owner');
    $this->getJson("/api/runs/$run")->assertNotFound();
    $this->postJson(
        "/api/instruments/{$meter->id}/retire",
        [],
        ['Idempotency-Key' => (string) Illuminate\Support\Str::uuid()],
    )->assertNotFound();
    expect($this->getJson('/api/instruments')->json('instruments'))->toBe([]);
});

/** A runner on a clock of the test, its screen always watching. */
function onClock(string $id): object
{
    return new class (RunFolder::of($id)) {
        public float $now;

        public Runner $runner;

        public function __construct(public RunFolder $folder)
        {
            $this->now = microtime(true);
            $this->runner = new Runner($folder, fn(): float => $this->now);
        }

        public function turn(float $pass = 0.0): array
        {
            $this->now += $pass;
            $this->folder->touch();
            $this->runner->turn();

            return $this->folder->state();
        }
    };
}

/** A run by hand, typed until its supply may be on. @return object the clock with its runner */
function provedByHand(Workbench $bench, Job $job, array $more = []): object
{
    $id = $bench
        ->post("jobs/{$job->id}/runs", byHand($more))
        ->assertCreated()
        ->json('id');
    $clock = onClock($id);
    $type = fn(float $v, float $a) => $bench->post("runs/$id/say", ['do' => 'typed', 'v' => $v, 'a' => $a, 'c' => 20.0])->assertOk();
    $type(2.3, 0.0);
    $clock->turn();
    $bench->post("runs/$id/say", ['do' => 'clipped'])->assertOk();
    foreach ([1, 2, 3] as $ignored) {
        $clock->turn(10);
        $type(2.3, 0.0);
        $state = $clock->turn();
    }
    expect($state['order']['on'])->toBeTrue();

    return $clock;
}

it('takes typed readings through the runner without a supply, and folds the run into the record', function (): void {
    $job = lowJob($this->bench);
    $clock = provedByHand($this->bench, $job);
    $id = $clock->folder->id();
    foreach ([2.31, 2.33, 2.35, 2.37] as $v) {
        $clock->turn(60);
        $this->bench->post("runs/$id/say", ['do' => 'typed', 'v' => $v, 'a' => 0.375, 'c' => 20.0])->assertOk();
        $clock->turn(0.3);
    }
    $live = $this->getJson("/api/runs/$id")->assertOk();
    $look = $this->getJson('/api/watch/run', ['X-Heartwood-Watch' => $live->json('watch')])->assertOk();
    expect(Contract::complaints($live, 'get', '/api/runs/{run}'))
        ->toBe([])
        ->and(Contract::complaints($look, 'get', '/api/watch/run'))
        ->toBe([])
        ->and($live->json('state.v'))
        ->toBe(2.37)
        ->and($live->json('state.hands'))
        ->toBeTrue()
        ->and($live->json('state.ask_in_s'))
        ->toBeGreaterThan(0);
    $this->bench->post("runs/$id/say", ['do' => 'end'])->assertStatus(422);
    $this->bench->post("runs/$id/say", ['do' => 'end', 'why' => 'supply needed elsewhere'])->assertOk();
    $clock->turn(1);
    expect($clock->runner->isOver())->toBeTrue()->and($clock->runner->isFinished())->toBeFalse();
    expect(app(FoldRuns::class)->handle())->toBe(1)->and(app(FoldRuns::class)->handle())->toBe(0);
    $test = BenchTest::query()->where('kind', 'recovery')->sole();
    expect($test->data['samples'])
        ->toHaveCount(4)
        ->and($test->data['scope'])
        ->toBe(['group' => 2])
        ->and(Run::query()->sole()->outcome)
        ->toBe('person')
        ->and(
            $this->getJson("/api/jobs/{$job->id}/record")
                ->assertOk()
                ->json('tests.0.kind'),
        )
        ->toBe('recovery');
    $log = App\Models\TestLog::query()->where('job_id', $job->id)->sole();
    expect(
        array_slice(
            $this->getJson("/api/logs/{$log->id}/series")
                ->assertOk()
                ->json('v_max'),
            -4,
        ),
    )->toEqualWithDelta([2.31, 2.33, 2.35, 2.37], 1e-4);
    $this->bench
        ->post("runs/$id/say", ['do' => 'present'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'over');
    // The pack is watched for half an hour more, or a person takes that over; only then is the bench free.
    $this->bench
        ->post("jobs/{$job->id}/runs", byHand())
        ->assertStatus(409)
        ->assertJsonPath('code', 'in-use');
    $this->bench->post("runs/$id/say", ['do' => 'leave', 'why' => 'I stay with it'])->assertOk();
    $clock->turn(1);
    expect($clock->runner->isFinished())->toBeTrue();
    $clock->runner->finish();
    app(FoldRuns::class)->handle();
    expect(Run::query()->sole()->closed_at)->not->toBeNull();
    $this->bench->post("jobs/{$job->id}/runs", byHand())->assertCreated();
});

it('closes the trial of the plan when the group came back, and from then on it is another pack', function (bool $good): void {
    $job = lowJob($this->bench);
    $verdict = $this->bench->post("jobs/{$job->id}/verdict");
    $this->bench
        ->post("jobs/{$job->id}/decision", [
            'verdict_id' => $verdict->json('verdict.id'),
            'action' => 'recover-group',
            'reason' => 'Slowly, and watched.',
        ])
        ->assertOk();
    $steps = fn(): array => array_column($this->getJson("/api/jobs/{$job->id}")->json('decision.steps'), null, 'code');
    expect($steps()['place']['state'])->toBe('open');
    $clock = provedByHand($this->bench, $job);
    $id = $clock->folder->id();
    expect($steps()['place']['state'])->toBe('done');
    $type = fn(float $v, float $a) => $this->bench->post("runs/$id/say", ['do' => 'typed', 'v' => $v, 'a' => $a, 'c' => 20.0])->assertOk();
    $v = 2.3;
    for ($m = 1; $m <= 400 && !$clock->runner->isOver(); $m++) {
        $clock->turn(60);
        $m % 8 === 0 && $this->bench->post("runs/$id/say", ['do' => 'present'])->assertOk();
        $state = $clock->folder->state();
        $flows = $state['order']['on'] === true;
        $v = $state['phase'] === 'rest' ? 2.98 : ($flows ? min(3.84, $v + 0.036) : $v);
        $type(round($v, 3), $flows ? 0.375 : 0.0);
        $clock->turn(0.3);
        if (!$good && $m === 5) {
            $this->bench->post("runs/$id/say", ['do' => 'end', 'why' => 'supply needed elsewhere'])->assertOk();
            $clock->turn(1);
        }
    }
    app(FoldRuns::class)->handle();
    $slow = $steps()['slow'];
    expect($slow['state'])
        ->toBe($good ? 'done' : 'open')
        ->and(str_contains($slow['proof'], 'did not come back'))
        ->toBe(!$good)
        ->and($job->refresh()->revision)
        ->toBe($good ? 2 : 1)
        ->and(BenchTest::query()->where('kind', 'recovery')->sole()->revision)
        ->toBe(1);
})->with(['to its target' => [true], 'ended by hand' => [false]]);

it('keeps the rest after the current in the record: a group that still falls is replaced, not recovered', function (): void {
    $job = lowJob($this->bench);
    $clock = provedByHand($this->bench, $job);
    $id = $clock->folder->id();
    $type = fn(float $v, float $a) => $this->bench->post("runs/$id/say", ['do' => 'typed', 'v' => $v, 'a' => $a, 'c' => 20.0])->assertOk();
    // Up to pre-charge in twenty minutes, then an hour of rest that loses 50 mV in its last quarter.
    for ($m = 1; $m <= 20; $m++) {
        $clock->turn(60);
        $type(round(2.3 + 0.036 * $m, 3), 0.375);
        $clock->turn(0.3);
    }
    expect($clock->folder->state()['phase'])->toBe('rest');
    for ($m = 1; $m <= 62 && !$clock->runner->isOver(); $m++) {
        $clock->turn(60);
        $m % 8 === 0 && $this->bench->post("runs/$id/say", ['do' => 'present'])->assertOk();
        $type(round(2.98 - 0.05 * max(0.0, min(1.0, ($m - 45) / 15)), 3), 0.0);
        $clock->turn(0.3);
    }
    expect($clock->folder->state()['stopped_by'])->toBe('rest.falls');
    app(FoldRuns::class)->handle();
    $samples = BenchTest::query()->where('kind', 'recovery')->sole()->data['samples'];
    expect(count(array_filter($samples, fn(array $s): bool => (float) $s['a'] === 0.0)))
        ->toBeGreaterThan(40)
        ->and(Run::query()->sole()->outcome)
        ->toBe('rest.falls');
    $options = $this->bench
        ->post("jobs/{$job->id}/verdict")
        ->assertSuccessful()
        ->json('verdict.document.options');
    expect(array_column($options, 'action'))->not->toContain('recover-group')->toContain('replace-group');
});

it('lets the supply\'s clip on only after the meter has read the right polarity', function (): void {
    $id = $this->bench->post('jobs/' . lowJob($this->bench)->id . '/runs', byHand())->json('id');
    $clock = onClock($id);
    $clock->turn();
    $this->bench
        ->post("runs/$id/say", ['do' => 'clipped'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'polarity');
    $this->bench->post("runs/$id/say", ['do' => 'typed', 'v' => -2.3, 'a' => 0, 'c' => 20]);
    $clock->turn(5);
    $this->bench
        ->post("runs/$id/say", ['do' => 'clipped'])
        ->assertStatus(409)
        ->assertJsonPath('message', fn(string $m): bool => str_contains($m, 'wrong way round'));
    $this->bench->post("runs/$id/say", ['do' => 'typed', 'v' => 2.3, 'a' => 0, 'c' => 20]);
    $clock->turn(5);
    $this->bench->post("runs/$id/say", ['do' => 'clipped'])->assertOk();
    expect($clock->turn(1)['asks_clip'])->toBeFalse();
});

it('counts starting as being there, and is the same run after the runner was killed and started again', function (): void {
    $job = lowJob($this->bench);
    $clock = provedByHand($this->bench, $job);
    $again = new Runner($clock->folder, fn(): float => $clock->now);
    $clock->folder->touch();
    $again->turn();
    expect($clock->folder->state()['paused'])
        ->toBe('the runner was away')
        ->and($clock->folder->state()['order']['on'])
        ->toBeFalse()
        ->and($clock->folder->state()['v'])
        ->toBe(2.3);
    $this->bench->post("runs/{$clock->folder->id()}/say", ['do' => 'resume'])->assertOk();
    $clock->folder->touch();
    $again->turn();
    expect($clock->folder->state()['paused'])
        ->toBeNull()
        ->and($clock->folder->state()['phase'])
        ->toBe('prove');
});

it('ends when nobody says that they are here', function (): void {
    $job = lowJob($this->bench);
    $clock = provedByHand($this->bench, $job, ['confirm_every_min' => 5]);
    $id = $clock->folder->id();
    for ($i = 0; $i < 9 && ($state['over'] ?? false) === false; $i++) {
        $clock->turn(60);
        $this->bench->post("runs/$id/say", ['do' => 'typed', 'v' => 2.31 + 0.01 * $i, 'a' => 0.375, 'c' => 20.0]);
        $state = $clock->turn(0.3);
    }
    expect($state['stopped_by'])->toBe('nobody-present')->and($i)->toBeGreaterThan(6);
});

it('ends a run at once when somebody reports damage, and lets none begin', function (): void {
    $job = lowJob($this->bench);
    $clock = provedByHand($this->bench, $job);
    $this->bench->post("jobs/{$job->id}/triage", ['inspection' => ['leaking' => true]])->assertOk();
    $state = $clock->turn(1);
    expect($state['over'])->toBeTrue()->and($state['text'])->toContain('quarantine')->and($state['order']['on'])->toBeFalse();
});

it('does not say what an old state says', function (): void {
    $job = lowJob($this->bench);
    $clock = provedByHand($this->bench, $job);
    $id = $clock->folder->id();
    $clock->folder->show(['wall' => microtime(true) - 2.0, 'output' => true] + $clock->folder->state());
    expect($this->getJson("/api/runs/$id")->json())->toMatchArray(['silent' => false]);
    $clock->folder->show(['wall' => microtime(true) - 4.0, 'output' => true] + $clock->folder->state());
    $live = $this->getJson("/api/runs/$id");
    expect($live->json('silent'))
        ->toBeTrue()
        ->and($live->json('state.output'))
        ->toBeNull()
        ->and($live->json('age_s'))
        ->toBeGreaterThan(3.5);
});

it('puts a pack that warms after a run into quarantine', function (): void {
    $job = lowJob($this->bench);
    $clock = provedByHand($this->bench, $job);
    $id = $clock->folder->id();
    $this->bench->post("runs/$id/say", ['do' => 'end', 'why' => 'enough'])->assertOk();
    $clock->turn(1);
    $this->bench->post("runs/$id/say", ['do' => 'leave'])->assertOk();
    // What the hand types after the end is watched too.
    expect(Run::query()->sole()->closed_at)->toBeNull();
    $state = ['after' => ['quarantine' => 'risen 3.0 K with the output off', 'over' => true]] + $clock->folder->state();
    $clock->folder->show($state);
    $clock->folder->close();
    app(FoldRuns::class)->handle();
    expect($job->refresh()->safety_state)->toBe('quarantine')->and($job->inspection['warm_at_rest'])->toBeTrue();
});

it('keeps one instrument to one run, whatever it is called and whoever\'s it is', function (): void {
    $idn = ['maker' => 'A', 'model' => 'B', 'serial' => 'C1', 'firmware' => ''];
    $one = meter($this->bench);
    $one->update(['identity' => $idn]);
    $job = lowJob($this->bench);
    $this->bench->post("jobs/{$job->id}/runs", byHand(['meter_id' => $one->id]))->assertCreated();
    // The same instrument under another name and address, on another pack of the same workshop.
    $twin = Instrument::query()->create([
        'workshop_id' => $this->bench->workshop->id,
        'name' => 'Twin',
        'kind' => 'meter',
        'host' => 'localhost',
        'port' => 77,
        'identity' => $idn,
        'simulated' => true,
        'checked_at' => now(),
    ]);
    $this->bench
        ->post('jobs/' . lowJob($this->bench)->id . '/runs', byHand(['meter_id' => $twin->id]))
        ->assertStatus(409)
        ->assertJsonPath('code', 'in-use')
        ->assertJsonPath('message', fn(string $m): bool => !str_contains($m, 'Meter'));
    // And in another workshop: refused, never by whom.
    $other = new Workbench($this);
    $other->as('technician');
    $theirs = Instrument::query()->create([
        'workshop_id' => $other->workshop->id,
        'name' => 'Theirs',
        'kind' => 'meter',
        'host' => '10.0.0.9',
        'port' => 5025,
        'identity' => $idn,
        'simulated' => true,
        'checked_at' => now(),
    ]);
    $other
        ->post('jobs/' . lowJob($other)->id . '/runs', byHand(['meter_id' => $theirs->id]))
        ->assertStatus(409)
        ->assertJsonPath('code', 'in-use');
    $other
        ->post("instruments/{$theirs->id}/identify")
        ->assertStatus(409)
        ->assertJsonPath('code', 'in-use');
});

it('knows two names of one address for one', function (): void {
    $this->bench->post('instruments', ['name' => 'One', 'kind' => 'supply', 'host' => '127.0.0.1', 'port' => 5999])->assertCreated();
    $this->bench
        ->post('instruments', ['name' => 'Two', 'kind' => 'supply', 'host' => 'localhost', 'port' => 5999])
        ->assertStatus(422)
        ->assertJsonPath('code', 'known');
});

it('lets at most one instrument on a pack that is not proved isolated from earth', function (): void {
    $job = lowJob($this->bench);
    $meter = meter($this->bench, false);
    $supply = supply($this->bench);
    $supply->update(['simulated' => false]);
    $entry = byHand(['meter_id' => $meter->id, 'supply_id' => $supply->id]);
    $this->bench
        ->post("jobs/{$job->id}/runs", $entry)
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-isolated');
    $this->bench->post("instruments/{$meter->id}/isolation", ['mohm' => 0.9])->assertOk();
    $this->bench
        ->post("jobs/{$job->id}/runs", $entry)
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-isolated');
    $this->bench->post("instruments/{$meter->id}/isolation", ['mohm' => 20])->assertOk();
    $this->bench->post("jobs/{$job->id}/runs", $entry)->assertCreated();
});

it('adds up what two people see of a pack, and takes no yes back by a no', function (): void {
    $job = lowJob($this->bench);
    $this->bench
        ->post("jobs/{$job->id}/triage", ['inspection' => ['swollen' => true, 'wet' => false], 'symptoms' => ['low-range']])
        ->assertOk();
    $this->bench
        ->post("jobs/{$job->id}/triage", [
            'inspection' => ['swollen' => false, 'wet' => true],
            'symptoms' => ['smell'],
            'withdrawn' => ['low-range', 'swelling'],
        ])
        ->assertOk();
    $job->refresh();
    expect($job->inspection)
        ->toMatchArray(['swollen' => true, 'wet' => true])
        ->and($job->symptoms)
        ->toBe(['smell'])
        ->and($job->safety_state)
        ->toBe('quarantine');
    $this->bench->post("jobs/{$job->id}/triage", ['inspection' => [], 'withdrawn' => ['smell']])->assertOk();
    expect($job->refresh()->symptoms)->toBe(['smell']);
});

it('charges a whole pack only when every group is watched and none is under the floor or far off', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.6, 3.62, 3.61, 3.6]);
    $board = Instrument::query()->create([
        'workshop_id' => $this->bench->workshop->id,
        'name' => 'Board',
        'kind' => 'board',
        'host' => '127.0.0.1',
        'port' => 11,
        'identity' => [],
        'simulated' => true,
        'checked_at' => now(),
    ]);
    $entry = [
        'kind' => 'charge',
        'checks' => CHECKED,
        'meter_id' => meter($this->bench)->id,
        'supply_id' => supply($this->bench)->id,
        'board_id' => $board->id,
    ];
    $this->bench
        ->post("jobs/{$job->id}/runs", ['board_id' => null] + $entry)
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-board');
    $this->bench
        ->post("jobs/{$job->id}/runs", $entry)
        ->assertCreated()
        ->assertJsonPath('kind', 'charge');
    $far = $this->bench->open();
    $this->bench->read($far, [3.6, 3.29, 3.61, 3.6]);
    $this->bench
        ->post("jobs/{$far->id}/runs", $entry)
        ->assertStatus(409)
        ->assertJsonPath('message', fn(string $m): bool => str_contains($m, 'mV apart'));
    $low = $this->bench->open();
    $this->bench->read($low, [1.45, 1.45, 1.46, 1.45]);
    $this->bench
        ->post("jobs/{$low->id}/runs", $entry)
        ->assertStatus(409)
        ->assertJsonPath('message', fn(string $m): bool => str_contains($m, 'floor'));
});

it('reads a pasted board report and a register dump', function (): void {
    $job = lowJob($this->bench);
    $r = $this->postJson("/api/jobs/{$job->id}/board-report", ['text' => "3701\n2303\n3700\n3710"])->assertOk();
    expect(Contract::complaints($r, 'post', '/api/jobs/{job}/board-report'))
        ->toBe([])
        ->and($r->json('groups'))
        ->toBe([3.701, 2.303, 3.7, 3.71])
        ->and($r->json('notes.0'))
        ->toContain('millivolts');
    $d = $this->postJson('/api/registers', ['dump' => "0x10 3000\n0x18 5200\n0x19 10800"])->assertOk();
    expect(Contract::complaints($d, 'post', '/api/registers'))->toBe([])->and($d->json('gauge.design_wh'))->toBe(56.16);
});

it('says which instrument is silent', function (): void {
    $job = lowJob($this->bench);
    $m = meter($this->bench);
    $this->bench
        ->post("instruments/{$m->id}/identify")
        ->assertStatus(409)
        ->assertJsonPath('code', 'silent');
    $this->bench
        ->post('instruments', ['name' => 'X', 'kind' => 'meter', 'host' => 'bad host!', 'port' => 5])
        ->assertStatus(422)
        ->assertJsonPath('fields.host', fn($m) => $m !== null);
});

it('starts the exception for a senior with a reason, a board reader and nothing ineligible, and for nobody else', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.05, 2.7, 3.1, 3.08]);
    $board = Instrument::query()->create([
        'workshop_id' => $this->bench->workshop->id,
        'name' => 'Board',
        'kind' => 'board',
        'host' => '127.0.0.1',
        'port' => 11,
        'identity' => [],
        'checked_at' => now(),
    ]);
    $entry = [
        'kind' => 'bypass',
        'checks' => CHECKED,
        'override' => 'The board was cut off and the ferry waits',
        'meter_id' => meter($this->bench)->id,
        'supply_id' => supply($this->bench)->id,
        'board_id' => $board->id,
    ];
    $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/runs", $entry)
        ->assertStatus(409)
        ->assertJsonPath('code', 'refused')
        ->assertJsonPath('message', fn(string $m): bool => str_contains($m, 'Schools of thought'));
    expect($this->getJson("/api/jobs/{$job->id}/recovery")->json('past_board'))->toBe(BypassRules::NOT_PRACTISED);
    $this->bench->workshop->update(['settings' => ['bypass_school' => 'B']]);
    array_walk($this->bench->people, fn($p) => $p->unsetRelation('workshop'));
    $this->bench
        ->as('technician')
        ->post("jobs/{$job->id}/runs", $entry)
        ->assertStatus(409)
        ->assertJsonPath('message', 'Only a senior may start it.');
    $this->bench->as('senior');
    expect($this->getJson("/api/jobs/{$job->id}/recovery")->json('past_board'))->toBeNull();
    $this->bench->post("jobs/{$job->id}/runs", ['override' => ''] + $entry)->assertStatus(409);
    $this->bench
        ->post("jobs/{$job->id}/runs", ['board_id' => null] + $entry)
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-board');
    $this->bench->post("jobs/{$job->id}/runs", ['supply_a' => 2.0] + $entry)->assertStatus(409);
    $this->bench
        ->post("jobs/{$job->id}/runs", $entry)
        ->assertCreated()
        ->assertJsonPath('kind', 'bypass')
        ->assertJsonPath('reason', 'The board was cut off and the ferry waits');
});

it('never starts the exception while a group is under the floor', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.05, 1.2, 3.1, 3.08]);
    $this->bench->workshop->update(['settings' => ['bypass_school' => 'B']]);
    array_walk($this->bench->people, fn($p) => $p->unsetRelation('workshop'));
    $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/runs", ['kind' => 'bypass', 'checks' => CHECKED, 'override' => 'The board was cut off and the ferry waits'])
        ->assertStatus(409)
        ->assertJsonPath('code', 'refused')
        ->assertJsonPath('message', fn(string $m): bool => str_contains($m, 'under the floor'));
});

it('tells the customer what was recovered and by whose decision, on screen and on paper', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.7, 1.2, 3.7, 3.71]);
    $this->bench
        ->as('senior')
        ->post("jobs/{$job->id}/runs", byHand(['below_floor_days' => 2, 'override' => 'Seen daily since it went flat']))
        ->assertCreated();
    $view = $this->getJson("/api/jobs/{$job->id}")->assertOk();
    expect(Contract::complaints($view, 'get', '/api/jobs/{job}'))
        ->toBe([])
        ->and($view->json('watched.0'))
        ->toContain('Seen daily')
        ->toContain('Group 2')
        ->and(
            $this->get("/api/jobs/{$job->id}/report.pdf")
                ->assertOk()
                ->getContent(),
        )
        ->toStartWith('%PDF-');
});
