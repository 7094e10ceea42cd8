<?php

declare(strict_types=1);

use App\Actions\ImportLog;
use App\Models\Cell;
use App\Models\CellModel;
use App\Models\Event;
use App\Models\TestLog;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('technician');
});

afterEach(function (): void {
    foreach (TestLog::query()->pluck('sha256') as $sha) {
        @unlink(ImportLog::folder() . "/$sha");
    }
});

function tray(Workbench $bench, int $n, array $more = []): array
{
    $cells = array_map(
        fn(int $i): array => ['capacity_ah' => 2.9 + 0.003 * (($i * 7) % 11), 'mohm' => 32 + 0.2 * (($i * 5) % 9), 'rest_v' => 3.6],
        range(1, $n),
    );

    return $bench
        ->post(
            'cells',
            $more + [
                'lot' => ['name' => 'LOT' . Str::random(4)],
                'model' => 'M',
                'chemistry' => 'nmc',
                'rated_ah' => 3.0,
                'cells' => $cells,
            ],
        )
        ->assertCreated()
        ->json('cells');
}

function logFile(float $capacity = 2.9): string
{
    $rows = "Test Time / s,Voltage / V,Current / A\n";
    $soc = 0.5;
    $t = 0;
    $add = function (float $i) use (&$rows, &$soc, &$t, $capacity): void {
        $rows .= sprintf("%d,%.5f,%.4f\n", $t, 2.8 + 1.4 * $soc + 0.035 * $i, $i);
        $soc += ($i * 5) / 3600 / $capacity;
        $t += 5;
    };
    while (($i = min(1.5, (4.2 - 2.8 - 1.4 * $soc) / 0.035)) > 0.12) {
        $add($i);
    }
    for ($k = 0; $k < 100; $k++) {
        $add(0.0);
    }
    while (2.8 + 1.4 * $soc - 0.6 * 0.035 > 2.47) {
        $add(-0.6);
    }

    return $rows;
}

function upload(object $test, string $csv, array $about): TestResponse
{
    return $test->post('/api/logs', ['file' => UploadedFile::fake()->createWithContent('log.csv', $csv)] + $about, [
        'Idempotency-Key' => (string) Str::uuid(),
        'Accept' => 'application/json',
    ]);
}

it('takes in a tray, numbers it in its lot, and refuses it whole when one code is taken', function (): void {
    $r = $this->bench
        ->post('cells', [
            'lot' => ['name' => 'A1'],
            'model' => 'M',
            'chemistry' => 'nmc',
            'rated_ah' => 3,
            'cells' => [[], [], ['code' => 'X-9', 'capacity_ah' => 2.8]],
        ])
        ->assertCreated();
    expect(Contract::complaints($r, 'post', '/api/cells'))
        ->toBe([])
        ->and(array_column($r->json('cells'), 'code'))
        ->toBe(['A1-001', 'A1-002', 'X-9'])
        ->and($r->json('cells.2.state'))
        ->toBe('testing');
    $this->bench
        ->post('cells', [
            'lot' => ['name' => 'A1'],
            'model' => 'M',
            'chemistry' => 'nmc',
            'rated_ah' => 3,
            'cells' => [[], ['code' => 'X-9']],
        ])
        ->assertStatus(422)
        ->assertJsonPath('fields', ['cells.1.code' => 'Taken: choose another code.']);
    expect(Cell::query()->count())->toBe(3);
});

it('grades by the rules, leaves used cells alone and keeps the reason', function (): void {
    $cells = tray($this->bench, 6);
    Cell::query()
        ->where('id', $cells[0]['id'])
        ->update(['capacity_ah' => 2.0]);
    Cell::query()
        ->where('id', $cells[1]['id'])
        ->update(['state' => 'used']);
    $r = $this->bench->post('cells/grade', ['ids' => array_column($cells, 'id'), 'rated_ah' => 3.0])->assertOk();
    expect($r->json())
        ->toBe(['accepted' => 4, 'rejected' => 1, 'untested' => 0, 'no_resistance' => 0])
        ->and(Cell::query()->find($cells[0]['id'])->reason)
        ->toContain('2.40 Ah')
        ->and(Cell::query()->find($cells[1]['id'])->state)
        ->toBe('used');
    $this->bench
        ->as('trainee')
        ->post('cells/grade', ['ids' => array_column($cells, 'id'), 'rated_ah' => 3.0])
        ->assertForbidden();
});

it('wants a reason for a rejected cell and keeps the history', function (): void {
    [$c] = tray($this->bench, 1);
    $patch = fn(array $b) => $this->patchJson("/api/cells/{$c['id']}", $b, [
        'Idempotency-Key' => (string) Str::uuid(),
        'If-Match' => collect($this->getJson('/api/cells')->json('cells'))->firstWhere('id', $c['id'])['version'],
    ]);
    $patch(['state' => 'rejected'])
        ->assertStatus(422)
        ->assertJsonPath('fields.reason', 'Say why it is out.');
    $patch(['state' => 'rejected', 'reason' => 'dented can'])->assertOk();
    $patch(['capacity_ah' => 2.2])
        ->assertStatus(422)
        ->assertJsonPath('fields.reason', 'Say where the capacity comes from, such as the tester and its rate.');
    $patch(['capacity_ah' => 2.2, 'reason' => 'hand tester, C/5'])->assertOk();
    $patch(['capacity_ah' => 2.2, 'mohm' => 33])->assertOk();
    $d = $this->getJson("/api/cells/{$c['id']}")->assertOk();
    expect(Contract::complaints($d, 'get', '/api/cells/{cell}'))
        ->toBe([])
        ->and(array_column($d->json('history'), 'kind'))
        ->toBe(['changed', 'changed', 'changed', 'taken-in']);
});

it('imports a log: figures to the cell, series kept, the file under its hash, the same file once', function (): void {
    [$c] = tray($this->bench, 1);
    Cell::query()
        ->where('id', $c['id'])
        ->update(['capacity_ah' => null, 'mohm' => null, 'state' => 'untested']);
    $r = upload($this, logFile(), ['cell_id' => $c['id'], 'ambient_c' => 22, 'tester' => 'T1', 'mapping' => '{"sign":1}'])->assertCreated();
    $cell = Cell::query()->find($c['id']);
    expect($r->json('log.capacity.counts'))
        ->toBeTrue()
        ->and($cell->capacity_ah)
        ->toEqualWithDelta($r->json('log.capacity.ah'), 1e-9)
        ->and($cell->mohm)
        ->toEqualWithDelta(35.0, 1.0)
        ->and($cell->state)
        ->toBe('testing')
        ->and(is_file(ImportLog::folder() . '/' . TestLog::query()->sole()->sha256))
        ->toBeTrue();
    upload($this, logFile(), ['cell_id' => $c['id']])
        ->assertOk()
        ->assertJsonPath('known', true);
    expect(TestLog::query()->count())->toBe(1);
    $id = TestLog::query()->sole()->id;
    $s = $this->getJson("/api/logs/$id/series?points=100")->assertOk();
    expect(Contract::complaints($s, 'get', '/api/logs/{log}/series'))
        ->toBe([])
        ->and($s->json('rows'))
        ->toBe($r->json('log.rows'))
        ->and(count($s->json('t')))
        ->toBeLessThanOrEqual(100)
        ->and(max($s->json('v_max')))
        ->toEqualWithDelta(4.2, 0.01);
    $near = $this->getJson("/api/logs/$id/series?points=100&from=100&to=200")->assertOk();
    expect($near->json('rows'))
        ->toBeLessThanOrEqual($s->json('rows'))
        ->and(Contract::complaints($this->getJson("/api/logs/$id"), 'get', '/api/logs/{log}'))
        ->toBe([]);
    expect($this->get("/api/logs/$id/export.csv")->getContent())->toStartWith("Test Time / s,Voltage / V,Current / A\n0.000,");
    $p = $this->postJson('/api/logs/preview', ['head' => substr(logFile(), 0, 2000), 'tester' => 'T1'])->assertOk();
    expect(Contract::complaints($p, 'post', '/api/logs/preview'))
        ->toBe([])
        ->and($p->json('testers'))
        ->toBe(['T1'])
        ->and($p->json('mapping.notes.0'))
        ->toContain('T1');
});

it('imports nothing of a file that cannot be read, and says what is wrong', function (): void {
    [$c] = tray($this->bench, 1);
    upload($this, "hello\nworld\n", ['cell_id' => $c['id']])
        ->assertStatus(422)
        ->assertJsonPath('code', 'log');
    upload($this, logFile(), [])->assertStatus(422)->assertJsonPath('code', 'of-what');
    expect(TestLog::query()->count())
        ->toBe(0)
        ->and(DB::table('series_chunks')->count())
        ->toBe(0);
});

it('exports the drawer and takes its own columns back, all rows or none', function (): void {
    tray($this->bench, 3);
    $csv = $this->get('/api/cells.csv')->assertOk()->getContent();
    $other = new Workbench($this);
    $other->as('senior');
    $other->post('cells/import', ['csv' => $csv])->assertCreated();
    expect(count($this->getJson('/api/cells')->json('cells')))->toBe(3);
    $other
        ->post('cells/import', ['csv' => str_replace('32.', 'abc', $csv)])
        ->assertStatus(422)
        ->assertJsonPath('code', 'rows');
    $other
        ->post('cells/import', ['csv' => "code,lot\nx,y"])
        ->assertStatus(422)
        ->assertJsonPath('code', 'columns');
    expect(count($this->getJson('/api/cells')->json('cells')))->toBe(3);
});

it('deals the accepted cells, judges a hand\'s exchange by the same figures, and puts them into the job and out again', function (): void {
    $cells = tray($this->bench, 14);
    $this->bench->post('cells/grade', ['ids' => array_column($cells, 'id'), 'rated_ah' => 3.0]);
    $job = $this->bench->open();
    $r = $this->postJson("/api/jobs/{$job->id}/deal", [])->assertOk();
    expect(Contract::complaints($r, 'post', '/api/jobs/{job}/deal'))
        ->toBe([])
        ->and($r->json('groups'))
        ->toHaveCount(4)
        ->and($r->json('spares'))
        ->toHaveCount(2);
    $groups = array_column($r->json('groups'), 'cells');
    [$groups[0][0], $groups[1][0]] = [$groups[1][0], $groups[0][0]];
    $hand = $this->postJson("/api/jobs/{$job->id}/deal", ['groups' => $groups])->assertOk();
    expect($hand->json('way'))
        ->toBe('by hand')
        ->and($hand->json('smallest_ah'))
        ->toBeLessThanOrEqual($r->json('smallest_ah') + 1e-3);
    $this->bench->post("jobs/{$job->id}/cells", ['groups' => $groups])->assertOk();
    expect(Cell::query()->where('job_id', $job->id)->where('state', 'used')->count())->toBe(12);
    $this->bench
        ->post("jobs/{$job->id}/cells", ['groups' => [['NOPE']]])
        ->assertStatus(422)
        ->assertJsonPath('code', 'not-accepted');
    expect(Cell::query()->where('job_id', $job->id)->count())->toBe(12);
    $used = Cell::query()->where('job_id', $job->id)->first();
    $sub = $this->getJson("/api/cells/{$used->id}/substitutes")->assertOk();
    expect($sub->json('substitutes'))->toHaveCount(2);
});

it('refuses a deal with the nearest way out', function (): void {
    tray($this->bench, 3);
    $job = $this->bench->open();
    $this->postJson("/api/jobs/{$job->id}/deal", [])
        ->assertStatus(409)
        ->assertJsonPath('code', 'cannot-match');
});

it('keeps what was entered for budget and layout, and refuses what cannot be, with the field', function (): void {
    $job = $this->bench->open();
    $this->bench->read($job, [3.7, 3.71, 3.69, 3.7]);
    $b = $this->getJson("/api/jobs/{$job->id}/build")->assertOk();
    expect(Contract::complaints($b, 'get', '/api/jobs/{job}/build'))
        ->toBe([])
        ->and($b->json('layout.sense_leads.4.expected_v'))
        ->toEqualWithDelta(14.8, 0.01);
    $k = $this->bench->post("jobs/{$job->id}/sheets/budget", ['data' => ['wire' => ['awg' => 16], 'switch_a' => 20]])->assertOk();
    expect($k->json('inputs.budget.wire.awg'))
        ->toBe(16)
        ->and(array_column($k->json('budget.chain'), 'continuous_a', 'element')['wire'])
        ->toEqualWithDelta(12.6, 1e-9);
    $this->bench->post("jobs/{$job->id}/sheets/budget", ['data' => ['wire' => ['awg' => 99]]])->assertStatus(422);
    $this->bench
        ->post("jobs/{$job->id}/sheets/layout", ['data' => ['max_width_mm' => 20, 'max_height_mm' => 60]])
        ->assertStatus(422)
        ->assertJsonPath('code', 'cannot');
    expect($this->getJson("/api/jobs/{$job->id}/build")->json('inputs.budget.wire.awg'))->toBe(16);
    expect(
        $this->get("/api/jobs/{$job->id}/build.pdf")
            ->assertOk()
            ->getContent(),
    )->toStartWith('%PDF-');
    $s = $this->postJson("/api/jobs/{$job->id}/board-swap", ['board' => ['series' => 4]])->assertOk();
    expect(Contract::complaints($s, 'post', '/api/jobs/{job}/board-swap'))
        ->toBe([])
        ->and(array_column($s->json('points'), 'state', 'point')['series'])
        ->toBe('right');
});

it('counts the links that the build sheet lays, where nobody said how many there are', function (): void {
    $job = $this->bench->open();
    $links = fn(): array => collect($this->getJson("/api/jobs/{$job->id}/build")->json('budget.chain'))->firstWhere('element', 'links');
    $strip = ['material' => 'nickel', 'width_mm' => 8, 'thickness_mm' => 0.15];
    $this->bench->post("jobs/{$job->id}/sheets/budget", ['data' => ['strip' => $strip]])->assertOk();
    $three = $links()['continuous_a'];
    // One row of cells: a single link leads from each group to the next.
    $row = ['kind' => 'cylindrical', 'packing' => 'square', 'max_height_mm' => 24];
    $this->bench->post("jobs/{$job->id}/sheets/layout", ['data' => $row])->assertOk();
    $one = $links();
    expect($one['continuous_a'])
        ->toEqualWithDelta($three / 3, 0.02)
        ->and($one['note'])
        ->toStartWith('1 of 8 x 0.15 mm');
    // What a person says of it stands, and a layout that does not fit changes nothing.
    $this->bench->post("jobs/{$job->id}/sheets/budget", ['data' => ['strip' => $strip + ['per_group' => 2]]])->assertOk();
    expect($links()['continuous_a'])->toEqualWithDelta((2 * $three) / 3, 0.02);
});

it('stops a wrong plug and lets a right one go', function (): void {
    $job = $this->bench->open();
    $this->postJson("/api/jobs/{$job->id}/pin-check", ['pins_v' => [0, 3.7, 7.4, 11.1, 14.8]])
        ->assertStatus(409)
        ->assertJsonPath('code', 'unread');
    $this->bench->read($job, [3.7, 3.7, 3.7, 3.7]);
    $r = $this->postJson("/api/jobs/{$job->id}/pin-check", ['pins_v' => [0, 7.4, 3.7, 11.1, 14.8]])->assertOk();
    expect(Contract::complaints($r, 'post', '/api/jobs/{job}/pin-check'))
        ->toBe([])
        ->and($r->json('go'))
        ->toBeFalse()
        ->and($this->postJson("/api/jobs/{$job->id}/pin-check", ['pins_v' => [0, 3.7, 7.4, 11.1, 14.8]])->json('go'))
        ->toBeTrue();
});

it('hides cells and logs of another workshop', function (): void {
    [$c] = tray($this->bench, 1);
    (new Workbench($this))->as('owner');
    $this->getJson("/api/cells/{$c['id']}")->assertNotFound();
    expect($this->getJson('/api/cells')->json('cells'))->toBe([]);
});

it('refills only some groups and leaves the cells of the others where they are', function (): void {
    $cells = tray($this->bench, 16);
    $this->bench->post('cells/grade', ['ids' => array_column($cells, 'id'), 'rated_ah' => 3.0]);
    // Nobody knows what the pack's own cells hold, and none of them came out of the drawer.
    $job = $this->bench->open(pack: ['cell' => ['model' => 'unknown']]);
    $this->postJson("/api/jobs/{$job->id}/deal", ['refill' => [2]])->assertStatus(409);
    $first = array_column($this->postJson("/api/jobs/{$job->id}/deal", [])->json('groups'), 'cells');
    $this->bench->post("jobs/{$job->id}/cells", ['groups' => $first])->assertOk();
    $again = $this->postJson("/api/jobs/{$job->id}/deal", ['refill' => [2]])->assertOk();
    $now = array_column($again->json('groups'), 'cells');
    expect($again->json('way'))
        ->toBe('refilled')
        ->and(array_diff($now[0], $first[0]))
        ->toBe([])
        ->and(array_intersect($now[1], array_merge(...$first)))
        ->toBe([]);
    $this->bench->post("jobs/{$job->id}/cells", ['groups' => $now])->assertOk();
    expect(Cell::query()->where('job_id', $job->id)->count())
        ->toBe(12)
        ->and(Cell::query()->whereIn('code', $first[1])->where('state', 'spare')->count())
        ->toBe(3);
});

it('deals all groups anew out of what is in the build and in the drawer, and shows what is in it now', function (): void {
    $cells = tray($this->bench, 12);
    $this->bench->post('cells/grade', ['ids' => array_column($cells, 'id'), 'rated_ah' => 3.0]);
    $job = $this->bench->open();
    $first = $this->postJson("/api/jobs/{$job->id}/deal", [])->assertOk();
    expect($first->json('kept'))->toBe([[], [], [], []]);
    $groups = array_column($first->json('groups'), 'cells');
    $this->bench->post("jobs/{$job->id}/cells", ['groups' => $groups])->assertOk();
    $again = $this->postJson("/api/jobs/{$job->id}/deal", [])->assertOk();
    expect(Contract::complaints($again, 'post', '/api/jobs/{job}/deal'))
        ->toBe([])
        ->and($again->json('groups'))
        ->toHaveCount(4)
        ->and(array_map(fn(array $g): array => collect($g)->sort()->values()->all(), $again->json('kept')))
        ->toBe(array_map(fn(array $g): array => collect($g)->sort()->values()->all(), $groups));
    // A hand may exchange cells that are in the build already.
    [$groups[0][0], $groups[1][0]] = [$groups[1][0], $groups[0][0]];
    $this->postJson("/api/jobs/{$job->id}/deal", ['groups' => $groups])->assertOk();
});

it('takes nothing that was found bad in the build into a deal of it, and refills its place', function (): void {
    $cells = tray($this->bench, 17);
    $this->bench->post('cells/grade', ['ids' => array_column($cells, 'id'), 'rated_ah' => 3.0]);
    $job = $this->bench->open();
    $groups = array_column($this->postJson("/api/jobs/{$job->id}/deal", [])->json('groups'), 'cells');
    $this->bench->post("jobs/{$job->id}/cells", ['groups' => $groups])->assertOk();
    $bad = $groups[1][0];
    Cell::query()
        ->where('code', $bad)
        ->update(['state' => 'rejected', 'reason' => 'leaks']);
    expect(
        array_merge(
            ...array_column(
                $this->postJson("/api/jobs/{$job->id}/deal", [])
                    ->assertOk()
                    ->json('groups'),
                'cells',
            ),
        ),
    )
        ->not->toContain($bad)
        ->and(
            $this->bench
                ->post("jobs/{$job->id}/cells", ['groups' => $groups])
                ->assertStatus(422)
                ->json('message'),
        )
        ->toContain("$bad is rejected");
    // The others of its group stay; one more comes.
    $again = array_column(
        $this->postJson("/api/jobs/{$job->id}/deal", ['refill' => [4]])
            ->assertOk()
            ->json('groups'),
        'cells',
    );
    expect(array_diff($groups[1], $again[1]))->toHaveCount(1)->and($again[1])->not->toContain($bad)->toHaveCount(3);
});

it('lets no hand build what the rules forbid, whatever the screen sent, and writes nothing of it', function (): void {
    $cells = tray($this->bench, 12);
    $this->bench->post('cells/grade', ['ids' => array_column($cells, 'id'), 'rated_ah' => 3.0]);
    $job = $this->bench->open();
    $codes = array_column($cells, 'code');
    $groups = array_chunk($codes, 3);
    $build = fn(array $groups, array $more = []) => $this->bench->post("jobs/{$job->id}/cells", ['groups' => $groups] + $more);
    $build([[$codes[0], $codes[1], $codes[0]]])
        ->assertStatus(422)
        ->assertJsonPath('code', 'cannot-match');
    $build([array_slice($codes, 0, 4)])->assertStatus(422);
    Cell::query()
        ->where('code', $codes[0])
        ->update(['mohm' => 80.0]);
    $refused = $build($groups)->assertStatus(422);
    expect($refused->json('fields.groups'))
        ->toContain('allow a wider ratio')
        ->and(Cell::query()->where('job_id', $job->id)->count())
        ->toBe(0);
    $build($groups, ['ratio' => 4.0])->assertOk();
    expect(Event::query()->where('job_id', $job->id)->where('kind', 'cells-dealt')->latest('id')->first()?->data)->toMatchArray([
        'ratio_allowed' => 4.0,
    ]);
});

it('tells what the tested cells of a lot say of all of it', function (): void {
    tray($this->bench, 5);
    $this->bench->post('cells', [
        'lot' => ['name' => 'ONE'],
        'model' => 'M',
        'chemistry' => 'nmc',
        'rated_ah' => 3,
        'cells' => [['capacity_ah' => 2.9], [], []],
    ]);
    $r = $this->getJson('/api/lots')->assertOk();
    $by = array_column($r->json('lots'), null, 'name');
    expect(Contract::complaints($r, 'get', '/api/lots'))
        ->toBe([])
        ->and($by['ONE']['tested'])
        ->toBe(1)
        ->and($by['ONE']['low_ah'])
        ->toBeNull()
        ->and($by['ONE']['text'])
        ->toContain('15 %');
    // What nobody tested is in no sample.
    Cell::query()
        ->where('lot_id', Cell::query()->where('capacity_ah', 2.9)->whereNull('mohm')->value('lot_id'))
        ->update(['state' => 'untested']);
    expect(array_column($this->getJson('/api/lots')->json('lots'), 'tested', 'name')['ONE'])->toBe(0);
});

it('uses nothing of a delivery until its sample was tested and somebody took it', function (): void {
    $cells = tray($this->bench, 12, ['lot' => ['name' => 'NEW1', 'supplier' => 'Quarry Cells', 'inspect' => true]]);
    $this->bench->post('cells/grade', ['ids' => array_column($cells, 'id'), 'rated_ah' => 3.0]);
    $job = $this->bench->open();
    $this->postJson("/api/jobs/{$job->id}/deal", [])->assertStatus(409);
    $this->bench
        ->post("jobs/{$job->id}/cells", ['groups' => array_chunk(array_column($cells, 'code'), 3)])
        ->assertStatus(422)
        ->assertJsonPath('code', 'lot-not-taken');
    $r = $this->getJson('/api/lots')->assertOk();
    $lot = $r->json('lots.0');
    expect(Contract::complaints($r, 'get', '/api/lots'))
        ->toBe([])
        ->and([$lot['state'], $lot['inspection']['outcome']])
        ->toBe(['incoming', 'take'])
        ->and($r->json('suppliers.0'))
        ->toMatchArray(['name' => 'Quarry Cells', 'lots' => 1, 'tested' => 12, 'refused' => 0]);
    $decide = fn(array $said, ?string $version = null) => $this->patchJson("/api/lots/{$lot['id']}", $said, [
        'Idempotency-Key' => (string) Str::uuid(),
        'If-Match' => $version ?? $lot['version'],
    ]);
    // Against its sample only with a reason, never on an old state.
    $decide(['state' => 'refused'])
        ->assertStatus(422)
        ->assertJsonPath('code', 'no-reason');
    $decide(['state' => 'taken'], '"9"')->assertStatus(412);
    $taken = $decide(['state' => 'taken'])->assertOk();
    expect(Contract::complaints($taken, 'patch', '/api/lots/{lot}'))
        ->toBe([])
        ->and(Event::query()->where('kind', 'lot-decided')->latest('id')->first()?->data)
        ->toMatchArray(['lot' => 'NEW1', 'state' => 'taken', 'outcome' => 'take']);
    $this->postJson("/api/jobs/{$job->id}/deal", [])->assertOk();
    // Sent back after all, said why: its cells go nowhere.
    $decide(['state' => 'refused', 'reason' => 'recalled by the supplier'], $taken->json('lots.0.version'))->assertOk();
    $this->postJson("/api/jobs/{$job->id}/deal", [])->assertStatus(409);
    (new Workbench($this))->as('owner');
    $this->patchJson("/api/lots/{$lot['id']}", ['state' => 'taken'], ['Idempotency-Key' => (string) Str::uuid()])->assertNotFound();
});

it('knows a model from its first tray on, and takes no tray that says another chemistry of it', function (): void {
    tray($this->bench, 1, ['model' => 'FIRST-9']);
    $model = CellModel::query()->where('name', 'FIRST-9')->firstOrFail();
    expect([$model->chemistry, $model->spec['capacity_ah'], $model->price_cents])->toBe(['nmc', 3, 0]);
    $this->bench
        ->post('cells', [
            'lot' => ['name' => 'X'],
            'model' => 'FIRST-9',
            'chemistry' => 'lfp',
            'rated_ah' => 3.0,
            'cells' => [[]],
        ])
        ->assertStatus(422)
        ->assertJsonPath('code', 'other-chemistry');
    expect(Cell::query()->where('model', 'FIRST-9')->count())->toBe(1);
    // What its maker says goes with its cells: full volts hold apart what chemistry does not.
    $model->update(['spec' => ['full_v' => 4.35, 'max_continuous_a' => 8.0] + $model->spec]);
    $known = Cell::query()->where('model', 'FIRST-9')->with('lot')->firstOrFail();
    expect($known->forRules('X', CellModel::specs($known->workshop_id)['FIRST-9'])?->fullV)->toBe(4.35);
});

it('takes a sheet with any separator, and never moves a value over', function (): void {
    $sheet = "lot;model;chemistry;rated_ah;code;capacity_ah\nS1;M;nmc;3,0;S-1;2,81\nS1;M;nmc;3,0;\"S;2\";2,79\n";
    $this->bench->post('cells/import', ['csv' => $sheet])->assertCreated();
    expect(Cell::query()->where('code', 'S-1')->value('capacity_ah'))
        ->toBe(2.81)
        ->and(Cell::query()->where('code', 'S;2')->exists())
        ->toBeTrue();
    $this->bench
        ->post('cells/import', ['csv' => "lot,model,chemistry,rated_ah,code,capacity_ah\nS2,M,nmc,3.0,S-3,2,81\n"])
        ->assertStatus(422)
        ->assertJsonPath('fields', ['row 2' => '7 values for 6 columns: put a value that holds a separator in quotes']);
    expect(Cell::query()->where('code', 'S-3')->exists())->toBeFalse();
});

it('answers whether two may lie side by side', function (): void {
    $job = $this->bench->open();
    $side = fn(float $v): array => ['v' => $v, 'mohm' => 30, 'ah' => 3, 'max_charge_a' => 1.5];
    $r = $this->postJson("/api/jobs/{$job->id}/join-check", ['a' => $side(3.7), 'b' => $side(3.71)])->assertOk();
    expect(Contract::complaints($r, 'post', '/api/jobs/{job}/join-check'))
        ->toBe([])
        ->and($r->json('way'))
        ->toBe('direct')
        ->and($this->postJson("/api/jobs/{$job->id}/join-check", ['a' => $side(3.4), 'b' => $side(4.1)])->json('way'))
        ->not->toBe('direct');
    $this->postJson("/api/jobs/{$job->id}/join-check", ['a' => $side(3.7), 'b' => []])->assertStatus(422);
});

it('records a joint at a torque that its tool can keep, and tells the verdict that it was tightened', function (): void {
    $job = $this->bench->open();
    $r = $this->bench
        ->post("jobs/{$job->id}/joints", ['tap' => 2, 'min_nm' => 4, 'max_nm' => 6, 'tolerance' => 0.05, 'contact' => 'nickel on copper'])
        ->assertCreated();
    expect(Contract::complaints($r, 'post', '/api/jobs/{job}/joints'))
        ->toBe([])
        ->and($r->json('joints.0.set_nm'))
        ->toBeGreaterThan(4.2)
        ->and($r->json('joints.0.set_nm'))
        ->toBeLessThan(5.8)
        ->and($this->getJson("/api/jobs/{$job->id}/record")->json('events.0'))
        ->toMatchArray(['kind' => 'retightened', 'where' => ['joint' => 2]]);
    $this->bench
        ->post("jobs/{$job->id}/joints", ['tap' => 2, 'min_nm' => 4, 'max_nm' => 6, 'tolerance' => 0.05, 'set_nm' => 6.5])
        ->assertStatus(422)
        ->assertJsonPath('code', 'torque');
    $this->bench->post("jobs/{$job->id}/joints", ['tap' => 9, 'min_nm' => 4, 'max_nm' => 6, 'tolerance' => 0.05])->assertStatus(422);
    $this->bench
        ->post("jobs/{$job->id}/joints", ['tap' => 2, 'min_nm' => 6, 'max_nm' => 4, 'tolerance' => 0.05])
        ->assertStatus(422)
        ->assertJsonPath('code', 'torque');
});

it('puts a hold test to the cell when it can be told, and says so when it cannot', function (): void {
    [$c] = tray($this->bench, 1);
    $r = $this->bench->post("cells/{$c['id']}/hold", ['before_v' => 3.7, 'after_v' => 3.64, 'days' => 14])->assertOk();
    expect(Contract::complaints($r, 'post', '/api/cells/{cell}/hold'))
        ->toBe([])
        ->and($r->json('outcome'))
        ->toBe('leaks')
        ->and(Cell::query()->find($c['id'])->leak_percent_month)
        ->toBeGreaterThan(20.0);
    $this->bench
        ->post("cells/{$c['id']}/hold", ['before_v' => 3.7, 'after_v' => 3.69, 'days' => 0.2, 'resolution_v' => 0.01])
        ->assertOk()
        ->assertJsonPath('outcome', 'cannot-tell-yet');
    $this->bench->post("cells/{$c['id']}/hold", ['before_v' => 3.7, 'after_v' => 3.69, 'days' => 0])->assertStatus(422);
});

it('holds the gauge against the cells that were built in', function (): void {
    $cells = tray($this->bench, 12);
    $this->bench->post('cells/grade', ['ids' => array_column($cells, 'id'), 'rated_ah' => 3.0]);
    $job = $this->bench->open();
    $this->bench
        ->post("jobs/{$job->id}/cells", [
            'groups' => array_column($this->postJson("/api/jobs/{$job->id}/deal", [])->json('groups'), 'cells'),
        ])
        ->assertOk();
    expect($this->getJson("/api/jobs/{$job->id}/build")->json('gauge'))->toBeNull();
    $this->bench
        ->send([$this->bench->entry($job, 'test', ['kind' => 'gauge', 'full_charge_wh' => 80.0, 'design_wh' => 130.0])])
        ->assertOk();
    $g = $this->getJson("/api/jobs/{$job->id}/build")->assertOk();
    expect(Contract::complaints($g, 'get', '/api/jobs/{job}/build'))
        ->toBe([])
        ->and($g->json('gauge.stale'))
        ->toBeTrue()
        ->and($g->json('gauge.relearn'))
        ->toHaveCount(6);
});

it('asks of a log without its charge whether it was full, and keeps who says so', function (): void {
    [$cell] = tray($this->bench, 1);
    $discharge =
        "Test Time / s,Voltage / V,Current / A\n" .
        implode("\n", array_filter(explode("\n", logFile(2.7)), fn(string $l): bool => str_contains($l, ',-0.6')));
    $log = upload($this, $discharge, ['cell_id' => $cell['id'], 'ambient_c' => 22])
        ->assertCreated()
        ->json('log');
    expect($log['capacity']['counts'])->toBeFalse()->and($log['capacity']['asks_full'])->toBeTrue();
    $before = $this->getJson("/api/cells/{$cell['id']}")->json('cell.capacity_ah');
    $said = $this->bench->post("logs/{$log['id']}/full")->assertOk();
    expect(Contract::complaints($said, 'post', '/api/logs/{log}/full'))
        ->toBe([])
        ->and($said->json('capacity.counts'))
        ->toBeTrue()
        ->and($said->json('capacity.said_full.by'))
        ->toBe($this->bench->people['technician']->name)
        ->and($before)
        ->toEqualWithDelta(2.9, 0.05);
    $after = $this->getJson("/api/cells/{$cell['id']}");
    expect($after->json('cell.capacity_ah'))
        ->toEqualWithDelta($said->json('capacity.ah'), 0.001)
        ->and(array_column($after->json('history'), 'kind'))
        ->toContain('said-full');
    // Said once; and of a log with its charge nobody asks.
    $this->bench
        ->post("logs/{$log['id']}/full")
        ->assertStatus(409)
        ->assertJsonPath('code', 'not-asked');
    $whole = upload($this, logFile(2.8), ['cell_id' => $cell['id'], 'ambient_c' => 22])->json('log.id');
    $this->bench->post("logs/$whole/full")->assertStatus(409);
});

it('says of a pack what cells it has once they are dealt into it, in the words of the record alone', function (): void {
    $cells = tray($this->bench, 8);
    $model = CellModel::query()->where('name', $cells[0]['model'])->where('workshop_id', $this->bench->workshop->id)->firstOrFail();
    $model->update(['spec' => $model->spec + ['full_v' => 4.2, 'max_charge_a' => 1.5]]);
    $job = $this->bench->open(pack: ['cell' => [], 'series' => 2, 'parallel' => 2]);
    $job->update(['pack' => array_diff_key($job->pack, ['cell' => 1])]);
    $this->bench->post('cells/grade', ['ids' => array_column($cells, 'id'), 'rated_ah' => 3.0])->assertOk();
    $groups = array_column($this->postJson("/api/jobs/{$job->id}/deal", [])->json('groups'), 'cells');
    $this->bench->post("jobs/{$job->id}/cells", ['groups' => $groups])->assertOk();
    expect($job->refresh()->pack['cell'])
        ->toMatchArray(['model' => $cells[0]['model'], 'max_charge_a' => 1.5])
        ->not->toHaveKey('full_v')
        ->and(
            $this->getJson("/api/jobs/{$job->id}")
                ->assertOk()
                ->json('pack.cell.capacity_ah'),
        )
        ->toEqual($model->spec['capacity_ah']);
    // Of two models the weaker counts, figure by figure, and only what both say.
    $weaker = CellModel::query()->create([
        'workshop_id' => $job->workshop_id,
        'name' => 'Weaker',
        'chemistry' => $model->chemistry,
        'spec' => ['model' => 'Weaker', 'capacity_ah' => 2.0, 'resistance_mohm' => 50],
        'price_cents' => 1,
    ]);
    Cell::query()
        ->where('code', $groups[0][0])
        ->update(['model' => $weaker->name]);
    $job->update(['pack' => array_diff_key($job->pack, ['cell' => 1])]);
    $this->bench->post("jobs/{$job->id}/cells", ['groups' => $groups])->assertOk();
    expect($job->refresh()->pack['cell']['capacity_ah'])
        ->toEqual(2.0)
        ->and($job->pack['cell']['model'])
        ->toContain('Weaker')
        ->and($job->pack['cell'])
        ->not->toHaveKey('max_charge_a');
    // What a person said of the cells stays as it was said.
    $job->update(['pack' => ['cell' => ['model' => 'As told', 'capacity_ah' => 2.2]] + $job->pack]);
    $this->bench->post("jobs/{$job->id}/cells", ['groups' => $groups])->assertOk();
    expect($job->refresh()->pack['cell']['model'])->toBe('As told');
});

it('deals a new pack from the model that it is said to have, and knows it by what was dealt', function (): void {
    $mine = tray($this->bench, 5, ['lot' => ['name' => 'Mine'], 'model' => 'QD-31']);
    $better = tray($this->bench, 5, [
        'lot' => ['name' => 'Better'],
        'model' => 'QZ-40',
        'cells' => array_map(fn(int $i): array => ['capacity_ah' => 2.95 + 0.01 * $i, 'mohm' => 21], range(1, 5)),
    ]);
    $this->bench->post('cells/grade', ['ids' => array_column([...$mine, ...$better], 'id'), 'rated_ah' => 3.0])->assertOk();
    $job = $this->bench->open(
        pack: ['build' => 'new', 'cell' => ['model' => 'QD-31', 'capacity_ah' => 3.0], 'series' => 2, 'parallel' => 2],
    );
    $deal = fn(array $body): TestResponse => $this->postJson("/api/jobs/{$job->id}/deal", $body);
    $codes = fn(TestResponse $r): array => array_merge(...array_column($r->json('groups'), 'cells'));
    $lots = fn(TestResponse $r): array => array_values(array_unique(array_map(fn(string $c): string => explode('-', $c)[0], $codes($r))));
    // Nobody chose: of the model that was named, though better ones are in the drawer.
    $said = $deal([])
        ->assertOk()
        ->assertJsonPath('model', 'QD-31')
        ->assertJsonPath('models', [['model' => 'QD-31', 'cells' => 5], ['model' => 'QZ-40', 'cells' => 5]])
        ->assertJsonPath('accepted', 5);
    expect($lots($said))->toBe(['Mine']);
    expect($lots($deal(['model' => 'QZ-40'])->assertJsonPath('accepted', 5)))->toBe(['Better']);
    $any = $deal(['model' => ''])
        ->assertJsonPath('model', '')
        ->assertJsonPath('accepted', 10);
    expect($any->json('smallest_ah'))->toBeGreaterThan($said->json('smallest_ah'));
    // One that is asked for by name and is not enough says so, and does not quietly take others.
    $deal(['model' => 'No such'])->assertStatus(409);
    // A deal by hand may hold cells of another model; what is left over is of the one that was asked for.
    $hand = $deal(['model' => 'QZ-40', 'groups' => array_column($said->json('groups'), 'cells')])->assertOk();
    expect($codes($hand))->toBe($codes($said))->and(count($hand->json('spares')))->toBe(5);
    // Too few of the named model: of another that there is enough of, and of any where no model suffices.
    Cell::query()
        ->where('code', 'Mine-001')
        ->orWhere('code', 'Mine-002')
        ->update(['state' => 'rejected']);
    $deal([])->assertOk()->assertJsonPath('model', 'QZ-40');
    $deal(['refill' => [1]])
        ->assertStatus(200)
        ->assertJsonPath('model', 'QD-31');
    // What went in is what it has, with the resistance that was measured where the maker's is not known.
    $this->bench
        ->post("jobs/{$job->id}/cells", ['groups' => array_column($deal(['model' => 'QZ-40'])->json('groups'), 'cells')])
        ->assertOk();
    expect($job->refresh()->pack['cell'])->toMatchArray(['model' => 'QZ-40', 'resistance_mohm' => 21.0]);
    expect($this->getJson("/api/jobs/{$job->id}/build")->json('budget.assumed'))->toBe([]);
});

it('counts a cell as tested once a capacity is typed for it, whatever the form said of its state', function (): void {
    [$cell] = $this->bench
        ->post('cells', [
            'lot' => ['name' => 'Torn'],
            'model' => 'M',
            'chemistry' => 'nmc',
            'rated_ah' => 4.0,
            'cells' => array_fill(0, 36, ['code' => null]),
        ])
        ->assertCreated()
        ->json('cells');
    $lot = fn(): array => array_values(
        array_filter($this->getJson('/api/lots')->json('lots'), fn(array $l): bool => $l['name'] === 'Torn'),
    )[0];
    expect($lot()['tested'])->toBe(0);
    $this->patchJson(
        "/api/cells/{$cell['id']}",
        ['state' => 'untested', 'capacity_ah' => 3.38, 'mohm' => 41, 'reason' => 'By hand'],
        [
            'Idempotency-Key' => (string) Str::uuid(),
            'If-Match' => $cell['version'],
        ],
    )->assertOk();
    Cell::query()
        ->whereKey($cell['id'])
        ->update(['mohm' => null]);
    $graded = $this->bench->post('cells/grade', [
        'ids' => Cell::query()->where('lot_id', $lot()['id'])->pluck('id')->all(),
        'rated_ah' => 4.0,
    ]);
    expect($graded->json())
        ->toMatchArray(['untested' => 36, 'no_resistance' => 1])
        ->and($this->getJson("/api/cells/{$cell['id']}")->json('cell.state'))
        ->toBe('testing')
        ->and($lot())
        ->toMatchArray(['tested' => 1, 'cells' => 36])
        ->and($lot()['next'])
        ->toMatchArray(['more' => 19])
        ->and($lot()['next']['codes'])
        ->toHaveCount(3)
        ->not->toContain($cell['code']);
});

it('knows a typed capacity from that of a log, and has a cell graded anew that a log measured', function (): void {
    [$cell, $other] = tray($this->bench, 2);
    $row = fn(array $c): array => $this->getJson("/api/cells/{$c['id']}")->json('cell');
    $sigma = fn(array $c): float => Cell::query()->findOrFail($c['id'])->forRules('')->capacitySigma;
    expect($row($cell)['capacity_from'])
        ->toBe('typed')
        ->and($sigma($cell))
        ->toEqualWithDelta(0.02 * $cell['capacity_ah'], 1e-6);
    $this->bench->post('cells/grade', ['ids' => [$cell['id'], $other['id']], 'rated_ah' => 3.0])->assertOk();
    expect($row($cell)['state'])->toBe('accepted');
    upload($this, logFile(2.7), ['cell_id' => $cell['id'], 'ambient_c' => 22])->assertCreated();
    expect($row($cell)['capacity_from'])
        ->toBe('log')
        ->and($row($cell)['state'])
        ->toBe('testing')
        ->and($sigma($cell))
        ->toBe(0.0)
        ->and($row($other)['state'])
        ->toBe('accepted');
    // Typed over it, it is a hand's again; found bad by a hand it stays out, whatever a log says.
    $change = fn(array $c, array $to) => $this->patchJson("/api/cells/{$c['id']}", $to, [
        'Idempotency-Key' => (string) Str::uuid(),
        'If-Match' => $row($c)['version'],
    ])->assertOk();
    $change($cell, ['capacity_ah' => 2.65, 'reason' => 'second tester']);
    expect($row($cell)['capacity_from'])->toBe('typed');
    $change($other, ['state' => 'rejected', 'reason' => 'dented']);
    upload($this, logFile(2.75), ['cell_id' => $other['id'], 'ambient_c' => 22])->assertCreated();
    expect($row($other)['state'])->toBe('rejected')->and($row($other)['capacity_from'])->toBe('log');
    // A word of the lot finds its cells.
    expect(array_column($this->getJson('/api/cells?q=' . urlencode($cell['lot']))->json('cells'), 'code'))->toContain($cell['code']);
});

it('stores no capacity that no cell of that rating can give', function (): void {
    [$cell] = tray($this->bench, 1);
    $thousandfold = (string) preg_replace_callback('/^(\\d+),/m', fn(array $m): string => 1000 * (int) $m[1] . ',', logFile(2.7));
    $log = upload($this, $thousandfold, ['cell_id' => $cell['id'], 'ambient_c' => 22])->json('log');
    expect($log['capacity']['believed'])
        ->toBeFalse()
        ->and($log['capacity']['counts'])
        ->toBeFalse()
        ->and($this->getJson("/api/cells/{$cell['id']}")->json('cell.capacity_ah'))
        ->toEqualWithDelta($cell['capacity_ah'], 1e-6);
});
