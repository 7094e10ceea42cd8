<?php

declare(strict_types=1);

$first = (int) env('HEARTWOOD_BENCH_PORT', 8140);

return [
    // First of the five ports of the simulated bench: meter, supply, load, board, hand.
    'bench_port' => $first,
    // The only ports of this machine at which an instrument may be; a second simulated bench is named by its first port.
    'bench_ports' => array_merge(
        ...array_map(fn(int $p): array => $p > 0 ? range($p, $p + 4) : [], [
            $first,
            ...array_map('intval', explode(',', (string) env('HEARTWOOD_MORE_BENCHES', ''))),
        ]),
    ),
    // Another word each time that this server is restored from a backup: benches then ask whether all that they sent is still here.
    'epoch' => (string) env('HEARTWOOD_EPOCH', ''),
    // The simulated mailbox.
    'mail_port' => (int) env('HEARTWOOD_MAIL_PORT', 8146),
    // Proxies in front of this server whose word on the caller is taken.
    'proxies' => array_values(array_filter(array_map('trim', explode(',', (string) env('HEARTWOOD_PROXIES', ''))))),
    // Names by which this server is reached; anything else is not meant for it.
    'hosts' => array_values(array_filter(array_map('trim', explode(',', (string) env('HEARTWOOD_HOSTS', '127.0.0.1,localhost,[::1]'))))),
];
