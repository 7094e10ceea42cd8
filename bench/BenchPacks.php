<?php

declare(strict_types=1);

namespace Heartwood\Bench;

/**
 * Packs as they come over a bench: a physical pack (own rest curves, own spread of cells, two time constants), a meter
 * with ranges and gain, and one scenario for each code of the catalogue and for each way in which a careless rule goes
 * wrong. Knows nothing of the densities that diagnose. Deterministic for a seed.
 *
 * A case: record, `want` (each: codes, places, of which one must be said), `not` (codes that must not be said), and
 * whether what was measured suffices to say it.
 */
final class BenchPacks
{
    private const CURVES = [
        'nmc' => [
            [0, 2.96],
            [0.03, 3.18],
            [0.06, 3.31],
            [0.1, 3.415],
            [0.2, 3.535],
            [0.3, 3.606],
            [0.4, 3.65],
            [0.5, 3.708],
            [0.6, 3.795],
            [0.7, 3.89],
            [0.8, 3.985],
            [0.9, 4.078],
            [1, 4.188],
        ],
        'nca' => [
            [0, 2.93],
            [0.03, 3.13],
            [0.06, 3.27],
            [0.1, 3.4],
            [0.2, 3.52],
            [0.3, 3.59],
            [0.4, 3.638],
            [0.5, 3.7],
            [0.6, 3.785],
            [0.7, 3.87],
            [0.8, 3.965],
            [0.9, 4.06],
            [1, 4.18],
        ],
        'lco' => [
            [0, 3.02],
            [0.03, 3.36],
            [0.06, 3.5],
            [0.1, 3.605],
            [0.2, 3.7],
            [0.3, 3.752],
            [0.4, 3.783],
            [0.5, 3.823],
            [0.6, 3.873],
            [0.7, 3.943],
            [0.8, 4.022],
            [0.9, 4.102],
            [1, 4.192],
        ],
        'lfp' => [
            [0, 2.62],
            [0.03, 3.0],
            [0.06, 3.14],
            [0.1, 3.188],
            [0.2, 3.234],
            [0.3, 3.266],
            [0.4, 3.285],
            [0.6, 3.298],
            [0.7, 3.32],
            [0.9, 3.333],
            [0.96, 3.342],
            [1, 3.43],
        ],
    ];

    private const LIMITS = [
        'nmc' => [2.8, 4.25, 4.2, 3.0, 1.5],
        'nca' => [2.8, 4.25, 4.2, 3.0, 1.5],
        'lco' => [3.0, 4.25, 4.2, 3.0, 1.5],
        'lfp' => [2.5, 3.7, 3.65, 2.5, 1.2],
    ];

    private string $chemistry;

    private int $s;

    private int $p;

    private float $cellAh;

    private float $cellMohm;

    /** @var array<int, array{soc: float, cap: float, r: float, leak: float, offset: float, fixed: ?float}> */
    private array $g;

    /** @var array<int, float> milliohm by joint, above a good one's */
    private array $joints;

    /** @var array<int, float> milliohm of a good joint */
    private array $link;

    /** @var array{percent: float, counts: int, steps: list<array{float, float}>} */
    private array $meter;

    /** @var array<string, float> gain by range */
    private array $gains;

    private string $style;

    /** @var array<string, mixed> */
    private array $pack;

    /** @var list<array<string, mixed>> */
    private array $sets;

    /** @var list<array<string, mixed>> */
    private array $tests;

    /** @var list<array<string, mixed>> */
    private array $events;

    /** @var list<string> */
    private array $symptoms;

    /** @var array<string, mixed> */
    private array $inspection;

    /** @var list<array{codes: list<string>, where: list<array<string, int>|null>}> */
    private array $want;

    /** @var list<string> */
    private array $not;

    private bool $enough;

    private float $pathOhm;

    private ?float $output;

    public function __construct(int $seed)
    {
        mt_srand($seed);
    }

    /** @return list<string> */
    public static function scenarios(): array
    {
        return array_values(
            array_map(
                fn(string $m): string => substr($m, 4),
                array_filter(get_class_methods(self::class), fn(string $m): bool => str_starts_with($m, 'make') && $m !== 'make'),
            ),
        );
    }

    /**
     * @return array{record: array<string, mixed>, want: list<array{codes: list<string>, where: list<array<string, int>|null>}>, not:
     * list<string>, enough: bool, healthy: bool}
     */
    public function make(string $scenario): array
    {
        $this->fresh($this->pick('nmc', 'nmc', 'nmc', 'nca', 'lco', 'lfp'), mt_rand(4, 16), mt_rand(1, 6));
        $this->{'make' . $scenario}();
        foreach ($this->sets as $i => $m) {
            $this->sets[$i]['id'] = "m$i";
        }

        return [
            'record' => array_filter(
                [
                    'format' => 'heartwood.job',
                    'version' => 1,
                    'pack' => $this->pack,
                    'symptoms' => $this->symptoms,
                    'inspection' => $this->inspection,
                    'measurements' => $this->sets,
                    'tests' => $this->tests,
                    'events' => $this->events,
                ],
                fn(mixed $x): bool => $x !== [],
            ),
            'want' => $this->want,
            'not' => $this->not,
            'enough' => $this->enough,
            'healthy' => str_starts_with($scenario, 'Healthy'),
        ];
    }

    private function fresh(string $chemistry, int $s, int $p, ?float $soc = null): void
    {
        [$this->chemistry, $this->s, $this->p] = [$chemistry, $s, $p];
        $this->cellAh = (float) $this->pick(2.0, 2.5, 2.9, 3.2, 3.4);
        $this->cellMohm = (float) mt_rand(22, 60);
        $soc ??= $this->between(0.3, 0.88);
        $spread = $this->between(0.003, 0.012);
        $this->g = $this->joints = $this->link = [];
        for ($k = 1; $k <= $s; $k++) {
            $this->g[$k] = [
                'soc' => $soc + $this->normal($spread),
                'cap' => $this->cellAh * $p * (1 - abs($this->normal(0.012))),
                'r' => ($this->cellMohm / $p) * (1 + $this->normal(0.04)),
                'leak' => abs($this->normal(0.0002)),
                'offset' => $this->normal(0.001),
                'fixed' => null,
            ];
        }
        for ($t = 0; $t <= $s; $t++) {
            $this->joints[$t] = 0.0;
            $this->link[$t] = $this->between(0.1, 0.4);
        }
        $fine = mt_rand(0, 9);
        $this->meter = match (true) {
            $fine < 3 => ['percent' => 0.05, 'counts' => 2, 'steps' => [[5.0, 0.0001], [50.0, 0.001], [500.0, 0.01]]],
            $fine < 8 => ['percent' => 0.5, 'counts' => 2, 'steps' => [[6.0, 0.001], [60.0, 0.01], [600.0, 0.1]]],
            default => ['percent' => 0.8, 'counts' => 2, 'steps' => [[4.0, 0.001], [40.0, 0.01], [400.0, 0.1]]],
        };
        $this->gains = [];
        $this->style = $this->pick('across', 'across', 'across', 'both', 'both');
        [$low, $high] = self::LIMITS[$chemistry];
        $this->pack = [
            'chemistry' => $chemistry,
            'series' => $s,
            'parallel' => $p,
            'kind' => 'other',
            'cell' => ['capacity_ah' => $this->cellAh, 'resistance_mohm' => $this->cellMohm, 'max_continuous_a' => 10.0],
            'bms' => [
                'series' => $s,
                'discharge_limit_a' => 30,
                'charge_limit_a' => 6,
                'high_cut_v' => $high,
                'low_cut_v' => $low,
                'balance' => 'passive',
                'balance_current_a' => 0.06,
            ],
        ];
        $this->sets = $this->tests = $this->events = $this->symptoms = $this->inspection = $this->want = $this->not = [];
        [$this->enough, $this->pathOhm, $this->output] = [true, 0.01, null];
    }

    // ------------------------------------------------------------------ packs with nothing to find

    private function makeHealthyFully(): void
    {
        $this->rest();
        $this->loadSteps();
        $this->capacities();
        $this->rest(days: $this->between(3, 10));
    }

    private function makeHealthyRestOnly(): void
    {
        $this->rest(output: true);
    }

    private function makeHealthyFromNegativeEnd(): void
    {
        $this->style = 'cumulative';
        $this->rest(output: true);
    }

    private function makeHealthyNoisyCoarse(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco', 'lfp'), mt_rand(12, 20), mt_rand(2, 6));
        $this->meter = ['percent' => 1.0, 'counts' => 3, 'steps' => [[20.0, 0.01], [200.0, 0.1]]];
        $this->rest(output: true);
    }

    private function makeHealthyFinerFirstStep(): void
    {
        $this->meter = ['percent' => 0.8, 'counts' => 2, 'steps' => [[4.0, 0.001], [40.0, 0.01], [400.0, 0.1]]];
        $this->gains = ['4' => 1.006, '40' => 0.997];
        $this->style = 'cumulative';
        $this->rest();
    }

    private function makeHealthyPhosphatePair(): void
    {
        $this->fresh('lfp', mt_rand(4, 16), mt_rand(1, 4), $this->between(0.35, 0.85));
        $this->rest();
        $k = $this->any();
        $this->rest(days: $this->between(5, 14), change: [$k => -$this->between(0.003, 0.009)]);
        $this->not = ['group.self-discharge'];
    }

    private function makeHealthyDriftUnderLoad(): void
    {
        $this->rest();
        $this->loadSteps(everyS: $this->between(30, 90));
        $this->not = ['joint.high-resistance', 'group.high-resistance', 'reading.inconsistent'];
    }

    private function makeHealthyCapacityKnown(): void
    {
        $this->rest();
        $this->packCapacity($this->between(0.9, 0.99));
        $this->not = ['pack.aged'];
    }

    // ------------------------------------------------------------------ groups and joints

    private function makeUndercharged(): void
    {
        $this->steep();
        $k = $this->any();
        $this->g[$k]['soc'] = max(0.08, $this->g[$k]['soc'] - $this->between(0.1, 0.3));
        $this->say($k, 'group.undercharged');
        $this->rest();
        $this->loadSteps();
        $this->rest(days: $this->between(4, 12));
        mt_rand(0, 1) ? $this->capacities() : null;
    }

    private function makeUnderchargedRestOnly(): void
    {
        $this->steep();
        $k = $this->any();
        $this->g[$k]['soc'] = max(0.1, $this->g[$k]['soc'] - $this->between(0.1, 0.3));
        $this->say($k, 'group.undercharged', 'group.self-discharge', 'group.low-capacity', 'group.missing-cell');
        $this->enough = false;
        $this->rest();
    }

    private function makeOvercharged(): void
    {
        $this->steep(0.45, 0.75);
        $k = $this->any();
        $this->g[$k]['soc'] += $this->between(0.09, 0.2);
        $this->say($k, 'group.overcharged');
        $this->rest();
        $this->loadSteps();
        $this->rest(days: $this->between(3, 9));
        $this->capacities();
    }

    private function makePastFull(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco'), mt_rand(4, 14), mt_rand(1, 5), $this->between(0.85, 0.95));
        $k = $this->any();
        $this->g[$k]['fixed'] = $this->between(4.26, 4.36);
        $this->say($k, 'group.overcharged');
        $this->rest();
    }

    private function makeLeak(): void
    {
        $this->steep();
        $k = $this->any();
        $this->g[$k]['leak'] = $this->between(0.008, 0.05);
        $this->g[$k]['soc'] -= $this->between(0.02, 0.15);
        $this->say($k, 'group.self-discharge');
        $this->rest();
        $this->rest(days: $this->between(4, 9));
        mt_rand(0, 1) ? $this->loadSteps() : null;
    }

    private function makeSlowLeakFineMeter(): void
    {
        $this->steep(0.55, 0.85);
        $this->meter = ['percent' => 0.05, 'counts' => 1, 'steps' => [[5.0, 0.0001], [50.0, 0.001], [500.0, 0.01]]];
        $k = $this->any();
        $this->g[$k]['leak'] = $this->between(0.0045, 0.008);
        $this->say($k, 'group.self-discharge');
        $this->rest();
        $this->rest(days: $this->between(18, 30));
    }

    private function makeLeakRefill(): void
    {
        $this->fresh('lfp', mt_rand(4, 16), mt_rand(1, 4));
        $k = $this->any();
        $this->g[$k]['leak'] = $this->between(0.006, 0.02);
        $this->say($k, 'group.self-discharge');
        $this->rest();
        foreach ($this->g as $i => $g) {
            $this->tests[] = [
                'kind' => 'refill',
                'scope' => ['group' => $i],
                'days' => 9,
                'refill_ah' => round(9 * ($g['leak'] + 0.0002) * $g['cap'] * (1 + $this->normal(0.04)), 3),
            ];
        }
    }

    private function makeLowCapacity(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco', 'lfp'), mt_rand(4, 14), mt_rand(3, 6));
        $k = $this->any();
        // Not what the loss of one cell would leave.
        $this->g[$k]['cap'] *= $this->between(0.4, 0.6);
        $this->g[$k]['r'] *= $this->between(1.1, 1.7);
        $this->say($k, 'group.low-capacity');
        $this->rest();
        $this->loadSteps();
        $this->capacities();
    }

    private function makeLowCapacityAmongThirteen(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco', 'lfp'), mt_rand(10, 14), mt_rand(1, 2));
        $k = $this->any();
        foreach ($this->g as $i => $g) {
            $this->g[$i]['cap'] = $this->cellAh * $this->p * 0.97 * (1 + $this->normal(0.004));
        }
        $this->g[$k]['cap'] *= $this->between(0.8, 0.85);
        $this->say($k, 'group.low-capacity');
        $this->rest();
        $this->capacities();
    }

    private function makeHalfCapacityIsNoLeak(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco'), mt_rand(4, 14), 4, $this->between(0.6, 0.85));
        $k = $this->any();
        $this->g[$k]['cap'] *= $this->between(0.45, 0.6);
        $this->say($k, 'group.low-capacity');
        $this->not = ['group.self-discharge'];
        $this->rest();
        $this->capacities();
        // Used in between: the small group moved further.
        $used = $this->between(0.05, 0.15) * $this->cellAh * $this->p;
        foreach ($this->g as $i => $g) {
            $this->g[$i]['soc'] -= $used / $g['cap'];
        }
        $this->rest(days: $this->between(2, 6));
    }

    private function makeMissingCell(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco', 'lfp'), mt_rand(4, 14), mt_rand(2, 5));
        $k = $this->any();
        $this->g[$k]['cap'] *= ($this->p - 1) / $this->p;
        $this->g[$k]['r'] *= $this->p / ($this->p - 1);
        $this->say($k, 'group.missing-cell');
        $this->rest();
        $this->loadSteps();
        mt_rand(0, 1) ? $this->capacities() : null;
        if (mt_rand(0, 1) === 1) {
            $this->tests[] = ['kind' => 'tug-weld', 'where' => ['group' => $k], 'loose' => true];
        } else {
            $mv = array_map(fn(): float => round(-1.4 * (1 + $this->normal(0.1)), 2), range(1, $this->p));
            $mv[mt_rand(0, $this->p - 1)] = round($this->normal(0.03), 2);
            $this->tests[] = [
                'kind' => 'strip-millivolt',
                'scope' => ['group' => $k],
                'cells_mv' => $mv,
                'current_a' => -round(1.5 * $this->p, 1),
            ];
        }
    }

    private function makeMissingOrAged(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco', 'lfp'), mt_rand(4, 14), mt_rand(2, 4));
        $k = $this->any();
        $this->g[$k]['cap'] *= ($this->p - 1) / $this->p;
        $this->g[$k]['r'] *= $this->p / ($this->p - 1);
        $this->say($k, 'group.missing-cell', 'group.low-capacity');
        $this->rest();
        $this->loadSteps();
        $this->capacities();
    }

    private function makeHighResistance(): void
    {
        $k = $this->any();
        $this->g[$k]['r'] *= $this->between(1.6, 2.4);
        $this->say($k, 'group.high-resistance');
        $this->rest();
        $this->loadSteps();
        foreach ($this->g as $i => $g) {
            $this->tests[] = [
                'kind' => 'resistance',
                'scope' => ['group' => $i],
                'mohm' => round($g['r'] * (1 + $this->normal(0.02)), 2),
                'method' => 'four-wire',
            ];
        }
    }

    private function makeJoint(): void
    {
        $t = mt_rand(1, $this->s - 1);
        $this->joints[$t] = ($this->cellMohm / $this->p) * $this->between(0.6, 2.5);
        $this->sayJoint($t);
        $this->rest();
        $this->loadSteps();
        mt_rand(0, 1) ? $this->capacities() : null;
    }

    private function makeJointDropMeasured(): void
    {
        // A group of large cells: a joint of less than a milliohm is more than the group itself.
        $this->fresh('lfp', mt_rand(4, 8), 1);
        $this->cellAh = 100.0;
        $this->cellMohm = 0.6;
        foreach ($this->g as $i => $g) {
            $this->g[$i]['cap'] = 100.0 * (1 - abs($this->normal(0.01)));
            $this->g[$i]['r'] = 0.6 * (1 + $this->normal(0.04));
        }
        $this->link = array_map(fn(): float => $this->between(0.04, 0.07), $this->link);
        $this->pack['cell'] = ['capacity_ah' => 100.0, 'resistance_mohm' => 0.6, 'max_continuous_a' => 100.0];
        $this->pack['bms']['discharge_limit_a'] = 100;
        $t = mt_rand(1, $this->s - 1);
        $this->joints[$t] = $this->between(0.7, 1.2);
        $this->want[] = ['codes' => ['joint.high-resistance'], 'where' => [['joint' => $t]]];
        $this->not = ['group.high-resistance', 'group.low-capacity'];
        $this->rest();
        $amps = -40.0;
        foreach (range(1, $this->s - 1) as $i) {
            $this->tests[] = [
                'kind' => 'continuity',
                'element' => 'joint',
                'where' => ['joint' => $i],
                'drop_v' => round((($this->link[$i] + $this->joints[$i]) * 40.0) / 1000 + $this->normal(0.0002), 4),
                'current_a' => $amps,
            ];
        }
    }

    private function makeJointReadSlowly(): void
    {
        $this->steep(0.4, 0.8);
        $t = mt_rand(1, $this->s - 1);
        $this->joints[$t] = ($this->cellMohm / $this->p) * $this->between(1.0, 2.5);
        $this->sayJoint($t);
        $this->not = ['reading.inconsistent'];
        $this->rest();
        $this->loadSteps(everyS: $this->between(60, 90));
    }

    private function makeDeepRises(): void
    {
        $k = $this->any();
        [$low, , , $pre, $floor] = self::LIMITS[$this->chemistry];
        $this->g[$k]['fixed'] = $v = $this->between($floor + 0.15, $low - 0.08);
        $this->output = 0.0;
        $this->symptoms = ['dead-output'];
        $this->say($k, 'group.deep-discharged');
        $this->not = ['group.dead'];
        $this->rest(output: true);
        $this->recovery($k, $v, 'rises');
    }

    private function makeDead(): void
    {
        $k = $this->any();
        $this->g[$k]['fixed'] = $this->between(0.0, 0.45);
        $this->output = 0.0;
        $this->symptoms = ['dead-output'];
        $this->say($k, 'group.dead');
        $this->rest(output: true);
    }

    private function makeDeadHangs(): void
    {
        $k = $this->any();
        [$low, , , , $floor] = self::LIMITS[$this->chemistry];
        $this->g[$k]['fixed'] = $v = $this->between($floor + 0.1, $low - 0.3);
        $this->output = 0.0;
        $this->symptoms = ['dead-output'];
        $this->say($k, 'group.dead');
        $this->rest(output: true);
        $this->recovery($k, $v, $this->pick('hangs', 'falls'));
    }

    private function makeReversed(): void
    {
        $k = $this->any();
        $this->g[$k]['fixed'] = -$this->between(0.1, 1.6);
        $this->say($k, 'group.reversed');
        $this->rest();
    }

    private function makeReversedOfTwo(): void
    {
        $this->fresh('nmc', 2, mt_rand(1, 3));
        $k = $this->any();
        $this->g[$k]['fixed'] = -$this->between(0.2, 1.2);
        $this->say($k, 'group.reversed');
        $this->rest();
    }

    private function makeDeadAndFuse(): void
    {
        $k = $this->any();
        $this->g[$k]['fixed'] = $this->between(0.0, 0.4);
        $this->output = 0.0;
        $this->symptoms = ['dead-output', 'short-circuited'];
        $this->say($k, 'group.dead');
        $this->sayPack('path.fuse-open');
        $this->rest(output: true);
        $this->tests[] = ['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 8.0e6];
    }

    private function makeTwoFaults(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco'), mt_rand(6, 14), mt_rand(3, 5), $this->between(0.55, 0.85));
        $k = mt_rand(1, $this->s - 3);
        $this->g[$k]['soc'] -= $this->between(0.15, 0.3);
        $this->g[$k + 2]['cap'] *= 0.6;
        $this->say($k, 'group.undercharged');
        $this->say($k + 2, 'group.low-capacity');
        $this->rest();
        $this->loadSteps();
        $this->capacities();
        $this->rest(days: 6.0);
    }

    private function makeFiveDeadInARow(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lfp'), mt_rand(10, 16), mt_rand(1, 4));
        $k = mt_rand(1, $this->s - 5);
        for ($i = $k; $i < $k + 5; $i++) {
            $this->g[$i]['fixed'] = $this->between(0.0, 0.3);
            $this->say($i, 'group.dead');
        }
        $this->output = 0.0;
        $this->symptoms = ['dead-output'];
        $this->rest(output: true);
    }

    // ------------------------------------------------------------------ the whole pack

    private function makeAgedByCapacity(): void
    {
        $fade = $this->between(0.4, 0.74);
        $this->age($fade);
        $this->symptoms = ['low-range'];
        $this->sayPack('pack.aged');
        $this->rest();
        $this->packCapacity($fade);
    }

    private function makeAgedByGroups(): void
    {
        $fade = $this->between(0.45, 0.74);
        $this->age($fade);
        $this->symptoms = ['low-range'];
        $this->sayPack('pack.aged');
        $this->not = ['group.low-capacity'];
        $this->rest();
        $this->capacities();
        $this->loadSteps();
    }

    private function makeDischargedAlike(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco'), mt_rand(4, 14), mt_rand(1, 5), $this->between(0.005, 0.02));
        foreach ($this->g as $i => $g) {
            $this->g[$i]['fixed'] = self::LIMITS[$this->chemistry][0] + $this->between(0.04, 0.06) + $this->normal(0.006);
        }
        $this->symptoms = [$this->pick('stored-long', 'dead-output', 'dies-early')];
        $this->output = 0.0;
        $this->sayPack('pack.discharged');
        $this->not = ['group.undercharged', 'group.deep-discharged', 'bms.output-dead', 'path.fuse-open'];
        $this->rest(output: true);
    }

    private function makeDeepAlike(): void
    {
        $at = $this->between(0.2, 0.7);
        foreach ($this->g as $i => $g) {
            [$low, , , , $floor] = self::LIMITS[$this->chemistry];
            $this->g[$i]['fixed'] = $floor + $at * ($low - $floor) + $this->normal(0.01);
        }
        $this->symptoms = ['stored-long', 'dead-output'];
        $this->output = 0.0;
        $this->sayPack('pack.deep-discharged');
        $this->not = ['group.deep-discharged', 'group.self-discharge'];
        $this->rest(output: true);
    }

    private function makeDeepAlikeOneDead(): void
    {
        $this->makeDeepAlike();
        $this->sets = [];
        $k = $this->any();
        $this->g[$k]['fixed'] = $this->between(0.0, 0.4);
        $this->say($k, 'group.dead');
        $this->rest(output: true);
    }

    private function makeSpreadTooWide(): void
    {
        $this->steep(0.6, 0.85);
        $k = $this->any();
        $this->g[$k]['soc'] = 0.07;
        $this->sayPack('pack.spread');
        $this->rest();
    }

    private function makeBlockHoldsTheFault(): void
    {
        $this->fresh($this->pick('nmc', 'nca'), 14, mt_rand(2, 5), $this->between(0.4, 0.8));
        $k = $this->any();
        $this->g[$k]['fixed'] = $this->between(0.0, 0.3);
        $this->enough = false;
        $this->want = [
            [
                'codes' => ['group.dead', 'group.deep-discharged', 'group.reversed', 'group.self-discharge', 'group.undercharged'],
                'where' => array_map(fn(int $i): array => ['group' => $i], range($k <= 7 ? 1 : 8, $k <= 7 ? 7 : 14)),
            ],
        ];
        $v = $this->volts();
        $sum = fn(int $a, int $b): float => array_sum(array_slice($v, $a, $b - $a));
        $this->sets[] = $this->set('rest', 0.0, [[0, 7, $sum(0, 7)], [7, 14, $sum(7, 14)], [0, 14, $sum(0, 14)]]);
    }

    // ------------------------------------------------------------------ protection

    private function makeProtecting(): void
    {
        $k = $this->any();
        $this->g[$k]['fixed'] = self::LIMITS[$this->chemistry][0] - $this->between(0.1, 0.5);
        $this->output = 0.0;
        $this->symptoms = ['dead-output'];
        $this->say($k, 'group.deep-discharged', 'group.self-discharge', 'group.undercharged', 'group.dead');
        $this->sayPack('bms.protecting');
        $this->not = ['bms.output-dead', 'bms.latched', 'path.fuse-open'];
        $this->rest(output: true);
    }

    private function makeLatched(): void
    {
        $this->output = 0.0;
        $this->symptoms = ['dead-output', ...mt_rand(0, 1) ? ['cuts-out-until-reconnected'] : []];
        $this->sayPack('bms.latched', 'bms.asleep');
        $this->rest(output: true);
        $this->tests[] = ['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 0.01];
        $this->tests[] = ['kind' => 'wake', 'action' => $this->pick('charger-pulse', 'bridge', 'reconnect'), 'woke' => true];
    }

    private function makeWokenOutputIsNoPhantom(): void
    {
        $this->output = 0.0;
        $this->symptoms = ['dead-output', 'stored-long'];
        $this->rest(output: true);
        $this->tests[] = ['kind' => 'wake', 'action' => 'charger-pulse', 'woke' => true];
        $this->output = 1.0;
        $this->rest(days: 0.02, output: true);
        $this->sayPack('bms.latched', 'bms.asleep');
        $this->not = ['reading.phantom', 'bms.output-dead'];
    }

    private function makeOutputDead(): void
    {
        $this->output = 0.0;
        $this->symptoms = ['dead-output'];
        $this->sayPack('bms.output-dead');
        $this->rest(output: true);
        foreach (['fuse', 'switch', 'connector'] as $e) {
            $this->tests[] = ['kind' => 'continuity', 'element' => $e, 'ohm' => 0.02];
        }
        foreach (['charger-pulse', 'button', 'reconnect'] as $a) {
            $this->tests[] = ['kind' => 'wake', 'action' => $a, 'woke' => false];
        }
        $this->tests[] = ['kind' => 'flex', 'element' => 'connector', 'changed' => false];
        mt_rand(0, 1) ? ($this->tests[] = ['kind' => 'sensor', 'ohm' => 10080, 'expected_ohm' => 10000]) : null;
    }

    private function makeDeadOutputUnknown(): void
    {
        $this->output = 0.0;
        $this->symptoms = ['dead-output'];
        $this->enough = false;
        $this->sayPack(
            'bms.latched',
            'bms.asleep',
            'bms.output-dead',
            'path.fuse-open',
            'path.switch-or-enable',
            'path.connector',
            'path.intermittent',
            'sensor.temperature',
        );
        $this->rest(output: true);
    }

    private function makeChargeDead(): void
    {
        $this->symptoms = ['will-not-charge'];
        $this->sayPack('bms.charge-dead');
        $this->rest(output: true);
        $full = self::LIMITS[$this->chemistry][2] * $this->s;
        $this->tests[] = ['kind' => 'charger', 'open_v' => round($full, 2), 'loaded_v' => round($full - 0.2, 2), 'stages' => ['cc', 'cv']];
        $this->tests[] = ['kind' => 'sensor', 'ohm' => 10050, 'expected_ohm' => 10000];
    }

    private function makeChargesAfterAll(): void
    {
        // It says it takes no charge, and current flowed into it here.
        $this->symptoms = ['will-not-charge'];
        $this->rest(output: true);
        $this->loadSteps();
        $this->enough = false;
        $this->not = ['bms.charge-dead'];
    }

    private function makeBoardStoppedProperly(): void
    {
        $this->steep(0.8, 0.9);
        $k = $this->any();
        $this->g[$k]['soc'] = 0.98;
        $this->symptoms = ['charger-full-at-once'];
        $this->say($k, 'group.overcharged');
        $this->not = ['bms.charge-dead', 'charger.dead'];
        $this->rest();
        $v = $this->volts();
        $this->tests[] = [
            'kind' => 'charge',
            'stopped_by' => 'bms',
            'after_ah' => round(0.02 * $this->cellAh * $this->p, 2),
            'groups_v' => array_map(fn(int $i): float => $i === $k ? 4.25 : round($v[$i] + 0.06, 3), array_keys($v)),
        ];
        $this->rest(days: 5.0);
    }

    private function makeTripsEarly(): void
    {
        $this->symptoms = ['cuts-out-under-load'];
        $this->sayPack('bms.trips-early');
        $this->rest(output: true);
        $v = self::LIMITS[$this->chemistry][0] + $this->between(0.35, 0.6);
        $this->tests[] = [
            'kind' => 'discharge',
            'stopped_by' => 'bms',
            'after_ah' => 0.3,
            'current_a' => -round($this->between(8, 18), 1),
            'groups_v' => array_map(fn(): float => round($v + $this->normal(0.01), 3), range(1, $this->s)),
        ];
    }

    private function makeLimitTooLow(): void
    {
        $this->symptoms = ['cuts-out-under-load'];
        $this->sayPack('bms.limit-too-low');
        $this->rest(output: true);
        $v = self::LIMITS[$this->chemistry][0] + $this->between(0.35, 0.6);
        $this->tests[] = [
            'kind' => 'discharge',
            'stopped_by' => 'bms',
            'after_ah' => 0.1,
            'current_a' => -round($this->between(30.5, 40), 1),
            'groups_v' => array_map(fn(): float => round($v + $this->normal(0.01), 3), range(1, $this->s)),
        ];
    }

    private function makeOverCurrentNamed(): void
    {
        // Cuts out until it is put on the charger again, every group sound: over-current, latched.
        $this->symptoms = ['cuts-out-until-reconnected', 'cuts-out-under-load'];
        $this->pack['load'] = ['controller_limit_a' => 45];
        $this->pack['cell']['max_continuous_a'] = 60.0;
        $this->sayPack('bms.limit-too-low', 'bms.trips-early', 'bms.latched');
        $this->rest(output: true);
        $this->loadSteps();
    }

    private function makeWattsOverRating(): void
    {
        $this->pack['bms']['discharge_limit_a'] = 15;
        $this->pack['cell']['max_continuous_a'] = 60.0;
        $this->pack['load'] = ['power_w' => round(30 * $this->s * 3.3)];
        $this->symptoms = ['cuts-out-under-load'];
        $this->sayPack('bms.limit-too-low');
        $this->rest(output: true);
        $this->loadSteps();
    }

    private function makeNoOverchargeCut(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco'), mt_rand(4, 14), mt_rand(1, 5), $this->between(0.85, 0.95));
        $k = $this->any();
        $this->sayPack('bms.no-overcharge-cut');
        $this->rest();
        $this->tests[] = [
            'kind' => 'charge',
            'stopped_by' => 'person',
            'after_ah' => 0.4,
            'groups_v' => array_map(
                fn(int $i): float => $i === $k ? round($this->between(4.32, 4.4), 3) : round(4.12 + $this->normal(0.01), 3),
                range(1, $this->s),
            ),
        ];
    }

    private function makeBleedStuck(): void
    {
        $this->steep(0.5, 0.85);
        $k = $this->any();
        $this->sayPack('bms.bleed-stuck');
        $this->not = ['group.self-discharge'];
        $this->rest();
        $this->g[$k]['soc'] -= $this->between(0.04, 0.12);
        $this->rest(days: 4.0);
        $this->events[] = ['at' => $this->at(4.1), 'kind' => 'sense-unplugged'];
        $this->rest(days: 4.2, more: ['sense_connected' => false]);
        $this->rest(days: 8.2, more: ['sense_connected' => false]);
    }

    private function makeDrainByPlug(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco'), mt_rand(7, 14), mt_rand(1, 5), $this->between(0.55, 0.85));
        $m = mt_rand(2, 3);
        $this->sayPack('bms.drain');
        $this->not = ['bms.bleed-stuck'];
        $this->rest();
        foreach (range(1, $m) as $i) {
            $this->g[$i]['soc'] -= 0.06;
        }
        $this->rest(days: 5.0);
        $this->events[] = ['at' => $this->at(5.1), 'kind' => 'sense-unplugged'];
        $this->rest(days: 5.2, more: ['sense_connected' => false]);
        $this->rest(days: 10.2, more: ['sense_connected' => false]);
    }

    private function makeDrainAtOneEnd(): void
    {
        $this->fresh($this->pick('nmc', 'nca', 'lco'), mt_rand(7, 14), mt_rand(1, 5), $this->between(0.5, 0.85));
        $gap = $this->between(0.1, 0.2);
        foreach (range(1, mt_rand(2, 4)) as $i) {
            $this->g[$i]['soc'] -= $gap;
        }
        $this->symptoms = ['stored-long'];
        $this->sayPack('bms.drain');
        $this->rest();
    }

    private function makeBalanceInsufficient(): void
    {
        $this->fresh('nmc', mt_rand(8, 14), 6, $this->between(0.6, 0.8));
        $this->pack['bms']['balance_current_a'] = 0.03;
        $this->pack['charger'] = ['cv_v' => round(4.2 * $this->s, 1), 'cc_a' => 4.0];
        $k = $this->any();
        $this->g[$k]['soc'] -= $this->between(0.2, 0.3);
        $this->symptoms = ['charger-full-at-once', 'dies-early'];
        $this->say($k, 'group.undercharged');
        $this->want[] = ['codes' => ['bms.balance-insufficient', 'charger.outruns-balance'], 'where' => [null]];
        $this->rest();
        $this->loadSteps();
        $this->rest(days: 6.0);
    }

    // ------------------------------------------------------------------ sensing

    private function makeSenseOpen(): void
    {
        $t = mt_rand(1, $this->s - 1);
        $this->want[] = ['codes' => ['sense.open'], 'where' => [['tap' => $t]]];
        $this->rest();
        $v = $this->volts();
        $off = $this->between(0.3, 1.6);
        $v[$t] += $off;
        $v[$t + 1] -= $off;
        $this->board($v);
    }

    private function makeSenseShiftedReport(): void
    {
        $this->fresh('nmc', mt_rand(6, 14), mt_rand(1, 5), $this->between(0.4, 0.8));
        foreach ($this->g as $i => $g) {
            $this->g[$i]['soc'] += $this->normal(0.07);
        }
        $this->sayPack('sense.shifted');
        $this->not = ['sense.open'];
        $this->rest();
        $v = $this->volts();
        $shifted = [];
        for ($i = 1; $i <= $this->s; $i++) {
            $shifted[$i] = $v[($i % $this->s) + 1];
        }
        $this->board($shifted);
    }

    private function makePinsWrong(): void
    {
        $this->sayPack('sense.shifted');
        $this->rest();
        $stair = [0.0];
        foreach ($this->volts() as $v) {
            $stair[] = round($stair[count($stair) - 1] + $v, 2);
        }
        $t = mt_rand(1, $this->s - 1);
        [$stair[$t], $stair[$t + 1]] = [$stair[$t + 1], $stair[$t]];
        $this->tests[] = ['kind' => 'pin-check', 'pins_v' => $stair];
    }

    private function makeSensorByOhms(): void
    {
        $this->symptoms = ['will-not-charge'];
        $this->sayPack('sensor.temperature');
        $this->rest(output: true);
        $this->tests[] = ['kind' => 'sensor', 'ohm' => $this->pick(1.0e6, 3.0, 48000.0), 'expected_ohm' => 10000];
    }

    private function makeSensorByFlag(): void
    {
        $this->symptoms = ['will-not-charge'];
        $this->sayPack('sensor.temperature');
        $this->rest(output: true);
        $this->board($this->volts(), ['charge-off', $this->pick('under-temperature', 'over-temperature')]);
    }

    // ------------------------------------------------------------------ the current path

    private function makeFuseOpen(): void
    {
        $this->output = 0.0;
        $this->symptoms = ['dead-output'];
        $this->sayPack('path.fuse-open');
        $this->rest(output: true);
        $this->tests[] = mt_rand(0, 1)
            ? ['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 9.0e6]
            : ['kind' => 'continuity', 'element' => 'fuse', 'drop_v' => round(array_sum($this->volts()), 1), 'current_a' => -0.02];
    }

    private function makeSwitchOpen(): void
    {
        $this->output = 0.0;
        $this->symptoms = ['dead-output'];
        $this->sayPack('path.switch-or-enable');
        $this->rest(output: true);
        $this->tests[] = ['kind' => 'continuity', 'element' => 'fuse', 'ohm' => 0.01];
        $this->tests[] = ['kind' => 'continuity', 'element' => 'switch', 'ohm' => 2.0e6];
    }

    private function makeIntermittent(): void
    {
        $this->symptoms = ['cuts-out-when-bumped'];
        $this->sayPack('path.intermittent');
        $this->rest(output: true);
        $this->tests[] = ['kind' => 'flex', 'element' => $this->pick('connector', 'main lead'), 'changed' => true];
    }

    private function makeConnectorUnderLoad(): void
    {
        $this->pathOhm = $this->between(0.12, 0.4);
        $this->symptoms = ['cuts-out-under-load'];
        $this->sayPack('path.connector');
        $this->rest(output: true);
        $this->loadSteps(output: true);
    }

    private function makeConnectorLosesWatts(): void
    {
        $this->sayPack('path.connector');
        $this->rest(output: true);
        $this->tests[] = [
            'kind' => 'continuity',
            'element' => 'connector',
            'drop_v' => round($this->between(0.8, 1.9), 2),
            'current_a' => -25.0,
        ];
    }

    private function makePhantom(): void
    {
        $this->output = 0.0;
        $this->symptoms = ['dead-output'];
        $this->want[] = ['codes' => ['reading.phantom'], 'where' => [null]];
        $this->rest();
        $sum = array_sum($this->volts());
        $this->sets[] = $this->set('rest', 0.0, [], ['P-', 'P+', round($this->between(0.15, 0.5) * $sum, 2)]);
        $low = $this->set('rest', 0.0, [], ['P-', 'P+', 0.02]);
        $low['instrument']['input'] = 'low';
        $this->sets[] = $low;
    }

    // ------------------------------------------------------------------ outside the pack

    private function makeChargerVoltage(): void
    {
        $this->sayPack('charger.wrong-voltage');
        $this->rest();
        $full = self::LIMITS[$this->chemistry][2] * $this->s;
        $this->tests[] = [
            'kind' => 'charger',
            'open_v' => round($full * (mt_rand(0, 1) ? $this->between(1.03, 1.12) : $this->between(0.84, 0.92)), 2),
        ];
    }

    private function makeChargerProfile(): void
    {
        $this->sayPack('charger.wrong-profile');
        $this->rest();
        $full = self::LIMITS[$this->chemistry][2] * $this->s;
        $this->tests[] = [
            'kind' => 'charger',
            'open_v' => round($full, 2),
            'stages' => ['cc', 'cv', $this->pick('desulphate', 'equalise', 'pulse')],
        ];
    }

    private function makeChargerDead(): void
    {
        $this->symptoms = ['will-not-charge'];
        $this->sayPack('charger.dead');
        $this->not = ['bms.charge-dead'];
        $this->rest(output: true);
        $full = self::LIMITS[$this->chemistry][2] * $this->s;
        $this->tests[] = [
            'kind' => 'charger',
            'open_v' => round(mt_rand(0, 1) ? $full : 0.4, 2),
            'loaded_v' => round($this->between(0, 2), 2),
        ];
    }

    private function makeLoadShorted(): void
    {
        $this->sayPack('load.shorted');
        $this->rest(output: true);
        $this->tests[] = ['kind' => 'load-check', 'harness_ohm' => 0.002, 'device_ok' => false];
    }

    private function makeLoadWiring(): void
    {
        $this->symptoms = ['dead-output'];
        $this->sayPack('load.wiring');
        $this->rest(output: true);
        $this->tests[] = ['kind' => 'load-check', 'harness_ohm' => 2.0e5, 'device_ok' => true];
    }

    private function makeLoadDead(): void
    {
        $this->symptoms = ['dead-output'];
        $this->sayPack('load.dead');
        $this->rest(output: true);
        $this->tests[] = ['kind' => 'load-check', 'harness_ohm' => 0.02, 'device_ok' => false];
    }

    private function makeLoadExceedsCells(): void
    {
        $this->pack['cell']['max_continuous_a'] = 5.0;
        $this->pack['load'] = mt_rand(0, 1)
            ? ['controller_limit_a' => round(5.0 * $this->p * $this->between(1.4, 2.2), 1)]
            : ['power_w' => round(5.0 * $this->p * $this->between(1.6, 2.4) * $this->s * 3.3)];
        $this->pack['bms']['discharge_limit_a'] = 200;
        $this->sayPack('load.exceeds-cells');
        $this->rest(output: true);
    }

    private function makeGaugeStale(): void
    {
        $this->sayPack('gauge.stale');
        $this->rest();
        $this->packCapacity($f = $this->between(0.86, 0.97));
        $wh = $f * $this->cellAh * $this->p * $this->s * 3.6;
        $this->tests[] = [
            'kind' => 'gauge',
            'full_charge_wh' => round($wh * $this->pick(0.6, 0.75, 1.3), 1),
            'design_wh' => round($this->cellAh * $this->p * $this->s * 3.6, 1),
        ];
    }

    private function makeGaugeAgainstGroups(): void
    {
        $this->sayPack('gauge.stale');
        $this->rest();
        $this->capacities();
        $wh = min(array_column($this->g, 'cap')) * $this->s * 3.6;
        $this->tests[] = [
            'kind' => 'gauge',
            'full_charge_wh' => round($wh * 0.6, 1),
            'design_wh' => round($this->cellAh * $this->p * $this->s * 3.6, 1),
        ];
    }

    private function makeLabel(): void
    {
        $this->pack['label'] = ['nominal_v' => round(3.6 * $this->s, 1), 'capacity_ah' => round($this->cellAh * $this->p * 1.4, 1)];
        $this->want[] = ['codes' => ['label.inconsistent'], 'where' => [null]];
        $this->rest();
    }

    private function makeSwollen(): void
    {
        $this->inspection = ['swollen' => true];
        $this->sayPack('cell.swollen');
        $this->rest();
    }

    private function makeLeakingCell(): void
    {
        $this->inspection = [$this->pick('leaking', 'venting') => true];
        $this->sayPack('cell.leaking');
        $this->rest();
    }

    private function makeHotAtRest(): void
    {
        $this->inspection = ['warm_at_rest' => true];
        $this->sayPack('cell.hot');
        $this->rest();
    }

    // ------------------------------------------------------------------ readings

    private function makeSlipped(): void
    {
        $this->style = 'across';
        $this->meter = ['percent' => 0.3, 'counts' => 2, 'steps' => [[6.0, 0.001], [60.0, 0.01], [600.0, 0.1]]];
        $this->rest();
        $i = mt_rand(0, $this->s - 1);
        $v = $this->sets[0]['readings'][$i]['v'];
        $this->sets[0]['readings'][$i]['v'] = $this->pick(
            -$v,
            $v / 10,
            round($v - $this->between(0.3, 0.9), 3),
            round($v + $this->between(0.2, 0.4), 3),
        );
        $this->not = ['group.dead', 'group.reversed', 'group.deep-discharged', 'group.undercharged', 'pack.spread'];
        $this->want[] = [
            'codes' => ['reading.inconsistent'],
            'where' => [
                null,
                ...array_map(fn(int $k): array => ['group' => $k], range(1, $this->s)),
                ...array_map(fn(int $k): array => ['tap' => $k], range(0, $this->s)),
            ],
        ];
    }

    private function makeUnreadIsNotOvercharged(): void
    {
        $this->style = 'across';
        $this->rest();
        array_splice($this->sets[0]['readings'], mt_rand(0, $this->s - 1), 1);
        $this->not = ['group.overcharged', 'group.dead'];
        $this->enough = false;
    }

    private function makeJumpsOnChargeLowAtRest(): void
    {
        // A small or high-resistance group: 4.21 V on charge, 2.47 V at rest. It leaks or is nearly dead; it is not merely empty.
        $this->fresh($this->pick('nmc', 'nca'), mt_rand(5, 12), mt_rand(1, 4), $this->between(0.5, 0.8));
        $k = $this->any();
        $this->symptoms = ['will-not-charge', 'charger-full-at-once'];
        $this->say($k, 'group.dead', 'group.high-resistance', 'group.low-capacity', 'joint.high-resistance', 'group.missing-cell');
        $this->not = ['group.deep-discharged'];
        $this->g[$k]['fixed'] = $this->between(2.4, 2.55);
        $this->rest();
        $v = $this->volts();
        $amps = round(0.2 * $this->cellAh * $this->p, 1);
        $readings = [];
        foreach ($v as $i => $x) {
            $readings[] = [$i - 1, $i, $i === $k ? $this->between(4.18, 4.22) : $x + ($amps * $this->g[$i]['r']) / 1000];
        }
        $this->sets[] = $this->set('charge', $amps, $readings, null, 0.1);
    }

    private function makePhosphateBehindAtTheTop(): void
    {
        $this->fresh('lfp', mt_rand(4, 16), mt_rand(1, 4), 0.97);
        $k = $this->any();
        $readings = [];
        foreach ($this->g as $i => $g) {
            $readings[] = [$i - 1, $i, $i === $k ? 3.34 + $this->normal(0.003) : 3.46 + $this->normal(0.004)];
        }
        $this->sets[] = $this->set('charge', round(0.05 * $this->cellAh * $this->p, 2), $readings);
        $this->say($k, 'group.undercharged', 'group.self-discharge');
    }

    // ------------------------------------------------------------------ the bench

    private function say(int $group, string ...$codes): void
    {
        $where = [['group' => $group]];
        if (in_array('joint.high-resistance', $codes, true)) {
            array_push($where, ['joint' => $group - 1], ['joint' => $group]);
        }
        $this->want[] = ['codes' => array_values($codes), 'where' => $where];
    }

    private function sayJoint(int $t): void
    {
        $this->want[] = [
            'codes' => ['joint.high-resistance'],
            'where' => array_map(
                fn(int $j): array => ['joint' => $j],
                array_values(array_filter([$t - 1, $t, $t + 1], fn(int $j): bool => $j >= 0 && $j <= $this->s)),
            ),
        ];
    }

    private function sayPack(string ...$codes): void
    {
        $this->want[] = ['codes' => array_values($codes), 'where' => [null]];
    }

    /** Away from the flat part of phosphate. */
    private function steep(float $from = 0.35, float $to = 0.85): void
    {
        $this->fresh($this->pick('nmc', 'nmc', 'nca', 'lco'), mt_rand(4, 14), mt_rand(1, 6), $this->between($from, $to));
    }

    private function age(float $fade): void
    {
        foreach ($this->g as $i => $g) {
            $this->g[$i]['cap'] *= $fade * (1 + $this->normal(0.01));
            $this->g[$i]['r'] *= 1 + 1.5 * (1 - $fade);
        }
    }

    private function any(): int
    {
        return mt_rand(1, $this->s);
    }

    /** @return array<int, float> */
    private function volts(): array
    {
        $out = [];
        foreach ($this->g as $k => $g) {
            $out[$k] = $g['fixed'] ?? $this->curve($g['soc']) + $g['offset'];
        }

        return $out;
    }

    /**
     * @param  array<int, float>  $change  volts by group, beyond what leaks
     * @param  array<string, mixed>  $more
     */
    private function rest(float $days = 0.0, bool $output = false, array $change = [], array $more = []): void
    {
        $v = $this->volts();
        foreach ($this->g as $k => $g) {
            if ($days > 0.0 && $g['fixed'] === null) {
                $v[$k] = $this->curve($g['soc'] - $g['leak'] * $days) + $g['offset'] + $this->normal(0.0004) + ($change[$k] ?? 0.0);
            }
        }
        $sum = array_sum($v);
        $terminal = $output ? ['P-', 'P+', ($this->output ?? 1.0) > 0.5 ? $sum : $this->between(0.0, 0.06) * $sum] : null;
        $this->sets[] = $more + $this->set('rest', 0.0, $this->pairs($v), $terminal, $days);
    }

    private function loadSteps(?float $everyS = null, bool $output = false): void
    {
        $ah = $this->cellAh * $this->p;
        foreach (
            [[-min(25.0, $this->between(0.3, 0.8) * $ah), 'discharge', 0.04], [$this->between(0.15, 0.4) * $ah, 'charge', 0.06]]
            as [$amps, $condition, $at]
        ) {
            $every = $everyS ?? 4.0;
            $v = [];
            foreach ($this->volts() as $k => $rest) {
                // The second time constant is still filling while the probe walks up the pack.
                $t = 60 + ($k - 1) * $every;
                $r = $this->g[$k]['r'] * (1.0 + 0.25 * (1 - exp(-$t / 40)) + 0.2 * (1 - exp(-$t / 400)));
                $moved = ($amps * $t) / 3600 / $this->g[$k]['cap'];
                // A joint loads the group above it; taps sit on the lower side.
                $joint = $this->joints[$k - 1] + $this->link[$k - 1];
                $v[$k] =
                    $rest +
                    ($this->curve($this->g[$k]['soc'] + $moved) - $this->curve($this->g[$k]['soc'])) +
                    ($amps * ($r + $joint)) / 1000;
            }
            $sum = array_sum($v);
            $set = $this->set(
                $condition,
                round($amps, 1),
                $this->pairs($v, $everyS !== null),
                $output && $amps < 0 ? ['P-', 'P+', $sum + $amps * $this->pathOhm] : null,
                $at,
            );
            if ($everyS !== null) {
                foreach ($set['readings'] as $i => $r) {
                    $set['readings'][$i]['at_s'] = round($i * $everyS);
                }
                // The first one once more at the end.
                $k = 1;
                $t = 60 + $this->s * $every;
                $r = $this->g[1]['r'] * (1.0 + 0.25 * (1 - exp(-$t / 40)) + 0.2 * (1 - exp(-$t / 400)));
                $again =
                    $this->volts()[1] +
                    ($this->curve($this->g[1]['soc'] + ($amps * $t) / 3600 / $this->g[1]['cap']) - $this->curve($this->g[1]['soc'])) +
                    ($amps * ($r + $this->joints[0] + $this->link[0])) / 1000;
                $set['readings'][] = ['from' => 'T0', 'to' => 'T1', 'v' => $this->shown($again)[0], 'at_s' => round($this->s * $everyS)];
            }
            $this->sets[] = $set + ['since_current_s' => 60];
        }
    }

    /**
     * @param  array<int, float>  $v
     * @return list<array{int, int, float}>
     */
    private function pairs(array $v, bool $acrossOnly = false): array
    {
        $out = [];
        $sum = 0.0;
        foreach ($v as $k => $x) {
            $sum += $x;
            if ($acrossOnly || $this->style !== 'cumulative') {
                $out[] = [$k - 1, $k, $x];
            }
            if (!$acrossOnly && $this->style !== 'across' && ($this->style === 'cumulative' || $k % 3 === 0)) {
                $out[] = [0, $k, $sum];
            }
        }
        if (!$acrossOnly && $this->style === 'across') {
            $out[] = [0, count($v), $sum];
        }

        return $out;
    }

    /**
     * @param  list<array{int, int, float}>  $pairs
     * @param  array{string, string, float}|null  $terminal
     * @return array<string, mixed>
     */
    private function set(string $condition, float $amps, array $pairs, ?array $terminal = null, float $days = 0.0): array
    {
        $readings = [];
        foreach ($pairs as [$from, $to, $v]) {
            [$shown, $resolution] = $this->shown($v);
            $readings[] = ['from' => "T$from", 'to' => "T$to", 'v' => $shown, 'resolution_v' => $resolution];
        }
        if ($terminal !== null) {
            [$shown, $resolution] = $this->shown($terminal[2]);
            $readings[] = ['from' => $terminal[0], 'to' => $terminal[1], 'v' => $shown, 'resolution_v' => $resolution];
        }

        return [
            'at' => $this->at($days),
            'condition' => $condition,
            'current_a' => $amps,
            'ambient_c' => 21,
            'instrument' => [
                'id' => 'meter',
                'kind' => 'multimeter',
                'percent' => $this->meter['percent'],
                'counts' => $this->meter['counts'],
                'input' => 'high',
            ],
            'readings' => $readings,
        ] + ($condition === 'rest' ? ['rested_min' => 720] : []);
    }

    /** @return array{float, float} what the meter shows, and its resolution on that range */
    private function shown(float $v): array
    {
        foreach ($this->meter['steps'] as [$range, $resolution]) {
            if (abs($v) <= $range) {
                $gain = $this->gains[(string) $range] ??= 1 + $this->normal($this->meter['percent'] / 100 / 2);
                $noisy = $v * $gain + $this->normal(0.0004) + $this->normal(($this->meter['counts'] * $resolution) / 3);

                return [round($noisy / $resolution) * $resolution, $resolution];
            }
        }

        return [round($v, 1), 0.1];
    }

    /**
     * @param  array<int, float>  $v
     * @param  list<string>  $flags
     */
    private function board(array $v, array $flags = []): void
    {
        $this->sets[] = [
            'at' => $this->at(0.02),
            'condition' => 'rest',
            'rested_min' => 720,
            'current_a' => 0,
            'ambient_c' => 21,
            'source' => 'bms-report',
            'flags' => $flags,
            'instrument' => ['id' => 'board', 'percent' => 0.3, 'counts' => 1, 'resolution_v' => 0.001],
            'readings' => array_map(
                fn(int $k): array => ['from' => 'T' . ($k - 1), 'to' => "T$k", 'v' => round($v[$k] * 1.0005 + $this->normal(0.002), 3)],
                array_keys($v),
            ),
        ];
    }

    private function capacities(): void
    {
        foreach ($this->g as $i => $g) {
            $this->tests[] = [
                'kind' => 'capacity',
                'scope' => ['group' => $i],
                'measured_ah' => round($g['cap'] * (1 + $this->normal(0.005)), 2),
                'rate_a' => round(($this->cellAh * $this->p) / 5, 1),
                'started_full' => true,
                'ambient_c' => 21,
            ];
        }
    }

    private function packCapacity(float $share): void
    {
        $this->tests[] = [
            'kind' => 'capacity',
            'scope' => 'pack',
            'measured_ah' => round($share * $this->cellAh * $this->p, 2),
            'rate_a' => round(($this->cellAh * $this->p) / 5, 1),
            'started_full' => true,
            'ambient_c' => 21,
        ];
    }

    private function recovery(int $k, float $v, string $how): void
    {
        [, , , $pre] = self::LIMITS[$this->chemistry];
        $a = round(($this->cellAh * $this->p) / 20, 2);
        $samples = [];
        for ($min = 0; $min <= 24; $min += 2) {
            $x = match ($how) {
                'rises' => $v + ($pre + 0.15 - $v) * (1 - exp(-$min / 7)),
                'hangs' => $v + 0.01 * (1 - exp(-$min / 3)),
                default => $v + ($min < 6 ? 0.02 * $min : 0.12 - 0.03 * ($min - 6)),
            };
            $samples[] = ['min' => $min, 'v' => round($x + $this->normal(0.001), 3), 'a' => $a, 'c' => round(20 + 0.02 * $min, 1)];
        }
        $this->tests[] = ['kind' => 'recovery', 'scope' => ['group' => $k], 'current_a' => $a, 'ambient_c' => 20, 'samples' => $samples];
    }

    private function at(float $days): string
    {
        return (new \DateTimeImmutable('2026-04-06T09:00:00Z'))
            ->modify('+' . (int) round(86400 * $days) . ' seconds')
            ->format('Y-m-d\TH:i:s\Z');
    }

    private function curve(float $soc): float
    {
        $points = self::CURVES[$this->chemistry];
        $soc = max(0.0, min(1.0, $soc));
        for ($i = 1; $i < count($points); $i++) {
            if ($soc <= $points[$i][0]) {
                [$a, $b] = [$points[$i - 1], $points[$i]];

                return $a[1] + (($b[1] - $a[1]) * ($soc - $a[0])) / ($b[0] - $a[0]);
            }
        }

        return $points[count($points) - 1][1];
    }

    private function pick(mixed ...$of): mixed
    {
        return $of[mt_rand(0, count($of) - 1)];
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
