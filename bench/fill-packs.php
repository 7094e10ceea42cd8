<?php

declare(strict_types=1);

// Fills a database with N packs in service of 20 dated readings each, two packs an owner. The first is made through the actions, the rest
// by SQL.

use App\Actions\KeepPack;
use App\Actions\OpenJob;
use App\Models\Pack;
use App\Models\Person;
use App\Models\Workshop;
use Illuminate\Support\Facades\DB;

require __DIR__ . '/boot.php';

const READINGS = 20;
$packs = (int) $argv[1];

$workshop = Workshop::query()->create(['name' => 'Bench', 'settings' => []]);
$person = Person::query()->create([
    'workshop_id' => $workshop->id,
    'name' => 'Bench',
    'email' => 'bench@bench.example',
    'password' => 'bench',
    'role' => 'owner',
]);
$job = (new OpenJob())->handle($person, [
    'customer' => 'Owner 0',
    'name' => 'Pack 0000001',
    'serial' => 'SN-0000001',
    'pack' => ['chemistry' => 'nmc', 'series' => 10, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]],
    'symptoms' => [],
    'inspection' => [],
]);
$job->update(['status' => 'returned', 'closed_at' => now()->subDays(200)]);
$first = Pack::query()->findOrFail($job->pack_id);
$first->update(['work_ended_at' => now()->subDays(200)]);
DB::statement(
    "INSERT INTO customers (workshop_id, name, created_at, updated_at)
    SELECT {$workshop->id}, CONCAT('Owner ', seq), NOW(6), NOW(6) FROM seq_1_to_" . max(1, intdiv($packs, 2)),
);
$owner = "(SELECT c.id FROM customers c WHERE c.workshop_id = {$workshop->id} AND c.name = CONCAT('Owner ', 1 + (s.seq - 1) DIV 2))";
$columns = 'workshop_id, code, serial, customer_id, name, spec, work_ended_at, next_at, read_at, state, created_at, updated_at';
$next = 'NOW(6) + INTERVAL CAST(s.seq AS SIGNED) % 90 - 3 DAY';
DB::statement("INSERT INTO packs ($columns)
    SELECT p.workshop_id, UPPER(LPAD(CONV(s.seq + 40000000, 10, 32), 8, 'A')), CONCAT('SN-', LPAD(s.seq, 7, '0')), $owner,
        CONCAT('Pack ', LPAD(s.seq, 7, '0')), p.spec, p.work_ended_at, $next, $next,
        'holds', NOW(6), NOW(6)
    FROM seq_2_to_$packs s JOIN packs p ON p.id = {$first->id}");
DB::statement(
    'INSERT INTO pack_owners (pack_id, customer_id, from_at) SELECT id, customer_id, created_at FROM packs WHERE id <> ' . $first->id,
);
// Some thousand packs at a time, so that no statement grows with the data.
$last = (int) Pack::query()->max('id');
$at = 'p.work_ended_at + INTERVAL 2 + 9 * s.seq DAY';
for ($from = $first->id; $from <= $last; $from += 2000) {
    DB::statement(
        "INSERT INTO service_readings (id, workshop_id, pack_id, at, told_at, source, `condition`, soc, groups_v, resolution_v, answer)
        SELECT UUID(), p.workshop_id, p.id, $at, $at, 'owner',
            'rest', 0.6, CONCAT('[3.80', s.seq % 10, ',3.8,3.801,3.8,3.8,3.8,3.799,3.8,3.8,3.8]'), 0.001, '{\"answer\":\"fine\",\"why\":[]}'
        FROM packs p JOIN seq_1_to_" .
            READINGS .
            " s WHERE p.id BETWEEN $from AND " .
            ($from + 1999),
    );
}
KeepPack::refresh($first->refresh());
signedIn($person);
printf("%d packs, %d readings\n", Pack::query()->count(), DB::table('service_readings')->count());
