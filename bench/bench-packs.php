<?php

declare(strict_types=1);

// Packs out of BenchPacks through the diagnosis: for each scenario how often it is right, then false alarms, how well
// sureness is calibrated overall and by code, and offers that are unsafe or missing. Exits 1 over a limit.
//   php bench/bench-packs.php [packs per scenario] [seed] [scenario to explain | all]

use App\Contract\RecordReader;
use Heartwood\Bench\BenchJudge;
use Heartwood\Bench\BenchPacks;
use Heartwood\Core\Diagnosis\Diagnoser;

require dirname(__DIR__) . '/vendor/autoload.php';
require __DIR__ . '/BenchPacks.php';
require __DIR__ . '/BenchJudge.php';

const DERIVED = BenchJudge::DERIVED;
const SEVERAL = [
    'SpreadTooWide',
    'Phantom',
    'NoOverchargeCut',
    'SenseShiftedReport',
    'Slipped',
    'MissingOrAged',
    'PhosphateBehindAtTheTop',
];

$each = (int) ($argv[1] ?? 30);
$generator = new BenchPacks((int) ($argv[2] ?? 20260704));
$show = $argv[3] ?? '';
$bins = array_fill(0, 10, [0, 0.0, 0]);
$byCode = $misses = [];
$sum = ['all' => [0, 0], 'enough' => [0, 0], 'healthy' => [0, 0]];
$unsafe = $empty = 0;
$at = BenchJudge::at(...);
foreach (BenchPacks::scenarios() as $scenario) {
    if ($show !== '' && $show !== 'all' && !str_contains(strtolower($scenario), strtolower($show))) {
        continue;
    }
    $right = 0;
    for ($n = 0; $n < $each; $n++) {
        $case = $generator->make($scenario);
        $verdict = Diagnoser::diagnose(RecordReader::read((string) json_encode($case['record']))['record']);
        $why = BenchJudge::complaints($case, $verdict);
        $healthy = str_starts_with($scenario, 'Healthy');
        $sum['healthy'][0] += $healthy ? 1 : 0;
        $sum['healthy'][1] += $healthy && array_filter($why, fn(string $w): bool => str_starts_with($w, 'false alarm')) !== [] ? 1 : 0;
        $empty += in_array('offers nothing', $why, true) ? 1 : 0;
        $unsafe += count(array_filter($why, fn(string $w): bool => str_starts_with($w, 'unsafe')));
        $said = [];
        foreach ($verdict->findings as $f) {
            // Where more than one thing may be the cause of what was made, no single statement is true or false.
            if (
                in_array($f->code, DERIVED, true) ||
                !$case['enough'] ||
                in_array($scenario, SEVERAL, true) ||
                array_filter($case['want'], fn(array $w): bool => count($w['codes']) > 2) !== []
            ) {
                continue;
            }
            $key = match ($f->code) {
                'joint.high-resistance' => 'joint',
                'bms.latched', 'bms.asleep' => 'off',
                default => $f->code . $f->place->key(),
            };
            $said[$key]['code'] = $f->code;
            $said[$key]['p'] = min(1.0, ($said[$key]['p'] ?? 0.0) + $f->probability);
            $said[$key]['true'] = ($said[$key]['true'] ?? false) || array_filter($case['want'], fn(array $w): bool => $at($f, $w)) !== [];
        }
        foreach ($said as $s) {
            $bin = min(9, (int) floor($s['p'] * 10));
            $bins[$bin][0]++;
            $bins[$bin][1] += $s['p'];
            $bins[$bin][2] += $s['true'] ? 1 : 0;
            if (getenv('LOW') !== false && $s['p'] >= 0.1 && $s['p'] < 0.9) {
                fprintf(STDERR, "%s %s %s\n", $s['true'] ? 'true' : 'false', $scenario, $s['code']);
            }
            $c = &$byCode[$s['code']];
            $c = [($c[0] ?? 0) + 1, ($c[1] ?? 0.0) + $s['p'], ($c[2] ?? 0) + ($s['true'] ? 1 : 0)];
            unset($c);
        }
        $right += $why === [] ? 1 : 0;
        $sum['all'][0]++;
        $sum['all'][1] += $why === [] ? 1 : 0;
        if ($case['enough']) {
            $sum['enough'][0]++;
            $sum['enough'][1] += $why === [] ? 1 : 0;
        }
        if ($why !== [] && $show !== '') {
            fwrite(
                STDERR,
                "#$scenario {$case['record']['pack']['chemistry']} {$case['record']['pack']['series']}S" .
                    "{$case['record']['pack']['parallel']}P: " .
                    implode('; ', $why) .
                    ' want ' .
                    json_encode(array_map(fn(array $w): array => [implode('|', $w['codes']), $w['where'][0]], $case['want'])) .
                    "\n",
            );
            foreach (array_slice($verdict->findings, 0, 4) as $f) {
                fwrite(
                    STDERR,
                    sprintf(
                        "    %-24s %-14s %.2f  %s\n",
                        $f->code,
                        json_encode($f->place->toArray()),
                        $f->probability,
                        implode(' | ', array_map(fn($e) => $e->text . ' ' . round($e->decibans), array_slice($f->evidence, 0, 4))),
                    ),
                );
            }
            if (getenv('DUMP') !== false) {
                file_put_contents(getenv('DUMP'), json_encode($case['record']));
                exit();
            }
        }
    }
    if ($right < $each) {
        $misses[$scenario] = $right;
    }
}
asort($misses);
printf("%-32s %8s\n", 'scenario with a miss', 'right');
foreach ($misses as $scenario => $right) {
    printf("%-32s %6.0f %%\n", $scenario, (100 * $right) / $each);
}
$percent = fn(array $s): float => (100 * $s[1]) / max(1, $s[0]);
printf(
    "\nright: %d of %d (%.1f %%, wanted 96); enough measured: %.1f %% (wanted 95)\n",
    $sum['all'][1],
    $sum['all'][0],
    $percent($sum['all']),
    $percent($sum['enough']),
);
printf("false alarms: %d of %d (%.1f %%, limit 1)\n", $sum['healthy'][1], $sum['healthy'][0], $percent($sum['healthy']));
printf("unsafe offers: %d, verdicts without an offer: %d (limit 0)\n", $unsafe, $empty);
$error = $total = 0;
foreach ($bins as $i => [$all, $p, $true]) {
    $error += abs($p - $true);
    $total += $all;
    if ($all > 0 && $show === '') {
        printf("%.1f - %.1f  %6d said at %.2f, true %.2f\n", $i / 10, ($i + 1) / 10, $all, $p / $all, $true / $all);
    }
}
printf("calibration error %.3f (limit 0.03)\n", $error / max(1, $total));
foreach ($byCode as $code => [$all, $p, $true]) {
    if ($all >= 30 && abs($p - $true) / $all > 0.06) {
        printf("  %-26s %4d said at %.2f, true %.2f (limit 0.06 apart)\n", $code, $all, $p / $all, $true / $all);
    }
}
exit($unsafe + $empty === 0 ? 0 : 1);
