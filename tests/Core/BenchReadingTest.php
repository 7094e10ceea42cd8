<?php

declare(strict_types=1);

use Heartwood\Core\Reading\BoardReport;
use Heartwood\Core\Reading\SmartBattery;
use Heartwood\Core\Reading\SteadyRule;

/** @return list<array{t: float, v: float|null}> a window at five a second */
function window(?float ...$values): array
{
    return array_map(fn(?float $v, int $i): array => ['t' => 0.2 * $i, 'v' => $v], $values, array_keys($values));
}

function steady(array $window, ?float $left = null, bool $has = true, ?float $before = null, ?float $typical = 3.7): SteadyRule
{
    return SteadyRule::judge($window, $left, $has, 0.001, $before, $typical, 4.2);
}

it('takes a value that holds still, and not one that wanders or has just come', function (): void {
    expect(steady(window(0.1, 3.701, 3.7, 3.701, 3.7, 3.701))->state)
        ->toBe('steady')
        ->and(steady(window(3.69, 3.7, 3.71, 3.72, 3.73, 3.74))->state)
        ->toBe('moving')
        ->and(steady(window(0.1, 0.2, 3.7, 3.7))->state)
        ->toBe('moving')
        ->and(steady(window(3.7, 3.7, 3.7, 3.7, null))->state)
        ->toBe('waiting')
        ->and(steady([])->state)
        ->toBe('waiting');
});

it('does not take the last tap again while the probe has not left it', function (): void {
    $w = window(3.7, 3.7, 3.7, 3.7, 3.7, 3.7);
    expect(steady($w, 3.7, false)->state)
        ->toBe('waiting')
        ->and(steady($w, 3.7, true, null)->state)
        ->toBe('steady')
        ->and(SteadyRule::left(3.701, 3.7, 0.001))
        ->toBeFalse()
        ->and(SteadyRule::left(0.2, 3.7, 0.001))
        ->toBeTrue()
        ->and(SteadyRule::left(null, 3.7, 0.001))
        ->toBeTrue();
});

it('questions what is steady and cannot be', function (float $v, ?float $before, string $kind): void {
    $r = steady(window($v, $v, $v, $v, $v, $v), 7.0, true, $before);
    expect($r->state)->toBe('question')->and($r->kind)->toBe($kind);
})->with([
    'the same tap twice' => [7.401, 7.4, 'same-value'],
    'a lower tap' => [3.7, 7.4, 'sign'],
    'swapped across a group' => [-3.7, null, 'sign'],
    'two groups at a step' => [14.8, 7.4, 'two-steps'],
    'nothing across a group' => [0.001, null, 'same-value'],
    'more than a cell holds' => [5.9, null, 'impossible'],
]);

it('takes a low group as low: it is a step, and a positive one', function (): void {
    expect(steady(window(9.2, 9.2, 9.2, 9.2, 9.2, 9.2), 7.4, true, 7.4)->state)->toBe('steady');
});

it('reads a board\'s report in our line format, with flags and temperatures', function (): void {
    $r = BoardReport::parse(
        "# board\ngroup 1 3.712\ngroup 2 3.698 V\ngroup 3: 3705 mV\ntemperature 24.5\ncurrent -1.2\n" .
            'flags under-voltage discharge-off wobbly',
        3,
    );
    expect($r->volts)
        ->toBe([1 => 3.712, 2 => 3.698, 3 => 3.705])
        ->and($r->temperatures)
        ->toBe([24.5])
        ->and($r->flags)
        ->toBe(['under-voltage', 'discharge-off'])
        ->and($r->currentA)
        ->toBe(-1.2)
        ->and(implode($r->notes))
        ->toContain('wobbly');
});

it('reads pasted columns and tables and guesses millivolts', function (string $text): void {
    $r = BoardReport::parse($text, 4);
    expect(array_values($r->volts))->toEqualWithDelta([3.712, 3.698, 3.705, 3.701], 1e-9);
})->with([
    'a column' => ["3.712\n3.698\n3.705\n3.701"],
    'one line' => ['3.712 3.698 3.705 3.701'],
    'millivolts' => ["3712\n3698\n3705\n3701"],
    'numbered' => ["1;3.712\n2;3.698\n3;3.705\n4;3.701"],
    'decimal commas' => ["3,712\n3,698\n3,705\n3,701"],
    'a table' => ["cell,mV\n1,3712\n2,3698\n3,3705\n4,3701"],
    'commas between' => ['3.712,3.698,3.705,3.701'],
    'named' => ["Cell 1: 3.712 V\nCell 2: 3.698 V\nCell 3: 3.705 V\nCell 4: 3.701 V"],
]);

it('names the groups that a report lacks', function (): void {
    expect(implode(' ', BoardReport::parse("3.7\n3.7", 3)->notes))->toContain('group 3 is missing');
});

it('decodes a register dump by the public specification', function (): void {
    $d = SmartBattery::parse(
        "0x09: 0x2C56\n0x0A 0xFF38\n0x08 0x0BA6\n0x0D 41\n0x0F 1500\n0x10 3000\n0x18 5200\n0x19 10800\n0x16 0x4AC0\n" .
            "0x17 312\n0x3F 3790\n0x3E 3782\n0x3D 3780\n0x1B 0x5A6F\nnonsense here",
    );
    expect($d->volts)
        ->toBe(11.35)
        ->and($d->amps)
        ->toBe(-0.2)
        ->and($d->cycles)
        ->toBe(312)
        ->and($d->groupsV)
        ->toBe([3.79, 3.782, 3.78])
        ->and($d->status)
        ->toBe(['terminate-charge alarm', 'terminate-discharge alarm', 'remaining-capacity alarm', 'initialized', 'discharging'])
        ->and($d->gauge)
        ->toBe(['full_charge_wh' => 32.4, 'design_wh' => 56.16, 'reported_soc' => 0.41])
        ->and($d->errors[0])
        ->toContain('line 15');
    $shown = array_column($d->rows, 'value', 'name');
    expect($shown['temperature'])
        ->toBe('25.1 degC')
        ->and($shown['remaining capacity'])
        ->toBe('1.500 Ah')
        ->and($shown['manufacture date'])
        ->toBe('2025-03-15');
});

it('reads capacities in watt-hours when the mode bit says so', function (): void {
    $d = SmartBattery::parse("0x03 0x8000\n0x10 3240\n0x18 5616");
    expect($d->gauge)->toBe(['full_charge_wh' => 32.4, 'design_wh' => 56.16]);
});
