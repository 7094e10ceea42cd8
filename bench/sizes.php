<?php

declare(strict_types=1);

use App\Models\Job;
use Illuminate\Support\Facades\DB;

require __DIR__ . '/boot.php';
require __DIR__ . '/ask.php';

const RUNS = 120;
const WARM = 5;
const LIMIT = 1.3;

$sizes = [$small, $full, $large] = array_map(intval(...), array_slice($argv, 1, 3));
$at = fn(int $size) => at("heartwood_bench_jobs_{$size}_test");
$finds = fn(string $what, array $answer, bool $so): array => $so ? $answer : throw new RuntimeException("$what was not found");
$search = fn(Job $j, string $term): array => $finds(
    $term,
    $answer = ask('search?q=' . urlencode($term)),
    in_array($j->id, array_column($answer['jobs'], 'id'), true),
);
/** @var array<string, array{0: bool, 1: Closure(Job): mixed}> $pages whether it lists a full page; its question */
$pages = [
    'bench' => [true, fn(Job $j): mixed => ask('bench')],
    'job' => [false, fn(Job $j): mixed => ask("jobs/{$j->id}")],
    'search: its number' => [false, fn(Job $j): mixed => $search($j, "#{$j->number}")],
    'search: its name' => [false, fn(Job $j): mixed => $search($j, $j->name)],
    'search: its serial' => [false, fn(Job $j): mixed => $search($j, $j->serial)],
    'search: a word of it' => [false, fn(Job $j): mixed => $search($j, sprintf('K%05d', $j->number))],
    'search: its owner' => [false, fn(Job $j): mixed => $search($j, $j->customer->name)],
    'search: what all have' => [true, fn(Job $j): mixed => ask('search?q=cart')],
    'packs' => [true, fn(Job $j): mixed => ask('packs')],
    'packs: its serial' => [false, fn(Job $j): mixed => ask("packs?q={$j->serial}")],
    'passport' => [false, fn(Job $j): mixed => ask("packs/{$j->pack_id}")],
    'passport as a file' => [false, fn(Job $j): mixed => ask("packs/{$j->pack_id}/passport")],
];
mt_srand(7);
$times = $queries = [];
for ($run = 0; $run < RUNS; $run++) {
    // By turns, so that neither comes always after the other.
    foreach ($run % 2 === 0 ? $sizes : array_reverse($sizes) as $size) {
        $at($size);
        foreach ($pages as $name => [, $page]) {
            $job = Job::query()->with('customer')->where('number', mt_rand(1, $size))->firstOrFail();
            // Somebody looks at it more than once: the second look is measured, so that no disk is.
            $page($job);
            DB::flushQueryLog();
            DB::enableQueryLog();
            $start = hrtime(true);
            $page($job);
            $ms = (hrtime(true) - $start) / 1e6;
            if ($run >= WARM) {
                $times[$name][$size][] = $ms;
                $queries[$name][$size][] = count(DB::getQueryLog());
            }
        }
    }
}
$at($large);
printf("%d jobs beside %d jobs and %d readings\n", $small, $large, DB::table('readings')->count());
$bad = 0;
foreach ($pages as $name => [$lists]) {
    $few = $lists ? $full : $small;
    [$a, $b] = [middle($times[$name][$few]), middle($times[$name][$large])];
    $ok = $b / $a <= LIMIT;
    $bad += $ok ? 0 : 1;
    printf(
        "%-24s %7.2f ms %7.2f ms   ratio %.2f   %d queries, at the most %d   %s\n",
        $name,
        $a,
        $b,
        $b / $a,
        middle($queries[$name][$large]),
        max($queries[$name][$large]),
        $ok ? 'ok' : 'OVER',
    );
}
printf("limit %.1f: %s\n", LIMIT, $bad === 0 ? 'ok' : "$bad OVER");
exit($bad === 0 ? 0 : 1);
