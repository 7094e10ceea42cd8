<?php

declare(strict_types=1);

namespace Tests\Core;

/** Job records that pass the schema and make no sense otherwise: any chemistry, any readings, any tests. Same seed, same record. */
final class AnyRecord
{
    private const MIDDLE_V = ['nmc' => 3.7, 'nca' => 3.7, 'lco' => 3.8, 'lco-hv' => 3.85, 'lmo' => 3.8, 'lfp' => 3.3, 'lto' => 2.3];

    private const SYMPTOMS = [
        'dead-output',
        'will-not-charge',
        'cuts-out-when-bumped',
        'charger-blinks-fault',
        'charger-full-at-once',
        'dies-early',
        'cuts-out-under-load',
        'cuts-out-until-reconnected',
        'low-range',
        'gauge-jumps',
        'gauge-wrong',
        'voltage-drops-off-charger',
        'stored-long',
        'wet',
        'dropped',
        'modified',
        'short-circuited',
    ];

    private const FLAGS = [
        'over-voltage',
        'under-voltage',
        'over-current',
        'over-temperature',
        'under-temperature',
        'charge-off',
        'discharge-off',
    ];

    private string $chemistry = 'nmc';

    private int $series = 1;

    private int $parallel = 1;

    private float $days = 0.0;

    public function __construct(int $seed)
    {
        mt_srand($seed);
    }

    /** @return array<string, mixed> */
    public function make(): array
    {
        $this->chemistry = $this->one(array_keys(self::MIDDLE_V));
        $this->series = $this->one([1, 1, 2, 3, 4, 5, 7, 10, 13, 14, 16, 20, 24]);
        $this->parallel = $this->one([1, 2, 3, 4, 6, 10]);
        $this->days = 0.0;

        return [
            'format' => 'heartwood.job',
            'version' => 1,
            'pack' => $this->pack(),
            'symptoms' => array_values(array_unique(array_map(fn(): string => $this->one(self::SYMPTOMS), range(1, mt_rand(1, 3))))),
            'measurements' => array_map(fn(int $i): array => $this->measurement($i), range(1, mt_rand(1, 6))),
            'tests' => array_map(fn(): array => $this->test(), range(1, mt_rand(1, 6))),
            'events' => $this->chance(0.3) ? [$this->event()] : [],
        ];
    }

    /** @return array<string, mixed> */
    private function pack(): array
    {
        $pack = ['chemistry' => $this->chemistry, 'series' => $this->series];
        if ($this->chance(0.8)) {
            $pack['parallel'] = $this->parallel;
        }
        if ($this->chance(0.7)) {
            $pack['cell'] =
                ['capacity_ah' => $this->between(0.5, 100, 2)] +
                ($this->chance(0.6) ? ['resistance_mohm' => $this->between(0.3, 100, 1)] : []) +
                ($this->chance(0.4) ? ['max_continuous_a' => $this->between(1, 30, 1)] : []);
        }
        if ($this->chance(0.5)) {
            $middle = self::MIDDLE_V[$this->chemistry];
            $pack['bms'] =
                ['discharge_limit_a' => $this->between(1, 100, 1), 'balance' => $this->one(['passive', 'active', 'none'])] +
                ($this->chance(0.5) ? ['low_cut_v' => $middle - 1, 'high_cut_v' => $middle + 0.6] : []) +
                ($this->chance(0.5) ? ['balance_current_a' => 0.05] : []);
        }

        return $pack +
            ($this->chance(0.3) ? ['charger' => ['cv_v' => $this->between(1, 90, 1), 'cc_a' => 2.0]] : []) +
            ($this->chance(0.3) ? ['load' => ['power_w' => 500, 'controller_limit_a' => 20]] : []);
    }

    /** @return list<float> */
    private function volts(): array
    {
        $base = $this->chance(0.8) ? self::MIDDLE_V[$this->chemistry] + $this->between(-0.3, 0.3) : $this->between(0, 4.4);

        return array_map(
            fn(): float => $this->chance(0.85)
                ? round($base + $this->between(-0.004, 0.004), 3)
                : $this->one([$this->between(-4, 4.5), $this->between(0, 0.1), $this->between(1, 3)]),
            range(1, $this->series),
        );
    }

    /** @return array<string, mixed> */
    private function measurement(int $i): array
    {
        $condition = $this->one(['rest', 'rest', 'relaxing', 'charge', 'discharge']);
        $style = $this->one(['across', 'cumulative', 'both']);
        $readings = [];
        $sum = 0.0;
        foreach ($this->volts() as $k => $v) {
            $sum += $v;
            if ($this->chance(0.1)) {
                continue;
            }
            if ($style !== 'cumulative') {
                $readings[] = ['from' => "T$k", 'to' => 'T' . ($k + 1), 'v' => $v];
            }
            if ($style !== 'across') {
                $readings[] = [
                    'from' => 'T0',
                    'to' => 'T' . ($k + 1),
                    'v' => round($sum + ($this->chance(0.05) ? $this->between(-3, 3) : 0), 2),
                ];
            }
        }
        if ($this->chance(0.5)) {
            $readings[] = ['from' => 'P-', 'to' => 'P+', 'v' => round($this->one([$sum, 0.1, $sum * 0.8, $this->between(-5, 60)]), 2)];
        }
        if ($this->chance(0.2)) {
            $readings[] = ['from' => 'C-', 'to' => 'C+', 'v' => $this->between(0, 60, 1)];
        }
        $this->days += $this->between(0, 3);
        $amps = ['charge' => $this->between(0, 20, 2), 'discharge' => -$this->between(0, 40, 2)][$condition] ?? 0;

        return ['id' => "m$i", 'condition' => $condition, 'current_a' => $amps, 'readings' => $readings] +
            ($this->chance(0.9) ? ['at' => $this->at($this->days)] : []) +
            ($this->chance(0.3) ? ['sense_connected' => $this->chance(0.5)] : []) +
            ($this->chance(0.4) ? ['ambient_c' => $this->between(-10, 45, 1)] : []) +
            ($this->chance(0.15) ? ['source' => 'bms-report', 'flags' => [$this->one(self::FLAGS)]] : []) +
            ($this->chance(0.3) ? ['rested_min' => mt_rand(0, 600)] : []) +
            ($this->chance(0.2)
                ? ['temperatures' => [['where' => ['joint' => mt_rand(0, $this->series)], 'c' => $this->between(0, 90, 1)]]]
                : []);
    }

    /** @return array<string, mixed> */
    private function test(): array
    {
        $group = ['group' => mt_rand(1, $this->series)];

        return match (mt_rand(0, 16)) {
            0 => [
                'kind' => 'capacity',
                'scope' => $this->one(['pack', $group]),
                'measured_ah' => $this->between(0, 40, 2),
                'started_full' => $this->chance(0.7),
            ],
            1 => ['kind' => 'resistance', 'scope' => $group, 'mohm' => $this->between(0.1, 200, 1), 'method' => 'four-wire'],
            2 => [
                'kind' => 'charge',
                'stopped_by' => $this->one(['charger', 'bms', 'person']),
                'after_ah' => $this->between(0, 9, 2),
                'groups_v' => $this->volts(),
            ],
            3 => [
                'kind' => 'discharge',
                'stopped_by' => $this->one(['charger', 'bms', 'person']),
                'after_ah' => $this->between(0, 9, 2),
                'current_a' => -$this->between(0, 30, 1),
                'groups_v' => $this->volts(),
            ],
            4 => [
                'kind' => 'recovery',
                'scope' => $group,
                'current_a' => 0.5,
                'samples' => array_map(
                    fn(int $i): array => ['min' => 2 * $i, 'v' => $this->between(0, 3.2), 'a' => 0.5, 'c' => 20.0],
                    range(0, mt_rand(0, 8)),
                ),
            ],
            5 => ['kind' => 'refill', 'scope' => $group, 'days' => $this->between(0, 30, 1), 'refill_ah' => $this->between(0, 5, 2)],
            6 => [
                'kind' => 'wake',
                'action' => $this->one(['charger-pulse', 'button', 'enable-wire', 'bridge', 'reconnect', 'device']),
                'woke' => $this->chance(0.5),
            ],
            7 => [
                'kind' => 'continuity',
                'element' => $this->one(['fuse', 'switch', 'connector']),
                'drop_v' => $this->between(0, 60, 2),
                'current_a' => -0.2,
            ],
            8 => [
                'kind' => 'continuity',
                'element' => 'joint',
                'where' => ['joint' => mt_rand(0, $this->series)],
                'ohm' => $this->between(0, 0.5),
            ],
            9 => ['kind' => 'flex', 'element' => 'connector', 'changed' => $this->chance(0.5)],
            10 => ['kind' => 'tug-weld', 'where' => $group, 'loose' => $this->chance(0.5)],
            11 => ['kind' => 'sensor', 'ohm' => $this->between(0, 100000, 0), 'expected_ohm' => 10000],
            12 => [
                'kind' => 'pin-check',
                'pins_v' => array_map(fn(): ?float => $this->chance(0.1) ? null : $this->between(0, 60, 1), range(0, $this->series)),
            ],
            13 => [
                'kind' => 'charger',
                'open_v' => $this->between(0, 90, 1),
                'loaded_v' => $this->between(0, 90, 1),
                'stages' => ['cc', 'cv'],
            ],
            14 => ['kind' => 'gauge', 'full_charge_wh' => 30, 'design_wh' => 50, 'reported_soc' => 0.5],
            15 => [
                'kind' => 'strip-millivolt',
                'scope' => $group,
                'cells_mv' => array_map(fn(): float => $this->between(-2, 2, 2), range(1, $this->parallel)),
                'current_a' => $this->one([0, -5]),
            ],
            default => ['kind' => 'load-check', 'harness_ohm' => $this->between(0, 10), 'device_ok' => $this->chance(0.5)],
        };
    }

    /** @return array<string, mixed> */
    private function event(): array
    {
        return [
            'kind' => $this->one(['retightened', 'group-charged', 'balanced', 'sense-unplugged']),
            'at' => $this->at($this->between(0, $this->days + 1)),
            'where' => $this->one([['joint' => mt_rand(0, $this->series)], ['group' => mt_rand(1, $this->series)]]),
        ];
    }

    private function at(float $days): string
    {
        return gmdate('Y-m-d\TH:i:s\Z', 1780000000 + (int) ($days * 86400));
    }

    private function between(float $a, float $b, int $decimals = 3): float
    {
        return round($a + (($b - $a) * mt_rand()) / mt_getrandmax(), $decimals);
    }

    private function chance(float $p): bool
    {
        return mt_rand() / mt_getrandmax() < $p;
    }

    /**
     * @template T
     *
     * @param  non-empty-list<T>  $of
     * @return T
     */
    private function one(array $of): mixed
    {
        return $of[mt_rand(0, count($of) - 1)];
    }
}
