<?php

declare(strict_types=1);

use App\Instruments\RunFolder;
use App\Instruments\Runner;
use App\Models\Job;
use App\Models\Run;
use App\Watch\Door;
use Illuminate\Support\Str;

require __DIR__ . '/boot.php';
require __DIR__ . '/ask.php';

const RUNS = 120;
const LIMIT = 1.3;
const SHORT = 100;
const FULL = 600;

/** A run of so many samples, four a second, as its runner has left it. */
function runOf(int $samples): RunFolder
{
    $job = Job::query()->firstOrFail();
    $id = (string) Str::uuid();
    Run::query()->create([
        'id' => $id,
        'workshop_id' => $job->workshop_id,
        'job_id' => $job->id,
        'revision' => 1,
        'kind' => 'recovery',
        'group_no' => 2,
        'plan' => [],
        'started_by' => $job->opened_by,
        'started_at' => now(),
    ]);
    $folder = RunFolder::of($id);
    $folder->start([
        'kind' => 'recovery',
        'series' => 4,
        'started' => microtime(true) - $samples / 4,
        'plan' => [
            'kind' => 'recovery',
            'group' => 2,
            'plan_v' => 2.3,
            'target_v' => 3.7,
            'known_v' => [3.7, 2.3, 3.7, 3.7],
            'pack' => ['chemistry' => 'nmc', 'series' => 4, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]],
        ],
    ]);
    $lines = '';
    for ($i = 0; $i < $samples; $i++) {
        $lines .= json_encode(['is' => 'sample', 't' => $i / 4, 'v' => round(2.3 + 0.0001 * ($i % 97), 4), 'a' => 0.0, 'c' => 21.0]) . "\n";
    }
    file_put_contents("$folder->path/journal.jsonl", $lines);
    (new Runner($folder, fn(): float => microtime(true)))->turn();

    return $folder;
}

$long = (int) ($argv[1] ?? 72_000);
$began = microtime(true);
$folders = [SHORT => runOf(SHORT), FULL => runOf(FULL), $long => runOf($long)];
$taken = microtime(true) - $began;
$times = [];
$sizes = [];
for ($run = 0; $run < RUNS; $run++) {
    // By turns, so that neither comes always after the other; each has had one sample since the last look.
    foreach ($run % 2 === 0 ? array_keys($folders) : array_reverse(array_keys($folders)) as $n) {
        $folder = $folders[$n];
        $next = $folder->length();
        $folder->note(['is' => 'sample', 't' => $n / 4 + $run, 'v' => 2.31, 'a' => 0.0, 'c' => 21.0]);
        $measure = function (string $what, Closure $asks) use (&$times, &$sizes, $n): array {
            $start = hrtime(true);
            $answer = $asks();
            $times[$what][$n][] = (hrtime(true) - $start) / 1e6;
            $sizes[$what][$n] = count($answer['samples']);

            return $answer;
        };
        $opened = $measure('opening it', fn(): array => ask("runs/{$folder->id()}?from=0"));
        $measure('a look', fn(): array => Door::answer('run', $opened['watch'], ['from' => $next], microtime(true))[1]);
    }
}
$bad = 0;
foreach (['a look' => SHORT, 'opening it' => FULL] as $what => $few) {
    [$a, $b] = [middle($times[$what][$few]), middle($times[$what][$long])];
    $bad += $b / $a <= LIMIT ? 0 : 1;
    printf(
        "%-12s after %d samples %6.2f ms (%d of them), after %d %6.2f ms (%d)   ratio %.2f (limit %.1f) %s\n",
        $what,
        $few,
        $a,
        $sizes[$what][$few],
        $long,
        $b,
        $sizes[$what][$long],
        $b / $a,
        LIMIT,
        $b / $a <= LIMIT ? 'ok' : 'OVER',
    );
}
printf("taken up again by their runners in %.1f s\n", $taken);
exit($bad === 0 ? 0 : 1);
