<?php

declare(strict_types=1);

namespace Heartwood\Bench;

/**
 * Makes packs with known faults and the readings a technician would take of them. Not the model that diagnoses: its
 * rest curves are other curves, with offsets, two time constants and spread of their own. Deterministic for a seed.
 */
final class PackGenerator
{
    public const FAULTS = [
        'none',
        'undercharged',
        'overcharged',
        'leak',
        'low-capacity',
        'missing-cell',
        'joint',
        'cells-resist',
        'deep',
        'dead',
        'latched',
        'fuse',
        'charger',
        'sense-open',
        'trips-early',
        'charge-dead',
        'bleed-stuck',
        'double',
        'reversed',
        'all-low',
        'small-by-stops',
        'dead-strip',
        'refill',
        'joint-mended',
        'drain',
        'switch',
        'output-dead',
        'sensor',
        'bumped',
        'connector',
        'limit',
        'gauge',
        'device',
        'harness',
    ];

    private const CURVES = [
        'nmc' => [
            [0, 2.98],
            [0.04, 3.25],
            [0.1, 3.425],
            [0.2, 3.545],
            [0.3, 3.61],
            [0.4, 3.655],
            [0.5, 3.715],
            [0.6, 3.8],
            [0.7, 3.89],
            [0.8, 3.98],
            [0.9, 4.08],
            [1, 4.185],
        ],
        'lco' => [
            [0, 3.05],
            [0.04, 3.42],
            [0.1, 3.6],
            [0.2, 3.705],
            [0.3, 3.755],
            [0.4, 3.785],
            [0.5, 3.825],
            [0.6, 3.875],
            [0.7, 3.945],
            [0.8, 4.025],
            [0.9, 4.105],
            [1, 4.195],
        ],
        'lfp' => [
            [0, 2.65],
            [0.03, 3.02],
            [0.08, 3.18],
            [0.2, 3.238],
            [0.3, 3.268],
            [0.4, 3.286],
            [0.6, 3.297],
            [0.7, 3.321],
            [0.9, 3.332],
            [0.97, 3.345],
            [1, 3.43],
        ],
    ];

    public function __construct(int $seed)
    {
        mt_srand($seed);
    }

    /**
     * @param  bool  $enough  whether everything that tells the fault apart was measured
     * @return array{record: array<string, mixed>, fault: string, right: list<array{codes: list<string>, where: list<array<string,
     *   int>|null>}>, next: list<string>}
     */
    public function make(string $fault, bool $enough): array
    {
        $chemistry = ['nmc', 'nmc', 'nmc', 'lco', 'lfp'][mt_rand(0, 4)];
        if (
            in_array($fault, ['undercharged', 'overcharged', 'leak', 'bleed-stuck', 'drain', 'small-by-stops'], true) &&
            $chemistry === 'lfp'
        ) {
            $chemistry = 'nmc';
        }
        $s = mt_rand($fault === 'drain' ? 6 : 4, 14);
        $p = mt_rand(2, 6);
        $ah = [2.0, 2.5, 2.9, 3.2][mt_rand(0, 3)];
        $mohm = mt_rand(22, 60);
        $groups = [];
        $soc = $fault === 'low-capacity' ? $this->between(0.45, 0.9) : $this->between(0.35, 0.85);
        for ($k = 1; $k <= $s; $k++) {
            $groups[$k] = [
                'soc' => $soc + $this->normal(0.012),
                'cap' => $ah * $p * (1 - abs($this->normal(0.015))),
                'r' => ($mohm / $p) * (1 + $this->normal(0.04)),
                'joint' => 0.0,
                'leak' => abs($this->normal(0.0002)),
                'offset' => $this->normal(0.0015),
            ];
        }
        $k = mt_rand(1, $s);
        $right = [];
        $group = fn(array $codes): array => [['codes' => $codes, 'where' => [['group' => $k]]]];
        $pack = fn(array $codes): array => [['codes' => $codes, 'where' => [null]]];
        $output = 1.0;
        $tests = $symptoms = [];
        $next = [];
        $capacities = $enough;
        $loads = $enough;
        $again = $enough;
        $report = null;
        $events = [];
        $lostOhm = 0.0;
        $good = fn(string ...$elements): array => array_map(
            fn(string $e): array => ['kind' => 'continuity', 'element' => $e, 'ohm' => 0.02],
            $elements,
        );
        $chemistry = $fault === 'refill' ? 'lfp' : $chemistry;
        $full = round(($chemistry === 'lfp' ? 3.6 : 4.2) * $s, 2);
        switch ($fault) {
            case 'undercharged':
                $groups[$k]['soc'] = max(0.06, $soc - $this->between(0.12, 0.3));
                $right = $group(['group.undercharged']);
                $next = ['rest-again', 'load-step', 'charge-step', 'capacity-group'];
                break;
            case 'overcharged':
                $groups[$k]['soc'] = min(0.98, $soc + $this->between(0.1, 0.14));
                $right = $group(['group.overcharged']);
                break;
            case 'leak':
                $groups[$k]['soc'] = max(0.12, $soc - $this->between(0.03, 0.2));
                $groups[$k]['leak'] = $this->between(0.008, 0.05);
                $right = $group(['group.self-discharge']);
                $next = ['rest-again'];
                break;
            case 'low-capacity':
                $groups[$k]['cap'] *= $this->between(0.45, 0.78);
                $groups[$k]['r'] *= $this->between(1.05, 1.6);
                $right = $group(['group.low-capacity']);
                $next = ['load-step', 'charge-step', 'capacity-group'];
                break;
            case 'missing-cell':
                $groups[$k]['cap'] *= ($p - 1) / $p;
                $groups[$k]['r'] *= $p / ($p - 1);
                $right = $group(['group.missing-cell']);
                if ($enough) {
                    $tests[] = ['kind' => 'tug-weld', 'where' => ['group' => $k], 'loose' => true];
                }
                $next = ['load-step', 'charge-step', 'capacity-group', 'tug-weld'];
                break;
            case 'joint':
                $groups[$k]['joint'] = ($mohm / $p) * $this->between(0.6, 3.0);
                $right = [['codes' => ['joint.high-resistance'], 'where' => [['joint' => $k - 1], ['joint' => $k]]]];
                $next = ['load-step', 'charge-step'];
                break;
            case 'cells-resist':
                $groups[$k]['r'] *= $this->between(1.6, 2.6);
                $right = $group(['group.high-resistance']);
                if ($enough) {
                    for ($i = 1; $i <= $s; $i++) {
                        $tests[] = [
                            'kind' => 'resistance',
                            'scope' => ['group' => $i],
                            'mohm' => round($groups[$i]['r'] * (1 + $this->normal(0.02)), 2),
                            'method' => 'four-wire',
                        ];
                    }
                }
                $next = ['load-step', 'charge-step'];
                break;
            case 'deep':
            case 'dead':
                $right = $group([$fault === 'deep' ? 'group.deep-discharged' : 'group.dead']);
                $output = 0.0;
                $symptoms = ['dead-output'];
                $loads = $again = $capacities = false;
                $next = ['recovery-trial', 'rest-again', 'sense-unplugged-rest', 'low-impedance-terminal'];
                break;
            case 'latched':
                $right = $pack(['bms.latched', 'bms.asleep']);
                $output = 0.0;
                $symptoms = ['dead-output'];
                $loads = false;
                if ($enough) {
                    array_push(
                        $tests,
                        ['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 0.01],
                        ['kind' => 'wake', 'action' => 'charger-pulse', 'woke' => true],
                    );
                }
                $next = ['wake', 'continuity', 'flex'];
                break;
            case 'fuse':
                $right = $pack(['path.fuse-open']);
                $output = 0.0;
                $symptoms = ['dead-output'];
                $loads = false;
                if ($enough) {
                    $tests[] = ['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 9.0e6];
                }
                $next = ['wake', 'continuity', 'flex'];
                break;
            case 'charger':
                $right = $pack(['charger.wrong-voltage']);
                if ($enough) {
                    $tests[] = [
                        'kind' => 'charger',
                        'open_v' => round(
                            ($chemistry === 'lfp' ? 3.65 : 4.2) *
                                $s *
                                (mt_rand(0, 1) ? $this->between(1.03, 1.12) : $this->between(0.85, 0.93)),
                            2,
                        ),
                    ];
                }
                break;
            case 'sense-open':
                $tap = mt_rand(1, $s - 1);
                $right = [['codes' => ['sense.open'], 'where' => [['tap' => $tap]]]];
                $report = $tap;
                break;
            case 'trips-early':
                $right = $pack(['bms.trips-early']);
                $symptoms = ['cuts-out-under-load'];
                if ($enough) {
                    $tests[] = [
                        'kind' => 'discharge',
                        'stopped_by' => 'bms',
                        'after_ah' => 0.2,
                        'current_a' => -round($this->between(8, 20), 1),
                    ];
                }
                break;
            case 'charge-dead':
                $right = $pack(['bms.charge-dead']);
                $symptoms = ['will-not-charge'];
                if ($enough) {
                    $tests[] = ['kind' => 'charger', 'open_v' => $full, 'loaded_v' => $full - 0.1];
                    $tests[] = ['kind' => 'sensor', 'ohm' => 10050, 'expected_ohm' => 10000];
                }
                break;
            case 'bleed-stuck':
                $right = $pack(['bms.bleed-stuck']);
                break;
            case 'reversed':
            case 'all-low':
                // Low alike after long storage: one finding of the pack, none of its groups.
                $right = $fault === 'reversed' ? $group(['group.reversed']) : $pack(['pack.deep-discharged']);
                $output = 0.0;
                $symptoms = $fault === 'reversed' ? ['dead-output'] : ['dead-output', 'stored-long'];
                $loads = $again = $capacities = false;
                break;
            case 'small-by-stops':
                $groups[$k]['cap'] *= $this->between(0.5, 0.8);
                $right = $group(['group.low-capacity', 'group.missing-cell']);
                if ($enough) {
                    foreach (
                        ['charge' => [4.05, 4.25], 'discharge' => [3.45, $chemistry === 'lco' ? 3.0 : 2.8]]
                        as $kind => [$others, $own]
                    ) {
                        $tests[] =
                            [
                                'kind' => $kind,
                                'stopped_by' => 'bms',
                                'after_ah' => round(0.3 * $ah * $p, 2),
                                'groups_v' => array_map(
                                    fn(int $i): float => $i === $k ? $own : round($others + $this->normal(0.008), 2),
                                    range(1, $s),
                                ),
                            ] + ($kind === 'discharge' ? ['current_a' => -round(0.3 * $ah * $p, 1)] : []);
                    }
                }
                $capacities = false;
                break;
            case 'dead-strip':
                $groups[$k]['cap'] *= ($p - 1) / $p;
                $groups[$k]['r'] *= $p / ($p - 1);
                $right = $group(['group.missing-cell']);
                $millivolts = array_map(fn(): float => round(-1.5 * (1 + $this->normal(0.08)), 2), range(1, $p));
                $millivolts[mt_rand(0, $p - 1)] = round($this->normal(0.02), 2);
                if ($enough) {
                    $tests[] = [
                        'kind' => 'strip-millivolt',
                        'scope' => ['group' => $k],
                        'cells_mv' => $millivolts,
                        'current_a' => -1.5 * $p,
                    ];
                }
                $capacities = false;
                break;
            case 'refill':
                $right = $group(['group.self-discharge']);
                if ($enough) {
                    foreach ($groups as $i => $g) {
                        $tests[] = [
                            'kind' => 'refill',
                            'scope' => ['group' => $i],
                            'days' => 10,
                            'refill_ah' => round(
                                ($i === $k ? $this->between(0.004, 0.02) : 0.0005) * 10 * $g['cap'] * (1 + $this->normal(0.05)),
                                3,
                            ),
                        ];
                    }
                }
                $again = $capacities = false;
                $next = ['refill', 'load-step', 'charge-step'];
                break;
            case 'joint-mended':
                $groups[$k]['joint'] = ($mohm / $p) * $this->between(0.7, 3.0);
                $right = [['codes' => ['joint.high-resistance'], 'where' => [['joint' => $k]]]];
                $events = $enough ? [['at' => '2026-04-06T11:00:00Z', 'kind' => 'retightened', 'where' => ['joint' => $k]]] : [];
                break;
            case 'drain':
                $ends = mt_rand(2, max(2, intdiv($s, 2)));
                $gap = $this->between(0.08, 0.2);
                foreach (range(1, $ends) as $i) {
                    $groups[$i]['soc'] = max(0.05, $soc - $gap + $this->normal(0.004));
                }
                $right = $pack(['bms.drain']);
                $symptoms = ['stored-long'];
                $capacities = $again = false;
                break;
            case 'switch':
            case 'output-dead':
                $right = $pack([$fault === 'switch' ? 'path.switch-or-enable' : 'bms.output-dead']);
                $output = 0.0;
                $symptoms = ['dead-output'];
                $loads = false;
                if ($enough) {
                    $tests =
                        $fault === 'switch'
                            ? [...$good('fuse'), ['kind' => 'continuity', 'element' => 'switch', 'ohm' => 1.0e6]]
                            : [
                                ...$good('fuse', 'switch', 'connector'),
                                ['kind' => 'flex', 'element' => 'connector', 'changed' => false],
                                ...array_map(fn(string $a): array => ['kind' => 'wake', 'action' => $a, 'woke' => false], [
                                    'charger-pulse',
                                    'button',
                                    'bridge',
                                    'reconnect',
                                ]),
                            ];
                }
                $next = ['wake', 'continuity', 'flex'];
                break;
            case 'sensor':
                $right = $pack(['sensor.temperature']);
                $symptoms = ['will-not-charge'];
                if ($enough) {
                    $tests[] = ['kind' => 'sensor', 'ohm' => [1.0e6, 4.0, 62000.0][mt_rand(0, 2)], 'expected_ohm' => 10000];
                }
                $next = ['charger-check', 'sensor', 'bms-report', 'load-step', 'charge-step'];
                break;
            case 'bumped':
                $right = $pack(['path.intermittent']);
                $symptoms = ['cuts-out-when-bumped'];
                if ($enough) {
                    $tests[] = ['kind' => 'flex', 'element' => 'connector', 'changed' => true];
                }
                $next = ['flex'];
                break;
            case 'connector':
                $right = $pack(['path.connector']);
                $symptoms = ['cuts-out-under-load'];
                $lostOhm = $this->between(0.15, 0.5);
                $capacities = false;
                $next = ['load-step', 'continuity'];
                break;
            case 'limit':
                $right = $pack(['bms.limit-too-low']);
                $symptoms = ['cuts-out-under-load'];
                if ($enough) {
                    $tests[] = [
                        'kind' => 'discharge',
                        'stopped_by' => 'bms',
                        'after_ah' => 0.2,
                        'current_a' => -31.0,
                        'groups_v' => array_map(
                            fn(): float => round(($chemistry === 'lfp' ? 3.0 : 3.45) + $this->normal(0.02), 2),
                            range(1, $s),
                        ),
                    ];
                }
                break;
            case 'gauge':
                $right = $pack(['gauge.stale']);
                if ($enough) {
                    $tests[] = [
                        'kind' => 'capacity',
                        'scope' => 'pack',
                        'measured_ah' => round(0.93 * $ah * $p, 2),
                        'started_full' => true,
                        'rate_a' => 1.0,
                        'ambient_c' => 21,
                    ];
                    $tests[] = [
                        'kind' => 'gauge',
                        'full_charge_wh' => round($ah * $p * $s * 3.6 * [0.5, 0.7, 1.25][mt_rand(0, 2)], 1),
                        'design_wh' => round($ah * $p * $s * 3.6, 1),
                    ];
                }
                break;
            case 'device':
            case 'harness':
                $right = $pack([$fault === 'device' ? 'load.dead' : 'load.wiring']);
                $symptoms = ['dead-output'];
                if ($enough) {
                    $tests[] = [
                        'kind' => 'load-check',
                        'harness_ohm' => $fault === 'device' ? 0.02 : 1.0e4,
                        'device_ok' => $fault !== 'device',
                    ];
                }
                $next = ['load-check', 'load-step', 'charge-step'];
                break;
            case 'double':
                $j = ($k % $s) + 1;
                if ($chemistry === 'lfp') {
                    $chemistry = 'nmc';
                }
                $groups[$k]['soc'] = max(0.06, $soc - 0.22);
                $groups[$j]['r'] *= 1.1;
                $groups[$j]['cap'] *= 0.6;
                $right = [
                    ['codes' => ['group.undercharged'], 'where' => [['group' => $k]]],
                    ['codes' => ['group.low-capacity'], 'where' => [['group' => $j]]],
                ];
                break;
        }
        $meter = ['id' => 'meter', 'kind' => 'multimeter', 'percent' => 0.5, 'counts' => 2, 'resolution_v' => 0.001, 'input' => 'high'];
        $gain = 1 + $this->normal(0.0025);
        $shape = $this->between(-0.006, 0.006);
        $rest = function (float $days) use ($groups, $chemistry, $shape, $fault, $k): array {
            $out = [];
            foreach ($groups as $i => $g) {
                $soc = $g['soc'] - $g['leak'] * $days;
                $out[$i] = $this->curve($chemistry, $soc) + $shape * sin(6 * $soc) + $g['offset'];
                if ($i === $k && $fault === 'deep') {
                    $out[$i] = $chemistry === 'lfp' ? $this->between(1.5, 2.4) : $this->between(1.7, 2.65);
                } elseif ($i === $k && $fault === 'dead') {
                    $out[$i] = $this->between(0.0, mt_rand(0, 2) ? 0.5 : 1.1);
                } elseif ($i === $k && $fault === 'reversed') {
                    $out[$i] = -$this->between(0.1, 1.5);
                } elseif ($fault === 'all-low') {
                    $out[$i] = ($chemistry === 'lfp' ? 2.1 : 2.45) + $this->normal(0.008);
                }
            }

            return $out;
        };
        $first = $rest(0.0);
        $measurements = [$this->set('rest', 0.0, $first, $meter, $gain, '2026-04-06T09:00:00Z', $output)];
        if ($loads) {
            foreach (
                [[-$this->between(0.3, 0.9) * $ah * $p, 'discharge', '10:00'], [$this->between(0.2, 0.45) * $ah * $p, 'charge', '10:20']]
                as [$amps, $condition, $at]
            ) {
                $volts = [];
                foreach ($first as $i => $v) {
                    // Two time constants, half settled: the slow part is larger in an aged group.
                    $milliohm = $groups[$i]['r'] * (1.0 + 0.25 + 0.15) + $groups[$i]['joint'];
                    $volts[$i] = $v + ($amps * $milliohm) / 1000;
                }
                $measurements[] = $this->set($condition, round($amps, 1), $volts, $meter, $gain, "2026-04-06T$at:00Z", null);
                if ($lostOhm > 0) {
                    $measurements[count($measurements) - 1]['readings'][] = [
                        'from' => 'P-',
                        'to' => 'P+',
                        'v' => round((array_sum($volts) + $amps * $lostOhm) * $gain, 2),
                        'resolution_v' => 0.01,
                    ];
                }
            }
            if ($events !== []) {
                $amps = -round(0.5 * $ah * $p, 1);
                $measurements[] = $this->set(
                    'discharge',
                    $amps,
                    array_combine(
                        array_keys($first),
                        array_map(fn(int $i, float $v): float => $v + ($amps * $groups[$i]['r'] * 1.4) / 1000, array_keys($first), $first),
                    ),
                    $meter,
                    $gain,
                    '2026-04-06T11:20:00Z',
                    null,
                );
            }
        }
        if ($fault === 'bleed-stuck') {
            $groups[$k]['leak'] = 0.012;
            $sunk = $rest(0.0);
            $sunk[$k] = $this->curve($chemistry, $groups[$k]['soc'] - 0.05) + $groups[$k]['offset'] + $shape * sin(6 * $groups[$k]['soc']);
            $measurements[] = $this->set('rest', 0.0, $sunk, $meter, $gain, '2026-04-10T09:00:00Z', null);
            if ($enough) {
                $measurements[] =
                    ['sense_connected' => false] + $this->set('rest', 0.0, $sunk, $meter, $gain, '2026-04-10T12:00:00Z', null);
                $measurements[] =
                    ['sense_connected' => false] + $this->set('rest', 0.0, $sunk, $meter, $gain, '2026-04-14T12:00:00Z', null);
            }
        } elseif ($again) {
            $measurements[] = $this->set('rest', 0.0, $rest(5.0), $meter, $gain, '2026-04-11T09:00:00Z', null);
        }
        if ($report !== null) {
            $board = $first;
            $shift = $this->between(0.2, 1.5);
            $board[$report] += $shift;
            $board[$report + 1] -= $shift;
            $measurements[] =
                ['source' => 'bms-report'] +
                $this->set(
                    'rest',
                    0.0,
                    $board,
                    ['id' => 'board', 'percent' => 0.3, 'counts' => 1, 'resolution_v' => 0.001],
                    1.0,
                    '2026-04-06T09:30:00Z',
                    null,
                );
        }
        if ($capacities) {
            foreach ($groups as $i => $g) {
                $tests[] = [
                    'kind' => 'capacity',
                    'scope' => ['group' => $i],
                    'measured_ah' => round($g['cap'] * (1 + $this->normal(0.008)), 2),
                    'rate_a' => round(($ah * $p) / 5, 1),
                    'started_full' => true,
                    'ambient_c' => 21,
                ];
            }
        }
        foreach ($measurements as $i => $m) {
            $measurements[$i]['id'] = "m$i";
        }

        return [
            'record' => [
                'format' => 'heartwood.job',
                'version' => 1,
                'pack' => [
                    'chemistry' => $chemistry,
                    'series' => $s,
                    'parallel' => $p,
                    'kind' => 'other',
                    'cell' => ['capacity_ah' => $ah, 'resistance_mohm' => $mohm],
                    'bms' => [
                        'series' => $s,
                        'discharge_limit_a' => 30,
                        'charge_limit_a' => 5,
                        'high_cut_v' => $chemistry === 'lfp' ? 3.7 : 4.25,
                        'low_cut_v' => ['nmc' => 2.8, 'lco' => 3.0, 'lfp' => 2.5][$chemistry],
                        'balance' => 'passive',
                        'balance_current_a' => 0.05,
                    ],
                ],
                'symptoms' => $symptoms,
                'measurements' => $measurements,
                'tests' => $tests,
                'events' => $events,
            ],
            'fault' => $fault,
            'right' => $right,
            'next' => $next,
        ];
    }

    /**
     * @param  array<int, float>  $volts
     * @param  array<string, mixed>  $meter
     * @return array<string, mixed>
     */
    private function set(string $condition, float $amps, array $volts, array $meter, float $gain, string $at, ?float $output): array
    {
        $readings = [];
        foreach ($volts as $k => $v) {
            $readings[] = ['from' => 'T' . ($k - 1), 'to' => "T$k", 'v' => round($v * $gain + $this->normal(0.0007), 3)];
        }
        $sum = array_sum($volts) * $gain;
        $readings[] = ['from' => 'T0', 'to' => 'T' . count($volts), 'v' => round($sum + $this->normal(0.004), 2), 'resolution_v' => 0.01];
        if ($output !== null) {
            $readings[] = [
                'from' => 'P-',
                'to' => 'P+',
                'v' => round($output > 0.5 ? $sum : $this->between(0.1, 1.5), 2),
                'resolution_v' => 0.01,
            ];
        }

        return [
            'at' => $at,
            'condition' => $condition,
            'current_a' => $amps,
            'ambient_c' => 21,
            'instrument' => $meter,
            'readings' => $readings,
        ] + ($condition === 'rest' ? ['rested_min' => 600] : []);
    }

    private function curve(string $chemistry, float $soc): float
    {
        $points = self::CURVES[$chemistry];
        $soc = max(0.0, min(1.0, $soc));
        for ($i = 1; $i < count($points); $i++) {
            if ($soc <= $points[$i][0]) {
                [$a, $b] = [$points[$i - 1], $points[$i]];

                return $a[1] + (($b[1] - $a[1]) * ($soc - $a[0])) / ($b[0] - $a[0]);
            }
        }

        return $points[count($points) - 1][1];
    }

    private function between(float $low, float $high): float
    {
        return $low + (($high - $low) * mt_rand()) / mt_getrandmax();
    }

    private function normal(float $sigma): float
    {
        return $sigma * sqrt(-2 * log(max(1e-12, mt_rand() / mt_getrandmax()))) * cos((2 * M_PI * mt_rand()) / mt_getrandmax());
    }
}
