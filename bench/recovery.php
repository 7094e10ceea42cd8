<?php

declare(strict_types=1);

// Random low groups brought up by the recovery rules in scaled time: what each kind came to. Usage: recovery.php N SEED

use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Recovery\HoldTest;
use Heartwood\Core\Recovery\Phase;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Recovery\RecoveryRun;
use Heartwood\Core\Recovery\Sample;
use Heartwood\Core\Twin\LiveGroup;
use Heartwood\Core\Twin\LivePack;

require __DIR__.'/../vendor/autoload.php';

$n = (int) ($argv[1] ?? 200);
mt_srand((int) ($argv[2] ?? 20260411));
$u = fn (float $a, float $b): float => $a + ($b - $a) * mt_rand() / mt_getrandmax();
$gauss = fn (): float => sqrt(-2 * log(max(1e-12, mt_rand() / mt_getrandmax()))) * cos(2 * M_PI * mt_rand() / mt_getrandmax());
$curve = RestCurve::of(Chemistry::Nmc);

$kinds = ['good', 'hard short', 'leak over C/200', 'small leak', 'lead falls off'];
$table = array_fill_keys($kinds, ['n' => 0, 'right' => 0, 'share' => 0.0, 'kelvin' => 0.0, 'rules' => []]);
$wrong = [];
for ($i = 0; $i < $n; $i++) {
    $kind = $kinds[$i % 5];
    $c = $u(2.0, 40.0);
    $spec = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 10, 'parallel' => 1, 'cell' => ['capacity_ah' => $c]]));
    $below = $u(18.0, 60.0);
    $start = $u(1.55, 2.75);
    $ohm = $u(0.02, 0.12) / $c * 3;
    $neighbourSoc = $u(0.25, 0.7);
    $make = fn (float $charge, float $cap): LiveGroup => new LiveGroup($charge, $cap, $ohm, 0.4 * $ohm, $u(0.1, 0.6) * $ohm, leakA: 0.02 * $c / 730);
    $low = $make(($start - $curve->emptyV()) / $below, $c * ($kind === 'good' ? $u(0.75, 1.08) : $u(0.8, 1.0)));
    match ($kind) {
        'hard short' => $low->shortOhm = $u(0.3, 1.0) * $start / ($c / 20),
        'leak over C/200' => $low->leakA = $u(1.0, 8.0) * $c / 200,
        'small leak' => $low->leakA = $c * exp($u(log(0.25 / 730), log(1 / 220))),
        default => null,
    };
    $pack = new LivePack($curve, [$low, ...array_map(fn (): LiveGroup => $make($neighbourSoc + 0.004 * $gauss(), $c * $u(0.97, 1.03)), range(1, 9))], 20.0, $below);
    $read = fn (int $k): float => round($pack->volts($k) + 0.0003 * $gauss(), 3);
    $others = fn (): array => array_map($read, range(2, 10));
    $plan = RecoveryPlan::of($spec, 1, $read(1), $others(), [], null);
    if (! $plan->isAllowed()) {
        $i--; // this group is not one the rules let anybody recover

        continue;
    }
    $run = new RecoveryRun($plan);
    $order = $run->order();
    $offAt = $kind === 'lead falls off' ? $u(60, 3000) : INF;
    $how = mt_rand(0, 2);
    $peak = 0.0;
    $past = 0.0;
    $dt = 5.0;
    while (! $run->phase()->isOver() && ! $run->isPaused() && $pack->seconds < 40 * 3600) {
        $pack->step($dt, 0.0, $order->on ? [1 => ['volts' => $order->volts, 'amps' => $order->amps]] : []);
        $off = $pack->seconds >= $offAt;
        $v = $off && $how === 0 ? 0.002 * $gauss() : ($off && $how === 1 ? 9.9e37 : $read(1));
        $temp = $off && $how === 2 ? -200.0 : round($low->c + 0.1 * $gauss(), 1);
        $order = $run->take(Sample::of($pack->seconds, $v, round($pack->amps(1), 3), $temp));
        $peak = max($peak, $low->c - 20.0);
        $past = max($past, $pack->volts(1));
    }
    $share = $run->ahIn() / $c;
    $outcome = $run->stoppedBy() ?? ($run->isPaused() ? 'paused, off' : 'at target');
    $hold = null;
    if ($run->phase() === Phase::Hold) {
        $readings = [];
        $from = $pack->seconds;
        while (count($readings) < 8) {
            $hours = $readings === [] ? 6.0 : $readings[count($readings) - 1]['h'] + 24.0;
            while (($pack->seconds - $from) / 3600 < $hours) {
                $pack->step(60.0);
            }
            $readings[] = ['h' => $hours, 'v' => $read(1), 'others' => $others()];
            $hold = HoldTest::judge($readings, Chemistry::Nmc);
            if ($hold->outcome !== 'cannot-tell-yet') {
                break;
            }
        }
        $outcome = 'hold: '.$hold->outcome;
    }
    $right = $past <= 4.2005 && match ($kind) {
        'good' => $outcome === 'hold: pass',
        'hard short', 'leak over C/200' => $run->stoppedBy() !== null && $share < 0.08 && $peak < 5.5,
        'small leak' => $outcome !== 'hold: pass' && $outcome !== 'hold: cannot-tell-yet',
        default => ($run->stoppedBy() !== null || $run->isPaused()) && ! $run->order()->on,
    };
    $row = &$table[$kind];
    $row['n']++;
    $row['right'] += (int) $right;
    $row['share'] = max($row['share'], $kind === 'good' || $kind === 'small leak' ? 0.0 : $share);
    $row['kelvin'] = max($row['kelvin'], $peak);
    $row['rules'][$outcome] = ($row['rules'][$outcome] ?? 0) + 1;
    unset($row);
    if (! $right) {
        $wrong[] = sprintf('%s: %.1f Ah, %.2f V, leak C/%.0f, share %.3f, %.1f K, %s %s', $kind, $c, $start, $low->leakA > 0 ? $c / $low->leakA : 0, $share, $peak, $outcome, $hold->text ?? '');
    }
}
printf("%-16s %5s %6s %10s %8s  ended by\n", 'group', 'runs', 'right', 'most in', 'warmest');
$failed = 0;
foreach ($table as $kind => $row) {
    arsort($row['rules']);
    printf("%-16s %5d %6d %9.1f%% %6.1f K  %s\n", $kind, $row['n'], $row['right'], 100 * $row['share'], $row['kelvin'], implode(', ', array_map(fn (string $r, int $c): string => "$r $c", array_keys($row['rules']), $row['rules'])));
    $failed += $row['n'] - $row['right'];
}
foreach ($wrong as $w) {
    echo "  wrong: $w\n";
}
printf("%d runs, %d not as they should be (limit 0) %s\n", $n, $failed, $failed === 0 ? 'ok' : 'FAIL');
exit($failed === 0 ? 0 : 1);
