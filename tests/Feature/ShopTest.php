<?php

declare(strict_types=1);

use App\Models\CellModel;
use App\Models\Customer;
use App\Models\Event;
use App\Models\Job;
use App\Models\PackModel;
use App\Models\PartModel;
use App\Support\PhotoStore;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('owner');
});

function edit(mixed $test, string $path, array $body, ?string $version): TestResponse
{
    $answer = $test->patchJson(
        "/api/$path",
        $body,
        ['Idempotency-Key' => (string) Str::uuid()] + ($version === null ? [] : ['If-Match' => $version]),
    );
    // The next request reads the workshop anew, as it does outside a test.
    foreach ($test->bench->people as $p) {
        $p->unsetRelation('workshop');
    }

    return $answer;
}

/** @return array<string, mixed> the settings by key */
function said(mixed $test): array
{
    return array_column($test->getJson('/api/settings')->json('settings'), null, 'key');
}

it('keeps what differs, goes back to the default, and says what each changes', function (): void {
    $read = $this->getJson('/api/settings')->assertOk();
    expect(Contract::complaints($read, 'get', '/api/settings'))->toBe([]);
    $saved = edit(
        $this,
        'settings',
        [
            'name' => 'Kiln Lane',
            'values' => ['rate_cents' => 7100, 'closes_at' => '17:30', 'timezone' => 'Atlantic/Azores', 'margin_percent' => 12.5],
        ],
        $read->json('version'),
    )
        ->assertOk()
        ->assertJsonPath('name', 'Kiln Lane');
    expect(Contract::complaints($saved, 'patch', '/api/settings'))
        ->toBe([])
        ->and(said($this)['rate_cents']['value'])
        ->toBe(7100)
        ->and(said($this)['rate_cents']['differs'])
        ->toBeTrue();
    edit($this, 'settings', ['values' => ['rate_cents' => null]], $saved->json('version'))->assertOk();
    expect(said($this)['rate_cents'])
        ->toMatchArray(['value' => 6000, 'differs' => false])
        ->and($this->bench->workshop->refresh()->settings)
        ->not->toHaveKey('rate_cents')
        ->toHaveKey('closes_at');
    expect(Event::query()->where('workshop_id', $this->bench->workshop->id)->where('kind', 'settings')->latest('id')->first()->data)->toBe([
        'rate_cents' => ['from' => 7100, 'to' => 6000],
    ]);
});

it('names the setting that cannot be, writes none of the others, and is the owner\'s alone', function (): void {
    $version = $this->getJson('/api/settings')->json('version');
    edit($this, 'settings', ['values' => ['rate_cents' => 7100, 'proof_spread_mv' => 500, 'unknown' => 1]], $version)
        ->assertStatus(422)
        ->assertJsonPath(
            'fields',
            fn(array $f): bool => array_keys($f) === ['values.proof_spread_mv', 'values.unknown'] &&
                str_contains($f['values.proof_spread_mv'], 'not more lenient'),
        );
    expect(said($this)['rate_cents']['value'])->toBe(6000);
    $this->bench->as('senior');
    edit($this, 'settings', ['values' => ['rate_cents' => 7100]], $version)->assertForbidden();
});

it('shows both sides when two owners edit at once', function (): void {
    $version = $this->getJson('/api/settings')->json('version');
    edit($this, 'settings', ['values' => ['rate_cents' => 7100]], $version)->assertOk();
    edit($this, 'settings', ['values' => ['rate_cents' => 9900]], $version)
        ->assertStatus(412)
        ->assertJsonPath('code', 'clash')
        ->assertHeader('ETag');
    expect(said($this)['rate_cents']['value'])->toBe(7100);
    edit($this, 'settings', ['values' => ['rate_cents' => 9900]], null)->assertStatus(428);
});

it('quotes by the shop\'s own prices: a price changed is in the next look at the plan', function (): void {
    CellModel::query()->create([
        'workshop_id' => $this->bench->workshop->id,
        'name' => 'QX-25',
        'chemistry' => 'nmc',
        'spec' => ['capacity_ah' => 2.5],
        'price_cents' => 400,
    ]);
    $job = $this->bench->open([], [], ['cell' => ['model' => 'QX-25', 'capacity_ah' => 2.5]]);
    $this->bench->read($job, [3.85, 3.851, 1.2, 3.849]);
    $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
    $quote = function () use ($job): array {
        $options = collect($this->getJson("/api/jobs/{$job->id}")->json('verdict.detail.options'));

        return $options->first(fn(array $o): bool => $o['cells'] > 0)['quote'];
    };
    $before = $quote();
    $prices = $this->getJson('/api/prices')->assertOk();
    expect(Contract::complaints($prices, 'get', '/api/prices'))->toBe([]);
    $row = $prices->json('cells.0');
    edit($this, "prices/cells/{$row['id']}", ['price_cents' => 800], $row['version'])->assertOk();
    edit($this, "prices/cells/{$row['id']}", ['price_cents' => 900], $row['version'])
        ->assertStatus(412)
        ->assertJsonPath('now.price_cents', 800);
    $cells = fn(array $q): int => collect($q['lines'])->first(fn(array $l): bool => str_contains($l['what'], 'cell'))['cents'];
    expect($cells($quote()))->toBe(2 * $cells($before));
    edit(
        $this,
        'settings',
        ['values' => ['tax_percent' => 20, 'tax_name' => 'Levy', 'currency' => 'SEK']],
        $this->getJson('/api/settings')->json('version'),
    )->assertOk();
    expect($quote()['total_cents'])
        ->toBe((int) round(1.2 * ($quote()['parts_cents'] + $quote()['labour_cents'] + $quote()['fee_cents'])))
        ->and($quote()['currency'])
        ->toBe('SEK');
});

it('holds a repair against the price of a new pack of its model', function (): void {
    $model = PackModel::query()->create([
        'workshop_id' => $this->bench->workshop->id,
        'name' => 'Crate',
        'spec' => ['chemistry' => 'nmc', 'series' => 4, 'parallel' => 3],
    ]);
    $listed = $this->getJson('/api/prices')->json('packs.0');
    edit($this, "prices/packs/{$model->id}", ['price_cents' => 12345], $listed['version'])->assertOk();
    $job = $this->bench->open();
    $job->update(['pack_model_id' => $model->id]);
    expect(App\Actions\Decide::quote($job->refresh(), ['action' => 'none'])->newPackCents)->toBe(12345);
});

it('proves a pack by the stricter limits of the shop', function (): void {
    $job = $this->bench->open();
    $this->bench
        ->post("jobs/{$job->id}/proof", ['check' => 'temperature-rise', 'data' => ['ambient_c' => 20, 'hottest_c' => 36, 'median_c' => 34]])
        ->assertOk();
    $status = fn(): string => collect($this->getJson("/api/jobs/{$job->id}")->json('proof'))->firstWhere('code', 'temperature-rise')[
        'status'
    ];
    expect($status())->toBe('passed');
    edit($this, 'settings', ['values' => ['proof_warmer_k' => 15]], $this->getJson('/api/settings')->json('version'))->assertOk();
    expect($status())->toBe('failed');
});

it('finds a customer by name, by any writing of the number, by address and by a name merged away', function (): void {
    $this->bench
        ->post('jobs', [
            'customer' => 'Ilse Vandermoor',
            'contact' => '+350 21 44-87 30',
            'name' => 'Cart',
            'symptoms' => [],
            'inspection' => [],
            'pack' => ['chemistry' => 'nmc', 'series' => 4],
        ])
        ->assertCreated();
    $found = fn(string $q): array => array_column(
        $this->getJson('/api/customers?q=' . urlencode($q))
            ->assertOk()
            ->json('customers'),
        'name',
    );
    foreach (['vander', '21448730', '4487 30', '+350 21'] as $q) {
        expect($found($q))->toBe(['Ilse Vandermoor']);
    }
    expect($found('nobody'))
        ->toBe([])
        ->and($found('%'))
        ->toBe([])
        ->and($this->getJson('/api/search?q=448730')->json('customers.0.name'))
        ->toBe('Ilse Vandermoor');
    $list = $this->getJson('/api/customers');
    expect(Contract::complaints($list, 'get', '/api/customers'))->toBe([]);
});

it('shows a customer with packs, money and promises, and edits on the version that was read', function (): void {
    $job = $this->bench->open();
    $customer = Customer::query()->findOrFail($job->customer_id);
    $page = $this->getJson("/api/customers/{$customer->id}")
        ->assertOk()
        ->assertJsonPath('jobs.0.number', $job->number)
        ->assertJsonPath('packs.0.name', 'Test pack');
    expect(Contract::complaints($page, 'get', '/api/customers/{customer}'))->toBe([]);
    edit($this, "customers/{$customer->id}", ['phone' => 'call me'], $page->json('version'))
        ->assertStatus(422)
        ->assertJsonPath('fields.phone', fn(string $m): bool => str_contains($m, 'telephone'));
    $saved = edit(
        $this,
        "customers/{$customer->id}",
        ['phone' => '+350 21 1111', 'email' => 'c@customer.example', 'agreements' => 'Old cells come back'],
        $page->json('version'),
    )->assertOk();
    edit($this, "customers/{$customer->id}", ['phone' => '+350 21 2222'], $page->json('version'))
        ->assertStatus(412)
        ->assertJsonPath('now.phone', '+350 21 1111');
    Customer::query()->create(['workshop_id' => $this->bench->workshop->id, 'name' => 'Taken']);
    edit($this, "customers/{$customer->id}", ['name' => 'Taken'], $saved->json('version'))
        ->assertStatus(422)
        ->assertJsonPath('code', 'same-name');
    $this->bench->as('trainee');
    edit($this, "customers/{$customer->id}", ['phone' => '1'], $saved->json('version'))->assertForbidden();
});

it('makes one customer of two and loses nothing: packs, what only one knew, and the other\'s name', function (): void {
    $open = fn(string $name, string $contact): Job => Job::query()->findOrFail(
        $this->bench
            ->post('jobs', [
                'customer' => $name,
                'contact' => $contact,
                'name' => 'Cart',
                'symptoms' => [],
                'inspection' => [],
                'pack' => ['chemistry' => 'nmc', 'series' => 4],
            ])
            ->json('id'),
    );
    $a = $open('I. Vandermoor', '+350 21 1111')->customer;
    $b = $open('Ilse Vandermoor', 'ilse@quay.example')->customer;
    Customer::query()
        ->where('id', $b->id)
        ->update(['notes' => 'Rings first', 'phone' => '+350 21 9999']);
    $version = fn(Customer $c): string => $this->getJson("/api/customers/{$c->id}")->json('version');
    $merge = fn(Customer $into, int $from, string $v): TestResponse => $this->postJson(
        "/api/customers/{$into->id}/merge",
        ['from' => $from],
        ['Idempotency-Key' => (string) Str::uuid(), 'If-Match' => $v],
    );
    $merge($a, $a->id, $version($a))->assertStatus(422);
    $merge($a, 999999999, $version($a))->assertStatus(422);
    $merge($a, $b->id, $version($a))
        ->assertOk()
        ->assertJsonCount(2, 'jobs')
        ->assertJsonPath('email', 'ilse@quay.example')
        ->assertJsonPath('also', ['Ilse Vandermoor'])
        ->assertJsonPath('notes', "Rings first\nOf Ilse Vandermoor: phone +350 21 9999");
    $merge($a, $b->id, $version($a))->assertStatus(422);
    expect(
        $this->getJson("/api/customers/{$b->id}")
            ->assertOk()
            ->json('id'),
    )->toBe($a->id);
    expect($open('Ilse Vandermoor', '')->customer_id)
        ->toBe($a->id)
        ->and($this->getJson('/api/customers')->json('customers'))
        ->toHaveCount(1);
});

it('forgets a person and keeps the packs: no name, number or address is left in any table', function (): void {
    $id =
        $this->bench
            ->post('jobs', [
                'customer' => 'Quentin Forgetme',
                'contact' => 'quentin@forgetme.example',
                'name' => 'Cart',
                'symptoms' => [],
                'inspection' => [],
                'pack' => ['chemistry' => 'nmc', 'series' => 4],
            ])
            ->json('customer_id') ?? Job::query()->latest('id')->value('customer_id');
    $version = $this->getJson("/api/customers/$id")->json('version');
    $version = edit($this, "customers/$id", ['address' => 'Forgetme Lane 4', 'notes' => 'Forgetme likes tea'], $version)->json('version');
    $job = Job::query()->where('customer_id', $id)->firstOrFail();
    $this->bench
        ->post("jobs/{$job->id}/consents", [
            'terms' => ['opening', 'dead-cells'],
            'seal' => 'whole',
            'how' => 'counter',
            'said_by' => 'Quentin Forgetme',
            'may_call' => 'forgetme 12345',
            'signature' => [[[0.1, 0.1], [0.9, 0.9]]],
        ])
        ->assertSuccessful();
    $photo = $this->bench->photo($job)->assertCreated()->json();
    $this->bench->post("jobs/{$job->id}/teardown", [
        'lines' => [['id' => (string) Str::uuid7(), 'line' => 'lid', 'photo_id' => $photo['id']]],
    ]);
    $file = PhotoStore::path(DB::table('photos')->where('id', $photo['id'])->value('sha256'), false);
    expect(is_file($file))->toBeTrue();
    $out = $this->getJson("/api/customers/$id/export")->assertOk();
    expect($out->json('notes'))->toBe('Forgetme likes tea');
    $this->bench->as('senior');
    $this->postJson(
        "/api/customers/$id/forget",
        [],
        ['Idempotency-Key' => (string) Str::uuid(), 'If-Match' => $version],
    )->assertForbidden();
    $this->bench->as('owner');
    $this->postJson("/api/customers/$id/forget", ['photos' => true], ['Idempotency-Key' => (string) Str::uuid(), 'If-Match' => $version])
        ->assertOk()
        ->assertJsonPath('name', "Forgotten customer $id")
        ->assertJsonCount(1, 'jobs');
    expect(is_file($file))
        ->toBeFalse()
        ->and(DB::table('photos')->where('job_id', $job->id)->count())
        ->toBe(0)
        ->and(DB::table('teardown_steps')->where('job_id', $job->id)->value('photo_id'))
        ->toBeNull()
        ->and(DB::table('consent_people')->value('signature'))
        ->toBeNull()
        ->and(json_decode((string) DB::table('consents')->where('job_id', $job->id)->value('words'), true))
        ->not->toBe([]);
    foreach (DB::select('show tables') as $row) {
        $table = array_values((array) $row)[0];
        $text = strtolower((string) json_encode(DB::table($table)->get(), JSON_INVALID_UTF8_SUBSTITUTE));
        expect(str_contains($text, 'forgetme'))->toBeFalse("$table still names the customer");
    }
    $again = $this->getJson("/api/customers/$id")->json('version');
    edit($this, "customers/$id", ['phone' => '1'], $again)
        ->assertStatus(409)
        ->assertJsonPath('code', 'forgotten');
});

it('speaks to instruments at addresses the owner has named, and never at this machine\'s own or special ones', function (
    string $networks,
    string $host,
    int $port,
    bool $allowed,
): void {
    config(['heartwood.bench_ports' => range(8140, 8144)]);
    expect(
        (new App\Instruments\Reach(array_filter(explode(' ', $networks)), config('heartwood.bench_ports'), ['10.20.0.2']))->judge(
            $host,
            $port,
        )['address'] !== null,
    )->toBe($allowed);
})->with([
    'simulated bench' => ['', '127.0.0.1', 8140, true],
    'its last port' => ['', '127.0.0.1', 8144, true],
    'one past it' => ['', '127.0.0.1', 8145, false],
    'the database' => ['127.0.0.0/8', '127.0.0.1', 33137, false],
    'by name' => ['', 'localhost', 8140, true],
    'by name, another port' => ['', 'localhost', 22, false],
    'not named' => ['', '192.168.20.14', 5025, false],
    'named' => ['192.168.20.14', '192.168.20.14', 5025, true],
    'within a network' => ['192.168.20.0/24', '192.168.20.200', 5025, true],
    'beside it' => ['192.168.20.0/24', '192.168.21.1', 5025, false],
    'where clouds keep secrets' => ['0.0.0.0/0 169.254.0.0/16', '169.254.169.254', 80, false],
    'link-local of six' => ['::/0', 'fe80::1', 5025, false],
    'loopback of six' => ['::/0', '::1', 22, false],
    'mapped loopback' => ['0.0.0.0/0', '::ffff:127.0.0.1', 22, false],
    'mapped, named' => ['192.168.20.14', '::ffff:192.168.20.14', 5025, true],
    'this machine\'s own' => ['10.20.0.0/16', '10.20.0.2', 5025, false],
    'its neighbour' => ['10.20.0.0/16', '10.20.0.3', 5025, true],
    'one number' => ['0.0.0.0/0', '2130706433', 22, false],
    'short form' => ['0.0.0.0/0', '127.1', 22, false],
    'hex' => ['0.0.0.0/0', '0x7f000001', 22, false],
    'nowhere' => ['0.0.0.0/0', '0.0.0.0', 22, false],
    'everybody' => ['0.0.0.0/0', '255.255.255.255', 5025, false],
    'many' => ['0.0.0.0/0', '224.0.0.1', 5025, false],
]);

it('takes lines of addresses and networks, and names the one that is none', function (string $lines, ?string $says): void {
    $r = edit($this, 'settings', ['values' => ['instrument_networks' => $lines]], $this->getJson('/api/settings')->json('version'));
    $says === null
        ? $r->assertOk()
        : $r->assertStatus(422)->assertJsonPath('fields', fn(array $f): bool => str_contains($f['values.instrument_networks'], $says));
})->with([
    ["192.168.20.14\n10.1.2.0/24", null],
    ['fd12::/16', null],
    ['bench-meter', 'no address'],
    ['192.168.20.0/33', 'no network'],
    ['10.0.0.0/4', 'no network'],
    ['127.0.0.1', 'this machine'],
    ['169.254.1.1', 'network itself'],
]);

it('refuses an instrument at an address that is not allowed, also later when the owner takes it back', function (): void {
    config(['heartwood.bench_ports' => range(8140, 8144)]);
    $add = fn(string $host, int $port): TestResponse => $this->bench->post('instruments', [
        'name' => 'Meter',
        'kind' => 'meter',
        'host' => $host,
        'port' => $port,
    ]);
    $add('127.0.0.1', 22)->assertStatus(422)->assertJsonPath('fields.host', fn(string $m): bool => str_contains($m, 'simulated bench'));
    $add('192.168.20.14', 5025)
        ->assertStatus(422)
        ->assertJsonPath('fields.host', fn(string $m): bool => str_contains($m, 'owner has not named'));
    edit(
        $this,
        'settings',
        ['values' => ['instrument_networks' => '192.168.20.0/24']],
        $this->getJson('/api/settings')->json('version'),
    )->assertOk();
    $id = $add('192.168.20.14', 5025)->assertCreated()->json('instruments.0.id');
    $other = new Workbench($this);
    $other->workshop->update(['settings' => ['instrument_networks' => '192.168.20.0/24']]);
    $other->as('owner');
    $other
        ->post('instruments', ['name' => 'Theirs', 'kind' => 'meter', 'host' => '192.168.20.14', 'port' => 5025])
        ->assertStatus(422)
        ->assertJsonPath('fields.host', fn(string $m): bool => str_contains($m, 'another workshop'));
    $other->post("instruments/$id/identify")->assertNotFound();
    $this->bench->as('owner');
    edit($this, 'settings', ['values' => ['instrument_networks' => null]], $this->getJson('/api/settings')->json('version'))->assertOk();
    $this->bench
        ->post("instruments/$id/identify")
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-allowed');
    $this->getJson("/api/instruments/$id/reading")
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-allowed');
});

it('tells on the plan which options are this shop\'s way, and follows the owner\'s word', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.8, 0.02, 3.8, 3.8]);
    $this->bench->post("jobs/{$job->id}/verdict")->assertOk();
    $school = fn(): array => array_column($this->getJson("/api/jobs/{$job->id}")->json('verdict.detail.options'), 'school', 'action');
    expect($school()['replace-group'])
        ->toMatchArray(['agrees' => true])
        ->and(array_key_exists('recycle', $school()) ? $school()['recycle'] : null)
        ->toBeNull();
    $this->bench->as('owner');
    edit($this, 'settings', ['values' => ['scope_school' => 'B']], $this->getJson('/api/settings')->json('version'))->assertOk();
    expect($school()['replace-group'])
        ->toMatchArray(['agrees' => false])
        ->and($school()['replace-group']['text'])
        ->toContain('faulty cell alone');
});

it('keeps a cell model as its maker describes it, new or said anew, for whoever may set the shop', function (): void {
    $bench = new Workbench($this);
    $bench->as('owner');
    $said = ['name' => 'KN-33', 'chemistry' => 'lfp', 'format' => '26650', 'capacity_ah' => 3.3, 'full_v' => 3.65, 'price_cents' => 410];
    $added = $bench->post('cell-models', $said)->assertOk();
    $row = collect($added->json('cells'))->firstWhere('name', 'KN-33');
    expect(Contract::complaints($added, 'post', '/api/cell-models'))
        ->toBe([])
        ->and($row['about'])
        ->toBe('lfp 26650 3.3 Ah')
        ->and($row['spec']['full_v'])
        ->toBe(3.65);
    $bench->post('cell-models', $said)->assertStatus(422)->assertJsonPath('code', 'name-taken');
    $bench->post('cell-models', ['chemistry' => 'wood'] + $said)->assertStatus(422);
    edit($this, "cell-models/{$row['id']}", ['capacity_ah' => 3.2] + $said, $row['version'])->assertOk();
    edit($this, "cell-models/{$row['id']}", ['capacity_ah' => 3.1] + $said, $row['version'])->assertStatus(412);
    expect(CellModel::query()->find($row['id'])?->spec['capacity_ah'])->toEqual(3.2);
    $bench->as('technician');
    $bench->post('cell-models', ['name' => 'KN-34'] + $said)->assertForbidden();
});

it('keeps a board, a device and a charger for the next pack, by the record\'s own words, in this shop alone', function (): void {
    $put = fn(string $kind, string $name, array $spec) => $this->bench->post('part-models', compact('kind', 'name', 'spec'));
    $first = $put('board', 'Weir 30', ['high_cut_v' => 4.22, 'low_cut_v' => 2.9, 'discharge_limit_a' => 30]);
    expect(Contract::complaints($first, 'post', '/api/part-models'))->toBe([]);
    $put('charger', 'Weir 30', ['cv_v' => 54.6, 'cc_a' => 2])->assertCreated();
    // Described again, it is the same one, known better; the log says what it was before.
    $put('board', 'Weir 30', ['high_cut_v' => 4.25])->assertCreated();
    $known = $this->getJson('/api/lookups')->assertOk();
    expect(Contract::complaints($known, 'get', '/api/lookups'))
        ->toBe([])
        ->and(array_map(fn(array $m): array => [$m['kind'], $m['name'], $m['spec']], $known->json('part_models')))
        ->toEqual([['board', 'Weir 30', ['high_cut_v' => 4.25]], ['charger', 'Weir 30', ['cv_v' => 54.6, 'cc_a' => 2]]]);
    $log = Event::query()->where('kind', 'part-described')->latest('id')->first();
    expect($log->data['before']['low_cut_v'])->toBe(2.9);
    $put('board', 'Wrong', ['high_cut_v' => 42])
        ->assertStatus(422)
        ->assertJsonPath('code', 'invalid');
    $put('board', 'Wrong', ['volts' => 4.2])->assertStatus(422);
    $put('switch', 'Wrong', ['cc_a' => 4.2])->assertStatus(422);
    expect(PartModel::query()->where('name', 'Wrong')->exists())->toBeFalse();
    $other = new Workbench($this);
    $other->as('technician');
    expect($this->getJson('/api/lookups')->json('part_models'))->toBe([]);
});

it('knows a pack again by its serial, whatever case it was typed in, and tells every visit', function (): void {
    $open = function (string $serial, string $name): Job {
        $job = $this->bench->open();
        $job->update(['serial' => $serial, 'name' => $name]);

        return $job->refresh();
    };
    $known = fn(string $serial): TestResponse => $this->getJson('/api/known-pack?serial=' . urlencode($serial));
    expect($known('SN-770')->json())->toBe(['visits' => [], 'last' => null]);
    $first = $open('SN-770', 'Ferry drill');
    $this->bench->read($first, [3.85, 3.85, 0.02, 3.85]);
    $this->bench->post("jobs/{$first->id}/verdict")->assertOk();
    $first->update(['status' => 'returned']);
    $second = $open('sn-770', 'Ferry drill again');
    $open('SN-771', 'Another');
    $told = $known(' SN-770 ')->assertOk();
    expect(Contract::complaints($told, 'get', '/api/known-pack'))
        ->toBe([])
        ->and(array_column($told->json('visits'), 'id'))
        ->toBe([$second->id, $first->id])
        ->and($told->json('visits.1.found'))
        ->toContain('Group 3')
        ->and($told->json('last.name'))
        ->toBe('Ferry drill again');
    // On the job itself the others are told; a pack without a serial is nobody's twin.
    $job = $this->getJson("/api/jobs/{$second->id}");
    expect(Contract::complaints($job, 'get', '/api/jobs/{job}'))
        ->toBe([])
        ->and(array_column($job->json('others'), 'id'))
        ->toBe([$first->id]);
    $none = $this->bench->open();
    expect($this->getJson("/api/jobs/{$none->id}")->json('others'))
        ->toBe([])
        ->and($known('')->json('visits'))
        ->toBe([]);
    $other = new Workbench($this);
    $other->as('technician');
    expect($known('SN-770')->json('visits'))->toBe([]);
});

it('begins a new build at its plan: nothing came in, nothing is found, and the one thing to do is to build it', function (): void {
    $job = $this->bench->open(pack: ['build' => 'new', 'chemistry' => 'nmc', 'series' => 14, 'parallel' => 3], looked: false);
    $known = $this->getJson("/api/jobs/{$job->id}");
    expect($known->json('stage'))
        ->toBe('plan')
        ->and($known->json('verdict.document.findings'))
        ->toBe([])
        ->and(array_column($known->json('verdict.document.options'), 'action'))
        ->toBe(['build'])
        // Dearer than one by the watt-hour would be, and yet a new pack is not weighed against a new pack.
        ->and($known->json('verdict.options.0.quote.scrap'))
        ->toBeNull()
        ->and($known->json('revisions.0.reason'))
        ->toBe('as it is planned');
    $this->bench
        ->post("jobs/{$job->id}/decision", [
            'verdict_id' => $known->json('verdict.id'),
            'action' => 'build',
            'reason' => 'Ordered for the motor kit.',
        ])
        ->assertOk()
        ->assertJsonPath('stage', 'work');
});

it('shows its owner the last good backup, and a later one that failed', function (): void {
    $bench = (new Workbench($this))->as('owner');
    $folder = App\Support\Backups::folder();
    @mkdir($folder, 0700, true);
    $say = fn(string $name, ?string $at, string $words = 'two files') => $at === null
        ? @unlink("$folder/$name.json")
        : file_put_contents("$folder/$name.json", json_encode(['at' => $at, 'words' => $words]));
    $was = array_map(fn(string $n): string => (string) @file_get_contents("$folder/$n.json"), ['good', 'failed']);
    try {
        $say('good', null);
        $say('failed', null);
        $none = $this->getJson('/api/backup')->assertOk();
        expect(Contract::complaints($none, 'get', '/api/backup'))
            ->toBe([])
            ->and($none->json())
            ->toBe(['good' => null, 'failed' => null, 'old' => true]);
        $say('good', now()->subHours(3)->toIso8601ZuluString());
        $say('failed', now()->subHours(9)->toIso8601ZuluString(), 'the disk is full');
        expect($this->getJson('/api/backup')->json())->toMatchArray(['failed' => null, 'old' => false]);
        $say('failed', now()->subHour()->toIso8601ZuluString(), 'the disk is full');
        expect($this->getJson('/api/backup')->json('failed.words'))->toBe('the disk is full');
        $say('good', now()->subHours(40)->toIso8601ZuluString());
        expect($this->getJson('/api/backup')->json('old'))->toBeTrue();
        file_put_contents("$folder/good.json", 'not whole');
        expect($this->getJson('/api/backup')->json('good'))->toBeNull();
    } finally {
        foreach (['good', 'failed'] as $i => $n) {
            $was[$i] === '' ? @unlink("$folder/$n.json") : file_put_contents("$folder/$n.json", $was[$i]);
        }
    }
    $bench->as('senior');
    $this->getJson('/api/backup')->assertForbidden();
});
