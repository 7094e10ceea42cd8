<?php

declare(strict_types=1);

// Cases drawn by chance: boxes with places left empty, stepped rows, round cases, two layers, flat cells in rows, boards at
// any side. Each layout is read back from its drawing as a circuit; its cuts must add up to what is drawn, its currents to
// nothing in every cell, its weld groups to all spots. bench/layouts [COUNT] [SEED]

use Heartwood\Core\Build\BoardEnd;
use Heartwood\Core\Build\BuildSheet;
use Heartwood\Core\Build\CannotBuild;
use Heartwood\Core\Build\CaseWish;
use Heartwood\Core\Build\LayoutPlan;
use Heartwood\Core\Build\LayoutSearch;
use Heartwood\Core\Build\Strip;
use Heartwood\Core\Limits\BuildLimits;
use Tests\Core\Circuit;

require __DIR__ . '/../vendor/autoload.php';

$count = (int) ($argv[1] ?? 300);
mt_srand((int) ($argv[2] ?? 20261129));
$pick = fn(array $of): mixed => $of[mt_rand(0, count($of) - 1)];

/** @return array{string, int, int, float, float, CaseWish} */
$case = function () use ($pick): array {
    $p = mt_rand(1, 5);
    $s = mt_rand(1, 14);
    $packing = $pick([null, 'square', 'offset']);
    $board = mt_rand(0, 3) === 0 ? new BoardEnd($pick(['left', 'right', 'top', 'bottom'])) : null;
    [$d, $l] = $pick([[18.4, 65.0], [21.4, 70.0], [14.3, 50.0], [26.3, 65.5]]);
    switch (mt_rand(0, 4)) {
        case 0:
            $left = mt_rand(0, 1) === 0 ? [] : [[mt_rand(0, 2), mt_rand(0, 2)], [mt_rand(0, 3), 0]];

            return [
                'box',
                $s,
                $p,
                $d,
                $l,
                new CaseWish(packing: $packing, left: array_values(array_unique($left, SORT_REGULAR)), board: $board),
            ];
        case 1:
            return ['round', $s, $p, $d, $l, new CaseWish('round', board: $board)];
        case 2:
            $rows = [];
            for ($r = mt_rand(2, 5); $r > 0; $r--) {
                $rows[] = [mt_rand(0, 2), mt_rand(3, 8)];
            }
            $s = max(1, intdiv((int) array_sum(array_column($rows, 1)), $p) - mt_rand(0, 1));

            return ['stairs', $s, $p, $d, $l, new CaseWish('stairs', packing: $packing, rows: $rows, board: $board)];
        case 3:
            return ['two layers', max(2, $s), $p, $d, $l, new CaseWish('two-layers', packing: $packing, board: $board)];
        default:
            return [
                'flat in rows',
                $s,
                min(3, $p),
                12.0 + mt_rand(0, 20),
                148.0,
                new CaseWish('rows', stackRows: mt_rand(1, 3), board: $board),
            ];
    }
};

/** @return list<string> */
$check = function (LayoutPlan $plan, array $sheet): array {
    $bad = Circuit::faultsOf($plan);
    $drawn = Circuit::drawnMm($sheet['svg']);
    $tabs = count(array_filter($plan->strips, fn(array $x): bool => $x['edges'] === []));
    $drawn -= $tabs * 0.3 * $plan->diameter;
    $cut = 0.0;
    $pieces = 0;
    foreach ($sheet['cut_list'] as $c) {
        $cut += $c['count'] * ($c['length_mm'] - BuildLimits::OVERLAP * $plan->diameter);
        $pieces += $c['count'];
    }
    if (abs($cut - $drawn) > 0.06 * $pieces) {
        $bad[] = sprintf('%.1f mm are cut and %.1f drawn', $cut, $drawn);
    }
    if (array_sum(array_column($sheet['weld_groups'], 'spots')) !== $sheet['welds']) {
        $bad[] = 'weld groups are not all spots';
    }
    foreach ($sheet['sections'] as $k => $strip) {
        $sum = array_fill_keys($plan->strips[$k]['cells'], 0.0);
        foreach ($strip['sections'] as $x) {
            $sum[$x['from'] - 1] -= $x['amps'];
            $sum[$x['to'] - 1] += $x['amps'];
        }
        if ($strip['sections'] === []) {
            continue;
        }
        foreach ($sum as $i => $in) {
            $own = ($plan->cells[$i]['group'] === $k ? 1 : -1) * (20.0 / $plan->parallel);
            $lead = $k === 0 && $i === $sheet['leads']['minus']['cell'] - 1 ? 20.0 : 0.0;
            $lead -= $k === $plan->series && $i === $sheet['leads']['plus']['cell'] - 1 ? 20.0 : 0.0;
            if (abs($in + $own + $lead) > 0.02) {
                $bad[] = "amps are lost at cell $i of node $k";
            }
        }
        if ($strip['amps'] > $strip['limit_a'] + 0.01) {
            $bad[] = "node $k carries more than its layers may";
        }
    }

    return $bad;
};

$tally = [];
$wrong = 0;
$slowest = 0.0;
for ($k = 0; $k < $count; $k++) {
    [$name, $s, $p, $d, $l, $wish] = $case();
    $tally[$name] ??= ['laid' => 0, 'refused' => 0, 'wrong' => 0];
    $begin = hrtime(true);
    try {
        $plan = LayoutSearch::into($s, $p, $d, $l, $wish);
        $sheet = (new BuildSheet($plan, Strip::of('nickel', 5.0, 0.2), 20.0))->toArray();
    } catch (CannotBuild) {
        $tally[$name]['refused']++;

        continue;
    }
    $slowest = max($slowest, (hrtime(true) - $begin) / 1e9);
    $bad = $check($plan, $sheet);
    $tally[$name][$bad === [] ? 'laid' : 'wrong']++;
    foreach (array_slice($bad, 0, 2) as $b) {
        printf("%s %d x %d: %s\n", $name, $s, $p, $b);
    }
    $wrong += (int) ($bad !== []);
}
foreach ($tally as $name => $t) {
    printf("%-14s %4d laid, %3d refused, %d wrong\n", $name, $t['laid'], $t['refused'], $t['wrong']);
}
printf("%d cases, slowest %.2f s, %d wrong %s\n", $count, $slowest, $wrong, $wrong === 0 ? 'ok' : 'FAIL');
exit($wrong === 0 ? 0 : 1);
