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

it('finds nothing of another workshop', function (): void {
    $other = (new Workbench($this))->as('technician');
    $other->open()->update(['name' => 'Elsewhere kart']);
    expect(($this->found)('Elsewhere'))->toBe(['Elsewhere kart']);
    $this->bench->as('technician');
    expect(($this->found)('Elsewhere'))->toBe([])->and(($this->found)('kart'))->toBe([]);
});
