<?php

declare(strict_types=1);

// Diagnoses packs with known faults out of PackGenerator and prints how often it is right, how well its sureness is
// calibrated, and what it says when too little was measured.

use App\Contract\RecordReader;
use Heartwood\Bench\PackGenerator;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\Finding;

require dirname(__DIR__) . '/vendor/autoload.php';
require __DIR__ . '/PackGenerator.php';

const UNSAFE = ['recover-group', 'charge-group', 'balance'];

$count = (int) ($argv[1] ?? 2000);
$generator = new PackGenerator((int) ($argv[2] ?? 20260406));
$show = $argv[3] ?? '';
$table = [];
$bins = array_fill(0, 10, [0, 0.0, 0]);
$alarms = $healthy = $unsafe = $overall = $enoughTotal = 0;
$unsureRight = $unsureAll = $nextRight = $nextAll = 0;

/** @param  array{codes: list<string>, where: list<array<string, int>|null>}  $wanted */
$matches = fn(Finding $f, array $wanted): bool => in_array($f->code, $wanted['codes'], true) &&
    in_array($f->place->toArray(), $wanted['where'], true);

for ($n = 0; $n < $count; $n++) {
    $fault = PackGenerator::FAULTS[$n % count(PackGenerator::FAULTS)];
    $enough = intdiv($n, count(PackGenerator::FAULTS)) % 3 !== 2;
    $case = $generator->make($fault, $enough);
    $verdict = Diagnoser::diagnose(RecordReader::read((string) json_encode($case['record']))['record']);
    $serious = array_values(
        array_filter(
            $verdict->findings,
            fn(Finding $f): bool => !in_array($f->severity->value, ['note'], true) && $f->code !== 'pack.spread',
        ),
    );
    $first = $serious[0] ?? null;
    foreach ($verdict->options as $o) {
        foreach ($o->places as $place) {
            if (in_array($o->action->value, UNSAFE, true) && $fault === 'dead' && $place->toArray() === $case['right'][0]['where'][0]) {
                $unsafe++;
            }
        }
        if ($o->action->value === 'balance' && $o->places === [] && in_array($fault, ['dead', 'deep'], true)) {
            $unsafe++;
        }
    }
    // One weak joint is listed at both taps it may sit at, latched and asleep jointly: each pair is one statement here.
    // What is computed from other findings (bleed too small for the gap) is no statement of its own.
    $said = [];
    foreach ($verdict->findings as $f) {
        if (
            ($f->severity->value === 'note' && $f->code !== 'bms.asleep') ||
            in_array($f->code, ['pack.spread', 'bms.balance-insufficient', 'charger.outruns-balance'], true) ||
            !$enough
        ) {
            continue;
        }
        $key = match ($f->code) {
            'joint.high-resistance' => 'joint',
            'bms.latched', 'bms.asleep' => 'off',
            default => $f->code . $f->place->key(),
        };
        $said[$key]['p'] = min(1.0, ($said[$key]['p'] ?? 0.0) + $f->probability);
        $said[$key]['true'] = ($said[$key]['true'] ?? false) || array_filter($case['right'], fn(array $w): bool => $matches($f, $w)) !== [];
    }
    foreach ($said as $statement) {
        $bin = min(9, (int) floor($statement['p'] * 10));
        $bins[$bin][0]++;
        $bins[$bin][1] += $statement['p'];
        $bins[$bin][2] += $statement['true'] ? 1 : 0;
    }
    if ($fault === 'none' || $case['right'] === []) {
        $healthy++;
        $alarm = $first !== null && $first->probability >= 0.35;
        $alarms += $alarm ? 1 : 0;
        $right = !$alarm;
    } else {
        $sum = [];
        foreach ($case['right'] as $w) {
            $sum[] = array_sum(array_map(fn(Finding $f): float => $matches($f, $w) ? $f->probability : 0.0, $verdict->findings));
        }
        $right = min($sum) >= 0.5 && ($first === null || array_filter($case['right'], fn(array $w): bool => $matches($first, $w)) !== []);
    }
    if ($enough) {
        $table[$fault] ??= [0, 0];
        $table[$fault][0]++;
        $table[$fault][1] += $right ? 1 : 0;
        $enoughTotal++;
        $overall += $right ? 1 : 0;
        if (!$right && $show !== '' && ($show === 'all' || $show === $fault)) {
            fwrite(
                STDERR,
                "#$n $fault {$case['record']['pack']['chemistry']} {$case['record']['pack']['series']}S" .
                    "{$case['record']['pack']['parallel']}P want " .
                    json_encode($case['right']) .
                    "\n",
            );
            foreach (array_slice($verdict->findings, 0, 5) as $f) {
                fwrite(
                    STDERR,
                    sprintf(
                        "    %-24s %-14s %.2f  %s\n",
                        $f->code,
                        json_encode($f->place->toArray()),
                        $f->probability,
                        implode(' | ', array_map(fn($e) => $e->text . ' ' . round($e->decibans), array_slice($f->evidence, 0, 5))),
                    ),
                );
            }
        }
    } elseif ($case['next'] !== []) {
        $unsureAll++;
        $wrongSure =
            $first !== null &&
            $first->probability > 0.85 &&
            array_filter($case['right'], fn(array $w): bool => $matches($first, $w)) === [];
        $unsureRight += $wrongSure ? 0 : 1;
        $nextAll++;
        $asked = array_map(fn($t): string => $t->test->value, array_slice($verdict->nextTests, 0, 2));
        $nextRight += array_intersect($asked, $case['next']) !== [] || $right ? 1 : 0;
    }
}
printf("%-16s %6s %8s\n", 'fault', 'packs', 'right');
foreach ($table as $fault => [$all, $ok]) {
    printf("%-16s %6d %7.1f %%\n", $fault, $all, (100 * $ok) / $all);
}
printf("%-16s %6d %7.1f %%   (wanted 97)\n", 'all, enough seen', $enoughTotal, (100 * $overall) / max(1, $enoughTotal));
printf("false alarms on packs with nothing to find: %d of %d (%.1f %%)\n", $alarms, $healthy, (100 * $alarms) / max(1, $healthy));
printf(
    "too little seen: not sure of a wrong thing %d of %d (%.1f %%), a right test among the first two %.1f %%\n",
    $unsureRight,
    $unsureAll,
    (100 * $unsureRight) / max(1, $unsureAll),
    (100 * $nextRight) / max(1, $nextAll),
);
printf("unsafe options: %d (limit 0) %s\n", $unsafe, $unsafe === 0 ? 'ok' : 'OVER');
echo "\nsaid        findings   mean said   came true\n";
$error = $total = 0;
foreach ($bins as $i => [$all, $sum, $true]) {
    if ($all > 0) {
        printf("%.1f - %.1f  %9d   %9.2f   %9.2f\n", $i / 10, ($i + 1) / 10, $all, $sum / $all, $true / $all);
        $error += abs($sum / $all - $true / $all) * $all;
        $total += $all;
    }
}
printf("calibration error (10 bins, weighted): %.3f\n", $error / max(1, $total));
exit($unsafe === 0 ? 0 : 1);
