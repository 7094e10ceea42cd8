<?php

declare(strict_types=1);

// Deals of large drawers: gap to the bound, conductance, ratio inside groups and seconds, beside a hand's serpentine.
// Then small drawers against every deal that there is: bench/matching [SEED] [COUNT].

use Heartwood\Core\Cell\CannotMatch;
use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Cell\Matcher;
use Tests\Core\Drawers;

require __DIR__ . '/../vendor/autoload.php';

mt_srand((int) ($argv[1] ?? 20260413));
$gauss = fn(): float => sqrt(-2 * log(max(1e-12, mt_rand() / mt_getrandmax()))) * cos((2 * M_PI * mt_rand()) / mt_getrandmax());
$drawer = fn(int $n, float $c, float $r): array => array_map(
    fn(int $i): DrawerCell => new DrawerCell("C$i", 3.0 * (1 + $c * $gauss()), 32.0 * max(0.3, 1 + $r * $gauss())),
    range(1, $n),
);
// Seconds of the processor: what else the machine does is not counted.
$cpu = function (): float {
    $u = getrusage();

    return $u['ru_utime.tv_sec'] + $u['ru_stime.tv_sec'] + ($u['ru_utime.tv_usec'] + $u['ru_stime.tv_usec']) / 1e6;
};
$bad = 0;
printf("%-22s %12s %12s %9s %8s   %s\n", 'drawer', 'gap', 'conductance', 'ratio', 'seconds', 'by hand: gap, conductance, ratio');
foreach (
    [
        [200, 20, 10, 0.04],
        [200, 20, 10, 0.04],
        [200, 20, 10, 0.04],
        [2000, 20, 100, 0.04],
        [2000, 20, 100, 0.04],
        [200, 20, 10, 0.1],
        [2000, 20, 100, 0.1],
    ]
    as [$n, $s, $p, $r]
) {
    $cells = $drawer($n, 0.03, $r);
    $hand = Matcher::serpentine($cells, $s, $p);
    $begin = $cpu();
    try {
        $deal = Matcher::deal($cells, $s, $p);
        $seconds = $cpu() - $begin;
        $ok = $deal->worstRatio <= 1.3 && $seconds <= 1.0 && ($r > 0.05 || ($deal->gap <= 1e-4 && $deal->conductanceSpread <= 2e-3));
        printf(
            "%-22s %10.5f %% %10.4f %% %9.3f %8.2f   %.4f %%, %.2f %%, %.2f %s\n",
            "$n into $s x $p, " . 100 * $r . ' %',
            100 * $deal->gap,
            100 * $deal->conductanceSpread,
            $deal->worstRatio,
            $seconds,
            100 * $hand->gap,
            100 * $hand->conductanceSpread,
            $hand->worstRatio,
            $ok ? 'ok' : 'FAIL',
        );
        $bad += (int) !$ok;
    } catch (CannotMatch $e) {
        printf(
            "%-22s refused in %.2f s: %s Nearest: %s %s\n",
            "$n into $s x $p, " . 100 * $r . ' %',
            $cpu() - $begin,
            $e->getMessage(),
            $e->relaxation,
            $r > 0.05 ? 'ok' : 'FAIL',
        );
        $bad += (int) ($r <= 0.05);
    }
}
// 52 of 90 against ten thousand random deals of the same cells, each dealt forth and back from a shuffled order.
$cells = $drawer(90, 0.04, 0.04);
$ours = Matcher::deal($cells, 13, 4);
usort($cells, fn(DrawerCell $a, DrawerCell $b): int => $b->capacityAh <=> $a->capacityAh);
$top = array_map(fn(DrawerCell $c): float => $c->capacityAh, array_slice($cells, 0, 52));
$best = 0.0;
for ($k = 0; $k < 10000; $k++) {
    shuffle($top);
    $best = max($best, min(array_map(array_sum(...), array_chunk($top, 4))));
}
$ok = $ours->least() >= $best - 1e-12;
printf(
    "52 of 90 into 13 x 4: smallest group %.4f Ah (bound %.4f), best of 10,000 random deals %.4f %s\n",
    $ours->least(),
    $ours->bound,
    $best,
    $ok ? 'ok' : 'FAIL',
);
$bad += (int) !$ok;

mt_srand((int) ($argv[1] ?? 20260413));
$count = (int) ($argv[2] ?? 500);
$said = ['falsely refused' => 0, 'falsely dealt' => 0, 'relaxation not the nearest' => 0, 'sub-optimal' => 0];
$refused = $proven = 0;
$slowest = 0.0;
for ($k = 0; $k < $count; $k++) {
    [$s, $p] = [[2, 2], [2, 3], [3, 2], [3, 3], [2, 4], [4, 2], [5, 2], [4, 1], [1, 5], [2, 5], [3, 1], [6, 1]][mt_rand(0, 11)];
    $n = min(max(11, $s * $p), $s * $p + mt_rand(0, 4));
    $lots = mt_rand(1, 3);
    $cells = array_map(
        fn(DrawerCell $c): DrawerCell => new DrawerCell($c->id, $c->capacityAh, $c->mohm, lot: 'L' . mt_rand(1, $lots)),
        $drawer($n, [0.01, 0.03, 0.08][$k % 3], [0.03, 0.08, 0.15, 0.3][$k % 4]),
    );
    $all = Drawers::everyDeal($cells, $s, $p, 1.3);
    $begin = $cpu();
    try {
        $deal = Matcher::deal($cells, $s, $p);
    } catch (CannotMatch $e) {
        $refused++;
        $said['falsely refused'] += (int) ($all !== []);
        $ratio = (float) preg_replace('/[^0-9.]*([0-9.]+).*/', '$1', (string) $e->relaxation);
        $nearest = Drawers::everyDeal($cells, $s, $p, $ratio) !== [] && Drawers::everyDeal($cells, $s, $p, $ratio - 0.011) === [];
        $said['relaxation not the nearest'] += (int) !$nearest;

        continue;
    }
    $slowest = max($slowest, $cpu() - $begin);
    $said['falsely dealt'] += (int) ($all === []);
    $proven += (int) $deal->proven;
    // A tenth of what the tests leave open is no difference; then conductance, where 0.2 % is none.
    $most = max(array_column($all, 0));
    $alike = $deal->sigmaTotal() / 10;
    $near = array_filter($all, fn(array $d): bool => $d[0] >= $deal->least() - 1e-9);
    $spread = max(0.002, min(array_column($near, 1)));
    $said['sub-optimal'] += (int) ($deal->least() < $most - 1.001 * $alike || $deal->conductanceSpread > $spread + 1e-8);
}
printf("%d small drawers, each against every deal: %d refused, %d proven, slowest %.2f s\n", $count, $refused, $proven, $slowest);
foreach ($said as $what => $times) {
    printf("  %-28s %d %s\n", $what, $times, $times === 0 ? 'ok' : 'FAIL');
    $bad += $times;
}
exit($bad === 0 ? 0 : 1);
