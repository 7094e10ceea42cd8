<?php

declare(strict_types=1);

// What a plan is said to bring, against the simulated bench after it was done: packs with one or two faults are measured, judged,
// planned by the verdict's own options, mended, charged and emptied. Usage: plans.php PACKS SEED

use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\Combined;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Twin\LiveGroup;
use Heartwood\Core\Twin\LivePack;
use Heartwood\Core\Twin\Replay;
use Heartwood\Core\Twin\TwinPack;
use Tests\Core\Bench;

require __DIR__ . '/../vendor/autoload.php';

/** Share of Ah that a plan is off by at the most; share of charge that a group may have left beside the one that ended it. */
const MOST_OFF = 0.03;
const BESIDE = 0.01;

$packs = (int) ($argv[1] ?? 40);
mt_srand((int) ($argv[2] ?? 20261130));
$u = fn(float $a, float $b): float => $a + (($b - $a) * mt_rand()) / mt_getrandmax();
$gauss = fn(): float => sqrt(-2 * log(max(1e-12, mt_rand() / mt_getrandmax()))) * cos((2 * M_PI * mt_rand()) / mt_getrandmax());
$curve = RestCurve::of(Chemistry::Nmc);

/** Which ways each kind is mended by. */
$kinds = [
    'one low' => ['charge-group'],
    'one dead' => ['replace-group'],
    'one small' => ['replace-group'],
    'dead and low' => ['replace-group', 'charge-group'],
    'small and low' => ['replace-group', 'charge-group'],
    'two low' => ['charge-group'],
];

$table = array_fill_keys(array_keys($kinds), ['n' => 0, 'not offered' => 0, 'within' => 0, 'named' => 0, 'worst' => 0.0]);
for ($i = 0; $i < $packs; $i++) {
    $kind = array_keys($kinds)[$i % count($kinds)];
    $series = mt_rand(5, 12);
    $parallel = mt_rand(2, 4);
    $rated = 2.5 * $parallel;
    $mohm = $u(25, 50);
    $soc = $u(0.45, 0.75);
    $groups = [];
    for ($k = 1; $k <= $series; $k++) {
        $ohm = (($mohm / $parallel) * $u(0.96, 1.04)) / 1000;
        $groups[$k] = new LiveGroup($soc + 0.003 * $gauss(), $rated * $u(0.94, 0.99), 0.65 * $ohm, 0.3 * $ohm, 0.1 * $ohm, leakA: 1e-5);
    }
    [$a, $b] = [mt_rand(1, $series), 0];
    do {
        $b = mt_rand(1, $series);
    } while (abs($b - $a) < 2); // two beside one another at an end are a board's drain to whoever reads them
    $low = $u(0.15, 0.3);
    match ($kind) {
        'one low' => ($groups[$a]->charge -= $low),
        'two low' => ([$groups[$a]->charge, $groups[$b]->charge] = [$soc - $low, $soc - $low * 0.8]),
        'one dead' => ($groups[$a]->charge = -0.25),
        'one small' => ($groups[$a]->capacityAh *= $u(0.45, 0.7)),
        'dead and low' => ([$groups[$a]->charge, $groups[$b]->charge] = [-0.25, $soc - $low]),
        default => ([$groups[$a]->capacityAh, $groups[$b]->charge] = [$groups[$a]->capacityAh * $u(0.45, 0.7), $soc - $low]),
    };
    $live = new LivePack($curve, array_values($groups));
    $read = fn(int $k): float => max(0.0, round($live->volts($k) + 0.0003 * $gauss(), 3));
    $volts = array_map($read, range(1, $series));
    $tests = [];
    foreach ($groups as $k => $g) {
        // What is dead is not discharged to see what it holds.
        if ($volts[$k - 1] > 2.5) {
            $tests[] = [
                'kind' => 'capacity',
                'scope' => ['group' => $k],
                'measured_ah' => round($g->capacityAh * (1 + 0.003 * $gauss()), 3),
                'started_full' => true,
            ];
        }
    }
    $amps = 0.3 * $rated;
    $record = Bench::parse(
        Bench::record(
            $volts,
            [
                'parallel' => $parallel,
                'cell' => ['capacity_ah' => 2.5, 'resistance_mohm' => round($mohm, 1)],
                'charger' => ['cc_a' => 0.25 * $rated, 'cv_v' => 4.2 * $series],
                'load' => ['controller_limit_a' => $amps],
            ],
            ['tests' => $tests],
        ),
    );
    $offered = [];
    foreach (Diagnoser::diagnose($record, 'bench')->options as $o) {
        $offered[$o->action->value] = $o;
    }
    $row = &$table[$kind];
    $row['n']++;
    // Where no group stands out enough to be topped alone, all are brought level.
    $ways = array_diff($kinds[$kind], array_keys($offered)) === [] ? $kinds[$kind] : ['balance'];
    if (array_diff($ways, array_keys($offered)) !== []) {
        $row['not offered']++;
        unset($row);

        continue;
    }
    $plan = Combined::ordered(array_map(fn(string $w): Option => $offered[$w], $ways));
    $evidence = new PackEvidence($record);
    $replay = new Replay(
        $record->pack,
        TwinPack::estimate($record->pack, $evidence) ?? throw new LogicException('no twin'),
        TwinPack::estimate($record->pack, $evidence, false),
    );
    $said = $replay->usable($replay->afterAll($plan) ?? throw new LogicException('no pack'));

    // Done as a bench does it: new cells of what they are sold for, each brought to what its neighbours read, within a few millivolts.
    foreach ($plan as $o) {
        foreach ($o->action === RepairAction::Balance ? array_map(Place::group(...), range(1, $series)) : $o->places as $p) {
            $others = array_diff_key($volts, [$p->number - 1 => 0]);
            $target = Robust::median(array_values($others)) + 0.002 * $gauss();
            $g = $live->groups[$p->number - 1];
            if ($o->action === RepairAction::ReplaceGroup) {
                $g->capacityAh = $rated * (1 + 0.003 * $gauss());
            }
            $g->charge = $curve->socAt($target);
            $volts[$p->number - 1] = $target;
        }
    }
    $cut = $record->pack->highCutV();
    $cv = $series * $record->pack->workingFullV();
    for ($s = 0; $s < 86400; $s += 5) {
        $in = $live->across($cv, 0.25 * $rated);
        $live->step(5.0, $in);
        if ($in <= $rated / 20 || max(array_map($live->volts(...), range(1, $series))) >= $cut) {
            break;
        }
    }
    for ($s = 0; $s < 3600; $s += 5) {
        $live->step(5.0);
    }
    $ah = 0.0;
    do {
        $live->step(5.0, -$amps);
        $ah += ($amps * 5) / 3600;
        $now = array_map($live->volts(...), range(1, $series));
    } while (min($now) > $record->pack->lowCutV());
    $left = array_map(fn(LiveGroup $g): float => $g->charge, $live->groups);
    $off = abs($said->ah / $ah - 1);
    $row['worst'] = max($row['worst'], $off);
    $row['within'] += $off <= MOST_OFF ? 1 : 0;
    $row['named'] += $said->group !== null && $left[$said->group - 1] - $left[(int) array_search(min($now), $now, true)] <= BESIDE ? 1 : 0;
    unset($row);
}

printf("%-16s %6s %12s %10s %8s %10s\n", 'kind', 'packs', 'not offered', 'within 3 %', 'named', 'worst');
$bad = 0;
foreach ($table as $kind => $r) {
    printf("%-16s %6d %12d %10d %8d %9.1f %%\n", $kind, $r['n'], $r['not offered'], $r['within'], $r['named'], 100 * $r['worst']);
    $bad += 2 * $r['n'] - $r['within'] - $r['named'];
}
printf("%d packs: %d not as said  %s\n", $packs, $bad, $bad === 0 ? 'ok' : 'OVER');
exit($bad === 0 ? 0 : 1);
