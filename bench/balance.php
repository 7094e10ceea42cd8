<?php

declare(strict_types=1);

// Hours that the balance plan promises against hours that the twin takes, for every method. Usage: balance.php N SEED

use Heartwood\Core\Balance\BalanceMeans;
use Heartwood\Core\Balance\BalancePlan;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Twin\LiveGroup;
use Heartwood\Core\Twin\LivePack;

require __DIR__ . '/../vendor/autoload.php';

$n = (int) ($argv[1] ?? 40);
mt_srand((int) ($argv[2] ?? 20260412));
$u = fn(float $a, float $b): float => $a + (($b - $a) * mt_rand()) / mt_getrandmax();
$worst = $sum = $count = ['single' => 0.0, 'passive' => 0.0, 'active' => 0.0, 'parallel' => 0.0];
$over = 0;
for ($p = 0; $p < $n; $p++) {
    $chem = $p % 3 === 2 ? Chemistry::Lfp : Chemistry::Nmc;
    $curve = RestCurve::of($chem);
    $s = mt_rand(4, 16);
    $c = $u(4.0, 40.0);
    $bleed = $u(0.05, 0.4);
    $spec = PackSpec::from(
        new Fields([
            'chemistry' => $chem->value,
            'series' => $s,
            'parallel' => 1,
            'cell' => ['capacity_ah' => $c, 'max_charge_a' => $c / 2],
            'bms' => ['balance' => 'passive', 'balance_current_a' => $bleed],
            'charger' => ['cc_a' => $c / 6],
        ]),
    );
    $caps = $soc = $ohm = [];
    $base = $u(0.3, 0.8);
    for ($k = 0; $k < $s; $k++) {
        $caps[] = $c * $u(0.92, 1.04);
        $soc[] = min(0.96, max(0.05, $base + $u(-0.12, 0.12)));
        $ohm[] = ($u(0.02, 0.06) / $c) * 3;
    }
    $make = fn(): LivePack => new LivePack(
        $curve,
        array_map(fn(float $x, float $q, float $r): LiveGroup => new LiveGroup($x, $q, 0.6 * $r, 0.25 * $r, 0.15 * $r), $soc, $caps, $ohm),
    );
    $means = BalanceMeans::of($spec, $u(0.1, 0.3) * $c, $u(0.5, 2.0));
    $plan = new BalancePlan($spec, $soc, $caps, $ohm, $means);
    $dt = 10.0;
    $twin = [];

    // One supply, group after group, to its taper.
    $pack = $make();
    foreach ($plan->single()['order'] as $o) {
        $k = $o['group'];
        do {
            $pack->step($dt, 0.0, [$k => ['volts' => $plan->fullV(), 'amps' => $means->supplyA]]);
        } while ($pack->amps($k) > $o['taper_a'] && $pack->seconds < 3e6);
        $pack->step($means->clipMinutes * 60);
    }
    $twin['single'] = $pack->seconds / 3600;

    // The board's bleed resistors, the charger slowed to their current once one of them works; done when all bleed.
    $pack = $make();
    $from = $plan->fullV() - 0.05;
    do {
        $high = array_filter(range(1, $s), fn(int $k): bool => $pack->volts($k) >= $from);
        $clips = [];
        foreach (range(1, $s) as $k) {
            if (in_array($k, $high, true)) {
                $pack->groups[$k - 1]->leakA = $bleed;
            } else {
                $pack->groups[$k - 1]->leakA = 0.0;
            }
        }
        $pack->step($dt, $high === [] ? $means->chargerA : $bleed);
    } while (count($high) < $s && $pack->seconds < 3e7);
    $twin['passive'] = $pack->seconds / 3600;

    // Charge carried from the fullest to the emptiest, 85 % of it arrives.
    $pack = $make();
    $at = fn(int $i): float => $pack->groups[$i]->charge;
    do {
        $list = array_map($at, range(0, $s - 1));
        $hi = (int) array_search(max($list), $list, true);
        $lo = (int) array_search(min($list), $list, true);
        $pack->groups[$hi]->leakA = $means->activeA;
        $pack->groups[$lo]->leakA = -$means->activeA * BalancePlan::ACTIVE_EFFICIENCY;
        $pack->step($dt);
        $pack->groups[$hi]->leakA = $pack->groups[$lo]->leakA = 0.0;
    } while (max($list) - min($list) > 0.002 && $pack->seconds < 3e7);
    $twin['active'] = $pack->seconds / 3600;

    // Side by side: one common voltage, current shared by it.
    $parallel = $plan->parallel();
    $q = array_sum($caps);
    $mean = array_sum(array_map(fn(float $x, float $y): float => $x * $y, $soc, $caps)) / $q;
    $r = 1 / array_sum(array_map(fn(float $x): float => 1 / $x, $ohm));
    $pack = new LivePack($curve, [new LiveGroup($mean, $q, 0.6 * $r, 0.25 * $r, 0.15 * $r)]);
    $taper = $plan->taperA($q, $means->supplyA);
    do {
        $pack->step($dt, 0.0, [1 => ['volts' => $plan->fullV(), 'amps' => $means->supplyA]]);
    } while ($pack->amps(1) > $taper && $pack->seconds < 3e7);
    $twin['parallel'] = $pack->seconds / 3600;

    $said = [
        'single' => $plan->single()['hours'],
        'passive' => $plan->passive()['hours'],
        'active' => $plan->active()['hours'],
        'parallel' => $parallel['hours'],
    ];
    foreach ($twin as $method => $hours) {
        $off = abs($said[$method] / $hours - 1);
        $worst[$method] = max($worst[$method], $off);
        $sum[$method] += $off;
        $count[$method]++;
        if ($off > 0.1) {
            $over++;
            printf("  over: %s %s S=%d C=%.1f said %.2f h, twin %.2f h\n", $method, $chem->value, $s, $c, $said[$method], $hours);
        }
    }
}
printf("%-10s %6s %12s %12s\n", 'method', 'packs', 'mean off', 'worst off');
foreach ($worst as $method => $w) {
    printf("%-10s %6d %11.2f%% %11.2f%%\n", $method, $count[$method], (100 * $sum[$method]) / $count[$method], 100 * $w);
}
printf("%d of %d over 10 %% (limit 0) %s\n", $over, 4 * $n, $over === 0 ? 'ok' : 'FAIL');
exit($over === 0 ? 0 : 1);
