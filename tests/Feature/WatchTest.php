<?php

declare(strict_types=1);

use App\Actions\Claims;
use App\Instruments\Desk;
use App\Instruments\RunFolder;
use App\Models\Instrument;
use App\Models\Job;
use App\Models\Run;
use App\Watch\Door;
use App\Watch\Ticket;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

// The two questions that screens ask all the while, by ticket.

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('technician');
    $this->job = $this->bench->open();
    array_map(unlink(...), glob(Desk::folder() . '/*') ?: []);
});

afterEach(function (): void {
    foreach (Run::query()->pluck('id') as $id) {
        exec('rm -rf ' . escapeshellarg(RunFolder::of($id)->path));
    }
});

/** A run that its runner is busy with: it stands at 2.31 V. */
function busyRun(Workbench $bench, Job $job): Run
{
    $run = Run::query()->create([
        'id' => (string) Str::uuid7(),
        'workshop_id' => $bench->workshop->id,
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
    $folder = RunFolder::of($run->id);
    $folder->start(['kind' => 'recovery']);
    $folder->note(['is' => 'sample', 't' => 1.0, 'v' => 2.3, 'a' => 0.1, 'c' => 20.0]);
    standsAt($folder, []);

    return $run;
}

function standsAt(RunFolder $folder, array $more): void
{
    $folder->show($more + ['wall' => microtime(true), 'over' => false, 'output' => true, 'live' => ['v' => 2.31, 'a' => 0.1, 'c' => 20.0]]);
}

function aMeter(Workbench $bench, array $more = []): Instrument
{
    return Instrument::query()->create(
        $more + [
            'workshop_id' => $bench->workshop->id,
            'name' => 'Meter',
            'kind' => 'meter',
            'host' => '127.0.0.1',
            'port' => 9,
            'identity' => [],
            'simulated' => true,
            'checked_at' => now(),
        ],
    );
}

/** What the desk would have written of a meter. @param  list<float|null>  $volts  a tenth of a second apart, the last of them now */
function meterShows(Instrument $m, array $volts, float $now, array $more = []): void
{
    $last = count($volts) - 1;
    $series = array_map(fn(int $i): array => [round($now - 0.1 * ($last - $i), 3), $volts[$i]], array_keys($volts));
    $state = $more + ['what' => 'volts', 'shows' => ['volts' => $volts[$last]], 'fault' => null, 'series' => $series];
    file_put_contents(Desk::folder() . "/{$m->id}.json", json_encode($state + ['wall' => microtime(true)]));
}

function runLook(mixed $test, string $watch, int|string $from = 0): TestResponse
{
    return $test->getJson("/api/watch/run?from=$from", [Door::HEADER => $watch]);
}

function meterLook(mixed $test, string $watch, array $more = []): TestResponse
{
    return $test->postJson('/api/watch/meter', $more + ['has_left' => true, 'groups' => 1], [Door::HEADER => $watch]);
}

it('shows a run by ticket as opening it does, and what came since', function (): void {
    $run = busyRun($this->bench, $this->job);
    $folder = RunFolder::of($run->id);
    $opened = $this->getJson("/api/runs/{$run->id}")->assertOk();
    $look = runLook($this, $opened->json('watch'))->assertOk();
    expect($look->json('samples'))
        ->toBe($opened->json('samples'))
        ->toHaveCount(1)
        ->and($look->json('state'))
        ->toBe($opened->json('state'))
        ->and($look->json('again'))
        ->toBeFalse()
        ->and($opened->json('lasts_s'))
        ->toBe(30);
    $folder->note(['is' => 'sample', 't' => 1.5, 'v' => 2.32, 'a' => 0.1, 'c' => 20.0]);
    $next = runLook($this, $opened->json('watch'), $look->json('next'))->assertOk();
    expect($next->json('samples.*.v'))
        ->toBe([2.32])
        ->and($next->json('next'))
        ->toBe($folder->length());
});

it('counts as watching who may recover, until the run is over, and nobody else', function (): void {
    $run = busyRun($this->bench, $this->job);
    $folder = RunFolder::of($run->id);
    $unseen = function (string $watch) use ($folder): bool {
        touch("$folder->path/seen", time() - 100);
        runLook($this, $watch)->assertOk();

        return $folder->unseenFor() > 90;
    };
    $mine = $this->getJson("/api/runs/{$run->id}")->json('watch');
    $this->bench->as('trainee');
    $theirs = $this->getJson("/api/runs/{$run->id}")->json('watch');
    expect($unseen($theirs))->toBeTrue()->and($unseen($mine))->toBeFalse();
    standsAt($folder, ['over' => true]);
    expect($unseen($mine))->toBeTrue();
});

it('sends the screen back to the record when that is about to change, and not before or after', function (): void {
    $run = busyRun($this->bench, $this->job);
    $folder = RunFolder::of($run->id);
    $watch = fn(): string => $this->getJson("/api/runs/{$run->id}")
        ->assertOk()
        ->json('watch');
    $again = fn(string $w): bool => runLook($this, $w)->assertOk()->json('again');
    $first = $watch();
    expect($again($first))->toBeFalse();
    standsAt($folder, ['over' => true]);
    expect($again($first))->toBeTrue();
    $run->update(['ended_at' => now(), 'outcome' => 'at-target']);
    $second = $watch();
    expect($again($second))->toBeFalse();
    $folder->close();
    expect($again($second))->toBeTrue();
    $run->update(['closed_at' => now()]);
    expect($again($watch()))->toBeFalse();
});

it('does not say what an old state says, by either way', function (): void {
    $run = busyRun($this->bench, $this->job);
    $folder = RunFolder::of($run->id);
    $watch = $this->getJson("/api/runs/{$run->id}")->json('watch');
    foreach ([[2.8, false, true, 2.31], [3.2, true, null, null]] as [$age, $silent, $output, $v]) {
        standsAt($folder, ['wall' => microtime(true) - $age]);
        foreach ([$this->getJson("/api/runs/{$run->id}"), runLook($this, $watch)] as $live) {
            expect([$live->json('silent'), $live->json('state.output'), $live->json('state.live.v')])
                ->toBe([$silent, $output, $v])
                ->and($live->json('age_s'))
                ->toBeGreaterThan($age - 0.1);
        }
    }
});

it('judges what the desk saw since the last tap was taken, and sees a probe that was lifted between two looks', function (): void {
    $m = aMeter($this->bench);
    $given = $this->postJson("/api/instruments/{$m->id}/watch/{$this->job->id}")->assertOk();
    expect(Contract::complaints($given, 'post', '/api/instruments/{instrument}/watch/{job}'))->toBe([]);
    $now = microtime(true);
    $look = fn(array $more): TestResponse => meterLook($this, $given->json('watch'), $more + ['has_left' => false])->assertOk();
    $old = array_fill(0, 12, 3.7);
    meterShows($m, $old, $now);
    $still = $look(['left_v' => 3.7, 'since' => $now - 1.05]);
    expect(Contract::complaints($still, 'post', '/api/watch/meter'))
        ->toBe([])
        ->and($still->json())
        ->toMatchArray(['state' => 'waiting', 'has_left' => false, 'v' => 3.7, 'now' => round($now, 3)]);
    meterShows($m, [...$old, null, ...array_fill(0, 9, 7.41)], $now);
    expect($look(['left_v' => 3.7, 'since' => $now - 1.05, 'before' => 3.7, 'typical' => 3.7])->json())->toMatchArray([
        'state' => 'steady',
        'has_left' => true,
        'typed' => '7.410',
    ]);
    // The same volts again: told by the lift alone, and asked about.
    meterShows($m, [...$old, null, ...array_fill(0, 9, 3.7)], $now);
    expect($look(['left_v' => 3.7, 'since' => $now - 1.05, 'before' => 3.7, 'typical' => 3.7])->json())->toMatchArray([
        'state' => 'question',
        'kind' => 'same-value',
    ]);
    // What was shown before the last was taken is not of this tap.
    expect($look(['left_v' => 3.7, 'since' => $now - 0.35, 'before' => 3.7])->json())->toMatchArray([
        'state' => 'moving',
        'has_left' => false,
    ]);
    expect($look(['left_v' => null, 'since' => $now + 5])->json())->toMatchArray(['state' => 'waiting', 'v' => 3.7]);
});

it('has nothing to show before the first answer, and says only after five seconds that there is none', function (): void {
    $m = aMeter($this->bench, ['name' => 'Long meter']);
    $watch = $this->postJson("/api/instruments/{$m->id}/watch/{$this->job->id}")->json('watch');
    $askedFor = function (float $s) use ($m): void {
        $file = Desk::folder() . "/{$m->id}.ask";
        $ask = json_decode((string) file_get_contents($file), true);
        file_put_contents($file, json_encode(['since' => microtime(true) - $s] + $ask));
    };
    meterLook($this, $watch)->assertOk()->assertJsonPath('state', 'waiting')->assertJsonPath('v', null);
    $askedFor(4.8);
    meterLook($this, $watch)->assertOk()->assertJsonPath('v', null);
    // A machine that was busy for four seconds has a meter that was heard four seconds ago: not silent, and not shown as now.
    $askedFor(60);
    meterShows($m, [3.7, 3.7], microtime(true), ['wall' => microtime(true) - 4.8]);
    meterLook($this, $watch)->assertOk()->assertJsonPath('v', null);
    meterShows($m, [3.7, 3.7], microtime(true), ['wall' => microtime(true) - 5.1]);
    $silent = meterLook($this, $watch)->assertStatus(503)->assertJsonPath('code', 'silent');
    expect($silent->json('message'))->toContain('Long meter')->toContain('does not answer');
    meterShows($m, [null], microtime(true), ['fault' => 'It answers with nonsense.']);
    meterLook($this, $watch)->assertStatus(503)->assertJsonPath('message', 'Long meter: It answers with nonsense.');
});

it('sends whoever looks away once a run has the meter, or the shop has it no more, and gives no new leave', function (): void {
    $m = aMeter($this->bench);
    $give = fn(): TestResponse => $this->postJson("/api/instruments/{$m->id}/watch/{$this->job->id}");
    meterShows($m, [3.7, 3.7], microtime(true));
    $before = $give()->assertOk()->json('watch');
    meterLook($this, $before)->assertOk();
    $run = (string) Str::uuid7();
    DB::transaction(function () use ($run, $m, $before): void {
        Claims::take($run, [$m]);
        // Nobody is sent away by a claim that may come to nothing.
        meterLook($this, $before)->assertOk();
    });
    meterLook($this, $before)->assertStatus(409)->assertJsonPath('code', 'in-use')->assertJsonPath('message', 'Meter is in use.');
    $give()->assertStatus(409)->assertJsonPath('code', 'in-use');
    Claims::release($run);
    meterLook($this, $before)->assertStatus(409);
    meterLook($this, $give()->assertOk()->json('watch'))->assertOk();
    $last = $give()->json('watch');
    $this->bench->as('owner');
    $this->bench->post("instruments/{$m->id}/retire")->assertOk();
    meterLook($this, $last)->assertStatus(409);
    $give()->assertNotFound();
    $supply = aMeter($this->bench, ['name' => 'Supply', 'kind' => 'supply', 'port' => 10]);
    $this->postJson("/api/instruments/{$supply->id}/watch/{$this->job->id}")
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-meter');
});

it('names what is wrong with a question, and asks nothing of the desk', function (array $in, string $field): void {
    $m = aMeter($this->bench);
    $watch = $this->postJson("/api/instruments/{$m->id}/watch/{$this->job->id}")->json('watch');
    $wrong = meterLook($this, $watch, $in)->assertStatus(422)->assertJsonPath('code', 'invalid');
    expect(array_keys($wrong->json('fields')))
        ->toBe([$field])
        ->and(Contract::complaints($wrong, 'post', '/api/watch/meter'))
        ->toBe([])
        ->and(glob(Desk::folder() . '/*.ask'))
        ->toBe([]);
})->with([
    'since in words' => [['since' => 'now'], 'since'],
    'volts as a list' => [['left_v' => [3.7]], 'left_v'],
    'no word of the probe' => [['has_left' => null], 'has_left'],
    'no groups' => [['groups' => 0], 'groups'],
    'too many groups' => [['groups' => 201], 'groups'],
    'half a group' => [['groups' => 1.5], 'groups'],
]);

it('takes as many groups as the longest pack has, and a place in a journal only as bytes', function (): void {
    $m = aMeter($this->bench);
    $watch = $this->postJson("/api/instruments/{$m->id}/watch/{$this->job->id}")->json('watch');
    meterLook($this, $watch, ['groups' => 200])->assertOk();
    $run = busyRun($this->bench, $this->job);
    $watch = $this->getJson("/api/runs/{$run->id}")->json('watch');
    runLook($this, $watch, 'x')->assertStatus(422)->assertJsonPath('fields.from', fn($m) => $m !== null);
    runLook($this, $watch, -1)->assertStatus(422);
    runLook($this, $watch, 999_999_999)->assertOk()->assertJsonPath('samples', []);
});

it('honours a ticket for thirty seconds, for what it was given, as it was given, and no other', function (): void {
    $now = 1_800_000_000.0;
    $ticket = Ticket::give('run', ['run' => 'r', 'closed' => false], $now);
    $reads = fn(string $t, string $for = 'run', float $later = 1.0): bool => Ticket::read($t, $for, $now + $later) !== null;
    expect(Ticket::read($ticket, 'run', $now + 1.0))->toMatchArray(['run' => 'r', 'closed' => false, 'at' => $now]);
    expect($reads($ticket, later: 29.9))
        ->toBeTrue()
        ->and($reads($ticket, later: 30.1))
        ->toBeFalse()
        ->and($reads($ticket, later: -29.9))
        ->toBeTrue()
        ->and($reads($ticket, later: -30.1))
        ->toBeFalse('a clock that was set back')
        ->and($reads($ticket, 'meter'))
        ->toBeFalse();
    // It says nothing, is never the same twice, and no bit of it can be changed.
    expect(sodium_base642bin($ticket, SODIUM_BASE64_VARIANT_URLSAFE_NO_PADDING))
        ->not->toContain('run')
        ->and(Ticket::give('run', ['run' => 'r', 'closed' => false], $now))
        ->not->toBe($ticket);
    for ($i = 0; $i < strlen($ticket); $i++) {
        $other = $ticket;
        $other[$i] = $ticket[$i] === 'A' ? 'B' : 'A';
        expect($reads($other))->toBeFalse("letter $i");
    }
    foreach (['', 'x', '!!', str_repeat('A', 54), str_repeat('A', 55), substr($ticket, 0, 60), $ticket . 'AAAA', "$ticket "] as $none) {
        expect($reads($none))->toBeFalse("'$none'");
    }
    // Of another instance, or of this one before its key was thrown away.
    $key = RunFolder::root() . '-watch.key';
    expect(decoct(fileperms($key) & 0777))->toBe('600');
    unlink($key);
    expect($reads($ticket))->toBeFalse()->and(filesize($key))->toBe(32);
    file_put_contents($key, 'cut short');
    expect($reads(Ticket::give('run', ['run' => 'r'], $now)))->toBeTrue()->and(filesize($key))->toBe(32);
});

it('answers without ticket nothing but that leave is to be asked for', function (): void {
    runLook($this, 'x')->assertStatus(410)->assertJsonPath('code', 'watch-over');
    $none = $this->postJson('/api/watch/meter', [])->assertStatus(410);
    expect(Contract::complaints($none, 'post', '/api/watch/meter'))->toBe([]);
    expect(Door::answer('keys', 'x', [], 0.0)[0])->toBe(404);
});

it('gives the same answer by the way that starts no framework', function (): void {
    $run = busyRun($this->bench, $this->job);
    $watch = $this->getJson("/api/runs/{$run->id}")->json('watch');
    $direct = function (string $uri, string $word): array {
        $process = proc_open(
            [PHP_BINARY, base_path('bin/look.php')],
            [1 => ['pipe', 'w'], 2 => ['pipe', 'w']],
            $pipes,
            '/',
            ['REQUEST_URI' => $uri, 'HTTP_X_HEARTWOOD_WATCH' => $word, 'HEARTWOOD_REQUEST' => 'abcdef0123456789'] + getenv(),
        );
        $said = (string) stream_get_contents($pipes[1]);
        expect(stream_get_contents($pipes[2]))->toBe('')->and(proc_close($process))->toBe(0);

        return json_decode($said, true);
    };
    $look = runLook($this, $watch)->json();
    expect(array_diff_key($direct('/api/watch/run?from=0', $watch), ['age_s' => 1]))->toBe(array_diff_key($look, ['age_s' => 1]));
    expect($direct('/api/watch/run', 'x'))->toMatchArray(['code' => 'watch-over', 'request' => 'abcdef012345']);
    expect($direct('/api/watch/../keys', $watch)['code'])->toBe('not-found');
    $m = aMeter($this->bench);
    $word = $this->postJson("/api/instruments/{$m->id}/watch/{$this->job->id}")->json('watch');
    // No body comes this way: what is missing is named by the same rule.
    expect($direct('/api/watch/meter', $word)['fields'])->toHaveKeys(['has_left', 'groups']);
});
