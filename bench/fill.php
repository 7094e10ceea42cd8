<?php

declare(strict_types=1);

// Fills a database with N jobs of 200 readings each, a pack a job, four jobs a customer; the last ten are open. The first job is made
// through the actions, the rest by SQL.

use App\Actions\IssueVerdict;
use App\Actions\KeepPack;
use App\Actions\OpenJob;
use App\Actions\StoreFacts;
use App\Models\Pack;
use App\Models\Person;
use App\Models\Workshop;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

$app = require __DIR__ . '/boot.php';
$jobs = (int) $argv[1];

$workshop = Workshop::query()->create(['name' => 'Bench', 'settings' => ['rate_cents' => 6000]]);
$person = Person::query()->create([
    'workshop_id' => $workshop->id,
    'name' => 'Bench',
    'email' => 'bench@bench.example',
    'password' => 'bench',
    'role' => 'owner',
]);
$job = (new OpenJob())->handle($person, [
    'customer' => 'Bench',
    'name' => 'Job 1',
    'pack' => ['chemistry' => 'nmc', 'series' => 20, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]],
    'symptoms' => ['low-range'],
    'inspection' => [],
]);
$outbox = (string) Str::uuid7();
$seq = 0;
for ($m = 0; $m < 10; $m++) {
    $set = (string) Str::uuid7();
    $at = now()->addDays($m)->toIso8601ZuluString();
    $entries = [
        [
            'seq' => ++$seq,
            'id' => $set,
            'kind' => 'measurement',
            'job_id' => $job->id,
            'at' => $at,
            'data' => ['condition' => 'rest', 'rested_min' => 600],
        ],
    ];
    for ($k = 1; $k <= 20; $k++) {
        $entries[] = [
            'seq' => ++$seq,
            'id' => (string) Str::uuid7(),
            'kind' => 'reading',
            'job_id' => $job->id,
            'at' => $at,
            'data' => ['measurement_id' => $set, 'from' => 'T' . ($k - 1), 'to' => "T$k", 'typed' => number_format(3.8 + $k / 1000, 3)],
        ];
    }
    (new StoreFacts())->handle($person, $outbox, $entries);
}
(new IssueVerdict())->handle($person, $job);

$db = DB::connection('owner');
$first = $job->id;
$copies = $jobs - 1;
$columns = fn(string $table, array $but): string => implode(
    ', ',
    array_map(fn(string $c): string => "`$c`", array_values(array_diff($db->getSchemaBuilder()->getColumnListing($table), $but))),
);
$uuid = fn(string $tag, string $n): string => "CONCAT('01900000-0000-7$tag-8000-', LPAD(HEX($n), 12, '0'))";
$db->statement('SET SESSION foreign_key_checks = 0');
$rest = $columns('jobs', ['id', 'number']);
$db->statement(
    "INSERT INTO jobs (id, number, $rest) SELECT $first + s.seq, 1 + s.seq, $rest FROM jobs JOIN seq_1_to_$copies s WHERE id = $first",
);
foreach (['pack_revisions', 'verdicts', 'events'] as $table) {
    $rest = $columns($table, ['id', 'job_id']);
    $db->statement(
        "INSERT INTO $table (job_id, $rest) SELECT $first + s.seq, $rest FROM $table JOIN seq_1_to_$copies s WHERE job_id = $first",
    );
}
$db->statement(
    'CREATE TEMPORARY TABLE m0 SELECT ROW_NUMBER() OVER (ORDER BY id) AS n, measurements.* FROM measurements WHERE job_id = ' . $first,
);
$db->statement(
    'CREATE TEMPORARY TABLE r0 SELECT ROW_NUMBER() OVER (ORDER BY readings.id) AS n, m0.n AS m, readings.* FROM readings JOIN m0 ' .
        'ON m0.id = readings.measurement_id',
);
$rest = $columns('measurements', ['id', 'job_id']);
for ($from = 1; $from <= $copies; $from += 500) {
    $to = min($copies, $from + 499);
    $db->statement(
        "INSERT INTO measurements (id, job_id, $rest) SELECT {$uuid(
            'aaa',
            's.seq * 1000 + m0.n',
        )}, $first + s.seq, $rest FROM m0 JOIN seq_{$from}_to_$to s",
    );
    $other = $columns('readings', ['id', 'job_id', 'measurement_id', 'seq', 'outbox_id']);
    $db->statement(
        "INSERT INTO readings (id, job_id, measurement_id, outbox_id, seq, $other) SELECT {$uuid(
            'bbb',
            's.seq * 1000 + r0.n',
        )}, $first + s.seq, {$uuid(
            'aaa',
            's.seq * 1000 + r0.m',
        )}, '01900000-0000-7ccc-8000-000000000001', s.seq * 1000 + r0.n, $other FROM r0 JOIN seq_{$from}_to_$to s",
    );
}
// Each is somebody's, of a pack of its own, and has a name, a serial and a complaint by which it is looked for.
$w = $workshop->id;
$db->statement(
    "INSERT INTO customers (workshop_id, name, phone, created_at, updated_at) SELECT $w, CONCAT('Owner ', LPAD(seq, 5, '0')),
        CONCAT('+350 ', 20000000 + seq), NOW(6), NOW(6) FROM seq_1_to_" .
        (1 + intdiv($jobs, 4)),
);
$db->statement("UPDATE jobs SET name = CONCAT('Cart ', LPAD(number, 5, '0')), serial = CONCAT('GQ-', LPAD(number, 6, '0')),
    complaint = CONCAT('stops under load, ticket K', LPAD(number, 5, '0')), batch = '',
    customer_id = (SELECT id FROM customers WHERE workshop_id = $w AND name = CONCAT('Owner ', LPAD(1 + number DIV 4, 5, '0')) LIMIT 1)
    WHERE workshop_id = $w");
$db->statement("UPDATE jobs SET status = 'returned', stage = 'report', closed_at = created_at WHERE number <= $jobs - 10");
// A shop writes what a job is called once; here all of it was written twice, which the index of words would have to remember.
$db->statement('ALTER TABLE jobs FORCE');
$pack = Pack::query()->findOrFail($job->refresh()->pack_id);
$db->statement(
    "INSERT INTO packs (workshop_id, code, serial, customer_id, name, spec, state, created_at, updated_at)
    SELECT $w, UPPER(LPAD(CONV(j.number + 40000000, 10, 32), 8, 'A')), j.serial, j.customer_id, j.name, p.spec, '', NOW(6), NOW(6)
    FROM jobs j JOIN packs p ON p.id = {$pack->id} WHERE j.number > 1",
);
$db->statement(
    'UPDATE jobs j JOIN packs p ON p.workshop_id = j.workshop_id AND p.serial = j.serial SET j.pack_id = p.id WHERE j.number > 1',
);
$db->statement('UPDATE packs p JOIN jobs j ON j.pack_id = p.id SET p.serial = j.serial, p.name = j.name, p.customer_id = j.customer_id');
$db->statement(
    'INSERT INTO pack_owners (pack_id, customer_id, from_at) SELECT id, customer_id, created_at FROM packs WHERE id <> ' . $pack->id,
);
KeepPack::refresh($pack->refresh());
signedIn($person);
fwrite(STDERR, sprintf("%d jobs, %d readings\n", DB::table('jobs')->count(), DB::table('readings')->count()));
