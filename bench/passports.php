<?php

declare(strict_types=1);

use App\Http\Views\OwnerView;
use App\Models\Pack;
use App\Models\Person;
use App\Models\SignIn;
use App\Security\Sessions;
use Illuminate\Contracts\Http\Kernel as HttpKernel;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\DB;

require __DIR__ . '/boot.php';

config(['session.driver' => 'array', 'cache.default' => 'array']);

const RUNS = 160;
const WARM = 5;
const LIMIT = 1.3;

$sizes = [(int) $argv[1], (int) $argv[2], (int) $argv[3]];
$at = function (int $size): void {
    static $connected = null;
    if ($connected !== $size) {
        config(['database.connections.mariadb.database' => "heartwood_bench_packs_{$size}_test"]);
        DB::purge('mariadb');
        DB::select('select 1');
        $connected = $size;
    }
};
$any = fn(int $size): Pack => Pack::query()->where('name', sprintf('Pack %07d', mt_rand(2, $size)))->firstOrFail();
/** The answer of an address, through everything that a page's question goes through. */
$ask = function (string $address): string {
    $request = Request::create("/api/$address", 'GET', server: ['HTTP_ACCEPT' => 'application/json']);
    auth()->setUser(Person::query()->firstOrFail());
    app('session')->put(Sessions::KEY, SignIn::query()->value('id'));
    $response = app(HttpKernel::class)->handle($request);
    if ($response->getStatusCode() !== 200) {
        throw new RuntimeException("$address: {$response->getStatusCode()} " . substr((string) $response->getContent(), 0, 300));
    }

    return (string) $response->getContent();
};
/** @var array<string, Closure(Pack): string> $pages */
$pages = [
    'passport' => fn(Pack $p): string => $ask("packs/{$p->id}"),
    'as a file' => fn(Pack $p): string => $ask("packs/{$p->id}/passport"),
    'packs of an owner' => fn(Pack $p): string => $ask("packs?customer={$p->customer_id}"),
    'in service, next first' => fn(Pack $p): string => $ask('packs?due=1'),
    'found by its code' => fn(Pack $p): string => $ask("packs?q={$p->code}"),
    'found by its serial' => fn(Pack $p): string => $ask("packs?q={$p->serial}"),
    'found by its name' => fn(Pack $p): string => $ask('packs?q=' . urlencode($p->name)),
    'owners' => fn(Pack $p): string => $ask('customers'),
    'known by its serial' => fn(Pack $p): string => $ask("known-pack?serial={$p->serial}"),
    'its owner\'s page' => fn(Pack $p): string => (string) json_encode(OwnerView::of($p)),
];
mt_srand(7);
$times = $queries = [];
for ($run = 0; $run < RUNS; $run++) {
    // By turns, so that neither comes always after the other.
    foreach ($run % 2 === 0 ? $sizes : array_reverse($sizes) as $size) {
        $at($size);
        foreach ($pages as $name => $page) {
            $pack = $any($size);
            // Somebody looks at a pack more than once: its second look is measured, so that no disk is.
            $page($pack);
            DB::flushQueryLog();
            DB::enableQueryLog();
            $start = hrtime(true);
            $page($pack);
            $ms = (hrtime(true) - $start) / 1e6;
            if ($run >= WARM) {
                $times[$name][$size][] = $ms;
                $queries[$name][$size] = min($queries[$name][$size] ?? PHP_INT_MAX, count(DB::getQueryLog()));
            }
        }
    }
}
$median = function (array $v): float {
    sort($v);

    return $v[intdiv(count($v), 2)];
};
[$small, $full, $large] = $sizes;
$at($large);
printf("%d packs beside %d packs and %d readings\n", $small, $large, DB::table('service_readings')->count());
$bad = 0;
foreach ($pages as $name => $page) {
    // A list is compared with one that is as long.
    $few = $name === 'in service, next first' || $name === 'owners' ? $full : $small;
    $a = $median($times[$name][$few]);
    $b = $median($times[$name][$large]);
    $same = $queries[$name][$few] === $queries[$name][$large];
    $ratio = $b / $a;
    $ok = $ratio <= LIMIT && $same;
    $bad += $ok ? 0 : 1;
    printf(
        "%-24s %7.2f ms %7.2f ms   ratio %.2f   %d queries%s   %s\n",
        $name,
        $a,
        $b,
        $ratio,
        $queries[$name][$large],
        $same ? '' : ', before ' . $queries[$name][$few],
        $ok ? 'ok' : 'OVER',
    );
}
printf("limit %.1f, constant queries: %s\n", LIMIT, $bad === 0 ? 'ok' : "$bad OVER");
exit($bad === 0 ? 0 : 1);
