<?php

declare(strict_types=1);

// Takes in a batch of 5 packs and one of 200, brings two thirds of each along, and asks for their lanes by turns.

use App\Actions\OpenBatch;
use App\Models\Batch;
use App\Models\Person;
use App\Models\SignIn;
use App\Models\Workshop;
use App\Security\Sessions;
use Illuminate\Contracts\Http\Kernel as HttpKernel;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\DB;

require __DIR__ . '/boot.php';

config(['session.driver' => 'array', 'cache.default' => 'array']);

const RUNS = 200;
const WARM = 10;
const LIMIT = 1.3;
const SIZES = [5, 200];

$workshop = Workshop::query()->create(['name' => 'Bench', 'settings' => []]);
$person = Person::query()->create([
    'workshop_id' => $workshop->id,
    'name' => 'Bench',
    'email' => 'bench@bench.example',
    'password' => 'bench',
    'role' => 'owner',
]);
signedIn($person);
mt_srand(26);
$batches = [];
foreach (SIZES as $n) {
    $start = hrtime(true);
    $batches[$n] = app(OpenBatch::class)->handle($person, [
        'name' => "Batch of $n",
        'customer' => 'Quay rentals',
        'contact' => '',
        'pack' => ['kind' => 'scooter', 'chemistry' => 'nmc', 'series' => 12, 'parallel' => 2, 'cell' => ['capacity_ah' => 2.6]],
        'pack_model_id' => null,
        'model_name' => "Model of $n",
        'complaint' => '',
        'looked' => true,
        'supplies' => 3,
        'places' => 12,
        'hours_a_day' => 2.0,
        'paid_cents' => 1500,
        'sells_cents' => 9500,
        'rows' => array_map(
            fn(int $i): array => ['serial' => "B$n-$i", 'volts' => mt_rand(260, 370) / 10, 'signs' => [], 'note' => ''],
            range(1, $n),
        ),
    ]);
    printf("%-26s %8.1f ms a pack\n", "taken in, $n packs", (hrtime(true) - $start) / 1e6 / $n);
    // A third is read and decided, a third is finished, a third is as it came.
    foreach (DB::table('jobs')->where('batch_id', $batches[$n]->id)->pluck('id') as $i => $job) {
        $volts = array_map(fn(): float => 3.6 + mt_rand(-9, 9) / 1000, range(1, 12));
        $facts = [
            'groups_v' => $volts,
            'states' => array_fill(0, 12, 'group.ok'),
            'first' => 'Group 3 is low',
            'mohm' => 30 + mt_rand(0, 20) / 10,
            'capacity_ah' => 4.9 + mt_rand(0, 20) / 100,
            'decided' => ['action' => 'replace-group', 'title' => 'x', 'minutes' => 75, 'hours' => null, 'parts_cents' => 2400],
        ];
        DB::table('jobs')
            ->where('id', $job)
            ->update(
                match ($i % 3) {
                    0 => ['stage' => 'work', 'lot_facts' => json_encode($facts)],
                    1 => ['status' => 'returned', 'stage' => 'report', 'lot_facts' => json_encode($facts), 'closed_at' => now()],
                    default => ['stage' => 'probe'],
                },
            );
    }
}
$ask = function (Batch $b): string {
    $request = Request::create("/api/batches/{$b->id}", 'GET', server: ['HTTP_ACCEPT' => 'application/json']);
    auth()->setUser(Person::query()->firstOrFail());
    app('session')->put(Sessions::KEY, SignIn::query()->value('id'));
    $response = app(HttpKernel::class)->handle($request);
    if ($response->getStatusCode() !== 200) {
        throw new RuntimeException($response->getStatusCode() . ' ' . substr((string) $response->getContent(), 0, 300));
    }

    return (string) $response->getContent();
};
$times = $queries = $bytes = [];
for ($run = 0; $run < RUNS; $run++) {
    foreach ($run % 2 === 0 ? SIZES : array_reverse(SIZES) as $n) {
        DB::flushQueryLog();
        DB::enableQueryLog();
        $start = hrtime(true);
        $answer = $ask($batches[$n]);
        $ms = (hrtime(true) - $start) / 1e6;
        if ($run >= WARM) {
            $times[$n][] = $ms;
            $queries[$n] = count(DB::getQueryLog());
            $bytes[$n] = strlen($answer);
        }
    }
}
$median = function (array $v): float {
    sort($v);

    return $v[intdiv(count($v), 2)];
};
// After a change the lane is worked out anew: said, and not held against the limit.
foreach (SIZES as $n) {
    $anew = [];
    for ($run = 0; $run < WARM; $run++) {
        DB::table('batch_lanes')->delete();
        $start = hrtime(true);
        $ask($batches[$n]);
        $anew[] = (hrtime(true) - $start) / 1e6;
    }
    printf("%-26s %8.2f ms\n", "after a change, $n", $median($anew));
}
[$few, $many] = [$median($times[SIZES[0]]), $median($times[SIZES[1]])];
$ratio = $many / $few;
printf("%-26s %8.2f ms %4d questions %7d bytes\n", 'lane of ' . SIZES[0], $few, $queries[SIZES[0]], $bytes[SIZES[0]]);
printf("%-26s %8.2f ms %4d questions %7d bytes\n", 'lane of ' . SIZES[1], $many, $queries[SIZES[1]], $bytes[SIZES[1]]);
printf("%-26s %8.2f %s\n", 'ratio, limit ' . LIMIT, $ratio, $ratio <= LIMIT ? 'ok' : 'OVER');
exit($ratio <= LIMIT && $queries[SIZES[0]] === $queries[SIZES[1]] ? 0 : 1);
