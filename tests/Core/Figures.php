<?php

declare(strict_types=1);

namespace Tests\Core;

use App\Contract\Verbs;
use Heartwood\Bench\BenchPacks;
use Heartwood\Core\Cell\CellHold;
use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Cell\JoinRule;
use Heartwood\Core\Cell\JoinSide;
use Heartwood\Core\Cell\Substitute;
use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\NextTest;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\Verdict;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\Identity;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Proof\Acceptance;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Recovery\HoldTest;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\WakeOrder;
use Heartwood\Core\Safety\EnergyAtRisk;
use Heartwood\Core\Twin\LiveGroup;

require_once dirname(__DIR__, 2) . '/bench/BenchPacks.php';

/**
 * What the rules say of many packs, logs, drawers and runs, to the fourth digit. It judges nothing: other tests tell
 * right from wrong. It makes a change of any number visible, so that nobody changes one unawares.
 */
final class Figures
{
    public const FILE = __DIR__ . '/figures.txt';

    /** @return list<string> a line for each thing that is said */
    public static function lines(): array
    {
        $out = [];
        $generator = new BenchPacks(20261129);
        foreach (BenchPacks::scenarios() as $at => $scenario) {
            foreach ([1, 2] as $n) {
                $record = $generator->make($scenario)['record'];
                foreach (self::verdict(Bench::verdict($record)) as $line) {
                    $out[] = "$scenario $n: $line";
                }
                array_push(
                    $out,
                    ...array_map(
                        fn(string $line): string => "$scenario $n: $line",
                        $n === 1 && $at % 9 === 0 ? self::afterwards($record) : [],
                    ),
                );
            }
        }
        foreach (glob(__DIR__ . '/cases/*.json') ?: [] as $file) {
            $case = json_decode((string) file_get_contents($file), true);
            foreach (self::verdict(Bench::verdict($case['job'] ?? ($case['record'] ?? $case))) as $line) {
                $out[] = basename($file, '.json') . ": $line";
            }
        }

        // Records of which nothing fits: every rule that hears anything says something.
        $any = new AnyRecord(20261129);
        for ($n = 1; $n <= 120; $n++) {
            $out[] = "any $n: " . self::verdict(Bench::verdict($any->make()))[0];
        }

        return [...$out, ...self::outside(), ...self::pieces(), ...self::verbs(), ...self::runs()];
    }

    /** @return list<string> */
    private static function verdict(Verdict $v): array
    {
        $list = fn(array $of, callable $say): string => implode('; ', array_map($say, $of));

        return array_values(
            array_filter([
                'finds ' .
                $list(
                    $v->findings,
                    fn(Finding $f): string => sprintf(
                        '%s%s %.4f %s [%s]',
                        $f->code,
                        $f->place->key() === '' ? '' : ' ' . $f->place->key(),
                        $f->probability,
                        $f->severity->value,
                        implode(' ', array_map(fn($e): string => sprintf('%.1f', $e->decibans), $f->evidence)),
                    ),
                ),
                'asks ' .
                $list(
                    $v->nextTests,
                    fn(NextTest $t): string => sprintf('%s %s %d min %.3f', $t->test->value, $t->place->key(), $t->minutes, $t->gainBits),
                ),
                'offers ' .
                $list(
                    $v->options,
                    fn(Option $o): string => sprintf(
                        '%s %s %s Ah %d min %.1f h %d cells',
                        $o->action->value,
                        implode(',', array_map(fn($p): string => $p->key(), $o->places)),
                        self::n($o->usableAh),
                        $o->handsMinutes,
                        $o->waitHours,
                        $o->cells,
                    ),
                ),
                $v->spread === null ? '' : sprintf('spread %s %s', self::n($v->spread->spreadV), $v->spread->class),
                $v->window === null ? '' : 'window ' . json_encode(self::round($v->window->toArray())),
                'safety ' .
                $v->triage->state->value .
                ', groups ' .
                $list(
                    $v->groups,
                    fn(array $g): string => implode(
                        ' ',
                        array_map(
                            fn(mixed $x): string => is_array($x)
                                ? implode(
                                    '/',
                                    array_map(
                                        fn(mixed $y): string => is_float($y) ? self::n($y) : (string) json_encode($y),
                                        array_slice($x, 0, 3),
                                    ),
                                )
                                : (is_float($x)
                                    ? self::n($x)
                                    : (string) $x),
                            array_diff_key($g, ['basis' => 1, 'across' => 1, 'doubt' => 1]),
                        ),
                    ),
                ),
                $v->suspicions === []
                    ? ''
                    : 'suspects ' . $list($v->suspicions, fn($s): string => $s->kind . ' ' . self::n($s->probability)),
                $v->leakReadyDays === null ? '' : 'leak in ' . self::n($v->leakReadyDays),
            ]),
        );
    }

    /**
     * The proof and the energy of the same pack, and its board, run and balance.
     *
     * @param  array<string, mixed>  $record
     * @return list<string>
     */
    private static function afterwards(array $record): array
    {
        $parsed = Bench::parse($record);
        $out = [
            'proof ' .
            implode(
                '; ',
                array_map(
                    fn($r): string => "{$r->check->value} {$r->status} {$r->found} ({$r->limit})",
                    (new Acceptance($parsed, []))->results(),
                ),
            ),
        ];
        $risk = EnergyAtRisk::of($parsed->pack, new PackEvidence($parsed));
        $out[] = 'at risk ' . ($risk?->sentence() ?? 'nothing');
        foreach (
            [
                'balance' => ['job' => $record, 'means' => ['supply_a' => 2.0, 'active_a' => 1.0]],
                'simulate' => [
                    'job' => $record,
                    'scenario' => [
                        'steps' => [
                            ['mode' => 'charge', 'current_a' => 2.0],
                            ['mode' => 'rest', 'hours' => 2],
                            ['mode' => 'discharge', 'current_a' => 5.0],
                            ['mode' => 'age', 'cycles' => 200],
                            ['mode' => 'discharge', 'power_w' => 80.0],
                        ],
                        'step_s' => 30,
                    ],
                ],
            ]
            as $verb => $in
        ) {
            $out[] = "$verb " . self::verb($verb, $in);
        }

        return $out;
    }

    /** @return list<string> chargers, loads, labels and boards as somebody writes them down */
    private static function outside(): array
    {
        $level = [3.8, 3.802, 3.798, 3.801, 3.8, 3.799];
        $out = [];
        foreach (
            [
                [['charger' => ['cv_v' => 25.0]], []],
                [['charger' => ['cv_v' => 29.4]], []],
                [['charger' => ['cv_v' => 25.5]], []],
                [['charger' => ['profile' => 'automatic']], []],
                [['charger' => ['profile' => 'lfp']], []],
                [[], ['tests' => [['kind' => 'charger', 'open_v' => 25.6, 'loaded_v' => 12.0]]]],
                [[], ['tests' => [['kind' => 'charger', 'open_v' => 2.0]]]],
                [[], ['tests' => [['kind' => 'load-check', 'harness_ohm' => 0.004]]]],
                [[], ['tests' => [['kind' => 'load-check', 'harness_ohm' => 0.09, 'device_ok' => false]]]],
                [[], ['tests' => [['kind' => 'gauge', 'full_charge_wh' => 80.0, 'design_wh' => 181.0]]]],
                [['label' => ['capacity_ah' => 10.0, 'energy_wh' => 181.0]], []],
                [[], ['symptoms' => ['cuts-out-until-reconnected', 'hot-in-use']]],
                [[], ['symptoms' => ['gauge-jumps', 'gauge-wrong']]],
                [['bms' => ['discharge_limit_a' => 8.0], 'load' => ['power_w' => 400]], ['symptoms' => ['cuts-out-under-load']]],
                [
                    ['bms' => ['low_cut_v' => 3.3]],
                    [
                        'tests' => [
                            ['kind' => 'discharge', 'stopped_by' => 'bms', 'after_ah' => 2.0, 'current_a' => -6.0, 'peak_a' => -20.0],
                        ],
                        'symptoms' => ['dies-early'],
                    ],
                ],
                [
                    [],
                    [
                        'symptoms' => ['will-not-charge'],
                        'tests' => [
                            ['kind' => 'charge', 'stopped_by' => 'bms', 'after_ah' => 0.1],
                            ['kind' => 'charger', 'open_v' => 25.2, 'loaded_v' => 25.1],
                        ],
                    ],
                ],
                [
                    ['bms' => ['balance' => 'passive', 'balance_current_a' => 0.03]],
                    [
                        'tests' => [
                            [
                                'kind' => 'charge',
                                'stopped_by' => 'bms',
                                'after_ah' => 2.4,
                                'groups_v' => [4.26, 4.02, 4.03, 4.01, 4.02, 4.04],
                            ],
                        ],
                    ],
                ],
            ]
            as $n => [$pack, $more]
        ) {
            foreach (self::verdict(Bench::verdict(Bench::record($level, $pack, $more))) as $line) {
                $out[] = "outside $n: $line";
            }
        }

        return $out;
    }

    /** @return list<string> */
    private static function pieces(): array
    {
        $out = [];
        foreach ([13.1, 25.9, 40.7, 58.8, 74.2, 100.3] as $v) {
            $out[] = "identity $v: " . json_encode(self::round(array_map(fn($g): array => $g->toArray(), Identity::guess($v))));
        }
        foreach (Chemistry::cases() as $c) {
            $curve = RestCurve::of($c);
            $out[] =
                "curve {$c->value}: " .
                implode(
                    ' ',
                    array_map(fn(int $i): string => self::n($curve->volts($i / 20)) . '/' . self::n($curve->slope($i / 20)), range(0, 20)),
                ) .
                ' ' .
                json_encode(self::round($curve->soc($curve->volts(0.37), 0.004)->toArray())) .
                ' ' .
                json_encode((array) $c->profile()) .
                ' ' .
                $c->restMinutes();
            foreach ([0.3, 0.9, 1.6, 2.2, 2.7] as $v) {
                $spec = PackSpec::from(
                    new Fields(['chemistry' => $c->value, 'series' => 4, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]]),
                );
                $near = $curve->volts(0.5);
                $plan = RecoveryPlan::of(
                    $spec,
                    2,
                    $v,
                    [$near, $near + 0.004, $near],
                    belowFloorDays: 1.0,
                    override: 'Seen daily, a senior answers',
                );
                $out[] = "recovery {$c->value} $v: " . json_encode(self::round($plan->toArray())) . ' ' . self::n($plan->hours());
            }
            foreach ([[3.7, 3.69, 4.0], [3.31, 3.305, 9.0], [3.9, 3.93, 3.0]] as [$before, $after, $days]) {
                $out[] = "held {$c->value} $before $after: " . json_encode(self::round((array) CellHold::of($c, $before, $after, $days)));
            }
        }
        $hours = [0.0, 6.5, 12.0, 25.0, 49.0];
        foreach ([0.0, 0.0002, 0.001, -0.001] as $perHour) {
            $readings = array_map(fn(float $h): array => ['h' => $h, 'v' => 3.7 - $perHour * $h, 'others' => [3.71, 3.711]], $hours);
            $out[] = "hold $perHour: " . json_encode(self::round((array) HoldTest::judge($readings, Chemistry::Nmc)));
        }
        foreach ([[3.7, 3.72], [3.7, 3.78], [3.4, 4.0], [3.65, 3.72]] as [$a, $b]) {
            $out[] =
                "join $a $b: " .
                json_encode(self::round(JoinRule::check(new JoinSide($a, 0.012, 10.0, 5.0), new JoinSide($b, 0.016, 8.0, 4.0))->toArray()));
        }
        mt_srand(7);
        $cells = array_map(
            fn(int $i): DrawerCell => new DrawerCell(
                "C$i",
                2.4 + mt_rand(0, 200) / 1000,
                28.0 + mt_rand(0, 80) / 10,
                3.6 + mt_rand(0, 40) / 1000,
                mt_rand(0, 40) / 10,
            ),
            range(1, 40),
        );
        $out[] = 'substitute: ' . json_encode(self::round(Substitute::find(array_slice($cells, 4), array_slice($cells, 0, 3), $cells[3])));
        foreach ([[3.7, 3.7, 3.7, 3.7], [2.6, 3.7, 3.7, 3.7], [2.9, 2.9, 2.9, 2.9]] as $volts) {
            $out[] =
                'wake ' .
                json_encode($volts) .
                ': ' .
                json_encode(
                    self::round(WakeOrder::of(PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 4, 'parallel' => 3])), $volts)),
                );
        }

        return $out;
    }

    /** @return list<string> */
    private static function verbs(): array
    {
        mt_srand(11);
        $cells = array_map(
            fn(int $i): array => [
                'id' => "C$i",
                'capacity_ah' => 2.2 + mt_rand(0, 700) / 1000,
                'mohm' => 25.0 + mt_rand(0, 200) / 10,
                'rest_v' => 3.55 + mt_rand(0, 200) / 1000,
                'leak_percent_month' => mt_rand(0, 60) / 10,
            ],
            range(1, 60),
        );
        $job = fn(array $pack, array $volts): array => Bench::record($volts, $pack);
        $strip = ['material' => 'nickel', 'width_mm' => 8, 'thickness_mm' => 0.15, 'layers' => 2, 'length_mm' => 20, 'per_group' => 3];
        $out = [];
        foreach ([8, 10, 12, 14, 16, 18, 20, 22] as $awg) {
            $out[] =
                "wire $awg: " .
                self::verb('budget', [
                    'job' => $job(
                        [
                            'chemistry' => 'nmc',
                            'series' => 10,
                            'parallel' => 3,
                            'cell' => ['capacity_ah' => 3, 'max_continuous_a' => 8],
                            'load' => ['power_w' => 400],
                        ],
                        array_fill(0, 10, 3.7),
                    ),
                    'parts' => [
                        'wire' => ['awg' => $awg],
                        'strip' => ['material' => 'plated-steel'] + $strip,
                        'fuse' => ['rating_a' => 25, 'dc_v' => 32],
                    ],
                ]);
        }
        foreach (['nickel' => 40.0, 'plated-steel' => 12.0, 'copper' => 90.0] as $material => $amps) {
            $out[] =
                "sheet $material: " .
                self::verb('layout', [
                    'series' => 7,
                    'parallel' => 3,
                    'diameter_mm' => 18.4,
                    'length_mm' => 65,
                    'load_a' => $amps,
                    'strip' => ['material' => $material, 'width_mm' => 7, 'thickness_mm' => 0.2],
                ]);
        }
        foreach (
            [
                ['match', ['series' => 10, 'parallel' => 4, 'cells' => $cells, 'seed' => 3]],
                ['match', ['series' => 4, 'parallel' => 3, 'cells' => array_slice($cells, 0, 16), 'school' => 'like']],
                ['match', ['series' => 3, 'parallel' => 2, 'cells' => array_slice($cells, 0, 8)]],
                [
                    'budget',
                    [
                        'job' => $job(
                            [
                                'chemistry' => 'nmc',
                                'series' => 10,
                                'parallel' => 4,
                                'cell' => ['capacity_ah' => 2.5, 'resistance_mohm' => 30, 'max_continuous_a' => 10],
                                'bms' => ['discharge_limit_a' => 25],
                                'load' => ['power_w' => 600],
                            ],
                            array_fill(0, 10, 3.7),
                        ),
                        'parts' => [
                            'strip' => $strip,
                            'wire' => ['awg' => 14],
                            'fuse' => ['rating_a' => 30, 'dc_v' => 58, 'breaking_a' => 200],
                            'connector' => ['continuous_a' => 30, 'peak_a' => 60],
                            'welds_per_cell' => 4,
                        ],
                    ],
                ],
                [
                    'budget',
                    [
                        'job' => $job(
                            [
                                'chemistry' => 'lfp',
                                'series' => 4,
                                'parallel' => 2,
                                'cell' => ['capacity_ah' => 6, 'resistance_mohm' => 8],
                                'load' => ['power_w' => 300],
                            ],
                            array_fill(0, 4, 3.3),
                        ),
                        'parts' => [
                            'soh' => 0.8,
                            'strip' => ['material' => 'copper'] + $strip,
                            'wire' => ['awg' => 10, 'parallel' => 2, 'bundled' => true],
                            'fuse' => ['bypassed' => true],
                        ],
                    ],
                ],
                [
                    'layout',
                    [
                        'series' => 10,
                        'parallel' => 4,
                        'diameter_mm' => 18.4,
                        'length_mm' => 65,
                        'load_a' => 25,
                        'groups_v' => array_fill(0, 10, 3.7),
                    ],
                ],
                [
                    'layout',
                    ['series' => 6, 'parallel' => 2, 'diameter_mm' => 21.2, 'length_mm' => 70, 'max_width_mm' => 95, 'packing' => 'offset'],
                ],
                ['layout', ['series' => 4, 'parallel' => 1, 'diameter_mm' => 30, 'length_mm' => 100, 'kind' => 'stack']],
                [
                    'drift',
                    [
                        'format' => 'heartwood.drift',
                        'version' => 1,
                        'pack' => ['name' => 'Figures', 'kind' => 'e-bike', 'chemistry' => 'nmc', 'series' => 3],
                        'work_ended_at' => '2026-03-01T12:00:00Z',
                        'points' => array_map(
                            fn(int $day, float $low): array => [
                                'at' => gmdate('Y-m-d\TH:i:s\Z', 1_772_366_400 + 86_400 * $day),
                                'condition' => 'rest',
                                'groups_v' => [3.81, 3.808, $low],
                            ],
                            [3, 7, 14, 30, 60],
                            [3.804, 3.8, 3.797, 3.786, 3.768],
                        ),
                    ],
                ],
                ['pin-check', ['groups_v' => [3.7, 3.71, 3.69, 3.7], 'pins_v' => [0.0, 3.7, 7.4, 11.1, 14.8]]],
                ['pin-check', ['groups_v' => [3.7, 3.71, 3.69, 3.7], 'pins_v' => [0.0, 7.41, 3.7, 11.1, 14.8]]],
                ['pin-check', ['groups_v' => [3.7, 3.71, 3.69, 3.7], 'pins_v' => [0.0, 3.3, 7.4, 0.4, 14.8]]],
                ['analyse-log', ['csv' => self::log(1.4, 0.56, 10.0), 'chemistry' => 'nmc', 'rated_ah' => 2.8, 'ambient_c' => 22]],
                [
                    'analyse-log',
                    ['csv' => self::log(0.7, 1.4, 30.0), 'chemistry' => 'nmc', 'rated_ah' => 2.8, 'four_wire' => false, 'lead_mohm' => 12],
                ],
            ]
            as [$verb, $in]
        ) {
            $out[] = "$verb: " . self::verb($verb, $in);
        }

        return $out;
    }

    /** @return list<string> runs of every kind, driven over a simulated pack: how each ended, when, and what went in */
    private static function runs(): array
    {
        $out = [];
        foreach (
            [
                'recovery' => [['target_v' => 3.5], fn(): LiveGroup => new LiveGroup(-0.02, 10.0)],
                'recovery of a leaking group' => [[], fn(): LiveGroup => new LiveGroup(-0.02, 10.0, leakA: 0.3)],
                'balance' => [['kind' => 'balance', 'plan_v' => 3.8, 'target_v' => 4.2], fn(): LiveGroup => new LiveGroup(0.6, 10.0)],
                'charge' => [
                    ['kind' => 'charge', 'group' => null, 'target_v' => null, 'plan_v' => 14.9],
                    fn(): LiveGroup => new LiveGroup(0.55, 10.0),
                ],
                'discharge' => [['kind' => 'discharge', 'group' => null, 'plan_v' => 14.9], fn(): LiveGroup => new LiveGroup(0.55, 10.0)],
            ]
            as $name => [$plan, $low]
        ) {
            $rig = Rig::of($low());
            if (!str_starts_with($name, 'recovery')) {
                $plan['plan_v'] = round($plan['kind'] === 'balance' ? $rig->pack->volts(1) : $rig->pack->tap(4), 3);
            } else {
                $plan['plan_v'] = round($rig->pack->volts(1), 3);
            }
            $rig->drive(Rig::plan($plan));
            $out[] = sprintf(
                'run %s: %s at %.0f s, on for %.0f s, up to %.3f V, %.1f C, %s',
                $name,
                $rig->why() ?? 'still running',
                $rig->pack->seconds,
                $rig->onS,
                $rig->mostV,
                $rig->warmest,
                json_encode(array_map(fn(array $o): array => [round($o['t']), $o['on'], $o['phase']], $rig->orders)),
            );
        }

        return $out;
    }

    private static function log(float $charge, float $discharge, float $dt): string
    {
        $out = "Test Time / s,Voltage / V,Current / A\n";
        [$t, $soc] = [0.0, 0.3];
        foreach ([['rest', 0.0], ['charge', $charge], ['rest', 0.0], ['discharge', -$discharge], ['rest', 0.0]] as [$mode, $amps]) {
            for ($n = 0; $n < 2000; $n++) {
                $open = 2.8 + 1.4 * $soc;
                $i = $mode === 'charge' ? min($amps, (4.2 - $open) / 0.05) : $amps;
                if (
                    ($mode === 'charge' && $i < 0.1) ||
                    ($mode === 'discharge' && $open + 0.05 * $i < 2.45) ||
                    ($mode === 'rest' && $n * $dt > 900)
                ) {
                    break;
                }
                $out .= sprintf("%.1f,%.5f,%.5f\n", $t, $open + 0.05 * $i, $i);
                $soc += ($i * $dt) / 3600 / 2.8;
                $t += $dt;
            }
        }

        return $out;
    }

    /** @param  array<string, mixed>  $in */
    private static function verb(string $verb, array $in): string
    {
        try {
            $out = self::round(Verbs::run($verb, (string) json_encode($in)));
        } catch (InvalidRecord $e) {
            return 'refused: ' . $e->problems[0]['message'];
        }
        // Drawings and series of a simulation by their first and last values: the rest follows from the same numbers.
        array_walk_recursive($out, function (mixed &$x): void {
            $x = is_string($x) && strlen($x) > 400 ? md5($x) : $x;
        });
        if (isset($out['series'])) {
            $out['series'] = md5((string) json_encode($out['series']));
        }

        return (string) json_encode($out, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES);
    }

    private static function n(?float $x): string
    {
        return $x === null ? '-' : (string) (float) sprintf('%.4g', $x);
    }

    private static function round(mixed $x): mixed
    {
        return match (true) {
            is_float($x) => is_finite($x) ? (float) sprintf('%.5g', $x) : (string) $x,
            is_array($x) => array_map(self::round(...), $x),
            $x instanceof \UnitEnum => $x->name,
            is_object($x) => array_map(self::round(...), get_object_vars($x)),
            default => $x,
        };
    }
}
