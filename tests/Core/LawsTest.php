<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\Priors;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Feature\Feature;
use Heartwood\Core\Feature\FeatureKind;
use Heartwood\Core\Feature\GroupFeatures;
use Heartwood\Core\Feature\RestFeature;
use Heartwood\Core\Inference\GroupChain;
use Heartwood\Core\Inference\Situation;
use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Safety\SafetyState;
use Tests\Core\Bench;

// Laws that hold for any pack: tried on many seeded at random.

function chance(float $low, float $high): float
{
    return $low + (($high - $low) * mt_rand()) / mt_getrandmax();
}

/**
 * A pack as it may lie on any bench: mostly sound groups, some low, deep, dead, reversed or past full.
 *
 * @return array<string, mixed>
 */
function anyPack(): array
{
    $chemistry = ['nmc', 'nca', 'lco', 'lfp', 'lto', 'lmo'][mt_rand(0, 5)];
    $profile = Chemistry::from($chemistry)->profile();
    $curve = RestCurve::of(Chemistry::from($chemistry));
    $soc = chance(0.05, 0.98);
    $groups = [];
    $series = mt_rand(1, 14);
    for ($k = 0; $k < $series; $k++) {
        $groups[] = round(
            match (mt_rand(0, 14)) {
                0 => chance(0.0, 0.5),
                1 => chance($profile->floorV, $profile->boardLowV),
                2 => chance(-0.6, 0.0),
                3 => $curve->volts(max(0.0, $soc - chance(0.1, 0.5))),
                4 => chance($profile->fullV, $profile->fullV + 0.15),
                default => $curve->volts(min(1.0, max(0.0, $soc + chance(-0.02, 0.02)))),
            },
            3,
        );
    }
    $tests = [];
    if (mt_rand(0, 2) === 0) {
        $k = mt_rand(1, $series);
        $tests[] = [
            'kind' => 'capacity',
            'scope' => ['group' => $k],
            'measured_ah' => chance(1.0, 9.0),
            'started_full' => mt_rand(0, 1) === 1,
        ];
    }
    if (mt_rand(0, 3) === 0) {
        $tests[] = [
            'kind' => 'recovery',
            'scope' => ['group' => mt_rand(1, $series)],
            'samples' => [['min' => 0, 'v' => 2.0], ['min' => 12, 'v' => chance(1.9, 2.6)]],
        ];
    }
    $all = ['dead-output', 'stored-long', 'dies-early', 'will-not-charge', 'wet', 'dropped', 'swelling', 'low-range'];

    return Bench::record(
        $groups,
        ['chemistry' => $chemistry, 'parallel' => mt_rand(1, 5), 'cell' => ['capacity_ah' => 2.5, 'resistance_mohm' => 35]],
        [
            'tests' => $tests,
            'symptoms' => mt_rand(0, 3) === 0 ? [$all[mt_rand(0, count($all) - 1)]] : [],
        ],
        mt_rand(0, 2) ? 'across' : 'cumulative',
    );
}

beforeEach(fn() => mt_srand(20260611));

it('never offers what the safety rules forbid, whatever lies on the bench', function (): void {
    for ($n = 0; $n < 400; $n++) {
        $record = Bench::parse(anyPack());
        $v = Diagnoser::diagnose($record);
        $actions = Bench::actions($v);
        if ($v->triage->state === SafetyState::Quarantine) {
            expect($actions)
                ->toBe(['quarantine', 'recycle'])
                ->and($v->nextTests)
                ->toBe([]);

            continue;
        }
        if ($v->triage->state === SafetyState::Hold) {
            expect($actions)->toBe(['none', 'recycle']);

            continue;
        }
        $floor = $record->pack->profile()->floorV;
        foreach ($v->options as $o) {
            foreach ($o->places as $p) {
                if ($p->kind !== 'group') {
                    continue;
                }
                $g = $v->groups[$p->number - 1];
                $dead = $g['states']['group.dead'] + $g['states']['group.reversed'];
                if (in_array($o->action, [RepairAction::RecoverGroup, RepairAction::ChargeGroup], true)) {
                    expect($dead)
                        ->toBeLessThan(0.35)
                        ->and($g['v'])
                        ->toBeGreaterThanOrEqual($o->action === RepairAction::RecoverGroup ? $floor : 0.0);
                }
            }
            if ($o->action === RepairAction::Balance) {
                expect(
                    array_filter($v->groups, fn(array $g): bool => $g['states']['group.dead'] + $g['states']['group.reversed'] > 0.5),
                )->toBe([]);
            }
        }
        foreach ($v->nextTests as $t) {
            if (in_array($t->test, [TestKind::ChargeStep, TestKind::LoadStep], true)) {
                foreach ($v->groups as $g) {
                    if ($g['v'] !== null) {
                        expect($g['v'])->toBeGreaterThanOrEqual($record->pack->lowCutV())->toBeLessThanOrEqual($record->pack->highCutV());
                    }
                }
            }
        }
    }
});

it('gives every group a distribution and lists findings only from a tenth up, most weighty first', function (): void {
    for ($n = 0; $n < 200; $n++) {
        $v = Diagnoser::diagnose(Bench::parse(anyPack()));
        foreach ($v->groups as $g) {
            expect(array_sum($g['states']))->toEqualWithDelta(1.0, 0.003)->and(min($g['states']))->toBeGreaterThanOrEqual(0.0);
        }
        foreach ($v->findings as $f) {
            expect($f->probability)->toBeGreaterThanOrEqual(0.1)->and($f->evidence)->not->toBe([]);
        }
        expect(count($v->ledger))->toBe(count($v->findings));
    }
});

it('says the same whatever order the readings of a set are listed in', function (): void {
    for ($n = 0; $n < 60; $n++) {
        $record = anyPack();
        $shuffled = $record;
        shuffle($shuffled['measurements'][0]['readings']);
        $a = Bench::verdict($record);
        $b = Bench::verdict($shuffled);
        foreach ($a->groups as $i => $g) {
            expect($b->groups[$i]['probability'])
                ->toEqualWithDelta($g['probability'], 1e-6)
                ->and($b->groups[$i]['state'])
                ->toBe($g['state']);
        }
    }
});

it('reverses with the pack end for end where no rule speaks of an end', function (): void {
    for ($n = 0; $n < 60; $n++) {
        $volts = array_map(fn(): float => round(chance(3.78, 3.82), 3), range(1, mt_rand(5, 12)));
        $volts[mt_rand(0, count($volts) - 1)] = round(chance(1.8, 4.1), 3);
        $a = Bench::verdict(Bench::record($volts));
        $b = Bench::verdict(Bench::record(array_reverse($volts)));
        foreach ($a->groups as $i => $g) {
            expect($b->groups[count($volts) - 1 - $i]['probability'])->toEqualWithDelta($g['probability'], 0.02);
        }
    }
});

it('grows sharper with a better meter', function (): void {
    $sharp = $blunt = 0.0;
    foreach (range(1, 30) as $n) {
        $volts = array_map(fn(): float => round(chance(3.799, 3.801), 4), range(1, 7));
        $volts[3] -= 0.06;
        $record = Bench::record($volts);
        $record['measurements'][0]['instrument'] = ['id' => 'm', 'percent' => 0.05, 'counts' => 1, 'resolution_v' => 0.0001];
        $sharp += Bench::probability(Bench::verdict($record), 'group.undercharged', ['group' => 4]);
        $record['measurements'][0]['instrument'] = ['id' => 'm', 'percent' => 1.0, 'counts' => 5, 'resolution_v' => 0.01];
        $blunt += Bench::probability(Bench::verdict($record), 'group.undercharged', ['group' => 4]);
    }
    expect($sharp)->toBeGreaterThan($blunt);
});

/** The chain of groups of a plain pack, and what is believed of group 3 after these features beside a level rest voltage. */
function believed(Feature ...$features): array
{
    $situation = new Situation(
        PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 8, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]])),
        3.82,
        0.62,
    );
    $chain = new GroupChain($situation, Priors::handbook());
    $rest = new RestFeature(3.82, 0.01, 0.0, 0.005);
    $of = [$rest, ...$features];
    $all = array_fill(1, 8, [$rest]);
    $all[3] = $of;

    return $chain->solve(GroupFeatures::from($all, array_fill(0, 9, [])))['groups'][3]->probabilities;
}

it('never lowers a state by a reading equal to what that state predicts', function (string $state, Feature $seen): void {
    expect(believed($seen)[$state])->toBeGreaterThanOrEqual(believed()[$state]);
})->with([
    'sound, no leak' => ['group.ok', new Feature(FeatureKind::Leak, 0.0, 0.0005, 0.0005)],
    'sound, sags like the rest' => ['group.ok', new Feature(FeatureKind::Resistance, 0.0, 0.05)],
    'sound, holds what it should' => ['group.ok', new Feature(FeatureKind::Capacity, 1.0, 0.02)],
    'leaking, falls' => ['group.self-discharge', new Feature(FeatureKind::Leak, 0.03, 0.005, 0.001)],
    'aged, holds less' => ['group.low-capacity', new Feature(FeatureKind::Capacity, 0.6, 0.02)],
    'joint, sags' => ['joint.high-resistance', new Feature(FeatureKind::Resistance, 1.0, 0.05)],
    'lost cell, weld loose' => ['group.missing-cell', Feature::outcome(FeatureKind::Weld, 'loose')],
    'cells resist, by themselves' => ['group.high-resistance', new Feature(FeatureKind::Cells, 0.8, 0.02)],
    'fuller, ahead at the top' => ['group.overcharged', new Feature(FeatureKind::Top, 0.12, 0.01, 0.0)],
    'fuller, stays up' => ['group.overcharged', new Feature(FeatureKind::Stays, 0.06, 0.006, 0.0)],
    'aged, first at the bottom' => ['group.low-capacity', new Feature(FeatureKind::Bottom, 0.5, 0.03, 0.0)],
]);

it('weighs nothing that was not measured, and has no lost cell where there is but one', function (): void {
    $chain = new GroupChain(
        new Situation(PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 8, 'parallel' => 1])), null),
        Priors::handbook(),
    );
    $g = $chain->solve(GroupFeatures::from(array_fill(1, 8, []), array_fill(0, 9, [])))['groups'][1];
    expect($g->features)
        ->toBe([])
        ->and($g->best())
        ->toBe('group.ok')
        ->and($g->decibans('leak', 'group.self-discharge', []))
        ->toBe(0.0)
        ->and($g->p('group.missing-cell'))
        ->toBe(0.0);
});

it('sums groups and joints to one, whatever is seen, and the same from either end', function (): void {
    $situation = new Situation(
        PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 6, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]])),
        3.82,
        0.62,
    );
    $chain = new GroupChain($situation, Priors::handbook());
    for ($n = 0; $n < 50; $n++) {
        $groups = $joints = [];
        foreach (range(1, 6) as $k) {
            $d = mt_rand(0, 3) ? chance(-0.01, 0.01) : chance(-0.3, 0.2);
            $groups[$k] = [
                new RestFeature(3.82 + $d, 0.01, $d, 0.005),
                new Feature(FeatureKind::Resistance, mt_rand(0, 3) ? chance(-0.1, 0.1) : chance(0.2, 2.0), 0.05),
            ];
        }
        foreach (range(0, 6) as $t) {
            $joints[$t] = mt_rand(0, 4) ? [] : [Feature::outcome(FeatureKind::Drop, ['bad', 'good'][mt_rand(0, 1)])];
        }
        $a = $chain->solve(GroupFeatures::from($groups, $joints));
        $b = $chain->solve(GroupFeatures::from(array_combine(range(1, 6), array_reverse($groups)), array_reverse($joints)));
        foreach (range(1, 6) as $k) {
            expect(array_sum($a['groups'][$k]->probabilities))
                ->toEqualWithDelta(1.0, 1e-9)
                ->and($b['groups'][7 - $k]->p('group.ok'))
                ->toEqualWithDelta($a['groups'][$k]->p('group.ok'), 1e-9);
        }
        foreach (range(0, 6) as $t) {
            expect($a['joints'][$t])->toBeGreaterThanOrEqual(0.0)->toBeLessThanOrEqual(1.0)->toEqualWithDelta($b['joints'][6 - $t], 1e-9);
        }
        expect($a['log'])->toEqualWithDelta($b['log'], 1e-9);
    }
});

it('sums the chain to what going through every combination gives', function (): void {
    // Three groups, four joints: every state of each written out.
    $situation = new Situation(
        PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 3, 'parallel' => 1, 'cell' => ['capacity_ah' => 2.5]])),
        3.82,
        0.62,
    );
    $chain = new GroupChain($situation, Priors::handbook());
    $seen = [1 => 0.0, 2 => 0.8, 3 => 0.05];
    $features = array_map(fn(float $x): array => [new Feature(FeatureKind::Resistance, $x, 0.06)], $seen);
    $solved = $chain->solve(GroupFeatures::from($features, array_fill(0, 4, [])), 1.0);
    $codes = array_keys(Faults::groups());
    $faulty = 0.4 / 3;
    $weak = 0.16 / 3;
    $prior = array_combine(
        $codes,
        array_map(
            fn(string $c): float => $c === 'group.ok'
                ? 1 - $faulty
                : ($c === 'group.missing-cell'
                    ? 0.0
                    : $faulty * Priors::handbook()->share($c)),
            $codes,
        ),
    );
    $joint = [[1 - $weak, 0.0, $weak], [1 - $weak, $weak / 2, $weak / 2], [1 - $weak, $weak / 2, $weak / 2], [1 - $weak, $weak, 0.0]];
    $total = $ok = $third = 0.0;
    foreach ([0, 1, 2] as $a) {
        foreach ([0, 1, 2] as $b) {
            foreach ([0, 1, 2] as $c) {
                foreach ([0, 1, 2] as $d) {
                    $w = $joint[0][$a] * $joint[1][$b] * $joint[2][$c] * $joint[3][$d];
                    $sum = [];
                    foreach ([1 => [$a, $b], 2 => [$b, $c], 3 => [$c, $d]] as $k => [$below, $above]) {
                        $burden = $below === 2 || $above === 1;
                        foreach ($codes as $code) {
                            $sum[$k][$code] = $prior[$code] * $chain->density($burden ? 'joint.high-resistance' : $code, $features[$k][0]);
                        }
                    }
                    $all = $w * array_product(array_map(array_sum(...), $sum));
                    $total += $all;
                    $third += $c > 0 ? $all : 0.0;
                    $ok += $b === 2 || $c === 1 ? 0.0 : ($all * $sum[2]['group.ok']) / array_sum($sum[2]);
                }
            }
        }
    }
    expect($solved['groups'][2]->p('group.ok'))
        ->toEqualWithDelta($ok / $total, 1e-9)
        ->and($solved['joints'][2])
        ->toEqualWithDelta($third / $total, 1e-9)
        ->and($solved['log'])
        ->toEqualWithDelta(log($total), 1e-9);
});

it('integrates its densities to one', function (): void {
    foreach ([[0.0, 1.0, 0.05], [-0.3, -0.04, 0.02], [0.2, 6.0, 0.3]] as [$low, $high, $sigma]) {
        $sum = 0.0;
        for ($x = $low - 8 * $sigma; $x < $high + 8 * $sigma; $x += 0.001) {
            $sum += Normal::blurredFlat($x, $low, $high, $sigma) * 0.001;
        }
        expect($sum)->toEqualWithDelta(1.0, 0.01);
    }
    expect(Normal::cumulative(0.0))
        ->toEqualWithDelta(0.5, 1e-6)
        ->and(Normal::cumulative(1.96))
        ->toEqualWithDelta(0.975, 1e-4)
        ->and(Normal::cumulative(-1.96))
        ->toEqualWithDelta(0.025, 1e-4);
});

it('is not moved by a few wild values', function (): void {
    expect(Robust::median([3.8, 3.81, 3.79, 0.0, 3.8]))
        ->toBe(3.8)
        ->and(Robust::median([1.0, 2.0]))
        ->toBe(1.5)
        ->and(Robust::spread([3.8, 3.81, 3.79, 0.0, 3.8], 0.001))
        ->toBeLessThan(0.02)
        ->and(Robust::spread([3.8, 3.8, 3.8], 0.004))
        ->toBe(0.004)
        ->and(Robust::quadrature(3.0, 4.0, 12.0))
        ->toBe(13.0);
});

it('asks for the test that tells most for its minutes, and for the gentler one on a tie', function (): void {
    for ($n = 0; $n < 60; $n++) {
        $v = Diagnoser::diagnose(Bench::parse(anyPack()));
        $rates = array_map(fn($t): float => round($t->gainBits / $t->minutes, 3), $v->nextTests);
        $sorted = $rates;
        rsort($sorted);
        expect($rates)->toBe($sorted);
        for ($i = 1; $i < count($rates); $i++) {
            if ($rates[$i] === $rates[$i - 1]) {
                expect($v->nextTests[$i]->test->invasiveness())->toBeGreaterThanOrEqual($v->nextTests[$i - 1]->test->invasiveness());
            }
        }
    }
});

it('lets readings be taken in a hold and asks for nothing in quarantine', function (): void {
    foreach (TestKind::cases() as $t) {
        expect($t->allowed(SafetyState::Clear))->toBeTrue()->and($t->allowed(SafetyState::Quarantine))->toBeFalse();
    }
    expect(TestKind::GroupReading->allowed(SafetyState::Hold))
        ->toBeTrue()
        ->and(TestKind::LoadStep->allowed(SafetyState::Hold))
        ->toBeFalse()
        ->and(TestKind::TugWeld->allowed(SafetyState::Hold))
        ->toBeFalse()
        ->and(TestKind::Wake->allowed(SafetyState::Hold))
        ->toBeFalse();
});
