<?php

declare(strict_types=1);

use App\Models\Job;
use App\Models\Pack;
use App\Models\PackLink;
use App\Models\ServiceReading;
use Carbon\Carbon;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('technician');
    /** A pack that went back a moment ago. */
    $this->gone = function (string $serial = 'GQ-77', array $pack = []): Job {
        $job = $this->bench->open(pack: $pack);
        $job->update(['serial' => $serial]);
        App\Actions\KeepPack::of($job);
        $this->bench->read($job, array_fill(0, $job->series, 3.8));
        DB::table('sign_offs')->insert([
            'workshop_id' => $job->workshop_id,
            'job_id' => $job->id,
            'revision' => $job->revision,
            'signed_by' => $this->bench->people['senior']->id,
            'results' => '[]',
            'signed_at' => now(),
            'reason' => 'proved',
        ]);
        $this->bench->post("jobs/{$job->id}/return", ['note' => '', 'truth' => []])->assertOk();

        return $job->refresh();
    };
    $this->days = function (float $days): void {
        Carbon::setTestNow(now()->addMinutes((int) round(1440 * $days)));
        // Nobody stays signed in that long.
        app('session')->flush();
        $this->bench->as('technician');
    };
    $this->told = fn(array $more = []): array => [
        'readings' => [
            $more + [
                'id' => (string) Str::uuid7(),
                'at' => now()->toIso8601ZuluString(),
                'condition' => 'rest',
                'soc' => 0.6,
                'groups_v' => [3.8, 3.801, 3.799, 3.8],
                'signs' => array_fill_keys(['swollen', 'hot', 'smell', 'wet', 'dropped'], false),
            ],
        ],
    ];
    $this->owner = fn(string $secret, ?array $body = null) => $body === null
        ? $this->getJson('/api/owner', ['X-Pack-Link' => $secret])
        : $this->postJson('/api/owner/readings', $body, ['X-Pack-Link' => $secret]);
});
afterEach(fn() => Carbon::setTestNow());

it('knows a pack over all its jobs by its serial, and gives it a code of its own', function (): void {
    $first = $this->bench->open();
    $second = $this->bench->open();
    expect($first->pack_id)
        ->not->toBe($second->pack_id)
        ->and(Pack::query()->findOrFail($first->pack_id)->code)
        ->toMatch('/^[A-Z2-9]{8}$/');
    foreach ([$first, $second] as $job) {
        $this->patchJson(
            "/api/jobs/{$job->id}",
            ['serial' => 'TR-9'],
            [
                'If-Match' => '"' . $job->refresh()->version . '"',
                'Idempotency-Key' => (string) Str::uuid(),
            ],
        )->assertOk();
    }
    expect($first->refresh()->pack_id)->toBe($second->refresh()->pack_id);
    $passport = $this->getJson("/api/packs/{$first->pack_id}")->assertOk();
    expect(Contract::complaints($passport, 'get', '/api/packs/{pack}'))
        ->toBe([])
        ->and($passport->json('serial'))
        ->toBe('TR-9')
        ->and(array_column($passport->json('jobs'), 'number'))
        ->toBe([$second->number, $first->number])
        ->and($passport->json('watch'))
        ->toBeNull();
    $code = $passport->json('code');
    foreach ([$code, strtolower(str_replace('-', ' ', $code)), 'TR-', 'Test'] as $term) {
        $found = $this->getJson('/api/packs?q=' . urlencode($term))->assertOk();
        expect(array_column($found->json('packs'), 'id'))->toContain($first->pack_id);
        expect(Contract::complaints($found, 'get', '/api/packs'))->toBe([]);
    }
});

it('watches a pack from its return on: due on its day, closed by a reading, over with a slip', function (): void {
    $job = ($this->gone)();
    $pack = $job->pack_id;
    $watch = $this->getJson("/api/packs/$pack")->json('watch');
    expect($watch['job_id'])->toBe($job->id)->and($watch['state'])->toBe('cannot-tell')->and($watch['due'])->toBeFalse();
    $on = fn(): array => array_values(
        array_filter($this->getJson('/api/bench')->json('jobs'), fn(array $j): bool => $j['id'] === $job->id && $j['due']),
    );
    expect($on())->toBe([]);
    ($this->days)(3.01);
    expect($on()[0])->toMatchArray(['lane' => 'hands', 'next' => 'Ask for a reading: does the repair hold?', 'door' => "/packs/$pack"]);
    $read = $this->bench->post("packs/$pack/readings", ($this->told)())->assertCreated();
    expect(Contract::complaints($read, 'post', '/api/packs/{pack}/readings'))
        ->toBe([])
        ->and($read->json('readings.0.answer.answer'))
        ->toBe('fine')
        ->and($read->json('readings.0.by'))
        ->toBe('Technician')
        ->and($on())
        ->toBe([]);
    // The hand-back was no slip any more; a reading that was one is taken back with its reason, and is due again.
    $this->bench->post("packs/$pack/readings/{$read->json('readings.0.id')}/back", ['reason' => ''])->assertStatus(422);
    $back = $this->bench->post("packs/$pack/readings/{$read->json('readings.0.id')}/back", ['reason' => 'Another pack.'])->assertOk();
    expect($back->json('readings.0.taken_back'))
        ->toBe('Another pack.')
        ->and($back->json('watch.used'))
        ->toBe([])
        ->and($on())
        ->not->toBe([]);
    $this->bench->post("packs/$pack/readings/{$read->json('readings.0.id')}/back", ['reason' => 'Once more.'])->assertStatus(409);
});

it('ends the watch when the hand-back is taken back, and watches nothing that never went back', function (): void {
    $job = ($this->gone)();
    $this->bench->post("jobs/{$job->id}/take-back", ['reason' => 'The wrong pack.'])->assertOk();
    expect($this->getJson("/api/packs/{$job->pack_id}")->json('watch'))->toBeNull();
    $this->bench
        ->post("packs/{$job->pack_id}/readings", ($this->told)())
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-watched');
    expect(ServiceReading::query()->count())->toBe(0);
});

it('counts what was read at the bench after the work among the readings', function (): void {
    $job = $this->bench->open();
    App\Actions\KeepPack::of($job);
    ($this->days)(2.0);
    Pack::query()
        ->whereKey($job->pack_id)
        ->update(['work_ended_at' => now()->subDays(2), 'watch_job_id' => $job->id]);
    $this->bench->read($job, [3.8, 3.801, 3.799, 3.804]);
    $watch = $this->getJson("/api/packs/{$job->pack_id}")->json('watch');
    expect(count($watch['used']))->toBe(1)->and($watch['last_mv'])->toEqualWithDelta(5.0, 0.5);
});

it('asks nobody for a pack that came back, and links the jobs', function (): void {
    $job = ($this->gone)();
    ($this->days)(4.0);
    $this->bench->post("packs/{$job->pack_id}/readings", ($this->told)())->assertCreated();
    $again = $this->bench
        ->post('jobs', [
            'customer' => 'Customer',
            'name' => 'Test pack',
            'serial' => 'GQ-77',
            'symptoms' => [],
            'inspection' => [],
            'pack' => ['chemistry' => 'nmc', 'series' => 4, 'parallel' => 3, 'kind' => 'tool'],
        ])
        ->assertCreated();
    $passport = $this->getJson("/api/packs/{$job->pack_id}");
    expect($again->json('pack_id'))
        ->toBe($job->pack_id)
        ->and($passport->json('watch'))
        ->toBeNull()
        ->and($passport->json('readings'))
        ->toHaveCount(1)
        ->and(array_column($passport->json('jobs'), 'status'))
        ->toBe(['open', 'returned'])
        ->and(collect($this->bench->bench())->firstWhere('id', $job->id)['due'])
        ->toBeFalse();
});

it('takes a reading of a phone whose clock runs ahead as of now', function (): void {
    $job = ($this->gone)();
    $secret = $this->bench->post("packs/{$job->pack_id}/link")->json('secret');
    ($this->days)(3.0);
    ($this->owner)($secret, ($this->told)(['at' => now()->addDay()->toIso8601ZuluString()]))->assertCreated();
    expect(ServiceReading::query()->value('at')->toIso8601ZuluString())->toBe(now()->toIso8601ZuluString());
});

it('shows an owner one pack in plain words, takes a reading and answers at once', function (): void {
    $job = ($this->gone)();
    $opened = $this->bench->post("packs/{$job->pack_id}/link")->assertCreated();
    expect(Contract::complaints($opened, 'post', '/api/packs/{pack}/link'))->toBe([]);
    $secret = $opened->json('secret');
    // 32 bytes of chance; what is stored is a hash of it.
    expect(strlen((string) base64_decode(strtr($secret, '-_', '+/'))))
        ->toBe(32)
        ->and(PackLink::query()->value('hash'))
        ->toBe(hash('sha256', $secret));
    app('auth')->forgetGuards();
    $page = ($this->owner)($secret)->assertOk();
    expect(Contract::complaints($page, 'get', '/api/owner'))
        ->toBe([])
        ->and($page->headers->get('X-Robots-Tag'))
        ->toBe('noindex')
        ->and($page->headers->get('Cache-Control'))
        ->toContain('no-store')
        // No customer, nobody of the staff, no price.
        ->and($page->getContent())
        ->not->toContain('Customer')
        ->not->toContain('Technician')
        ->not->toContain('cents');
    ($this->days)(3.0);
    $body = ($this->told)();
    $answer = ($this->owner)($secret, $body)->assertCreated();
    expect(Contract::complaints($answer, 'post', '/api/owner/readings'))
        ->toBe([])
        ->and($answer->json('answers.0.answer'))
        ->toBe('fine')
        ->and($answer->json('readings.0.mine'))
        ->toBeTrue();
    // Sent again by a phone that did not hear the answer: kept once, answered the same.
    expect(($this->owner)($secret, $body)->assertCreated()->json('answers.0'))
        ->toBe($answer->json('answers.0'))
        ->and(ServiceReading::query()->count())
        ->toBe(1)
        ->and(ServiceReading::query()->first()->source)
        ->toBe('owner');
    ($this->days)(0.01);
    $stop = ($this->owner)($secret, ($this->told)(['signs' => ['swollen' => true]]))->assertCreated();
    expect($stop->json('answers.0.answer'))->toBe('stop')->and($stop->json('answers.0.why.0.code'))->toBe('swollen');
    // The bench calls them now, and the page says so until a reading says otherwise.
    $row = fn(): array => collect($this->bench->as('technician')->bench())->firstWhere('id', $job->id);
    expect($row())
        ->toMatchArray(['due' => true, 'next' => 'Its owner was told to stop using it: call them'])
        ->and($stop->json('stopped'))
        ->toBeTrue();
    // Without any number as well; and it is no reading of a spread.
    $bare = ($this->told)(['groups_v' => null, 'soc' => null, 'signs' => ['hot' => true]]);
    expect(($this->owner)($secret, $bare)->assertCreated()->json('answers.0.why.0.code'))->toBe('hot');
    // What the owner says later does not undo it; the bench does.
    ($this->days)(0.01);
    expect(($this->owner)($secret, ($this->told)())->assertCreated()->json('stopped'))
        ->toBeTrue()
        ->and($row()['due'])
        ->toBeTrue();
    ($this->days)(0.1);
    $well = $this->bench->post("packs/{$job->pack_id}/readings", ($this->told)())->assertCreated();
    expect($well->json('readings.0.answer.answer'))->toBe('fine')->and($row()['due'])->toBeFalse();
});

it('shows and stores nothing by a link that is guessed, withdrawn or of another pack', function (): void {
    $job = ($this->gone)();
    $secret = $this->bench->post("packs/{$job->pack_id}/link")->json('secret');
    $other = ($this->gone)('GQ-78');
    $second = $this->bench->post("packs/{$other->pack_id}/link")->json('secret');
    $mine = ($this->told)();
    ($this->days)(3.0);
    ($this->owner)($second, $mine)->assertCreated();
    // The id of a reading of another pack is not taken for one's own.
    ($this->owner)($secret, $mine)->assertStatus(422)->assertJsonPath('code', 'other-reading');
    ($this->owner)('guessed')->assertStatus(404);
    // A new one withdraws the one before; a pack is shown by one link.
    $new = $this->bench->post("packs/{$job->pack_id}/link")->json('secret');
    ($this->owner)($secret)->assertStatus(404);
    ($this->owner)($secret, ($this->told)())->assertStatus(404);
    $this->deleteJson("/api/packs/{$job->pack_id}/link", [], ['Idempotency-Key' => (string) Str::uuid()])
        ->assertOk()
        ->assertJsonPath('link', null);
    ($this->owner)($new)->assertStatus(404);
    expect(ServiceReading::query()->where('pack_id', $job->pack_id)->count())->toBe(0);
    $kinds = DB::table('security_events')
        ->where('kind', 'owner-link-refused')
        ->pluck('data')
        ->map(fn(string $d): string => json_decode($d)->why);
    expect($kinds->countBy()->all())->toBe(['unknown' => 1, 'withdrawn' => 3]);
});

it('holds off whoever guesses, and takes no flood', function (): void {
    $job = ($this->gone)();
    $secret = $this->bench->post("packs/{$job->pack_id}/link")->json('secret');
    $status = [];
    for ($i = 0; $i < App\Security\AccessLimits::ADDRESS_FAILURES + 2; $i++) {
        $status[] = ($this->owner)("guess $i")->getStatusCode();
    }
    expect(array_slice($status, 0, -2))
        ->each->toBe(404)
        ->and(array_slice($status, -1))
        ->toBe([429]);
    ($this->days)(3.0);
    $rows = fn(int $n): array => ['readings' => array_map(fn(): array => ($this->told)()['readings'][0], range(1, $n))];
    ($this->owner)($secret, $rows(30))->assertCreated();
    ($this->owner)($secret, $rows(1))->assertStatus(429)->assertHeader('Retry-After');
    expect(ServiceReading::query()->count())->toBe(30);
    ($this->days)(0.05);
    // Nor more than that at once; and who guessed from the shop's own network has locked nobody out.
    ($this->owner)($secret, $rows(31))->assertStatus(429);
    expect(DB::table('sign_in_attempts')->where('address', '127.0.0.1')->count())->toBe(0);
    ($this->owner)($secret, $rows(1))->assertCreated();
});

it('refuses beside its field what is no reading, and keeps none of what came with it', function (array $bad, string $field): void {
    $job = ($this->gone)();
    ($this->days)(3.0);
    $rows = [($this->told)()['readings'][0], ($this->told)($bad)['readings'][0]];
    $this->bench
        ->post("packs/{$job->pack_id}/readings", ['readings' => $rows])
        ->assertStatus(422)
        ->assertJsonStructure(['fields' => ["readings.1.$field"]]);
    expect(ServiceReading::query()->count())->toBe(0);
})->with([
    'groups of another pack' => [['groups_v' => [3.8, 3.8]], 'groups_v'],
    'volts of a pack as a group\'s' => [['groups_v' => [38.1, 3.8, 3.8, 3.8]], 'groups_v.0'],
    'highest under lowest' => [['groups_v' => null, 'highest_v' => 3.7, 'lowest_v' => 3.8], 'highest_v'],
    'nothing at all' => [['groups_v' => null, 'soc' => null], 'groups_v'],
    'tomorrow' => [['at' => '2099-01-01T00:00:00Z'], 'at'],
    'another condition' => [['condition' => 'warm'], 'condition'],
    'percent as a share' => [['soc' => 60], 'soc'],
    'no id' => [['id' => 'x'], 'id'],
]);

it('goes to another owner, whose name the one before is not told, and takes the old link with it', function (): void {
    $job = ($this->gone)();
    $secret = $this->bench->post("packs/{$job->pack_id}/link")->json('secret');
    $tag = $this->getJson("/api/packs/{$job->pack_id}")->headers->get('ETag');
    $change = fn(string $to, string $tag) => $this->patchJson(
        "/api/packs/{$job->pack_id}",
        ['customer' => $to],
        [
            'If-Match' => $tag,
            'Idempotency-Key' => (string) Str::uuid(),
        ],
    );
    $new = $change('Ferry kiosk', $tag)->assertOk();
    expect($new->json('customer'))
        ->toBe('Ferry kiosk')
        ->and(array_column($new->json('owners'), 'name'))
        ->toBe(['Ferry kiosk', 'Customer'])
        ->and($new->json('owners.1.to_at'))
        ->not->toBeNull()
        ->and($new->json('link'))
        ->toBeNull();
    $change('Somebody else', $tag)->assertStatus(412);
    ($this->owner)($secret)->assertStatus(404);
    $this->bench->as('trainee');
    $change('Ferry kiosk', '*')->assertStatus(403);
});

it('asks as many questions for a pack of a thousand readings as for one of three', function (): void {
    $job = ($this->gone)();
    $pack = Pack::query()->findOrFail($job->pack_id);
    $add = function (int $n) use ($pack): void {
        $rows = [];
        for ($i = 0; $i < $n; $i++) {
            $rows[] = [
                'id' => (string) Str::uuid7(),
                'workshop_id' => $pack->workshop_id,
                'pack_id' => $pack->id,
                'at' => $pack->work_ended_at->addHours(30 + $i)->format('Y-m-d H:i:s.u'),
                'told_at' => now(),
                'source' => 'owner',
                'condition' => 'rest',
                'soc' => 0.6,
                'groups_v' => '[3.8,3.801,3.799,3.8]',
                'resolution_v' => 0.001,
            ];
        }
        foreach (array_chunk($rows, 200) as $some) {
            DB::table('service_readings')->insert($some);
        }
    };
    $asked = function () use ($pack): int {
        DB::enableQueryLog();
        DB::flushQueryLog();
        $this->getJson("/api/packs/{$pack->id}")->assertOk();

        return count(DB::getQueryLog());
    };
    $add(3);
    $few = $asked();
    $add(997);
    expect($asked())->toBe($few)->and($few)->toBeLessThan(32);
});
