<?php

declare(strict_types=1);

use App\Models\Job;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

/* Guided runs through the server: begun, written step by step, kept or left. */

/** @param  array<string, mixed>  $data */
function guidedStep(Workbench $bench, Job $job, int $run, string $step, ?array $values, int $at = 0, ?string $id = null): TestResponse
{
    $entry = $bench->entry(
        $job,
        'guided',
        ['run' => $run, 'step' => $step] + ($values === null ? ['left' => true] : ['values' => $values]),
        $id,
    );

    return $bench->send([['at' => now()->addSeconds($at)->toIso8601ZuluString()] + $entry]);
}

/** A job that was read at rest, and a guided run of it. */
function guidedRun(Workbench $bench, string $code, array $volts = [3.8, 3.8, 3.8, 3.8], ?array $where = null, array $pack = []): array
{
    $job = $bench->open(pack: $pack);
    $bench->read($job, $volts);

    return [$job, $bench->post("jobs/{$job->id}/guided", ['code' => $code, 'where' => $where])];
}

it('walks a load step: sets for the verdict and the proof, one withdrawn and read again, and what it came to', function (): void {
    $bench = new Workbench($this);
    $bench->as('technician');
    [$job, $begun] = guidedRun($bench, 'load-step');
    $run = $begun->assertCreated()->json('id');
    expect(Contract::complaints($begun, 'post', '/api/jobs/{job}/guided'))->toBe([])->and($begun->json('steps.0.state'))->toBe('next');
    $id = (string) Str::uuid7();
    guidedStep($bench, $job, $run, 'before', ['groups_v' => '3.80 3.80 3.80 3.80', 'again_v' => 3.8], 2, $id)
        ->assertOk()
        ->assertJsonPath('results.0.status', 'stored');
    // Sent twice, it is stored once.
    $bench->seq--;
    guidedStep($bench, $job, $run, 'before', ['groups_v' => '3.80 3.80 3.80 3.80', 'again_v' => 3.8], 2, $id)->assertJsonPath(
        'results.0.status',
        'duplicate',
    );
    $bench->send([$bench->entry($job, 'guided', ['run' => $run, 'withdraws' => $id])])->assertJsonPath('results.0.status', 'stored');
    expect($this->getJson("/api/guided/$run")->json('steps.0.state'))->toBe('next');
    guidedStep($bench, $job, $run, 'before', ['groups_v' => '3.801 3.800 3.802 3.800', 'again_v' => 3.801], 3)->assertJsonPath(
        'results.0.status',
        'stored',
    );
    guidedStep($bench, $job, $run, 'at-10', null, 20)->assertJsonPath('results.0.status', 'stored');
    guidedStep(
        $bench,
        $job,
        $run,
        'at-60',
        ['groups_v' => '3.70 7.40 11.00 14.70', 'current_a' => '5,0', 'again_v' => 3.7],
        80,
    )->assertJsonPath('results.0.status', 'stored');
    guidedStep($bench, $job, $run, 'after', ['groups_v' => '3.79 3.79 3.79 3.79', 'again_v' => 3.79], 150)->assertJsonPath(
        'results.0.status',
        'stored',
    );
    $shown = $this->getJson("/api/guided/$run");
    expect(Contract::complaints($shown, 'get', '/api/guided/{guidedRun}'))
        ->toBe([])
        ->and($shown->json('complete'))
        ->toBeTrue()
        ->and($shown->json('preview.word'))
        ->toBe('fail');
    $ended = $bench->post("guided/$run/end")->assertOk();
    expect($ended->json('outcome.reasons.0'))->toContain('Group 3 sags');
    $seen = $this->getJson("/api/jobs/{$job->id}");
    $sets = collect($seen->json('measurements'));
    expect($sets->firstWhere('condition', 'discharge')['data']['current_a'])
        ->toEqual(-5.0)
        ->and($sets->firstWhere('id', $id)['readings'])
        ->toBe([])
        ->and(collect($seen->json('proof'))->firstWhere('code', 'load-test')['status'])
        ->toBe('failed')
        ->and($seen->json('guided.0.outcome.word'))
        ->toBe('fail');
    // A minute after a current is no rest, and the verdict takes what was read for what it is.
    expect($sets->pluck('condition')->all())->toBe(['rest', 'rest', 'rest', 'discharge', 'relaxing']);
    $verdict = $bench->post("jobs/{$job->id}/verdict")->json('verdict.document.findings');
    expect(json_encode($verdict))->toContain('"group":3');
    $bench->post("guided/$run/end")->assertConflict();
    guidedStep($bench, $job, $run, 'after', ['groups_v' => '3 3 3 3'], 160)->assertJsonPath(
        'results.0.errors.run',
        fn(string $e): bool => str_contains($e, 'has ended'),
    );
});

it('begins nothing whose needs are not met, that a gate closes, or that is under way', function (): void {
    $bench = new Workbench($this);
    $bench->as('technician');
    [$job, $low] = guidedRun($bench, 'full-charge', [3.8, 3.8, 2.2, 3.8]);
    expect($low->assertConflict()->json('message'))->toContain('Group 3 is under 3.00 V');
    $bench
        ->post("jobs/{$job->id}/guided", ['code' => 'soldering'])
        ->assertUnprocessable()
        ->assertJsonPath('fields.code', 'Choose one of the list.');
    $bench
        ->post("jobs/{$job->id}/guided", ['code' => 'joint-again'])
        ->assertUnprocessable()
        ->assertJsonStructure(['fields' => ['where']]);
    $bench->post("jobs/{$job->id}/guided", ['code' => 'joint-again', 'where' => ['joint' => 9]])->assertUnprocessable();
    $bench->post("jobs/{$job->id}/guided", ['code' => 'insulation'])->assertCreated();
    $bench->post("jobs/{$job->id}/guided", ['code' => 'insulation'])->assertConflict();
    // A pack on hold is not charged or discharged by any of them; what moves nothing may begin.
    $bench->post("jobs/{$job->id}/triage", ['inspection' => ['warm_at_rest' => true] + Workbench::NOTHING, 'symptoms' => []])->assertOk();
    expect(DB::table('jobs')->where('id', $job->id)->value('safety_state'))->not->toBe('clear');
    $bench
        ->post("jobs/{$job->id}/guided", ['code' => 'load-step'])
        ->assertConflict()
        ->assertJsonPath('code', 'gate');
    // A job that was closed begins nothing.
    DB::table('jobs')
        ->where('id', $job->id)
        ->update(['status' => 'returned']);
    $bench
        ->post("jobs/{$job->id}/guided", ['code' => 'hold'])
        ->assertConflict()
        ->assertJsonPath('code', 'closed');
});

it('lets nobody begin what charges cells who may not charge at the supply', function (): void {
    $bench = new Workbench($this);
    $bench->as('trainee');
    [$job, $charge] = guidedRun($bench, 'full-charge');
    expect($charge->assertForbidden()->json('message'))->toContain('a technician or a senior');
    foreach (['capacity', 'refill', 'gauge-relearn', 'charger-trial', 'first-charge'] as $code) {
        $bench->post("jobs/{$job->id}/guided", ['code' => $code])->assertForbidden();
    }
    $bench->post("jobs/{$job->id}/guided", ['code' => 'load-step'])->assertCreated();
    $bench->as('technician');
    $bench->post("jobs/{$job->id}/guided", ['code' => 'full-charge'])->assertCreated();
});

it('refuses with its field what cannot be taken, and keeps the numbering', function (): void {
    $bench = new Workbench($this);
    $bench->as('technician');
    [$job, $begun] = guidedRun($bench, 'insulation');
    $run = $begun->json('id');
    guidedStep($bench, $job, $run, 'read', ['plus_mohm' => 5, 'minus_mohm' => 5])->assertJsonPath('results.0.status', 'refused');
    guidedStep($bench, $job, $run, 'apart', null)->assertJsonPath('results.0.errors.left', 'This step cannot be left out.');
    guidedStep($bench, $job, $run, 'apart', [])->assertJsonPath('results.0.status', 'stored');
    guidedStep($bench, $job, $run, 'read', ['plus_mohm' => 'dry'])->assertJsonPath(
        'results.0.errors.plus_mohm',
        'Type a number such as 3.71.',
    );
    $bench
        ->post("guided/$run/end")
        ->assertConflict()
        ->assertJsonPath('code', 'not-complete');
    guidedStep($bench, $job, $run + 99, 'read', [])->assertJsonPath('results.0.errors.run', 'This guided run does not exist.');
    $bench
        ->send([$bench->entry($job, 'guided', ['run' => $run, 'withdraws' => (string) Str::uuid7()])])
        ->assertJsonPath('results.0.status', 'refused');
    guidedStep($bench, $job, $run, 'read', ['plus_mohm' => 5, 'minus_mohm' => 50])->assertJsonPath('results.0.status', 'stored');
    $bench
        ->post("guided/$run/end")
        ->assertOk()
        ->assertJsonPath('outcome.word', 'pass');
    expect(DB::table('bench_tests')->where('job_id', $job->id)->where('kind', 'insulation')->value('data'))->toContain('5');
});

it('answers the proof by the board\'s cuts, and is left with a reason', function (): void {
    $bench = new Workbench($this);
    $bench->as('technician');
    [$job, $begun] = guidedRun($bench, 'board-cut');
    $run = $begun->json('id');
    guidedStep($bench, $job, $run, 'input', [], 1);
    guidedStep($bench, $job, $run, 'high', ['v' => 4.24], 2);
    guidedStep($bench, $job, $run, 'low', null, 3);
    guidedStep($bench, $job, $run, 'plug', [], 4)->assertJsonPath('results.0.status', 'stored');
    $bench
        ->post("guided/$run/end")
        ->assertOk()
        ->assertJsonPath('outcome.word', 'cannot-tell');
    $proof = collect($this->getJson("/api/jobs/{$job->id}")->json('proof'));
    expect($proof->firstWhere('code', 'board-high-cut')['status'])
        ->toBe('passed')
        ->and($proof->firstWhere('code', 'board-low-cut')['status'])
        ->toBe('missing')
        ->and($proof->firstWhere('code', 'board-low-cut')['guided'])
        ->toBe('board-cut');
    $next = $bench->post("jobs/{$job->id}/guided", ['code' => 'board-cut'])->json('id');
    $bench
        ->post("guided/$next/end", ['leave' => 'No second supply today.'])
        ->assertOk()
        ->assertJsonPath('left', 'No second supply today.');
    expect(DB::table('proof_entries')->where('job_id', $job->id)->count())->toBe(1);
});

it('stands on the bench while it waits and comes up when its time is over', function (): void {
    $bench = new Workbench($this);
    $bench->as('technician');
    [$job, $begun] = guidedRun($bench, 'hold');
    $run = $begun->json('id');
    $row = fn(): array => collect($this->getJson('/api/bench')->assertOk()->json('jobs'))->firstWhere('id', $job->id);
    expect($row()['lane'])->toBe('hands')->and($row()['due'])->toBeFalse()->and($row()['next'])->toContain('Hold test: Charger, load');
    guidedStep($bench, $job, $run, 'ended', ['hours' => 5.0])->assertJsonPath('results.0.status', 'stored');
    expect($row()['lane'])
        ->toBe('waiting')
        ->and($row()['next'])
        ->toContain('Hold test: Read every group')
        ->and($row()['door'])
        ->toBe("guided/$run")
        ->and($row()['due_at'])
        ->not->toBeNull();
    // Its hour has come.
    DB::table('guided_runs')->update(['waits_until' => now()->subMinute()]);
    expect($row()['lane'])->toBe('hands')->and($row()['due'])->toBeTrue();
});

it('takes what stands on record for a step, typed by nobody', function (): void {
    $bench = new Workbench($this);
    $bench->as('technician');
    [$job, $begun] = guidedRun($bench, 'load-step');
    $run = $begun->json('id');
    $this->travel(5)->seconds();
    $bench->read($job, [3.8, 3.8, 3.8, 3.8]);
    $shown = $this->getJson("/api/guided/$run");
    expect($shown->json('steps.0.state'))->toBe('done')->and($shown->json('steps.0.entry.found'))->toBe('a set of the readings');
});

it('holds a pack altered meanwhile against its own revision', function (): void {
    $bench = new Workbench($this);
    $bench->as('technician');
    [$job, $begun] = guidedRun($bench, 'insulation');
    $run = $begun->json('id');
    guidedStep($bench, $job, $run, 'apart', [], 1);
    guidedStep($bench, $job, $run, 'read', ['plus_mohm' => 5, 'minus_mohm' => 5], 2);
    DB::table('jobs')
        ->where('id', $job->id)
        ->update(['revision' => 2]);
    $bench
        ->post("guided/$run/end")
        ->assertConflict()
        ->assertJsonPath('code', 'other-revision');
    $bench->post("guided/$run/end", ['leave' => 'The pack was altered.'])->assertOk();
});

it('tries a charger: refuses a night without guards, tells coverage and odds, and prints a sheet', function (): void {
    $bench = new Workbench($this);
    $bench->as('technician');
    [$job, $begun] = guidedRun($bench, 'charger-trial', [3.3, 3.3, 3.3, 3.3], pack: ['chemistry' => 'lfp']);
    $run = $begun->assertCreated()->json('id');
    guidedStep($bench, $job, $run, 'bench', ['cells' => 'four of the drawer', 'cut_v' => 3.72], 1)->assertJsonPath(
        'results.0.status',
        'stored',
    );
    guidedStep($bench, $job, $run, 'modes', ['modes' => 'slow, fast'], 2)->assertJsonPath('results.0.status', 'stored');
    $begin = ['mode' => 'slow', 'selected_by' => 'long-press', 'from' => 'half', 'cold' => true, 'attended' => false, 'guards' => []];
    guidedStep($bench, $job, $run, 'begin-1', $begin, 3)->assertJsonPath('results.0.status', 'refused');
    guidedStep($bench, $job, $run, 'begin-1', ['attended' => true] + $begin, 4)->assertJsonPath('results.0.status', 'stored');
    $end = [
        'hours' => 3,
        'open_v' => 14.6,
        'end_v' => 14.6,
        'highest_group_v' => 3.65,
        'stages' => ['cc', 'cv'],
        'board_cut' => false,
        'mains_lost' => true,
        'mode_after' => 'fast',
        'fault_seen' => false,
    ];
    guidedStep($bench, $job, $run, 'end-1', $end, 5)->assertJsonPath('results.0.status', 'stored');
    $shown = $this->getJson("/api/guided/$run");
    expect(Contract::complaints($shown, 'get', '/api/guided/{guidedRun}'))
        ->toBe([])
        ->and($shown->json('trial.odds.0.cause'))
        ->toBe('mode-slipped')
        ->and($shown->json('preview.word'))
        ->toBe('fail')
        ->and(collect($shown->json('trial.coverage'))->firstWhere('what', 'a whole night')['cycles'])
        ->toBe(0);
    $bench->post("guided/$run/end")->assertOk();
    $pdf = $this->get("/api/guided/$run/sheet.pdf")->assertOk();
    expect($pdf->headers->get('Content-Type'))->toContain('pdf')->and(substr((string) $pdf->getContent(), 0, 4))->toBe('%PDF');
    $record =
        $bench->as('owner') && true
            ? $this->getJson("/api/jobs/{$job->id}/record")
                ->assertOk()
                ->json()
            : [];
    expect(collect($record['tests'])->firstWhere('kind', 'charger-trial')['cycles'][0]['mode_after'])->toBe('fast');
    // Of any other run there is none.
    $other = $bench
        ->as('technician')
        ->post("jobs/{$job->id}/guided", ['code' => 'insulation'])
        ->json('id');
    $this->get("/api/guided/$other/sheet.pdf")->assertNotFound();
    $listed = $this->getJson("/api/jobs/{$job->id}/guided");
    expect(Contract::complaints($listed, 'get', '/api/jobs/{job}/guided'))
        ->toBe([])
        ->and($listed->json('runs'))
        ->toHaveCount(2)
        ->and(count($listed->json('offered')))
        ->toBeGreaterThan(10);
});
