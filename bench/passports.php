<?php

declare(strict_types=1);

use App\Http\Views\OwnerView;
use App\Models\Pack;
use Illuminate\Support\Facades\DB;

require __DIR__ . '/boot.php';
require __DIR__ . '/ask.php';

const RUNS = 160;
const WARM = 5;
const LIMIT = 1.3;

$sizes = [$small, $full, $large] = array_map(intval(...), array_slice($argv, 1, 3));
$at = fn(int $size) => at("heartwood_bench_packs_{$size}_test");
$any = fn(int $size): Pack => Pack::query()->where('name', sprintf('Pack %07d', mt_rand(2, $size)))->firstOrFail();
/** @var array<string, Closure(Pack): mixed> $pages */
$pages = [
    'passport' => fn(Pack $p): mixed => ask("packs/{$p->id}"),
    'as a file' => fn(Pack $p): mixed => ask("packs/{$p->id}/passport"),
    'packs of an owner' => fn(Pack $p): mixed => ask("packs?customer={$p->customer_id}"),
    'in service, next first' => fn(Pack $p): mixed => ask('packs?due=1'),
    'found by its code' => fn(Pack $p): mixed => ask("packs?q={$p->code}"),
    'found by its serial' => fn(Pack $p): mixed => ask("packs?q={$p->serial}"),
    'found by its name' => fn(Pack $p): mixed => ask('packs?q=' . urlencode($p->name)),
    'owners' => fn(Pack $p): mixed => ask('customers'),
    'known by its serial' => fn(Pack $p): mixed => ask("known-pack?serial={$p->serial}"),
    'its owner\'s page' => fn(Pack $p): mixed => (string) json_encode(OwnerView::of($p)),
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
$at($large);
printf("%d packs beside %d packs and %d readings\n", $small, $large, DB::table('service_readings')->count());
$bad = 0;
foreach ($pages as $name => $page) {
    // A list is compared with one that is as long.
    $few = $name === 'in service, next first' || $name === 'owners' ? $full : $small;
    $a = middle($times[$name][$few]);
    $b = middle($times[$name][$large]);
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
