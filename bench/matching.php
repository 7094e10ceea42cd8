<?php

declare(strict_types=1);

// Deals of large drawers: gap to the bound, conductance, ratio inside groups and seconds, beside a hand's serpentine.

use Heartwood\Core\Cell\CannotMatch;
use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Cell\Matcher;

require __DIR__ . '/../vendor/autoload.php';

mt_srand((int) ($argv[1] ?? 20260413));
$gauss = fn(): float => sqrt(-2 * log(max(1e-12, mt_rand() / mt_getrandmax()))) * cos((2 * M_PI * mt_rand()) / mt_getrandmax());
$drawer = fn(int $n, float $c, float $r): array => array_map(
    fn(int $i): DrawerCell => new DrawerCell("C$i", 3.0 * (1 + $c * $gauss()), 32.0 * max(0.3, 1 + $r * $gauss())),
    range(1, $n),
);
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
    $begin = hrtime(true);
    $hand = Matcher::serpentine($cells, $s, $p);
    $begin = hrtime(true);
    try {
        $deal = Matcher::deal($cells, $s, $p);
        $seconds = (hrtime(true) - $begin) / 1e9;
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
            (hrtime(true) - $begin) / 1e9,
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
exit($bad === 0 ? 0 : 1);
