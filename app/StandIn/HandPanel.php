<?php

declare(strict_types=1);

namespace App\StandIn;

/** The simulated hand and the mishaps: one JSON object a line in, the bench's state out. Simulation only, never an instrument. */
final class HandPanel
{
    public function __construct(private readonly VirtualBench $bench) {}

    public function message(string $line): string
    {
        $in = json_decode($line, true);
        if (!is_array($in)) {
            return (string) json_encode(['error' => 'one JSON object a line']);
        }
        $b = $this->bench;
        $b->tick();
        $int = fn(string $k): int => (int) ($in[$k] ?? 0);
        $n = $b->series();
        $tap = fn(string $k): int => max(0, min($n, $int($k)));
        $known = true;
        match ($in['do'] ?? 'state') {
            'state' => null,
            'touch' => $b->touch($tap('from'), $tap('to')),
            'lift' => $b->lift(),
            'prompt' => $b->prompt($tap('from'), $tap('to')),
            'follow' => $b->follow((bool) ($in['on'] ?? true)),
            'clip' => ($b->clip = max(-1, min($n, $int('group')))),
            'reverse' => ($b->reversed = (bool) ($in['on'] ?? true)),
            'deaf' => ($b->deaf = (bool) ($in['on'] ?? true)),
            'slip' => ($b->slips[$tap('tap')] = true),
            'lead' => ($in['which'] ?? '') === 'temperature'
                ? ($b->tempLeadOff = (bool) ($in['off'] ?? true))
                : ($b->voltLeadOff = (bool) ($in['off'] ?? true)),
            'noise' => ($b->noiseV = max(0.0, min(0.5, (float) ($in['v'] ?? 0.0002)))),
            'speed' => ($b->handSpeedS = max(0.05, min(10.0, (float) ($in['s'] ?? 0.5)))),
            'scale' => ($b->scale = max(0.1, min(60.0, (float) ($in['x'] ?? 1)))),
            'dead' => ($b->dead = array_values(array_filter((array) ($in['devices'] ?? []), is_string(...)))),
            'pack' => $b->load(
                array_values(array_filter((array) ($in['groups'] ?? []), is_array(...))) ?: [['soc' => 0.6]],
                (string) ($in['chemistry'] ?? 'nmc'),
                (float) ($in['capacity_ah'] ?? 8.0),
                (float) ($in['scale'] ?? 1.0),
            ),
            default => ($known = false),
        };

        return (string) json_encode($known ? $b->state() : ['error' => 'not known: ' . mb_substr((string) ($in['do'] ?? ''), 0, 30)]);
    }
}
