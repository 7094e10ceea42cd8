<?php

declare(strict_types=1);

use App\Actions\KeepPack;
use App\Models\Customer;
use App\Models\Pack;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

// All packs of one owner side by side, each as it was read last.

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('technician');
    $this->pack = function (string $name): Pack {
        $job = $this->bench->open();
        $job->update(['name' => $name, 'status' => 'returned', 'closed_at' => now()->subDays(30)]);
        $pack = KeepPack::of($job->refresh());
        $pack->update(['work_ended_at' => now()->subDays(30), 'watch_job_id' => $job->id, 'created_at' => now()->subDays(300)]);

        return $pack->refresh();
    };
    $this->read = fn(Pack $pack, array $volts, int $hoursAgo = 1, array $more = []) => $this->bench
        ->post("packs/{$pack->id}/readings", [
            'readings' => [
                $more + [
                    'id' => (string) Str::uuid7(),
                    'at' => now()->subHours($hoursAgo)->toIso8601ZuluString(),
                    'condition' => 'rest',
                    'soc' => 0.6,
                    'groups_v' => $volts,
                ],
            ],
        ])
        ->assertCreated();
    $this->fleet = fn(Pack $pack, string $query = '') => $this->getJson("/api/customers/{$pack->customer_id}/fleet$query")->assertOk();
});

it('lays the last reading of each pack beside the others, and says which group is topped up', function (): void {
    [$a, $b, $c] = [($this->pack)('Block A'), ($this->pack)('Block B'), ($this->pack)('Block C')];
    ($this->read)($a, [3.8, 3.8, 3.6, 3.8], 90);
    ($this->read)($a, [3.8, 3.8, 3.74, 3.8]);
    ($this->read)($b, [3.8, 3.801, 3.8, 3.8]);
    $slip = ($this->read)($b, [3.8, 3.801, 3.2, 3.8], 0);
    $this->bench->post("packs/{$b->id}/readings/{$slip->json('readings.0.id')}/back", ['reason' => 'Another pack.'])->assertOk();
    $seen = ($this->fleet)($a);
    expect(Contract::complaints($seen, 'get', '/api/customers/{customer}/fleet'))
        ->toBe([])
        ->and($seen->json('result.comparable'))
        ->toBeTrue()
        ->and($seen->json('result.lowest'))
        ->toMatchArray(['pack' => 'Block A', 'group' => 3, 'v' => 3.74])
        ->and($seen->json('result.topping.0'))
        ->toMatchArray(['pack' => 'Block A', 'group' => 3, 'order' => 1])
        ->and(count($seen->json('result.topping')))
        ->toBe(1)
        ->and(array_column($seen->json('packs'), 'groups_v', 'name')['Block C'])
        ->toBeNull()
        ->and($seen->json('middle_v'))
        ->toEqualWithDelta(3.8, 1e-9)
        ->and(array_map('round', array_column($seen->json('packs'), 'off_mv', 'name')['Block A']))
        ->toEqual([0, 0, -60, 0])
        ->and($seen->json('lead_weeks'))
        ->toEqual(6)
        ->and($seen->json('level'))
        ->toEqual(0.95)
        ->and($seen->json('in_place'))
        ->not->toBe([])
        ->and($seen->json('spares.boards'))
        ->toStartWith('Keep ')
        ->and($seen->json('spares.groups'))
        ->toStartWith('Keep ');
    $slow = $seen->json('result.topping.0.hours');
    expect(($this->fleet)($a, '?supply_a=5')->json('result.topping.0.hours'))->toBeLessThan($slow);
    expect($c->customer_id)->toBe($a->customer_id);
});

it('shows one kind at a time, and leads to the others; without a reading there is nothing to lay', function (): void {
    $a = ($this->pack)('Block A');
    $other = ($this->pack)('Lamp');
    $more = ($this->pack)('Block B');
    $other->update(['spec' => ['chemistry' => 'lfp', 'series' => 8] + $other->spec]);
    $none = ($this->fleet)($a);
    expect($none->json('result'))
        ->toBeNull()
        ->and($none->json('kinds'))
        ->toBe([['kind' => 'nmc 4', 'packs' => 2], ['kind' => 'lfp 8', 'packs' => 1]])
        ->and(count($none->json('packs')))
        ->toBe(2);
    expect(($this->fleet)($a, '?kind=lfp+8')->json('packs.0.name'))->toBe('Lamp');
    ($this->read)($a, [3.8, 3.8, 3.8, 3.8]);
    ($this->read)($more, [3.9, 3.9, 3.9, 3.9], more: ['soc' => 0.8]);
    expect(($this->fleet)($a)->json('result.comparable'))
        ->toBeFalse()
        ->and(($this->fleet)($a)->json('result.topping'))
        ->toBe([]);
});

it('keeps more spares the longer one takes to come, and shows nothing of another workshop', function (): void {
    $a = ($this->pack)('Block A');
    for ($i = 0; $i < 5; $i++) {
        ($this->pack)("Block $i");
    }
    $keeps = fn(string $query): int => (int) substr(($this->fleet)($a, $query)->json('spares.boards'), 5);
    expect($keeps('?lead_weeks=100'))->toBeGreaterThan($keeps('?lead_weeks=1'));
    expect($keeps('?lead_weeks=100&level=0.99'))->toBeGreaterThanOrEqual($keeps('?lead_weeks=100&level=0.6'));
    // What is known of their years outside this shop counts where it is said.
    expect($keeps('?lead_weeks=100&months=60&boards=9'))->toBeGreaterThan($keeps('?lead_weeks=100&months=60&boards=0'));
    expect(($this->fleet)($a, '?months=60&groups=3')->json('spares.groups'))->toContain('3 failed in 1440 months');
    $this->getJson("/api/customers/{$a->customer_id}/fleet?lead_weeks=-1")->assertStatus(422);
    (new Workbench($this))->as('owner');
    $this->getJson("/api/customers/{$a->customer_id}/fleet")->assertNotFound();
});

it('asks as many questions for ten packs as for two', function (): void {
    $a = ($this->pack)('Block A');
    ($this->read)($a, [3.8, 3.8, 3.8, 3.8]);
    ($this->pack)('Block B');
    $asked = function () use ($a): int {
        DB::enableQueryLog();
        DB::flushQueryLog();
        App\Read\OwnersFleet::of(Customer::query()->findOrFail($a->customer_id));

        return count(DB::getQueryLog());
    };
    $few = $asked();
    for ($i = 0; $i < 8; $i++) {
        ($this->pack)("Block $i");
    }
    expect($asked())->toBe($few);
});

// A wall of packs, read at one time.

beforeEach(function (): void {
    $this->customer = fn(): Customer => Customer::named($this->bench->workshop->id, 'Lamp house');
    $this->spec = ['kind' => 'storage', 'chemistry' => 'lfp', 'series' => 4, 'parallel' => 1, 'label' => ['capacity_ah' => 100.0]];
    $this->wall = fn(array $rows, array $more = []) => $this->bench->post(
        'customers/' . ($this->customer)()->id . '/wall',
        $more + [
            'what' => 'volts',
            'at' => now()->subMinutes(5)->toIso8601ZuluString(),
            'condition' => 'full',
            'pack' => $this->spec,
            'rows' => array_map(
                fn(string $name, array $values): array => ['name' => $name, 'values' => $values],
                array_keys($rows),
                array_values($rows),
            ),
        ],
    );
    $this->blocks = [
        'Block 1' => [3.46, 3.461, 3.46, 3.459],
        'Block 2' => [3.46, 3.351, 3.462, 3.46],
        'Block 3' => [3.46, 3.46, 3.46, 3.46],
    ];
});

it(
    'reads a pasted wall without writing, says which row is which pack, and keeps it as readings of packs that begin with it',
    function (): void {
        $id = ($this->customer)()->id;
        $read = fn(string $text, string $what = 'volts') => $this->bench->post("customers/$id/wall/pasted", [
            'text' => $text,
            'what' => $what,
        ]);
        $text = "Block 1\t3.46\t3.461\t3.46\t3.459\nBlock 2\t3.46\t3.351\t3.462\t3.46";
        expect($read($text)->assertOk()->json('rows.1'))->toMatchArray([
            'name' => 'Block 2',
            'values' => [3.46, 3.351, 3.462, 3.46],
            'packs' => [],
        ]);
        expect(Pack::query()->where('customer_id', $id)->count())->toBe(0);
        $kept = ($this->wall)($this->blocks)->assertCreated();
        expect(Contract::complaints($kept, 'post', '/api/customers/{customer}/wall'))
            ->toBe([])
            ->and($kept->json('new'))
            ->toBe(3)
            ->and($kept->json('result.lowest'))
            ->toMatchArray(['pack' => 'Block 2', 'group' => 2])
            ->and($kept->json('result.topping.0'))
            ->toMatchArray(['pack' => 'Block 2', 'group' => 2])
            ->and($kept->json('packs.0.series'))
            ->toBe(4)
            ->and($read($text)->json('rows.0.packs'))
            ->toHaveCount(1);
        // Read again by code, and by name whatever its case: no pack is made twice.
        $code = $kept->json('packs.0.code');
        ($this->wall)([$code => [3.4, 3.4, 3.4, 3.4], ' block  2' => [3.4, 3.4, 3.4, 3.4]], ['pack' => null])->assertCreated();
        expect(Pack::query()->where('customer_id', $id)->count())->toBe(3);
        // It is among what the passport shows, and nothing is due of a pack that never went back.
        $this->getJson('/api/packs/' . $kept->json('packs.0.id'))
            ->assertOk()
            ->assertJsonCount(2, 'readings');
        expect(Pack::query()->where('customer_id', $id)->whereNotNull('next_at')->count())->toBe(0);
    },
);

it('keeps nothing of a wall with a row that is wrong, and names the row', function (array $rows, array $more, string $field): void {
    ($this->wall)($this->blocks)->assertCreated();
    $before = DB::table('service_readings')->count();
    $said = ($this->wall)($rows, $more)->assertStatus(422);
    expect($said->json('error.fields') ?? $said->json('fields'))->toHaveKey($field);
    expect(DB::table('service_readings')->count())->toBe($before);
})->with([
    'too few groups' => [['Block 1' => [3.4, 3.4, 3.4, 3.4], 'Block 2' => [3.4, 3.4, 3.4]], [], 'rows.1.values'],
    'nothing read' => [['Block 1' => [null, null, null, null]], [], 'rows.0.values'],
    'a new one, and nobody says what' => [
        ['Block 1' => [3.4, 3.4, 3.4, 3.4], 'Block 9' => [3.4, 3.4, 3.4, 3.4]],
        ['pack' => null],
        'rows.1.name',
    ],
    'one pack twice' => [['Block 1' => [3.4, 3.4, 3.4, 3.4], 'block 1' => [3.4, 3.4, 3.4, 3.4]], [], 'rows.1.name'],
    'a time to come' => [['Block 1' => [3.4, 3.4, 3.4, 3.4]], ['at' => '2999-01-01T00:00:00Z'], 'at'],
    'a capacity of a time to come' => [['Block 1' => [90, 90, 90, 90]], ['at' => '2999-01-01T00:00:00Z', 'what' => 'ah'], 'at'],
]);

it('says what limits each pack by what its groups hold, and what another group in its place brings and costs', function (): void {
    ($this->wall)($this->blocks)->assertCreated();
    $kept = ($this->wall)(
        ['Block 1' => [100, 99, 101, 100], 'Block 3' => [98, 79, 97, 99], 'Block 2' => [90, null, 91, 92]],
        ['what' => 'ah'],
    )->assertCreated();
    expect(array_column($kept->json('result.limits'), 'pack'))
        ->toEqualCanonicalizing(['Block 1', 'Block 3'])
        ->and($kept->json('gains.0'))
        ->toMatchArray(['pack' => 'Block 3', 'group' => 2, 'usable_ah' => 79, 'after_ah' => 97, 'minutes' => 75])
        ->and($kept->json('gains.0.gain_wh'))
        ->toEqualWithDelta(18 * 4 * 3.2, 0.1)
        ->and($kept->json('gains.0.total_cents'))
        ->toBeGreaterThan(0);
    // A group that was replaced since holds what nobody measured yet.
    $pack = Pack::query()->where('name', 'Block 3')->firstOrFail();
    $job = $this->bench->open();
    $job->update(['pack_id' => $pack->id]);
    $this->bench->read($job, [3.85, 3.85, 1.2, 3.85]);
    $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
    $this->bench
        ->post("jobs/{$job->id}/decision", [
            'verdict_id' => DB::table('verdicts')->where('job_id', $job->id)->max('id'),
            'action' => 'replace-group',
            'reason' => 'It is weak.',
        ])
        ->assertOk();
    $job->update(['status' => 'returned', 'closed_at' => now()]);
    $after = ($this->fleet)($pack);
    expect(array_column($after->json('packs'), 'groups_ah', 'name')['Block 3'])->toEqual([98, 79, null, 99]);
    $test = fn(?bool $full): array => [
        'id' => (string) Str::uuid7(),
        'workshop_id' => $job->workshop_id,
        'job_id' => $job->id,
        'revision' => 1,
        'kind' => 'capacity',
        'taken_by' => $this->bench->people['owner']->id,
        'taken_at' => now()->addMinutes($full === true ? 3 : 2),
        'received_at' => now(),
        'data' => json_encode(['scope' => ['group' => 3], 'measured_ah' => $full === true ? 101.0 : 55.0, 'started_full' => $full]),
    ];
    DB::table('bench_tests')->insert([$test(false), $test(true)]);
    expect(array_column(($this->fleet)($pack)->json('packs'), 'groups_ah', 'name')['Block 3'])->toEqual([98, 79, 101, 99]);
});

it(
    'tops a group up in place: measured before, ended by volts and amps, proved by the next reading, back by the join rule',
    function (): void {
        $kept = ($this->wall)($this->blocks)->assertCreated();
        $id = ($this->customer)()->id;
        $pack = array_column($kept->json('packs'), 'id', 'name')['Block 2'];
        $begin = fn(array $more = []) => $this->bench->post(
            "customers/$id/toppings",
            $more + ['pack' => $pack, 'group' => 2, 'group_v' => 3.352, 'pack_a' => 0.0, 'ambient_c' => 18],
        );
        foreach (
            [
                'group_v' => ['group_v' => -3.35],
                'pack_a' => ['pack_a' => 0.4],
                'ambient_c' => ['ambient_c' => -1],
                'supply_a' => ['supply_a' => 80],
                'group' => ['group' => 3],
            ]
            as $field => $said
        ) {
            $refused = $begin($said)->assertStatus(422);
            expect($refused->json('error.fields') ?? $refused->json('fields'))->toHaveKey($field);
        }
        expect(DB::table('toppings')->count())->toBe(0);
        $begun = $begin()->assertCreated();
        expect(Contract::complaints($begun, 'post', '/api/customers/{customer}/toppings'))
            ->toBe([])
            ->and($begun->json('toppings.0.plan'))
            ->toMatchArray(['supply_a' => 5, 'stop_from_a' => 5, 'stop_to_a' => 2]);
        // One clip at a time, and no joining while it is on.
        $begin()->assertStatus(409);
        $topping = $begun->json('toppings.0.id');
        $join = fn(float $v) => $this->bench->post("toppings/$topping/join", ['pack_v' => $v, 'siblings_v' => 13.84, 'siblings' => 2]);
        $join(13.84)->assertStatus(409);
        $full = $begun->json('toppings.0.plan.full_v');
        $end = fn() => $this->bench->post("toppings/$topping/end", ['group_v' => $full, 'amps' => 3.0]);
        expect($end()->assertOk()->json('toppings.0.full'))->toBeTrue();
        $end()->assertStatus(409);
        expect($join(14.6)->assertOk()->json('toppings.0.way'))
            ->not->toBe('direct')
            ->and($join(13.85)->json('toppings.0.way'))
            ->toBe('direct');
        // Not believed before it was read again.
        expect(($this->fleet)(Pack::query()->findOrFail($pack))->json('toppings.0.helped'))->toBeNull();
        $this->travel(20)->minutes();
        $again = ($this->wall)(['Block 2' => [3.46, 3.457, 3.462, 3.46]])->assertCreated();
        expect($again->json('toppings.0.helped.even'))
            ->toBeTrue()
            ->and($again->json('result.topping'))
            ->toBe([])
            ->and(DB::table('events')->where('kind', 'like', 'topping-%')->count())
            ->toBe(4);
    },
);

it(
    'says of a pack that stands off as a whole that it is another charge or meter, and of an even one that it is excellent',
    function (): void {
        $kept = ($this->wall)($this->blocks + ['Block 4' => [3.475, 3.476, 3.475, 3.474]])->assertCreated();
        $of = array_column($kept->json('packs'), null, 'name');
        expect($of['Block 4']['shift_mv'])
            ->toEqualWithDelta(15.0, 0.6)
            ->and($of['Block 1']['shift_mv'])
            ->toBeNull()
            ->and([$of['Block 1']['excellent'], $of['Block 2']['excellent'], $of['Block 4']['excellent']])
            ->toBe([true, false, true]);
    },
);

it('tops up a pack of the kind of which they have fewer as well', function (): void {
    ($this->wall)($this->blocks)->assertCreated();
    $small = ['chemistry' => 'lfp', 'series' => 3] + $this->spec;
    $kept = ($this->wall)(['Lamp 1' => [3.46, 3.351, 3.46], 'Lamp 2' => [3.46, 3.46, 3.46]], ['pack' => $small])->assertCreated();
    $id = ($this->customer)()->id;
    $lamp = Pack::query()->where('name', 'Lamp 1')->firstOrFail();
    expect($kept->json('kind'))->toBe('lfp 4');
    $body = ['pack' => $lamp->id, 'group' => 2, 'group_v' => 3.352, 'pack_a' => 0.0, 'ambient_c' => 18];
    $this->bench->post("customers/$id/toppings", $body)->assertCreated();
    expect($this->getJson("/api/customers/$id/fleet?kind=lfp+3")->json('toppings.0.pack'))->toBe('Lamp 1');
});

it('charges nothing in place that is on the bench, scrapped or stopped, nor by a trainee', function (): void {
    ($this->wall)($this->blocks)->assertCreated();
    $id = ($this->customer)()->id;
    $pack = Pack::query()->where('name', 'Block 2')->firstOrFail();
    $body = ['pack' => $pack->id, 'group' => 2, 'group_v' => 3.352, 'pack_a' => 0.0, 'ambient_c' => 18];
    $begin = fn() => $this->bench->post("customers/$id/toppings", $body);
    $this->bench->as('trainee');
    $begin()->assertForbidden();
    $this->bench->as('technician');
    $job = $this->bench->open();
    foreach (['open', 'scrapped'] as $status) {
        $job->update(['pack_id' => $pack->id, 'status' => $status]);
        $begin()->assertStatus(409);
    }
    $job->update(['status' => 'returned']);
    $pack->update(['stopped_at' => now()]);
    $begin()->assertStatus(409);
    $pack->update(['stopped_at' => null]);
    $begin()->assertCreated();
});

it('believes a reading that came in the same second as the end, and none from before it', function (): void {
    $this->travelTo(now()->startOfSecond()->addMilliseconds(200));
    $kept = ($this->wall)($this->blocks)->assertCreated();
    $id = ($this->customer)()->id;
    $pack = array_column($kept->json('packs'), 'id', 'name')['Block 2'];
    $begun = $this->bench->post("customers/$id/toppings", [
        'pack' => $pack,
        'group' => 2,
        'group_v' => 3.352,
        'pack_a' => 0.0,
        'ambient_c' => 18,
    ]);
    $topping = $begun->assertCreated()->json('toppings.0.id');
    $this->bench->post("toppings/$topping/end", ['group_v' => 3.65, 'amps' => 3.0])->assertOk();
    $read = fn(int $ms): ?array => ($this->wall)(
        ['Block 2' => [3.46, 3.457, 3.462, 3.46]],
        ['at' => now()->startOfSecond()->addMilliseconds($ms)->toIso8601ZuluString('millisecond')],
    )->json('toppings.0.helped');
    expect($read(100))->toBeNull()->and($read(600)['even'])->toBeTrue();
});

it('writes somebody down once, whatever they bring later', function (): void {
    $first = $this->bench->post('customers', ['name' => ' House on the point ', 'contact' => '040 1234567'])->assertCreated();
    expect(Contract::complaints($first, 'post', '/api/customers'))
        ->toBe([])
        ->and($first->json('name'))
        ->toBe('House on the point')
        ->and($this->bench->post('customers', ['name' => 'House on the point'])->json('id'))
        ->toBe($first->json('id'))
        ->and(Customer::query()->where('name', 'House on the point')->value('phone'))
        ->toBe('040 1234567');
    $this->bench->post('customers', ['name' => ''])->assertStatus(422);
    $this->bench->as('trainee');
    $this->bench->post('customers', ['name' => 'Another'])->assertForbidden();
});

it('leaves out what was scrapped, and counts boards and groups that were replaced', function (): void {
    [$a, $b, $c] = [($this->pack)('Block A'), ($this->pack)('Block B'), ($this->pack)('Block C')];
    DB::table('jobs')
        ->where('pack_id', $c->id)
        ->update(['status' => 'scrapped']);
    expect(array_column(($this->fleet)($a)->json('packs'), 'name'))->toBe(['Block A', 'Block B']);
    $job = App\Models\Job::query()->where('pack_id', $b->id)->firstOrFail();
    $job->update(['status' => 'open', 'closed_at' => null]);
    $this->bench->look($job);
    $this->bench->read($job, [3.85, 3.85, 1.2, 3.85]);
    $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
    $this->bench
        ->post("jobs/{$job->id}/decision", [
            'verdict_id' => DB::table('verdicts')->where('job_id', $job->id)->max('id'),
            'action' => 'replace-group',
            'reason' => 'It is dead.',
        ])
        ->assertOk();
    expect(($this->fleet)($a, '?months=300')->json('spares.groups'))->toContain('0 failed in 2400 months');
    $job->refresh()->update(['status' => 'returned', 'closed_at' => now()]);
    expect(($this->fleet)($a, '?months=300')->json('spares.groups'))
        ->toContain('1 failed in 2400 months')
        ->and(($this->fleet)($a, '?months=300')->json('spares.boards'))
        ->toContain('0 failed in 600 months');
});

it('judges the end by what the group was measured to hold when it was begun', function (): void {
    ($this->wall)($this->blocks)->assertCreated();
    $kept = ($this->wall)(['Block 2' => [100, 50, 100, 100]], ['what' => 'ah'])->assertCreated();
    $begun = $this->bench->post('customers/' . ($this->customer)()->id . '/toppings', [
        'pack' => array_column($kept->json('packs'), 'id', 'name')['Block 2'],
        'group' => 2,
        'group_v' => 3.352,
        'pack_a' => 0.0,
        'ambient_c' => 18,
    ]);
    expect($begun->json('toppings.0.plan.stop_from_a'))->toEqual(2.5);
    $end = $this->bench->post("toppings/{$begun->json('toppings.0.id')}/end", ['group_v' => 3.65, 'amps' => 4.0]);
    expect($end->json('toppings.0.full'))->toBeFalse();
});

it('tells two packs of one name apart by their codes', function (): void {
    [$a, $b] = [($this->pack)('Block'), ($this->pack)('Block')];
    ($this->read)($a, [3.8, 3.8, 3.8, 3.8]);
    ($this->read)($b, [3.8, 3.74, 3.8, 3.8]);
    $seen = ($this->fleet)($a);
    $names = array_column($seen->json('packs'), 'name', 'id');
    expect($names[$a->id])->not->toBe($names[$b->id])->and($seen->json('result.topping.0.pack'))->toBe($names[$b->id]);
});
