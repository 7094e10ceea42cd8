<?php

declare(strict_types=1);

use App\Models\BenchTest;
use App\Models\Event;
use App\Models\PackModel;
use App\Models\TeardownStep;
use Carbon\Carbon;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('technician');
    $this->job = $this->bench->open();
    $this->check = fn(string $act, string $of, array $more = []): TestResponse => $this->bench->post(
        "jobs/{$this->job->id}/teardown/checks",
        ['act' => $act, 'of' => $of] + $more,
    );
    $this->back = fn(array $step, int $count, string $note = ''): TestResponse => $this->bench->post("teardown-steps/{$step['id']}/back", [
        'count' => $count,
        'note' => $note,
    ]);
});

afterEach(fn() => Carbon::setTestNow());

it(
    'counts the minutes of a step from when it was typed, though the network was away, and believes no clock that cannot be',
    function (): void {
        $line = fn(DateTimeInterface $at, string $what): array => ['id' => (string) Str::uuid7($at), 'line' => $what];
        $this->bench->apart($this->job, 'lid');
        $start = now();
        Carbon::setTestNow($start->copy()->addMinutes(12));
        $steps = $this->bench
            ->post("jobs/{$this->job->id}/teardown", [
                'lines' => [
                    $line($start->copy()->addMinutes(3), '2 clips & pliers ~ hooks out'),
                    $line($start->copy()->addMinutes(5), 'foam'),
                    // A clock that runs ahead, and one that stands.
                    $line($start->copy()->addMinutes(300), 'strap'),
                    $line($start->copy()->subDays(400), 'plate'),
                    ['id' => (string) Str::uuid(), 'line' => 'pad'],
                ],
            ])
            ->assertCreated()
            ->json('steps');
        expect(array_column($steps, 'minutes', 'text'))
            ->toEqualWithDelta(['lid' => null, '2 x clips' => 3.0, 'foam' => 2.0, 'strap' => 7.0, 'plate' => 0.0, 'pad' => 0.0], 0.05)
            ->and($steps[1])
            ->toMatchArray(['how' => 'pliers; hooks out', 'line' => '2 clips & pliers ~ hooks out'])
            ->and(array_column($this->getJson("/api/jobs/{$this->job->id}/teardown")->json('way_back'), 'how'))
            ->toContain('pliers; hooks out');
    },
);

it('takes steps as they are typed, once each, all of a breath or none, with minutes by themselves', function (): void {
    $first = $this->bench->apart($this->job, '11 screws M3x8 @ lid', 'lid');
    expect(Contract::complaints($first, 'post', '/api/jobs/{job}/teardown'))
        ->toBe([])
        ->and(array_column($first->json('steps'), 'part'))
        ->toBe(['fastener', 'lid']);
    Carbon::setTestNow(now()->addMinutes(4));
    $wrong = $this->bench->apart($this->job, 'lead red = 0', 'lead = red')->assertStatus(422);
    expect($wrong->json('fields'))
        ->toHaveKey('lines.1.line')
        ->and(TeardownStep::query()->where('job_id', $this->job->id)->count())
        ->toBe(2);
    $lead = $this->bench->apart($this->job, 'lead red @ B- to pin 1 = 0');
    expect($lead->json('steps.2.minutes'))
        ->toEqualWithDelta(4.0, 0.1)
        ->and($lead->json('leads'))
        ->toBe(['Lead red, B- to pin 1 is red and reads 0 V against B-: it is not positive.']);
    // Back from lunch: those minutes are nobody's work.
    Carbon::setTestNow(now()->addMinutes(21));
    expect($this->bench->apart($this->job, 'board')->json('steps.3.minutes'))->toBeNull();
    $again = ['id' => $lead->json('steps.2.id'), 'line' => 'something else'];
    $same = $this->bench->post("jobs/{$this->job->id}/teardown", ['lines' => [$again]])->assertCreated();
    expect($same->json('steps'))->toHaveCount(4)->and($same->json('steps.2.line'))->toBe('lead red @ B- to pin 1 = 0');
});

it('goes back in reverse, counts every fastener, and lets the count pass only with a word where it differs', function (): void {
    $steps = $this->bench->apart($this->job, '11 screws M3x8 @ lid', 'sealant @ rim', 'lid', 'lead red @ pin 1 = 42')->json('steps');
    $way = $this->getJson("/api/jobs/{$this->job->id}/teardown")->json('way_back');
    expect(array_column($way, 'act'))->toBe(['connect', 'tug', 'insulation', 'put-back', 'renew', 'put-back', 'count']);
    ($this->back)($steps[3], 1)->assertOk();
    ($this->check)('tug', $steps[3]['id'])->assertOk();
    ($this->check)('tug', $steps[2]['id'])->assertStatus(409)->assertJsonPath('code', 'other-step');
    // Measured, and not told; too low is kept as a fact and closes nothing.
    ($this->check)('insulation', $steps[2]['id'])->assertStatus(422);
    $low = ($this->check)('insulation', $steps[2]['id'], ['value' => 1.0])->assertOk();
    expect($low->json('way_back.2.done'))
        ->toBeFalse()
        ->and($low->json('way_back.2.note'))
        ->toContain('1 Mohm: over 1 is wanted')
        ->and(BenchTest::query()->where('job_id', $this->job->id)->where('kind', 'insulation')->count())
        ->toBe(1);
    $good = ($this->check)('insulation', $steps[2]['id'], ['value' => 1.1])->assertOk();
    expect(Contract::complaints($good, 'post', '/api/jobs/{job}/teardown/checks'))
        ->toBe([])
        ->and($good->json('way_back.2'))
        ->toMatchArray(['done' => true, 'value' => 1.1]);
    ($this->back)($steps[0], 10)->assertOk();
    ($this->check)('count', '')->assertStatus(422)->assertJsonPath('fields.note', '1 screw m3x8 left over. Say where they are.');
    ($this->check)('count', '', ['note' => 'One was stripped: drilled out, replaced by M4.'])
        ->assertOk()
        ->assertJsonPath('way_back.6.done', true);
    ($this->back)($steps[0], 11)->assertOk();
    ($this->check)('count', '')->assertOk()->assertJsonPath('missing', []);
    expect($this->getJson("/api/jobs/{$this->job->id}/teardown")->json('renew'))->toBe(['sealant' => 1]);
    // Counted, then another number went back: counted anew. Taken apart again, what was proved is to be proved again.
    ($this->back)($steps[0], 11)->assertOk()->assertJsonPath('way_back.6.done', false);
    ($this->check)('count', '')->assertOk()->assertJsonPath('way_back.6.done', true);
    $again = $this->bench->apart($this->job, 'link')->json('way_back');
    expect(array_map(fn(array $s): array => [$s['act'], $s['done']], array_slice($again, 0, 5)))->toBe([
        ['put-back', false],
        ['tug', false],
        ['connect', true],
        ['tug', false],
        ['insulation', false],
    ]);
});

it('guides the next pack of the model, step by step, and asks about what differs', function (): void {
    $model = PackModel::query()->create(['workshop_id' => $this->job->workshop_id, 'name' => 'Dyke scooter', 'spec' => $this->job->pack]);
    $this->job->update(['pack_model_id' => $model->id]);
    expect($this->getJson("/api/jobs/{$this->job->id}/teardown")->json('guide'))->toBeNull();
    $photo = $this->bench->photo($this->job)->json('id');
    $this->bench
        ->post("jobs/{$this->job->id}/teardown", [
            'lines' => [
                ['id' => (string) Str::uuid7(), 'line' => '11 screws M3x8 @ lid', 'photo_id' => $photo],
                ['id' => (string) Str::uuid7(), 'line' => 'screw M3x8 @ under sealant !'],
                ['id' => (string) Str::uuid7(), 'line' => 'lead red @ pin 1 = 42.1'],
            ],
        ])
        ->assertCreated();
    $second = $this->bench->open();
    $second->update(['pack_model_id' => $model->id]);
    $guide = fn(): array => $this->getJson("/api/jobs/{$second->id}/teardown")->json('guide');
    expect($guide())->toMatchArray(['job' => $this->job->number, 'left' => 3, 'deviations' => []]);
    expect($guide()['next'])->toMatchArray(['line' => '11 screws M3x8 @ lid', 'photo_id' => $photo]);
    $this->bench->apart($second, '10 screws M3x8 @ lid');
    expect($guide()['deviations'])
        ->toBe(['screws M3x8, lid: 11 last time, 10 now.'])
        ->and($guide()['next'])
        ->toMatchArray(['line' => 'screw M3x8 @ under sealant !', 'hidden' => true]);
    $this->bench->apart($second, 'screw M3x8 @ under sealant !');
    // The volts are those of that pack: they are measured anew.
    expect($guide()['next'])->toMatchArray(['line' => 'lead red @ pin 1', 'volts' => 42.1]);
    $this->bench->apart($second, 'lead red @ pin 1 = -41.8');
    expect($guide()['next'])->toBeNull()->and($guide()['deviations'][1])->toContain('the other way round');
    // A third is guided by the second, the newest.
    $third = $this->bench->open();
    $third->update(['pack_model_id' => $model->id]);
    expect($this->getJson("/api/jobs/{$third->id}/teardown")->json('guide.job'))->toBe($second->number);
});

it('says a step better and takes one out with a trace, and takes no photo of another job', function (): void {
    $step = $this->bench->apart($this->job, '11 screws M3x8 @ lid')->json('steps.0');
    $patch = fn(array $body, string $version): TestResponse => $this->patchJson("/api/teardown-steps/{$step['id']}", $body, [
        'Idempotency-Key' => (string) Str::uuid(),
        'If-Match' => $version,
    ]);
    $now = $patch(['line' => '10 screws M3x8 @ lid # one gone'], $step['version'])->assertOk();
    expect(Contract::complaints($now, 'patch', '/api/teardown-steps/{teardownStep}'))
        ->toBe([])
        ->and($now->json('steps.0'))
        ->toMatchArray(['count' => 10, 'remark' => 'one gone']);
    $patch(['line' => '9 screws'], $step['version'])->assertStatus(412);
    $patch(['line' => '= x'], $now->json('steps.0.version'))->assertStatus(422);
    $far = $this->bench->photo($this->bench->open())->json('id');
    $patch(['photo_id' => $far], $now->json('steps.0.version'))
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-photo');
    $patch(['line' => str_repeat('x', 300)], $now->json('steps.0.version'))
        ->assertStatus(422)
        ->assertJsonPath('code', 'line');
    $other = $this->bench->open();
    $this->bench
        ->post("jobs/{$other->id}/teardown", ['lines' => [['id' => $step['id'], 'line' => 'board']]])
        ->assertStatus(422)
        ->assertJsonPath('code', 'other-job');
    $patch(['removed' => true], $now->json('steps.0.version'))
        ->assertOk()
        ->assertJsonPath('steps', []);
    expect(Event::query()->where('job_id', $this->job->id)->where('kind', 'teardown-changed')->count())->toBe(2);
});

it('opens nothing in quarantine, and on hold by a senior alone', function (): void {
    $held = $this->bench->open(['dropped']);
    $this->bench->apart($held, 'lid')->assertStatus(409)->assertJsonPath('code', 'gate');
    $this->bench->as('senior');
    $this->bench->apart($held, 'lid')->assertCreated();
    $this->bench->post("jobs/{$held->id}/triage", ['inspection' => ['leaking' => true]])->assertOk();
    $this->bench->apart($held, 'board')->assertStatus(409)->assertJsonPath('code', 'gate');
});
