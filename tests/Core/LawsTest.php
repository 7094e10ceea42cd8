<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\GroupEngine;
use Heartwood\Core\Diagnosis\GroupEvidence;
use Heartwood\Core\Diagnosis\GroupState;
use Heartwood\Core\Diagnosis\TestKind;
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
    return $low + ($high - $low) * mt_rand() / mt_getrandmax();
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
        $groups[] = round(match (mt_rand(0, 14)) {
            0 => chance(0.0, 0.5),
            1 => chance($profile->floorV, $profile->boardLowV),
            2 => chance(-0.6, 0.0),
            3 => $curve->volts(max(0.0, $soc - chance(0.1, 0.5))),
            4 => chance($profile->fullV, $profile->fullV + 0.15),
            default => $curve->volts(min(1.0, max(0.0, $soc + chance(-0.02, 0.02)))),
        }, 3);
    }
    $tests = [];
    if (mt_rand(0, 2) === 0) {
        $k = mt_rand(1, $series);
        $tests[] = ['kind' => 'capacity', 'scope' => ['group' => $k], 'measured_ah' => chance(1.0, 9.0), 'started_full' => mt_rand(0, 1) === 1];
    }
    if (mt_rand(0, 3) === 0) {
        $tests[] = ['kind' => 'recovery', 'scope' => ['group' => mt_rand(1, $series)], 'samples' => [['min' => 0, 'v' => 2.0], ['min' => 12, 'v' => chance(1.9, 2.6)]]];
    }
    $all = ['dead-output', 'stored-long', 'dies-early', 'will-not-charge', 'wet', 'dropped', 'swelling', 'low-range'];

    return Bench::record($groups, ['chemistry' => $chemistry, 'parallel' => mt_rand(1, 5), 'cell' => ['capacity_ah' => 2.5, 'resistance_mohm' => 35]], [
        'tests' => $tests, 'symptoms' => mt_rand(0, 3) === 0 ? [$all[mt_rand(0, count($all) - 1)]] : [],
    ], mt_rand(0, 2) ? 'across' : 'cumulative');
}

beforeEach(fn () => mt_srand(20260611));

it('never offers what the safety rules forbid, whatever lies on the bench', function (): void {
    for ($n = 0; $n < 400; $n++) {
        $record = Bench::parse(anyPack());
        $v = Diagnoser::diagnose($record);
        $actions = Bench::actions($v);
        if ($v->triage->state === SafetyState::Quarantine) {
            expect($actions)->toBe(['quarantine', 'recycle'])->and($v->nextTests)->toBe([]);

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
                    expect($dead)->toBeLessThan(0.35)->and($g['v'])->toBeGreaterThanOrEqual($o->action === RepairAction::RecoverGroup ? $floor : 0.0);
                }
            }
            if ($o->action === RepairAction::Balance) {
                expect(array_filter($v->groups, fn (array $g): bool => $g['states']['group.dead'] + $g['states']['group.reversed'] > 0.5))->toBe([]);
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
            expect($b->groups[$i]['probability'])->toEqualWithDelta($g['probability'], 1e-6)->and($b->groups[$i]['state'])->toBe($g['state']);
        }
    }
});

it('reverses with the pack end for end where no rule speaks of an end', function (): void {
    for ($n = 0; $n < 60; $n++) {
        $volts = array_map(fn (): float => round(chance(3.78, 3.82), 3), range(1, mt_rand(5, 12)));
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
        $volts = array_map(fn (): float => round(chance(3.799, 3.801), 4), range(1, 7));
        $volts[3] -= 0.06;
        $record = Bench::record($volts);
        $record['measurements'][0]['instrument'] = ['id' => 'm', 'percent' => 0.05, 'counts' => 1, 'resolution_v' => 0.0001];
        $sharp += Bench::probability(Bench::verdict($record), 'group.undercharged', ['group' => 4]);
        $record['measurements'][0]['instrument'] = ['id' => 'm', 'percent' => 1.0, 'counts' => 5, 'resolution_v' => 0.01];
        $blunt += Bench::probability(Bench::verdict($record), 'group.undercharged', ['group' => 4]);
    }
    expect($sharp)->toBeGreaterThan($blunt);
});

it('never lowers the leading state by a reading equal to what that state predicts', function (GroupState $state, callable $seen): void {
    $spec = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 8, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]]));
    $engine = new GroupEngine($spec, 2.95, 3.82, 0.62);
    $e = new GroupEvidence(3);
    $e->restV = 3.82;
    $e->restSigmaV = 0.01;
    $e->across = true;
    $e->charge = 0.0;
    $e->chargeSigma = 0.005;
    $before = $engine->posterior($e)->p($state);
    $seen($e);
    expect($engine->posterior($e)->p($state))->toBeGreaterThanOrEqual($before);
})->with([
    'sound, no leak' => [GroupState::Ok, function (GroupEvidence $e): void {
        [$e->leakPerDay, $e->leakSigma, $e->leakNoise, $e->leakDays] = [0.0, 0.0005, 0.0005, 5.0];
    }],
    'sound, sags like the rest' => [GroupState::Ok, function (GroupEvidence $e): void {
        [$e->resistance, $e->resistanceSigma] = [0.0, 0.05];
    }],
    'sound, holds what it should' => [GroupState::Ok, function (GroupEvidence $e): void {
        [$e->capacity, $e->capacitySigma, $e->capacityAh] = [1.0, 0.02, 10.0];
    }],
    'leaking, falls' => [GroupState::SelfDischarge, function (GroupEvidence $e): void {
        [$e->leakPerDay, $e->leakSigma, $e->leakNoise, $e->leakDays] = [0.03, 0.005, 0.001, 5.0];
    }],
    'aged, holds less' => [GroupState::LowCapacity, function (GroupEvidence $e): void {
        [$e->capacity, $e->capacitySigma, $e->capacityAh] = [0.6, 0.02, 6.0];
    }],
    'joint, sags' => [GroupState::Joint, function (GroupEvidence $e): void {
        [$e->resistance, $e->resistanceSigma] = [1.0, 0.05];
    }],
    'joint, hot' => [GroupState::Joint, function (GroupEvidence $e): void {
        $e->jointProved = true;
    }],
    'lost cell, weld loose' => [GroupState::MissingCell, function (GroupEvidence $e): void {
        $e->tugLoose = true;
    }],
    'cells resist, by themselves' => [GroupState::HighResistance, function (GroupEvidence $e): void {
        $e->cellResistance = 0.8;
    }],
    'fuller, ahead at the top' => [GroupState::Overcharged, function (GroupEvidence $e): void {
        $e->aheadAtTop = 0.12;
    }],
    'fuller, stays up' => [GroupState::Overcharged, function (GroupEvidence $e): void {
        $e->staysAtTop = 0.06;
    }],
    'aged, first at the bottom' => [GroupState::LowCapacity, function (GroupEvidence $e): void {
        $e->aheadAtBottom = 0.5;
    }],
]);

it('weighs nothing that was not measured', function (): void {
    $spec = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 8, 'parallel' => 4]));
    $posterior = (new GroupEngine($spec, 2.95, null))->posterior(new GroupEvidence(1));
    expect($posterior->features)->toBe([])->and($posterior->best())->toBe(GroupState::Ok)->and($posterior->decibans('leak', GroupState::SelfDischarge))->toBe(0.0);
});

it('has no lost cell where there is but one', function (): void {
    $spec = PackSpec::from(new Fields(['chemistry' => 'nmc', 'series' => 8, 'parallel' => 1]));
    expect((new GroupEngine($spec, 2.95, null))->posterior(new GroupEvidence(1))->p(GroupState::MissingCell))->toBe(0.0);
});

it('integrates its densities to one', function (): void {
    foreach ([[0.0, 1.0, 0.05], [-0.3, -0.04, 0.02], [0.2, 6.0, 0.3]] as [$low, $high, $sigma]) {
        $sum = 0.0;
        for ($x = $low - 8 * $sigma; $x < $high + 8 * $sigma; $x += 0.001) {
            $sum += Normal::blurredFlat($x, $low, $high, $sigma) * 0.001;
        }
        expect($sum)->toEqualWithDelta(1.0, 0.01);
    }
    expect(Normal::cumulative(0.0))->toEqualWithDelta(0.5, 1e-6)->and(Normal::cumulative(1.96))->toEqualWithDelta(0.975, 1e-4)->and(Normal::cumulative(-1.96))->toEqualWithDelta(0.025, 1e-4);
});

it('is not moved by a few wild values', function (): void {
    expect(Robust::median([3.8, 3.81, 3.79, 0.0, 3.8]))->toBe(3.8)->and(Robust::median([1.0, 2.0]))->toBe(1.5)
        ->and(Robust::spread([3.80, 3.81, 3.79, 0.0, 3.80], 0.001))->toBeLessThan(0.02)->and(Robust::spread([3.8, 3.8, 3.8], 0.004))->toBe(0.004)
        ->and(Robust::quadrature(3.0, 4.0, 12.0))->toBe(13.0);
});

it('asks for the test that tells most for its minutes, and for the gentler one on a tie', function (): void {
    for ($n = 0; $n < 60; $n++) {
        $v = Diagnoser::diagnose(Bench::parse(anyPack()));
        $rates = array_map(fn ($t): float => round($t->gainBits / $t->minutes, 3), $v->nextTests);
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
    expect(TestKind::GroupReading->allowed(SafetyState::Hold))->toBeTrue()->and(TestKind::LoadStep->allowed(SafetyState::Hold))->toBeFalse()
        ->and(TestKind::TugWeld->allowed(SafetyState::Hold))->toBeFalse()->and(TestKind::Wake->allowed(SafetyState::Hold))->toBeFalse();
});
