<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Maths\Pchip;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\Identity;
use Heartwood\Core\Pack\LabelCheck;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Safety\EnergyAtRisk;
use Heartwood\Core\Safety\Gate;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Safety\Triage;
use Tests\Core\Bench;

dataset('chemistries', fn() => array_map(fn(Chemistry $c) => [$c], Chemistry::cases()));

it('rises with charge everywhere and comes back through its inverse', function (Chemistry $c): void {
    $curve = RestCurve::of($c);
    $last = -1.0;
    for ($i = 0; $i <= 200; $i++) {
        $soc = $i / 200;
        $v = $curve->volts($soc);
        expect($v)->toBeGreaterThan($last);
        $last = $v;
        expect(abs($curve->socAt($v) - $soc))->toBeLessThan(1e-4);
    }
})->with('chemistries');

it('agrees with a numeric derivative', function (): void {
    $p = new Pchip([0.0, 1.0, 3.0, 4.0], [0.0, 2.0, 2.5, 6.0]);
    foreach ([0.2, 0.9, 1.7, 2.9, 3.4] as $x) {
        expect($p->slope($x))->toEqualWithDelta(($p->value($x + 1e-5) - $p->value($x - 1e-5)) / 2e-5, 1e-3);
    }
    expect($p->value(-1))->toBe(0.0)->and($p->value(9))->toBe(6.0);
});

it('keeps the tabulated points of the nmc row', function (): void {
    $curve = RestCurve::of(Chemistry::Nmc);
    expect($curve->volts(0.5))
        ->toEqualWithDelta(3.7, 1e-9)
        ->and($curve->volts(0.0))
        ->toEqualWithDelta(2.95, 1e-9)
        ->and($curve->socAt(3.985))
        ->toEqualWithDelta(0.8, 1e-6);
});

it('says how little a phosphate plateau voltage tells', function (): void {
    $flat = RestCurve::of(Chemistry::Lfp)->soc(3.3, 0.002);
    $slope = RestCurve::of(Chemistry::Nmc)->soc(3.8, 0.002);
    expect($flat->plateau)
        ->toBeTrue()
        ->and($flat->high - $flat->low)
        ->toBeGreaterThan(0.3)
        ->and($slope->high - $slope->low)
        ->toBeLessThan(0.08)
        ->toBeGreaterThan(0.05);
});

it('flags voltages beyond either end of the curve', function (): void {
    $curve = RestCurve::of(Chemistry::Nmc);
    expect($curve->soc(2.5, 0.001))
        ->belowCurve->toBeTrue()
        ->mid->toBe(0.0)
        ->and($curve->soc(4.3, 0.001))
        ->aboveCurve->toBeTrue()
        ->mid->toBe(1.0);
});

it('reads 12.6 V as three full groups and 14.6 V as four of phosphate', function (): void {
    $first = Identity::guess(12.6)[0];
    expect($first->series)->toBe(3)->and($first->reading)->toBe('full');
    $phosphate = array_values(array_filter(Identity::guess(14.6), fn($g) => $g->chemistry === Chemistry::Lfp));
    expect($phosphate[0]->series)->toBe(4)->and($phosphate[0]->misfit)->toBeLessThan(0.001);
});

it('finds the same five groups behind a 20 V and an 18 V tool label', function (float $label): void {
    expect(array_map(fn($g) => $g->series, Identity::guess($label, [Chemistry::Nmc])))->toContain(5);
})->with([20.0, 18.0]);

it('gives no guess for nothing', fn() => expect(Identity::guess(0.0))->toBe([]));

it('names the figure a wrong label should carry', function (): void {
    $pack = fn(array $label) => PackSpec::from(
        new Fields(['chemistry' => 'nmc', 'series' => 10, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5], 'label' => $label]),
    );
    expect(LabelCheck::mismatches($pack(['nominal_v' => 36, 'capacity_ah' => 10, 'energy_wh' => 360])))->toBe([]);
    $wrong = LabelCheck::mismatches($pack(['nominal_v' => 36, 'capacity_ah' => 14, 'energy_wh' => 360]));
    expect(array_column($wrong, 'should_be', 'field'))->toBe(['energy_wh' => 504.0, 'capacity_ah' => 10.0]);
    expect(LabelCheck::mismatches($pack(['nominal_v' => 48]))[0]['field'])->toBe('nominal_v');
    expect(LabelCheck::mismatches($pack([]), 39)[0]['text'])->toContain('39 cells were counted');
});

it('accepts a label that prints the pack full or nominal times amp-hours', function (float $wh): void {
    $pack = PackSpec::from(
        new Fields([
            'chemistry' => 'nmc',
            'series' => 10,
            'parallel' => 4,
            'label' => ['full_v' => 42.0, 'capacity_ah' => 10, 'energy_wh' => $wh],
        ]),
    );
    expect(LabelCheck::mismatches($pack))->toBe([]);
})->with([360.0, 420.0]);

it('sends a pack that eyes or nose condemn to quarantine', function (string $seen): void {
    expect(Triage::assess(new Fields([$seen => true]), [], 42.0)->state)->toBe(SafetyState::Quarantine);
})->with(['swollen', 'leaking', 'venting', 'smell', 'punctured', 'warm_at_rest', 'salt_water']);

it('holds what was crushed, burnt, wet, dropped or shorted', function (): void {
    foreach (['crushed', 'burnt', 'wet'] as $seen) {
        expect(Triage::assess(new Fields([$seen => true]), [], 42.0)->state)->toBe(SafetyState::Hold);
    }
    foreach (['dropped', 'short-circuited', 'wet'] as $told) {
        expect(Triage::assess(new Fields([]), [$told], 42.0)->state)->toBe(SafetyState::Hold);
    }
    expect(Triage::assess(new Fields(['crushed' => false]), ['low-range'], 42.0)->state)->toBe(SafetyState::Clear);
});

it('lets the worst reason decide and gives every reason', function (): void {
    $t = Triage::assess(new Fields(['swollen' => true, 'wet' => true]), ['dropped'], 67.2);
    expect($t->state)->toBe(SafetyState::Quarantine)->and($t->reasons)->toHaveCount(3)->and($t->rules[0])->toContain('high voltage');
});

it('gates actions by the table and never facts', function (): void {
    expect(Gate::refuses(SafetyState::Clear, 'sign-off', false))
        ->toBeNull()
        ->and(Gate::refuses(SafetyState::Hold, 'open', true))
        ->toBeNull()
        ->and(Gate::refuses(SafetyState::Hold, 'open', false))
        ->toContain('senior')
        ->and(Gate::refuses(SafetyState::Hold, 'sign-off', true))
        ->not->toBeNull()
        ->and(Gate::refuses(SafetyState::Hold, 'recover-or-balance', true))
        ->not->toBeNull()
        ->and(Gate::refuses(SafetyState::Quarantine, 'open', true))
        ->not->toBeNull()
        ->and(Gate::refuses(SafetyState::Quarantine, 'removal', true))
        ->toBeNull()
        ->and(Gate::refuses(SafetyState::Quarantine, 'removal', false))
        ->not->toBeNull();
    expect(fn() => Gate::refuses(SafetyState::Clear, 'juggle', true))->toThrow(InvalidArgumentException::class);
});

it('tells the energy in a pack and the current of a short, and nothing before it was read', function (): void {
    $of = fn(array $record) => EnergyAtRisk::of(Bench::parse($record)->pack, new PackEvidence(Bench::parse($record)));
    $full = $of(Bench::record([4.19, 4.19, 4.19, 4.19], ['parallel' => 2, 'cell' => ['capacity_ah' => 2.5, 'resistance_mohm' => 40]]));
    expect($full->wattHours)
        ->toEqualWithDelta(4 * 5 * 4.19, 0.2)
        ->and($full->shortCircuitA)
        ->toEqualWithDelta((4 * 4.19) / 0.08, 1.0);
    $low = $of(Bench::record([3.5, 3.5, 3.5, 3.5], ['parallel' => 2, 'cell' => ['capacity_ah' => 2.5, 'resistance_mohm' => 40]]));
    expect($low->wattHours)
        ->toBeLessThan(0.3 * $full->wattHours)
        ->and(
            $of([
                'format' => 'heartwood.job',
                'version' => 1,
                'pack' => ['chemistry' => 'nmc', 'series' => 4, 'parallel' => 2, 'cell' => ['capacity_ah' => 2.5]],
            ]),
        )
        ->toBeNull();
});
