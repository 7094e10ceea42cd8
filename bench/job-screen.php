<?php

declare(strict_types=1);

use App\Http\Views\JobView;
use App\Models\Job;
use App\Models\Person;
use Illuminate\Support\Facades\DB;

require __DIR__ . '/boot.php';

const RUNS = 60;
const LIMIT = 1.3;

/** One answer of the job screen, as the controller makes it: milliseconds and queries. */
function answer(string $database, int $number): array
{
    config(['database.connections.mariadb.database' => $database]);
    static $connected = null;
    if ($connected !== $database) {
        DB::purge('mariadb');
        DB::select('select 1');
        $connected = $database;
    }
    DB::flushQueryLog();
    DB::enableQueryLog();
    $start = hrtime(true);
    $person = Person::query()->firstOrFail();
    $job = Job::query()->where('workshop_id', $person->workshop_id)->where('number', $number)->firstOrFail();
    $json = json_encode(JobView::of($job, $person));
    $ms = (hrtime(true) - $start) / 1e6;

    return [$ms, count(DB::getQueryLog()), strlen((string) $json)];
}

$sizes = ['heartwood_bench_10_test' => 10, 'heartwood_bench_10000_test' => 10000];
$times = $queries = [];
mt_srand(7);
for ($run = 0; $run < RUNS; $run++) {
    foreach ($sizes as $database => $jobs) {
        [$ms, $n] = answer($database, mt_rand(1, $jobs));
        if ($run >= 5) {
            $times[$database][] = $ms;
            $queries[$database][] = $n;
        }
    }
}
$median = function (array $v): float {
    sort($v);

    return $v[intdiv(count($v), 2)];
};
foreach ($sizes as $database => $jobs) {
    config(['database.connections.mariadb.database' => $database]);
    DB::purge('mariadb');
    printf(
        "%6d jobs %9d readings   median %6.2f ms   %d queries\n",
        $jobs,
        DB::table('readings')->count(),
        $median($times[$database]),
        max($queries[$database]),
    );
}
[$small, $large] = array_keys($sizes);
$ratio = $median($times[$large]) / $median($times[$small]);
$same = max($queries[$small]) === max($queries[$large]);
printf("ratio %.2f (limit %.1f) %s; queries %s\n", $ratio, LIMIT, $ratio <= LIMIT ? 'ok' : 'OVER', $same ? 'the same: ok' : 'differ: OVER');
exit($ratio <= LIMIT && $same ? 0 : 1);
