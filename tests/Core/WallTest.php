<?php

declare(strict_types=1);

use Heartwood\Core\Fleet\Gain;
use Heartwood\Core\Fleet\InPlace;
use Heartwood\Core\Fleet\JoinBack;
use Heartwood\Core\Fleet\PastedWall;
use Heartwood\Core\Fleet\Sibling;
use Heartwood\Core\Limits\FleetLimits;
use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Money\Prices;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Shop\Settings;

// A wall of packs out of text, and a group of one topped up where it stands.

/** @param  array<string, mixed>  $more */
function block(array $more = []): PackSpec
{
    return PackSpec::from(new Fields($more + ['chemistry' => 'lfp', 'series' => 4, 'parallel' => 1, 'label' => ['capacity_ah' => 100.0]]));
}

/** @param  array<string, mixed>  $more */
function inPlace(array $more = [], ?float $supplyA = null): InPlace
{
    return InPlace::of(new Sibling('A', block($more), 'full', null, [3.46, 3.35, 3.46, 3.46], null), 2, $supplyA);
}

it('reads a wall however it was written', function (string $text): void {
    $wall = PastedWall::of($text);
    expect($wall->wrong)
        ->toBe([])
        ->and(array_column($wall->rows, 'values', 'name'))
        ->toEqual(['Block 1' => [3.46, 3.351, 3.44], 'Block 2' => [3.46, 3.459, null]]);
})->with([
    'tabs' => ["Block 1\t3.460\t3.351\t3.440\nBlock 2\t3.460\t3.459\t-\n"],
    'semicolons, decimal commas, a header' => ["pack;1;2;3\nBlock 1;3,460;3,351;3,440\nBlock 2;3,460;3,459;"],
    'commas, named columns' => ["Name,g1,g2,g3\nBlock 1,3.460,3.351,3.440\nBlock 2,3.460,3.459,-"],
    'blanks, millivolts' => ["Block 1   3460 3351 3440\n\n# the lower shelf\nBlock 2   3460 3459 -"],
    'a column for each pack' => ["group\tBlock 1\tBlock 2\n1\t3.460\t3.460\n2\t3.351\t3.459\n3\t3.440\t-"],
    'pipes, a percent and a total' => ["pack|soc|1|2|3|total\nBlock 1|62|3.460|3.351|3.440|10.251\nBlock 2|62 %|3.460|3.459|-|"],
    'units' => ["Block 1;3460 mV;3.351 V;3.440V\nBlock 2;3460 mV;3.459 V;-"],
]);

it('takes percent from its column, and the coarsest digit of a row', function (): void {
    $wall = PastedWall::of("pack|soc|1|2\nA|62|3.46|3.351\nB||3.4601|3.4512");
    expect(array_column($wall->rows, 'soc'))
        ->toBe([0.62, null])
        ->and(array_column($wall->rows, 'resolution_v'))
        ->toBe([0.01, 0.001]);
});

it('subtracts taps from B-, and takes no groups for taps', function (): void {
    $wall = PastedWall::of("A\t3.40\t6.81\t10.20\nB\t3.41\t6.81\t10.21");
    expect($wall->rows[0]['values'])
        ->toEqual([3.4, 3.41, 3.39])
        ->and($wall->notes)
        ->toBe(['Read as taps from B-: each group is the difference to the tap before.']);
    expect(PastedWall::of("A\t3400\t6810\t10200\nB\t3410\t6810\t10210")->rows[0]['values'])->toEqual([3.4, 3.41, 3.39]);
    expect(PastedWall::of("A\t3.40\t3.41\t3.42\nB\t3.41\t3.42\t3.43")->notes)->toBe([]);
    expect(PastedWall::of("A\t0\t3.4\t6.8\nB\t0\t3.4\t6.8")->rows[0]['values'])->toEqual([0.0, 3.4, 6.8]);
});

it('names what is wrong by its line, and how to mend it', function (string $text, string $said, string $what = 'volts'): void {
    expect(implode(' ', PastedWall::of($text, $what)->wrong))->toContain($said);
})->with([
    ['', 'Nothing stands there'],
    ["# only this\n", 'Nothing stands there'],
    ["A\t3.4\tx", 'Line 1: group 2, "x", is no voltage of a group'],
    ["A\t3.4\t3.4\nA\t3.4\t3.4", 'Line 2: "A" stands twice, the first time in line 1.'],
    ["A\t3.4\t3.4\nB\t3.4\t3.4\nC\t3.4", 'Line 3: 1 groups, the others have 2'],
    ["A\t3.4\t3.4\n\t3.4\t3.4", 'Line 2: no name'],
    ["A\nB", '"A" and no group'],
    ["pack;soc;1;2\nA;140;3.4;3.4", '"140" is no percent'],
    ["pack;1;2;total\nA;3.4;3.4;6.82\nB;3.4;3.5;6.81", 'Line 3: its groups add up to 6.900 V and its total says 6.810 V'],
    ["A\t3.4\t12", 'Line 1: group 2, "12"'],
    ["A\t79\t2001", 'Line 1: group 2, "2001", is no amp-hours', 'ah'],
    ["A\t79\t-3", 'Line 1: group 2, "-3", is no amp-hours', 'ah'],
    ['pack;1;2', 'Only names of groups'],
]);

it('lets a total be rounded, group by group, and no further', function (): void {
    $total = fn(float $apart): array => PastedWall::of(sprintf("pack;1;2;total\nA;3.400;3.400;%.3f", 6.8 + $apart))->wrong;
    $allowed = 2 * FleetLimits::SUM_APART_V + 0.001;
    expect($total($allowed - 0.001))->toBe([])->and($total($allowed + 0.001))->toHaveCount(1);
    expect(2 * FleetLimits::SUM_APART_V)->toBe(0.02);
});

it('reads amp-hours as they are, and no more than a screen takes', function (): void {
    expect(PastedWall::of("A\t79,5\t101 Ah\nB\t80\t-", 'ah')->rows[0]['values'])->toEqual([79.5, 101.0]);
    $rows = fn(int $n): string => implode("\n", array_map(fn(int $i): string => "P$i\t3.4\t3.4", range(1, $n)));
    expect(PastedWall::of($rows(PastedWall::MOST))->wrong)->toBe([]);
    expect(PastedWall::of($rows(PastedWall::MOST + 1))->wrong)->toHaveCount(1);
});

it('answers any text, and invents no number', function (): void {
    $dice = new Random\Randomizer(new Random\Engine\Mt19937(17));
    $bits = [
        '3.4',
        '3,41',
        '3400',
        '-',
        'A',
        'Block 2',
        ';',
        "\t",
        ',',
        '|',
        ' ',
        "\n",
        '"',
        '#',
        '62%',
        'pack',
        '1',
        '2',
        "\u{00e4}",
        '0',
        'e5',
        '9e9',
    ];
    for ($i = 0; $i < 2000; $i++) {
        $text = implode('', array_map(fn(): string => $bits[$dice->getInt(0, count($bits) - 1)], range(1, $dice->getInt(1, 30))));
        $wall = PastedWall::of($text, $i % 2 === 0 ? 'volts' : 'ah');
        expect($wall->rows === [] && $wall->wrong === [])->toBeFalse($text);
        foreach ($wall->rows as $r) {
            expect($r['name'])->not->toBe('');
            foreach ($r['values'] as $v) {
                expect($v === null || (is_finite($v) && abs($v) < 2000))->toBeTrue($text);
            }
        }
    }
});

it('begins nothing before the pack is alone, without current, and the meter is on the group that was meant', function (): void {
    $begin = fn(InPlace $p, array $x = []): array => array_keys(
        $p->begin(3.35, $x['v'] ?? 3.352, $x['a'] ?? 0.0, $x['c'] ?? 20.0, $x['who'] ?? ''),
    );
    expect($begin(inPlace()))->toBe([]);
    expect($begin(inPlace(), ['v' => -3.35]))->toBe(['group_v']);
    expect($begin(inPlace(), ['v' => 3.35 + FleetLimits::SAME_GROUP_V]))
        ->toBe([])
        ->and($begin(inPlace(), ['v' => 3.35 + FleetLimits::SAME_GROUP_V + 0.001]))
        ->toBe(['group_v'])
        ->and(FleetLimits::SAME_GROUP_V)
        ->toBe(0.05);
    expect($begin(inPlace(), ['v' => 2.0]))->toBe(['group_v']);
    expect($begin(inPlace(), ['v' => 3.66]))->toBe(['group_v']);
    expect($begin(inPlace(), ['a' => -FleetLimits::NO_CURRENT_A]))
        ->toBe([])
        ->and($begin(inPlace(), ['a' => -FleetLimits::NO_CURRENT_A - 0.001]))
        ->toBe(['pack_a'])
        ->and(FleetLimits::NO_CURRENT_A)
        ->toBe(0.05);
    expect($begin(inPlace(), ['c' => RunLimits::CHARGE_COLDEST_C]))
        ->toBe([])
        ->and($begin(inPlace(), ['c' => RunLimits::CHARGE_COLDEST_C - 0.1]))
        ->toBe(['ambient_c']);
    // Half of what it holds where no sheet says, and what the sheet says where one does.
    expect($begin(inPlace([], 50.0)))
        ->toBe([])
        ->and($begin(inPlace([], 50.1)))
        ->toBe(['supply_a']);
    $sheet = ['cell' => ['max_charge_a' => 20.0]];
    expect($begin(inPlace($sheet, 20.0)))
        ->toBe([])
        ->and($begin(inPlace($sheet, 20.1)))
        ->toBe(['supply_a']);
    expect($begin(inPlace(['label' => []])))->toBe(['supply_a']);
    // Twenty of them in series are high voltage.
    $high = new Sibling('A', block(['series' => 20]), 'full', null, array_fill(0, 20, 3.4), null);
    expect($begin(InPlace::of($high, 2)))
        ->toBe(['second'])
        ->and($begin(InPlace::of($high, 2), ['who' => 'the mate']))
        ->toBe([]);
});

it('stops between a twentieth and a fiftieth, at full voltage, and calls nothing else full', function (): void {
    $p = inPlace();
    expect([$p->supplyA, $p->stopFromA, $p->stopToA, $p->fullV])
        ->toEqual([5.0, 5.0, 2.0, 3.65])
        ->and(InPlace::ended(3.65, 5.0, 3.65, 5.0)['full'])
        ->toBeTrue()
        ->and(InPlace::ended(3.65, 5.0, 3.65, 5.1)['full'])
        ->toBeFalse()
        ->and(InPlace::ended(3.65, 5.0, 3.65 - FleetLimits::TOPPED_WITHIN_V, 2.0)['full'])
        ->toBeTrue()
        ->and(InPlace::ended(3.65, 5.0, 3.65 - FleetLimits::TOPPED_WITHIN_V - 0.001, 2.0)['full'])
        ->toBeFalse()
        ->and(FleetLimits::TOPPED_WITHIN_V)
        ->toBe(0.02)
        ->and(InPlace::ended(3.65, 5.0, 3.65 + RunLimits::JOIN_OVER_FULL_V + 0.001, 2.0))
        ->toMatchArray(['full' => false])
        ->and(InPlace::ended(3.65, 5.0, 3.67, 2.0)['text'])
        ->toContain('over its full');
});

it('says whether it helped by the reading after it', function (): void {
    expect(InPlace::helped(-109.0, -10.0)['even'])
        ->toBeTrue()
        ->and(InPlace::helped(-109.0, -10.1)['text'])
        ->toContain('not even yet')
        ->and(InPlace::helped(-109.0, 11.0)['text'])
        ->toContain('high now')
        ->and(InPlace::helped(-109.0, -112.0)['text'])
        ->toContain('did not help');
});

it('lets a pack back beside its siblings by the join rule, the more of them the lower their resistance', function (): void {
    $pack = block();
    expect(JoinBack::check($pack, 8, 13.84, 13.85)->way)
        ->toBe('direct')
        ->and(JoinBack::check($pack, 8, 13.84, 13.895)->way)
        ->not->toBe('direct')
        ->and(JoinBack::check($pack, 8, 13.2, 13.4)->inrushA)
        ->toBeGreaterThan(JoinBack::check($pack, 1, 13.2, 13.4)->inrushA)
        ->and(JoinBack::check($pack, 8, 3.0, 13.4)->way)
        ->toBe('refused')
        ->and(JoinBack::mostChargeA($pack))
        ->toBe(50.0)
        ->and(JoinBack::mostChargeA(block(['parallel' => null, 'label' => []])))
        ->toBe(2.5);
});

it('weighs the weakest group: what another in its place brings against what it costs', function (): void {
    $gain = Gain::of(block(), 79.0, 97.0, Prices::of(Settings::of([])), 9000)->toArray();
    // Cell 90.00, strip 0.35, 75 min at 60.00 an hour, fee 25.00.
    expect($gain)->toMatchArray([
        'usable_ah' => 79.0,
        'after_ah' => 97.0,
        'gain_wh' => 230.4,
        'total_cents' => 9000 + 35 + 7500 + 2500,
        'cents_per_wh' => round((9000 + 35 + 7500 + 2500) / 230.4, 1),
        'minutes' => 75,
        'cells' => 1,
    ]);
    expect(Gain::of(block(), 97.0, 97.0, Prices::of(Settings::of([])), 9000)->toArray()['cents_per_wh'])->toBeNull();
    $worth = fn(float $after): bool => Gain::of(block(), 80.0, $after, Prices::of(Settings::of([])), 9000)->toArray()['worth'];
    expect([$worth(84.0), $worth(83.99), FleetLimits::WORTH_SHARE])->toBe([true, false, 0.05]);
});
