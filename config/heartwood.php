<?php

declare(strict_types=1);

return [
    // First of the five ports of the simulated bench: meter, supply, load, board, hand.
    'bench_port' => (int) env('HEARTWOOD_BENCH_PORT', 8140),
];
