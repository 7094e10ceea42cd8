<?php

declare(strict_types=1);

use App\Models\Batch;
use App\Models\Job;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

// A lot of packs: taken in by one list, seen as one lane, read against one another.

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('technician');
    $this->pack = [
        'kind' => 'scooter',
        'chemistry' => 'nmc',
        'series' => 4,
        'parallel' => 2,
        'cell' => ['model' => 'QD-31', 'capacity_ah' => 3.0, 'max_charge_a' => 3.0],
    ];
    $this->body = fn(array $more = []): array => $more + [
        'name' => 'Rental scooters',
        'customer' => 'Quay rentals',
        'pack' => $this->pack,
        'looked' => true,
        'list' => "RS-01 10.6\nRS-02 10.7\nRS-03 10.5\nRS-04 14.4\nRS-05 14.5\nRS-06 3.0\nRS-07 10.6 swollen\nRS-08",
        'supplies' => 3,
        'hours_a_day' => 4,
        'paid_cents' => 1500,
        'sells_cents' => 9000,
    ];
    $this->open = fn(array $more = []) => $this->bench->post('batches', ($this->body)($more));
    $this->lot = function (array $more = []): Batch {
        ($this->open)($more)->assertCreated();

        return Batch::query()->latest('id')->firstOrFail();
    };
    $this->lane = fn(Batch $b, string $query = '') => $this->getJson("/api/batches/{$b->id}$query")->assertOk();
    $this->job = fn(Batch $b, string $serial): Job => Job::query()->where('batch_id', $b->id)->where('serial', $serial)->firstOrFail();
    $this->judge = function (Job $job, array $volts): Job {
        $this->bench->look($job)->assertOk();
        $this->bench->read($job, $volts);
        $this->bench->post("jobs/{$job->id}/verdict")->assertOk();

        return $job->refresh();
    };
    $this->decide = fn(Job $job, string $action) => $this->bench->post("jobs/{$job->id}/decision", [
        'verdict_id' => DB::table('verdicts')->where('job_id', $job->id)->max('id'),
        'action' => $action,
        'reason' => 'As the lot.',
    ]);
});

it('takes a lot in by one form and one list, each pack with its own triage', function (): void {
    $lane = ($this->open)()->assertCreated();
    expect(Contract::complaints($lane, 'post', '/api/batches'))
        ->toBe([])
        ->and($lane->json('packs'))
        ->toBe(8)
        ->and($lane->json('lanes'))
        ->toEqual(['probe' => 7, 'held' => 1]);
    $batch = Batch::query()->firstOrFail();
    $swollen = ($this->job)($batch, 'RS-07');
    expect($swollen->safety_state)
        ->toBe('quarantine')
        ->and($swollen->inspection['swollen'])
        ->toBeTrue()
        ->and($swollen->complaint)
        ->toBe('swollen')
        ->and(($this->job)($batch, 'RS-01')->inspection['swollen'])
        ->toBeFalse()
        ->and(($this->job)($batch, 'RS-01')->came_v)
        ->toBe(10.6)
        ->and(($this->job)($batch, 'RS-08')->came_v)
        ->toBeNull()
        ->and(($this->job)($batch, 'RS-01')->batch)
        ->toBe('Rental scooters')
        ->and($batch->pack_model_id)
        ->toBe(($this->job)($batch, 'RS-02')->pack_model_id);
    // Nobody stood before them: nothing was seen, and nothing is said to have been.
    $unseen = ($this->lot)(['name' => 'Unseen', 'looked' => false, 'list' => "US-1 12\nUS-2 12 wet"]);
    expect(($this->job)($unseen, 'US-1')->inspection)
        ->toBe([])
        ->and(($this->job)($unseen, 'US-2')->inspection)
        ->toBe(['wet' => true]);
});

it('takes nothing in where anything is wrong, and names it', function (array $more, string $field): void {
    ($this->lot)();
    $before = Job::query()->count();
    $said = ($this->open)($more + ['name' => 'Another'])->assertStatus(422);
    expect($said->json('fields'))->toHaveKey($field);
    expect(Job::query()->count())
        ->toBe($before)
        ->and(Batch::query()->count())
        ->toBe(1);
})->with([
    'the same name' => [['name' => 'Rental scooters', 'list' => 'X-1'], 'name'],
    'on the bench already' => [['list' => "X-1\nRS-02"], 'list'],
    'twice in the list' => [['list' => "X-1\nx-1"], 'list'],
    'two numbers' => [['list' => 'X-1 30 31'], 'list'],
    'no list' => [['list' => ''], 'list'],
    'no such chemistry' => [['list' => 'X-1', 'pack' => ['chemistry' => 'xx', 'series' => 4]], 'pack.chemistry'],
    'negative price' => [['list' => 'X-1', 'sells_cents' => -1], 'sells_cents'],
    'no hours' => [['list' => 'X-1', 'hours_a_day' => 0], 'hours_a_day'],
]);

it('knows a pack that is on the bench by the code of its label as well', function (): void {
    $job = $this->bench->open();
    $code = $this->getJson("/api/packs/{$job->refresh()->pack_id}")->json('code');
    ($this->open)(['list' => "X-1\n$code"])
        ->assertStatus(422)
        ->assertJsonPath('fields.list', fn(string $t): bool => str_contains($t, 'bench'));
    $job->update(['status' => 'returned', 'closed_at' => now()]);
    ($this->open)(['list' => "X-1\n$code"])->assertCreated();
    expect(Job::query()->latest('id')->value('pack_id'))->toBe($job->pack_id);
});

it('keeps a lot once, however often it is sent', function (): void {
    $key = (string) Str::uuid();
    $first = $this->bench->post('batches', ($this->body)(), $key)->assertCreated();
    $again = $this->bench->post('batches', ($this->body)(), $key)->assertCreated();
    expect($again->json('batch.id'))
        ->toBe($first->json('batch.id'))
        ->and(Job::query()->count())
        ->toBe(8);
});

it('reads a list without writing', function (): void {
    $read = $this->bench->post('batches/arrival', ['list' => "A 31\nB x 31 32"])->assertOk();
    expect($read->json('rows.0'))
        ->toEqual(['line' => 1, 'serial' => 'A', 'volts' => 31, 'signs' => [], 'note' => ''])
        ->and($read->json('wrong'))
        ->toHaveCount(1)
        ->and(Job::query()->count())
        ->toBe(0);
});

it('says who is begun today with these supplies, who is odd by the lot, and what each waits for', function (): void {
    $batch = ($this->lot)();
    $seen = ($this->lane)($batch);
    $by = array_column($seen->json('rows'), null, 'serial');
    expect(Contract::complaints($seen, 'get', '/api/batches/{batch}'))
        ->toBe([])
        ->and($by['RS-07'])
        ->toMatchArray(['lane' => 'held', 'text' => 'in quarantine: outside or in the fire-safe box'])
        ->and($by['RS-06']['odd'])
        ->toBe('as it came 3.0 V, the others 10.6 V')
        ->and($by['RS-06']['text'])
        ->toContain('under its floor')
        ->and($by['RS-01']['text'])
        ->toContain('under its low cut');
    $today = $seen->json('today');
    $supplied = array_filter($today['begun'], fn(array $b): bool => $b['supply'] !== null);
    expect(array_column($supplied, 'serial'))
        ->toEqualCanonicalizing(['RS-01', 'RS-02', 'RS-03'])
        ->and(array_column($today['begun'], 'serial'))
        ->not->toContain('RS-07')
        ->and($today['hands_min'])
        ->toBeLessThanOrEqual(240)
        ->and($today['day'])
        ->toBe('today');
    // Without a supply, none of those; the others are still read.
    $none = $this->bench->post("batches/{$batch->id}", [], null)->assertStatus(405);
    $this->withHeaders(['If-Match' => '"1"', 'Idempotency-Key' => (string) Str::uuid()])
        ->patchJson("/api/batches/{$batch->id}", ['supplies' => 0])
        ->assertOk()
        ->assertJsonPath('today.left.0.why', 'no supply is free');
    $this->withHeaders(['If-Match' => '"1"', 'Idempotency-Key' => (string) Str::uuid()])
        ->patchJson("/api/batches/{$batch->id}", ['supplies' => 2])
        ->assertStatus(412);
});

it('follows a pack through: read, decided, on the shelf, gone; and shows one lane of it, a page at a time', function (): void {
    $batch = ($this->lot)();
    $job = ($this->judge)(($this->job)($batch, 'RS-04'), [3.6, 3.6, 1.0, 3.6]);
    $row = fn(string $serial): array => array_column(($this->lane)($batch)->json('rows'), null, 'serial')[$serial];
    $job->update(['stage' => 'plan']);
    expect($row('RS-04')['lane'])->toBe('decide')->and($row('RS-04')['first'])->not->toBe('');
    ($this->decide)($job, 'replace-group')->assertOk();
    expect($row('RS-04'))->toMatchArray(['lane' => 'work', 'text' => 'replace the group']);
    $job->refresh()->update(['waits_until' => now()->addHours(20), 'waits_for' => 'Hold test of group 3']);
    expect($row('RS-04'))
        ->toMatchArray(['lane' => 'shelf', 'text' => 'Hold test of group 3'])
        ->and(($this->lane)($batch)->json('shelf.0.serial'))
        ->toBe('RS-04')
        ->and(($this->lane)($batch)->json('today.places_left'))
        ->toBeLessThan(12)
        ->and(array_column(($this->lane)($batch, '?lane=shelf')->json('rows'), 'serial'))
        ->toBe(['RS-04'])
        ->and(($this->lane)($batch, '?lane=probe&from=2')->json('matching'))
        ->toBe(6);
    $this->getJson("/api/batches/{$batch->id}?lane=elsewhere")->assertStatus(422);
    expect(array_column(($this->lane)($batch, '?find=rs-02')->json('rows'), 'serial'))
        ->toBe(['RS-02'])
        ->and(($this->lane)($batch)->json('energy_wh'))
        ->toBeGreaterThan(10)
        ->and($this->getJson("/api/jobs/{$job->id}")->json('batch_id'))
        ->toBe($batch->id);
});

it('finds the odd pack by its readings against the lot, not against its own', function (): void {
    $batch = ($this->lot)(['list' => 'Q-1 .. Q-6']);
    // Group 2 is low in all of them: the lot is so. Group 4 of one is not as the others'.
    foreach (range(1, 6) as $i) {
        ($this->judge)(($this->job)($batch, "Q-$i"), [3.7, 3.66, 3.7, $i === 5 ? 3.67 : 3.7]);
    }
    $odd = ($this->lane)($batch)->json('odd');
    expect(array_column($odd, 'serial'))
        ->toBe(['Q-5'])
        ->and($odd[0]['why'][0])
        ->toContain('group 4');
    ($this->job)($batch, 'Q-5')->update(['status' => 'scrapped']);
    expect(($this->lane)($batch)->json('odd'))
        ->toBe([])
        ->and(array_column(($this->lane)($batch)->json('rows'), 'odd', 'serial')['Q-5'])
        ->toContain('group 4');
});

it('says yield, cost, the price of the next lot and donors as they come', function (): void {
    $batch = ($this->lot)(['list' => 'Y-1 .. Y-6']);
    $empty = ($this->lane)($batch);
    expect([$empty->json('yield.text'), $empty->json('ceiling'), $empty->json('cost.minutes')])->toBe([
        'Nothing is finished yet: a yield between 0 and 100 of 100 is as good as any.',
        null,
        null,
    ]);
    // Two groups are gone, the others serve.
    $donor = ($this->judge)(($this->job)($batch, 'Y-6'), [0.2, 3.6, 3.6, 0.1]);
    ($this->decide)($donor, 'donor')->assertOk();
    expect(($this->lane)($batch)->json('donors.0'))->toMatchArray(['serial' => 'Y-6', 'groups' => [2, 3], 'cells' => 4]);
    $donor->refresh()->update(['status' => 'scrapped', 'closed_at' => now()]);
    foreach (range(1, 3) as $i) {
        $job = ($this->judge)(($this->job)($batch, "Y-$i"), [3.6, 3.6, 1.0, 3.6]);
        ($this->decide)($job, 'replace-group')->assertOk();
        $job->refresh()->update(['status' => 'returned', 'closed_at' => now()]);
    }
    DB::table('events')->insert([
        'workshop_id' => $batch->workshop_id,
        'job_id' => $donor->id,
        'person_id' => $this->bench->people['owner']->id,
        'kind' => 'work-timed',
        'data' => json_encode(['action' => 'donor', 'minutes' => 12.0]),
        'at' => now(),
    ]);
    $now = ($this->lane)($batch);
    $parts = json_decode((string) DB::table('jobs')->where('serial', 'Y-1')->value('lot_facts'), true)['decided']['parts_cents'];
    $cost = (3 * (75 * 100 + $parts) + 12 * 100) / 4;
    expect($now->json('yield'))
        ->toMatchArray(['good' => 3, 'bad' => 1, 'open' => 2, 'mean' => 0.7])
        ->and($now->json('cost'))
        ->toMatchArray(['minutes' => 59.3, 'cents' => (int) round($cost), 'timed' => 1, 'of' => 4])
        ->and($now->json('ceiling.mean'))
        ->toBe(max(0, (int) floor(0.7 * 9000 * 0.7 - $cost)))
        ->and($now->json('rest.mean'))
        ->toBe((int) round(2 * (0.7 * 9000 - $cost)))
        ->and($now->json('margin_percent'))
        ->toEqual(30);
});

it('gives the figures of the first to all that are open, and its sheets where there are none', function (): void {
    $batch = ($this->lot)(['list' => 'S-1 .. S-3']);
    [$first, $second, $gone] = [($this->job)($batch, 'S-1'), ($this->job)($batch, 'S-2'), ($this->job)($batch, 'S-3')];
    $gone->update(['status' => 'scrapped']);
    $first->update(['pack' => ['bms' => ['low_cut_v' => 2.9, 'high_cut_v' => 4.22]] + $first->pack]);
    DB::table('job_sheets')->insert([
        'job_id' => $first->id,
        'kind' => 'budget',
        'data' => '{"wire":{"awg":14}}',
        'kept_by' => $this->bench->people['owner']->id,
        'kept_at' => now(),
    ]);
    $this->bench
        ->post("batches/{$batch->id}/share", ['job' => $first->id])
        ->assertOk()
        ->assertJsonPath('written', 1);
    expect($second->refresh()->pack['bms'])
        ->toEqual(['low_cut_v' => 2.9, 'high_cut_v' => 4.22])
        ->and($gone->refresh()->pack['bms'] ?? null)
        ->toBeNull()
        ->and($batch->refresh()->pack['bms'])
        ->toEqual(['low_cut_v' => 2.9, 'high_cut_v' => 4.22])
        ->and(DB::table('job_sheets')->where('job_id', $second->id)->count())
        ->toBe(1);
    // Again: nothing is written twice.
    $this->bench
        ->post("batches/{$batch->id}/share", ['job' => $first->id])
        ->assertOk()
        ->assertJsonPath('written', 0);
    $this->bench->post("batches/{$batch->id}/share", ['job' => $this->bench->open()->id])->assertStatus(422);
});

it('has a label for each, lists the lots, and takes a straggler in by its name', function (): void {
    $batch = ($this->lot)(['list' => 'L-1 .. L-2']);
    $labels = $this->getJson("/api/batches/{$batch->id}/labels")->assertOk();
    expect(Contract::complaints($labels, 'get', '/api/batches/{batch}/labels'))
        ->toBe([])
        ->and(array_column($labels->json('labels'), 'serial'))
        ->toBe(['L-1', 'L-2'])
        ->and($labels->json('labels.0.code'))
        ->not->toBe('');
    $this->bench
        ->post('jobs', [
            'customer' => 'Quay rentals',
            'name' => 'Straggler',
            'serial' => 'L-3',
            'batch' => 'Rental scooters',
            'pack' => $this->pack,
            'symptoms' => [],
            'inspection' => [],
        ])
        ->assertCreated();
    $list = $this->getJson('/api/batches')->assertOk();
    expect(Contract::complaints($list, 'get', '/api/batches'))
        ->toBe([])
        ->and($list->json('batches.0'))
        ->toMatchArray(['name' => 'Rental scooters', 'packs' => 3, 'open' => 3]);
});

it('asks as many questions for thirty packs as for three', function (): void {
    $asked = function (Batch $b): int {
        DB::enableQueryLog();
        DB::flushQueryLog();
        DB::table('batch_lanes')->delete();
        DB::flushQueryLog();
        App\Read\BatchLane::of($b->refresh());

        return count(DB::getQueryLog());
    };
    $few = $asked(($this->lot)(['name' => 'Few', 'list' => 'F-1 .. F-3']));
    expect($asked(($this->lot)(['name' => 'Many', 'list' => 'M-1 .. M-30'])))->toBe($few);
});

it('works a lane out anew whenever anything of it has changed, and not otherwise', function (): void {
    $batch = ($this->lot)();
    $job = ($this->job)($batch, 'RS-04');
    $kept = fn(): string => (string) DB::table('batch_lanes')->where('batch_id', $batch->id)->value('of');
    $lane = fn(string $serial): string => array_column(($this->lane)($batch->refresh())->json('rows'), 'lane', 'serial')[$serial];
    $first = ($this->lane)($batch)->json();
    $of = $kept();
    expect(($this->lane)($batch)->json())
        ->toBe($first)
        ->and($kept())
        ->toBe($of);
    // A stage, a wait that ends by itself, a run, the batch, the shop's settings.
    $job->update(['stage' => 'proof']);
    expect($lane('RS-04'))->toBe('proof');
    $job->update(['waits_until' => now()->addMinutes(5), 'waits_for' => 'Hold test']);
    expect($lane('RS-04'))->toBe('shelf');
    $this->travel(6)->minutes();
    expect($lane('RS-04'))->toBe('proof');
    DB::table('runs')->insert([
        'id' => ($id = (string) Str::uuid7()),
        'workshop_id' => $batch->workshop_id,
        'job_id' => $job->id,
        'revision' => 1,
        'kind' => 'recovery',
        'plan' => '{}',
        'state' => '{}',
        'reason' => '',
        'started_by' => $this->bench->people['owner']->id,
        'started_at' => now(),
    ]);
    expect($lane('RS-04'))->toBe('supply');
    DB::table('runs')
        ->where('id', $id)
        ->update(['ended_at' => now()]);
    expect($lane('RS-04'))->toBe('proof');
    $before = ($this->lane)($batch)->json('margin_percent');
    DB::table('workshops')
        ->where('id', $batch->workshop_id)
        ->update(['settings' => json_encode(['lot_margin_percent' => 50])]);
    expect([$before, ($this->lane)($batch)->json('margin_percent')])->toEqual([30, 50]);
});

it('gathers what was measured of each: capacity, rise and warmth of a recovery, and not what was corrected', function (): void {
    $batch = ($this->lot)(['list' => 'G-1 .. G-2']);
    $job = ($this->judge)(($this->job)($batch, 'G-1'), [3.6, 3.6, 2.3, 3.6]);
    $facts = fn(): array => (array) json_decode((string) DB::table('jobs')->where('id', $job->id)->value('lot_facts'), true);
    expect($facts()['groups_v'])
        ->toEqual([3.6, 3.6, 2.3, 3.6])
        ->and($facts())
        ->not->toHaveKey('capacity_ah');
    $test = function (string $kind, array $data, ?string $corrects = null) use ($job): string {
        DB::table('bench_tests')->insert([
            'id' => ($id = (string) Str::uuid7()),
            'workshop_id' => $job->workshop_id,
            'job_id' => $job->id,
            'revision' => 1,
            'kind' => $kind,
            'corrects_id' => $corrects,
            'taken_by' => $this->bench->people['owner']->id,
            'taken_at' => now()->addSeconds(DB::table('bench_tests')->count()),
            'received_at' => now(),
            'data' => json_encode($data),
        ]);

        return $id;
    };
    $recovery = fn(float $last, float $warm): array => [
        'scope' => ['group' => 3],
        'ambient_c' => 20,
        'samples' => [['min' => 0, 'v' => 2.3, 'a' => 0.3, 'c' => 20.0], ['min' => 60, 'v' => $last, 'a' => 0.3, 'c' => $warm]],
    ];
    $test('recovery', $recovery(2.6, 24.0));
    $test('recovery', $recovery(2.45, 22.0));
    $slip = $test('capacity', ['scope' => 'pack', 'measured_ah' => 55.0, 'started_full' => true]);
    $test('capacity', ['scope' => 'pack', 'measured_ah' => 5.5, 'started_full' => true], $slip);
    $test('capacity', ['scope' => 'pack', 'measured_ah' => 3.0, 'started_full' => false]);
    $test('capacity', ['scope' => ['group' => 1], 'measured_ah' => 1.0, 'started_full' => true]);
    App\Actions\KeepLotFacts::of($job->refresh());
    // The slowest and the warmest of its groups; what began full, of the whole pack.
    expect($facts()['capacity_ah'])->toBe(5.5)->and($facts()['rise'])->toEqual(0.5)->and($facts()['warm_k'])->toEqual(4);
    // A job of no batch gathers nothing.
    $alone = $this->bench->open();
    App\Actions\KeepLotFacts::of($alone);
    expect(DB::table('jobs')->where('id', $alone->id)->value('lot_facts'))->toBeNull();
});

it('says the hours of a recovery of each of its groups, one after another on one supply', function (): void {
    $batch = ($this->lot)(['list' => 'H-1 .. H-2']);
    $job = ($this->judge)(($this->job)($batch, 'H-1'), [3.6, 2.3, 3.6, 3.6]);
    ($this->decide)($job, 'recover-group')->assertOk();
    $hours = json_decode((string) DB::table('jobs')->where('id', $job->id)->value('lot_facts'), true)['decided']['hours'];
    $planned = App\Read\SupplyPlans::plan($job->refresh(), 2, $this->bench->workshop->said())?->hours();
    expect($hours)->toEqualWithDelta((float) $planned, 0.006)->toBeGreaterThan(0.5);
    $row = array_column(($this->lane)($batch)->json('rows'), null, 'serial')['H-1'];
    expect($row)->toMatchArray(['lane' => 'work', 'door' => "/jobs/{$job->id}/supply"]);
    $begun = array_column(($this->lane)($batch)->json('today.begun'), null, 'serial')['H-1'];
    expect($begun['needs_min'])->toBe((int) ceil(60 * $hours - 1e-9))->and($begun['supply'])->toBe(1);
});

it('moves a batch with its customer when two are made one', function (): void {
    $batch = ($this->lot)(['list' => 'C-1']);
    $this->bench->as('senior');
    $into = $this->bench
        ->post('customers', ['name' => 'Quay rentals and sons'])
        ->assertCreated()
        ->json('id');
    $this->withHeaders(['If-Match' => '*', 'Idempotency-Key' => (string) Str::uuid()])
        ->postJson("/api/customers/$into/merge", ['from' => $batch->customer_id])
        ->assertOk();
    expect($batch->refresh()->customer_id)
        ->toBe($into)
        ->and(($this->lane)($batch)->json('batch.customer'))
        ->toBe('Quay rentals and sons');
});

it('lets a trainee take a batch in, and not say what it is worth nor whose figures all have', function (): void {
    $this->bench->as('trainee');
    $batch = ($this->lot)(['list' => 'T-1 .. T-2']);
    $this->withHeaders(['If-Match' => '*', 'Idempotency-Key' => (string) Str::uuid()])
        ->patchJson("/api/batches/{$batch->id}", ['supplies' => 2])
        ->assertForbidden();
    $this->bench->post("batches/{$batch->id}/share", ['job' => ($this->job)($batch, 'T-1')->id])->assertForbidden();
    (new Workbench($this))->as('owner');
    $this->getJson("/api/batches/{$batch->id}")->assertNotFound();
    $this->getJson('/api/batches')->assertOk()->assertJsonCount(0, 'batches');
});

it('ends the day when the shop closes, and plans the next one after that', function (): void {
    $batch = ($this->lot)(['hours_a_day' => 4]);
    // A zone in which it is about noon now, so that an hour either way is the same day.
    $noon = array_filter(DateTimeZone::listIdentifiers(), fn(string $z): bool => abs(12 - (int) now($z)->format('G')) <= 1);
    $zone = (string) current($noon);
    $closes = fn(int $minutes) => DB::table('workshops')
        ->where('id', $batch->workshop_id)
        ->update(['settings' => json_encode(['closes_at' => now($zone)->addMinutes($minutes)->format('H:i'), 'timezone' => $zone])]);
    $closes(90);
    $left = ($this->lane)($batch)->json('today');
    expect($left['day'])->toBe('today')->and($left['hours'])->toBeGreaterThan(1.4)->toBeLessThan(1.51);
    $closes(-60);
    expect(($this->lane)($batch)->json('today'))->toMatchArray(['day' => 'the next day', 'hours' => 4]);
});
