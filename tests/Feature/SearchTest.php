<?php

declare(strict_types=1);

use App\Models\Customer;
use App\Models\Job;
use Illuminate\Support\Facades\DB;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = (new Workbench($this))->as('technician');
    // Many jobs after the first, so that it is among the latest no more.
    $this->first = $this->bench->open();
    $this->first->update(['name' => 'Quay cart', 'serial' => 'GQ-70-4411', 'complaint' => 'stops at the ramp']);
    $columns = array_diff(DB::getSchemaBuilder()->getColumnListing('jobs'), ['id', 'number', 'name', 'serial', 'complaint', 'pack_id']);
    $rest = implode(', ', array_map(fn(string $c): string => "`$c`", $columns));
    DB::statement("INSERT INTO jobs (number, name, serial, complaint, $rest)
        SELECT {$this->first->number} + seq, CONCAT('Scooter ', seq), CONCAT('RS-', seq), 'runs short', $rest
        FROM jobs JOIN seq_1_to_90 WHERE id = {$this->first->id}");
    $this->found = fn(string $term, string $what = 'jobs', string $by = 'name'): array => array_column(
        $this->getJson('/api/search?q=' . urlencode($term))
            ->assertOk()
            ->json($what),
        $by,
    );
});

it('finds an old job by how its name and serial begin, by its number, and whole rows where nothing else is found', function (
    string $term,
): void {
    expect(($this->found)($term))->toBe(['Quay cart']);
})->with(['quay', 'GQ-70', 'Quay cart', '70-4411', 'at the ramp', 'ramp']);

it('takes a number with its sign for that job alone, and one without for all that bear it', function (): void {
    $n = $this->first->number;
    expect(($this->found)("#$n"))->toBe(['Quay cart']);
    Job::query()
        ->where('number', $n + 3)
        ->update(['batch' => "crate $n"]);
    expect(($this->found)("$n"))->toContain('Quay cart');
});

it('gives the latest first, and before them what begins as it is written', function (): void {
    expect(($this->found)('scooter'))
        ->toHaveCount(12)
        ->and(($this->found)('runs')[0])
        ->toBe('Scooter 90')
        ->and(($this->found)('scooter 9'))
        ->toContain('Scooter 9', 'Scooter 90')
        ->and(($this->found)('RS-7')[0])
        ->toBe('Scooter 7');
});

it('finds whose it is: by name, by one that was merged away, by a number however it is set apart', function (): void {
    $old = $this->first->customer;
    $old->update(['name' => 'Ilse Vandermoor', 'phone' => '+350 214 487 30']);
    $other = Customer::query()->create(['workshop_id' => $old->workshop_id, 'name' => 'Vandermoor and Co', 'merged_into' => $old->id]);
    Job::query()
        ->where('id', '!=', $this->first->id)
        ->update([
            'customer_id' => Customer::query()->create(['workshop_id' => $old->workshop_id, 'name' => 'Somebody'])->id,
        ]);
    foreach (['Ilse Vandermoor', 'ilse', 'moor', 'Vandermoor and', '21448730', '448 730', '+350 21'] as $term) {
        expect(($this->found)($term, 'customers'))
            ->toBe(['Ilse Vandermoor'])
            ->and(($this->found)($term))
            ->toContain('Quay cart');
    }
    expect(($this->found)('nobody at all', 'customers'))->toBe([])->and($other->exists)->toBeTrue();
});

it('takes six digits for a telephone number where jobs bear them too, and five for a job\'s', function (): void {
    $old = $this->first->customer;
    $old->update(['phone' => '+350 21 44 87 30']);
    // Among the latest no more, so that only its digits can tell.
    DB::statement("INSERT INTO customers (workshop_id, name, created_at, updated_at)
        SELECT {$old->workshop_id}, CONCAT('Later ', seq), NOW(6), NOW(6) FROM seq_1_to_90");
    Job::query()
        ->where('name', 'Scooter 5')
        ->update(['serial' => '448730']);
    Job::query()
        ->where('name', 'Scooter 6')
        ->update(['serial' => '44873']);
    expect(($this->found)('448730', 'customers'))
        ->toBe([$old->name])
        ->and(($this->found)('44873', 'customers'))
        ->toBe([])
        ->and(($this->found)('44873')[0])
        ->toBe('Scooter 6');
});

it('reads the sixty latest letter by letter beside what an index finds, and no more of them', function (): void {
    $this->first->update(['name' => 'kestrel cart']);
    $of = fn(int $back): string => 'Scooter ' . (91 - $back);
    foreach ([60, 61] as $back) {
        Job::query()
            ->where('name', $of($back))
            ->update(['complaint' => 'the xkestrelx hangs']);
    }
    expect(($this->found)('kestrel'))->toContain('kestrel cart', $of(60))->not->toContain($of(61));
});

it('finds nothing of another workshop', function (): void {
    $other = (new Workbench($this))->as('technician');
    $other->open()->update(['name' => 'Elsewhere kart']);
    expect(($this->found)('Elsewhere'))->toBe(['Elsewhere kart']);
    $this->bench->as('technician');
    expect(($this->found)('Elsewhere'))->toBe([])->and(($this->found)('kart'))->toBe([]);
});
