<?php

declare(strict_types=1);

use App\Actions\Claims;
use App\Actions\LockJob;
use App\Actions\Refused;
use App\Instruments\BoardLine;
use App\Instruments\InstrumentFault;
use App\Instruments\Line;
use App\Instruments\RunFolder;
use App\Models\Instrument;
use App\Models\Job;
use App\Models\Run;
use Illuminate\Database\QueryException;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Route;
use Illuminate\Support\Str;
use Tests\Feature\LiveBench;
use Tests\Feature\Workbench;

/*
 * Gates are passed on the job as it is now, instruments are held by one, and what the database undid is done again.
 */

const READY = ['place' => true, 'awake' => true, 'extinguisher' => true, 'isolated' => true, 'temperature' => true, 'fused' => true];

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('technician');
});

afterEach(function (): void {
    foreach (Run::query()->pluck('id') as $id) {
        exec('rm -rf ' . escapeshellarg(RunFolder::of($id)->path));
    }
});

/** @param  array<string, mixed>  $more */
function keptInstrument(Workbench $bench, string $kind, array $more = []): Instrument
{
    return Instrument::query()->create(
        $more + [
            'workshop_id' => $bench->workshop->id,
            'name' => ucfirst($kind),
            'kind' => $kind,
            'host' => '127.0.0.1',
            'port' => random_int(100, 900),
            'identity' => ['maker' => 'A', 'model' => 'B', 'serial' => (string) Str::uuid(), 'firmware' => ''],
            'timer' => $kind === 'supply' ? 'OUTP:TIM' : '',
            'simulated' => true,
            'checked_at' => now(),
        ],
    );
}

it('locks a job in a transaction only, and shows it as it is now', function (): void {
    $job = $this->bench->open();
    $old = Job::query()->findOrFail($job->id);
    Job::query()
        ->where('id', $job->id)
        ->update(['safety_state' => 'quarantine']);
    expect($old->safety_state)->toBe('clear')->and(DB::transaction(fn(): string => LockJob::now($old)->safety_state))->toBe('quarantine');
});

it('starts nothing on a job that was held after its screen was drawn', function (string $state): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.7, 2.3, 3.7, 3.71]);
    Job::query()
        ->where('id', $job->id)
        ->update(['safety_state' => $state]);
    $this->bench
        ->post("jobs/{$job->id}/runs", ['kind' => 'recovery', 'group' => 2, 'checks' => READY])
        ->assertStatus(409)
        ->assertJsonPath('code', 'gate');
    expect(Run::query()->count())
        ->toBe(0)
        ->and(DB::table('instrument_claims')->count())
        ->toBe(0);
})->with(['hold', 'quarantine']);

it('lets nobody resume, clip or read anew on a pack that is held meanwhile', function (string $do): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.7, 2.3, 3.7, 3.71]);
    $id = $this->bench
        ->post("jobs/{$job->id}/runs", ['kind' => 'recovery', 'group' => 2, 'checks' => READY])
        ->assertCreated()
        ->json('id');
    Job::query()
        ->where('id', $job->id)
        ->update(['safety_state' => 'hold']);
    $this->bench
        ->post("runs/$id/say", ['do' => $do, 'v' => 2.3])
        ->assertStatus(409)
        ->assertJsonPath('code', 'gate');
    $this->bench->post("runs/$id/say", ['do' => 'end', 'why' => 'held'])->assertOk();
})->with(['resume', 'clipped', 'plan']);

it('wants volts with a fresh reading, and a reason with an end', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.7, 2.3, 3.7, 3.71]);
    $id = $this->bench->post("jobs/{$job->id}/runs", ['kind' => 'recovery', 'group' => 2, 'checks' => READY])->json('id');
    $this->bench
        ->post("runs/$id/say", ['do' => 'plan'])
        ->assertStatus(422)
        ->assertJsonPath('fields.v', fn(mixed $m): bool => is_string($m));
    $this->bench->post("runs/$id/say", ['do' => 'ambient'])->assertStatus(422);
    $this->bench->post("runs/$id/say", ['do' => 'end'])->assertStatus(422);
    $this->bench->post("runs/$id/say", ['do' => 'explode'])->assertStatus(422);
});

it('holds an instrument by its key until the run lets it go', function (): void {
    $supply = keptInstrument($this->bench, 'supply');
    $job = $this->bench->open();
    [$one, $two] = [(string) Str::uuid(), (string) Str::uuid()];
    $keys = Claims::take($one, [$supply]);
    expect($keys)->toHaveCount(1)->and(Claims::isTaken($supply))->toBeTrue();
    Claims::release($two);
    expect(Claims::isTaken($supply))->toBeTrue();
    Claims::release($one);
    expect(Claims::isTaken($supply))->toBeFalse();
    Claims::pack($one, $job);
    expect(fn() => Claims::pack($two, $job))->toThrow(Refused::class, 'has a run already');
});

it('takes no instrument out of use, nor asks it who it is, while a run has it', function (): void {
    $meter = keptInstrument($this->bench, 'meter');
    $job = $this->bench->open();
    $this->bench->read($job, [3.7, 2.3, 3.7, 3.71]);
    $id = $this->bench
        ->post("jobs/{$job->id}/runs", ['kind' => 'recovery', 'group' => 2, 'checks' => READY, 'meter_id' => $meter->id])
        ->assertCreated()
        ->json('id');
    $this->bench
        ->post("instruments/{$meter->id}/retire")
        ->assertStatus(409)
        ->assertJsonPath('code', 'in-use');
    $this->bench
        ->post("instruments/{$meter->id}/identify")
        ->assertStatus(409)
        ->assertJsonPath('code', 'in-use');
    // Before the runner has looked there is nothing to show; after it, a page is shown what the run sees.
    $this->getJson("/api/instruments/{$meter->id}/reading")
        ->assertStatus(409)
        ->assertJsonPath('code', 'in-use');
    RunFolder::of($id)->show([
        'wall' => microtime(true),
        'live' => ['v' => 2.31, 'a' => 0.0, 'c' => 20.5],
        'set' => ['volts' => null, 'amps' => null],
        'output' => null,
    ]);
    $this->getJson("/api/instruments/{$meter->id}/reading")
        ->assertOk()
        ->assertJsonPath('shows.volts', 2.31)
        ->assertJsonPath('shows.celsius', 20.5);
    RunFolder::of($id)->show(['wall' => microtime(true) - 10] + RunFolder::of($id)->state());
    $this->getJson("/api/instruments/{$meter->id}/reading")->assertStatus(409);
});

it('does not begin with a supply that cannot give the volts', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.7, 2.3, 3.7, 3.71]);
    $entry = fn(float $most): array => [
        'kind' => 'recovery',
        'group' => 2,
        'checks' => READY,
        'meter_id' => keptInstrument($this->bench, 'meter')->id,
        'supply_id' => keptInstrument($this->bench, 'supply', [
            'identity' => ['maker' => 'A', 'model' => 'B', 'serial' => "S$most", 'max_v' => $most, 'max_a' => 5.0],
        ])->id,
    ];
    $this->bench
        ->post("jobs/{$job->id}/runs", $entry(4.1))
        ->assertStatus(422)
        ->assertJsonPath('code', 'supply-short')
        ->assertJsonPath('fields.supply_id', fn(mixed $m): bool => is_string($m));
    $this->bench->post("jobs/{$job->id}/runs", $entry(4.2))->assertCreated();
});

it('asks for every check by name before anything else', function (string $name): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.7, 2.3, 3.7, 3.71]);
    $this->bench
        ->post("jobs/{$job->id}/runs", ['kind' => 'recovery', 'group' => 2, 'checks' => [$name => false] + READY])
        ->assertStatus(422)
        ->assertJsonPath('code', 'check-missing');
})->with(array_keys(READY));

it('joins nothing to a flat, a reversed or another kind of group', function (array $b, string $way): void {
    $job = $this->bench->open();
    $side = ['v' => 3.7, 'mohm' => 30, 'ah' => 5, 'max_charge_a' => 2.5];
    $this->postJson("/api/jobs/{$job->id}/join-check", ['a' => $side, 'b' => $b + $side])
        ->assertOk()
        ->assertJsonPath('way', $way);
})->with([
    'alike' => [['v' => 3.71], 'direct'],
    'flat' => [['v' => 0.02], 'refused'],
    'reversed' => [['v' => -0.4], 'refused'],
    'phosphate' => [['chemistry' => 'lfp', 'v' => 3.3], 'refused'],
    'apart' => [['v' => 3.85], 'resistor'],
]);

it('does again what the database undid for two at once, and gives up in the end', function (int $fails, int $status): void {
    $tries = 0;
    Route::post('/api/test-deadlock', function () use (&$tries, $fails) {
        if (++$tries <= $fails) {
            $e = new PDOException('Deadlock found');
            $e->errorInfo = ['40001', 1213, 'Deadlock found'];
            throw new QueryException('mariadb', 'insert', [], $e);
        }

        return response()->json(['tries' => $tries]);
    })->middleware(['web', 'auth', 'idempotent']);
    $this->postJson('/api/test-deadlock', [], ['Idempotency-Key' => (string) Str::uuid()])->assertStatus($status);
    expect($tries)->toBe(min($fails + 1, 4));
})->with([
    'once' => [1, 200],
    'three times' => [3, 200],
    'for ever' => [9, 409],
]);

it('reads a board\'s whole report in one time for all of it', function (): void {
    $good = new LiveBench();
    expect(BoardLine::report(new Line('127.0.0.1', $good->port + 3, 0.6)))
        ->toContain('group 10 ')
        ->and(fn() => BoardLine::report(new Line('127.0.0.1', 1, 0.3)))
        ->toThrow(InstrumentFault::class);
});
