<?php

declare(strict_types=1);

use Heartwood\Core\Money\Prices;
use Heartwood\Core\Money\Quote;
use Heartwood\Core\Proof\Acceptance;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Reading\TypedValue;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\WorkPlan;
use Heartwood\Core\Repair\WorkStep;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Schedule\NextThing;
use Heartwood\Core\Shop\Settings;
use Tests\Core\Bench;

/** @return array<string, string> status by check */
function statuses(array $record, array $entries = []): array
{
    $out = [];
    foreach ((new Acceptance(Bench::parse($record), array_map(fn(array $e) => new Fields($e), $entries)))->results() as $r) {
        $out[$r->check->value] = $r->status;
    }

    return $out;
}

function full(array $volts = [4.19, 4.191, 4.188, 4.19], array $more = []): array
{
    return Bench::record($volts, ['cell' => ['capacity_ah' => 2.5], 'label' => ['capacity_ah' => 7.5]], $more);
}

it('passes nothing that was not measured', function (): void {
    $s = statuses(['format' => 'heartwood.job', 'version' => 1, 'pack' => ['chemistry' => 'nmc', 'series' => 4]]);
    expect(array_unique(array_values($s)))
        ->not->toContain('passed')
        ->and($s['capacity'])
        ->toBe('missing')
        ->and($s['insulation'])
        ->toBe('missing')
        ->and($s['cause-named'])
        ->toBe('not-needed');
});

it('passes a full rested pack and fails one that falls short, group by group', function (): void {
    expect(statuses(full())['finished-voltage'])->toBe('passed')->and(statuses(full())['spread'])->toBe('passed');
    $short = full([4.19, 4.1, 4.19, 4.19]);
    expect(statuses($short)['finished-voltage'])->toBe('failed')->and(statuses($short)['spread'])->toBe('failed');
    $found = array_values(
        array_filter((new Acceptance(Bench::parse($short), []))->results(), fn($r) => $r->check === Check::FinishedVoltage),
    )[0]->found;
    expect($found)->toContain('group 2 at 4.100 V');
});

it(
    'does not take a half-charged pack for a finished one',
    fn() => expect(statuses(full([3.8, 3.8, 3.8, 3.8]))['finished-voltage'])->toBe('missing'),
);

it('reads the spread of phosphate at the taper end, not at rest', function (): void {
    $record = Bench::record([3.35, 3.35, 3.35, 3.35], ['chemistry' => 'lfp']);
    expect(statuses($record)['spread'])->toBe('missing');
    $record['measurements'][] = [
        'id' => 'm2',
        'at' => '2026-05-04T07:00:00Z',
        'condition' => 'charge',
        'current_a' => 0.3,
        'readings' => Bench::readings([3.51, 3.52, 3.515, 3.51]),
    ];
    expect(statuses($record)['spread'])->toBe('passed')->and(statuses($record)['finished-voltage'])->toBe('passed');
});

it('wants a charge that the charger ended', function (string $by, string $status): void {
    expect(statuses(full(more: ['tests' => [['kind' => 'charge', 'stopped_by' => $by]]]))['full-charge-by-taper'])->toBe($status);
})->with([['charger', 'passed'], ['bms', 'failed']]);

it('holds a board to its cut-offs within 50 mV', function (): void {
    expect(statuses(full(), ['board-high-cut' => ['v' => 4.29]])['board-high-cut'])
        ->toBe('passed')
        ->and(statuses(full(), ['board-high-cut' => ['v' => 4.31]])['board-high-cut'])
        ->toBe('failed')
        ->and(statuses(full(), ['board-low-cut' => ['v' => 2.8]])['board-low-cut'])
        ->toBe('passed');
});

it('judges a cut by the board\'s own figure, and where nobody said it sends to its sheet instead of failing a sound board', function (
    array $bms,
    string $check,
    float $v,
    string $status,
): void {
    $record = full();
    $record['pack'] += $bms === [] ? [] : ['bms' => $bms];
    expect(statuses($record, [$check => ['v' => $v]])[$check])->toBe($status);
})->with([
    'its own, just within' => [['high_cut_v' => 4.15], 'board-high-cut', 4.199, 'passed'],
    'its own, just beyond' => [['high_cut_v' => 4.15], 'board-high-cut', 4.202, 'failed'],
    'not said, lower than most' => [[], 'board-high-cut', 4.15, 'missing'],
    'not said, past what cells bear' => [[], 'board-high-cut', 4.31, 'failed'],
    'its own low cut' => [['low_cut_v' => 3.0], 'board-low-cut', 2.8, 'failed'],
    'not said, low cut higher than most' => [[], 'board-low-cut', 3.0, 'missing'],
    'not said, under the floor' => [[], 'board-low-cut', 1.4, 'failed'],
]);

it('names the field of the intake that would settle a check, and none that is filled', function (): void {
    $settle = function (array $record): array {
        $out = [];
        foreach ((new Acceptance(Bench::parse($record), []))->results() as $r) {
            $out[$r->check->value] = $r->toArray()['settle']['field'] ?? null;
        }

        return array_filter($out);
    };
    $record = full();
    expect($settle($record))->toBe([
        'board-high-cut' => 'pack.bms.high_cut_v',
        'board-low-cut' => 'pack.bms.low_cut_v',
        'insulation' => 'metal_case',
    ]);
    $record['pack']['bms'] = ['high_cut_v' => 4.2, 'low_cut_v' => 3.0];
    $record['inspection'] = ['metal_case' => true];
    expect($settle($record))->toBe([]);
});

it('holds a new pack to what its cells hold, and not to four fifths of a label', function (float $ah, string $status): void {
    $record = full(more: ['tests' => [['kind' => 'capacity', 'scope' => 'pack', 'measured_ah' => $ah, 'started_full' => true]]]);
    $record['pack'] = ['build' => 'new', 'label' => ['capacity_ah' => 5.0]] + $record['pack'];
    expect(statuses($record)['capacity'])->toBe($status);
    // The same of a repaired pack is by its label.
    $record['pack']['build'] = 'repair';
    expect(statuses($record)['capacity'])->toBe('passed');
})->with(['just under' => [7.5 * 0.95 - 0.01, 'failed'], 'just over' => [7.5 * 0.95 + 0.01, 'passed']]);

it('finds the group that sags more than its neighbours', function (float $sag, string $status): void {
    $load = [4.1, 4.101, 4.098 - $sag, 4.1];
    $record = full();
    $record['measurements'][] = [
        'id' => 'm2',
        'at' => '2026-05-04T12:00:00Z',
        'condition' => 'discharge',
        'current_a' => -8,
        'instrument' => Bench::meter(),
        'readings' => Bench::readings($load),
    ];
    expect(statuses($record)['load-test'])->toBe($status);
})->with([[0.0, 'passed'], [0.06, 'failed']]);

it('holds a capacity to the label, and temperature to 20 K', function (): void {
    expect(statuses(full(), ['capacity' => ['ah' => 6.1]])['capacity'])
        ->toBe('passed')
        ->and(statuses(full(), ['capacity' => ['ah' => 5.9]])['capacity'])
        ->toBe('failed')
        ->and(statuses(full(), ['temperature-rise' => ['ambient_c' => 20.0, 'hottest_c' => 39.0, 'median_c' => 36.0]])['temperature-rise'])
        ->toBe('passed')
        ->and(statuses(full(), ['temperature-rise' => ['ambient_c' => 20.0, 'hottest_c' => 39.0, 'median_c' => 33.0]])['temperature-rise'])
        ->toBe('failed')
        ->and(statuses(full(), ['temperature-rise' => ['ambient_c' => 20.0, 'hottest_c' => 41.0]])['temperature-rise'])
        ->toBe('failed');
});

it('passes a hold test only when it is sure, and says when it cannot tell yet', function (): void {
    $later = fn(array $volts, string $at) => [...full(), 'measurements' => [...full()['measurements'], Bench::rest('m2', $volts, at: $at)]];
    expect(statuses($later([4.19, 4.191, 4.188, 4.19], '2026-05-12T09:00:00Z'))['hold-test'])
        ->toBe('passed')
        ->and(statuses($later([4.19, 4.191, 4.06, 4.19], '2026-05-12T09:00:00Z'))['hold-test'])
        ->toBe('failed')
        ->and(statuses($later([4.19, 4.191, 4.186, 4.19], '2026-05-05T09:00:00Z'))['hold-test'])
        ->toBe('missing');
});

it('wants the cause of a short circuit named', function (): void {
    expect(statuses(full(more: ['symptoms' => ['short-circuited']]))['cause-named'])
        ->toBe('missing')
        ->and(statuses(full(more: ['symptoms' => ['short-circuited']]), ['cause-named' => ['cause' => 'A key in the bag']])['cause-named'])
        ->toBe('passed');
});

it('closes a metal case from just over the limit of insulation on, and asks where nobody looked what it is made of', function (): void {
    $at = fn(float $mohm): string => statuses(
        full(more: ['inspection' => ['metal_case' => true], 'tests' => [['kind' => 'insulation', 'mohm' => $mohm]]]),
    )['insulation'];
    expect($at(1.0))
        ->toBe('failed')
        ->and($at(1.01))
        ->toBe('passed')
        ->and(statuses(full(more: ['inspection' => ['metal_case' => null]]))['insulation'])
        ->toBe('missing')
        ->and(statuses(full(more: ['inspection' => ['metal_case' => false]]))['insulation'])
        ->toBe('not-needed');
});

it('wants the insulation of a metal case', function (): void {
    $metal = ['inspection' => ['metal_case' => true]];
    expect(statuses(full(more: $metal))['insulation'])
        ->toBe('missing')
        ->and(statuses(full(more: $metal + ['tests' => [['kind' => 'insulation', 'mohm' => 0.4]]]))['insulation'])
        ->toBe('failed')
        ->and(statuses(full(more: $metal), ['insulation' => ['mohm' => 50.0]])['insulation'])
        ->toBe('passed');
});

it('isolates first and checks pins before plugging wherever a plug is touched', function (RepairAction $action): void {
    $codes = array_map(fn(WorkStep $s) => $s->code, WorkPlan::for($action));
    expect(count($codes))->toBe(count(array_unique($codes)));
    if ($action->altersPack()) {
        // What is not built yet is connected to nothing.
        expect($codes[0])
            ->toBe($action === RepairAction::Build ? 'cells' : 'isolate')
            ->and(array_filter(WorkPlan::for($action), fn(WorkStep $s) => $s->alters))
            ->not->toBe([]);
    }
    if (in_array($action, [RepairAction::ReplaceBoard, RepairAction::RepairSense, RepairAction::ReplaceGroup], true)) {
        expect($codes)->toContain('pin-check');
    }
})->with(RepairAction::cases());

/** @param  array<string, mixed>  $said */
function pricesOf(array $said = []): Prices
{
    return Prices::of(Settings::of($said + ['rate_cents' => 6000, 'fee_cents' => 2000, 'new_per_wh_cents' => 60.0, 'cell_cents' => 500]));
}

it('adds parts, hours and fee, and draws the scrap line', function (): void {
    $q = Quote::of(pricesOf(), 3, 500, null, 60, 300.0, 280.0);
    $board = Quote::of(pricesOf(), 2, 500, null, 60, 300.0, 280.0, true, true);
    expect($board->partsCents)
        ->toBe(1000 + 4500 + 70)
        ->and(array_column($board->toArray()['lines'], 'what'))
        ->toBe(['2 cells', 'board', 'strip, insulators, leads']);
    expect($q->totalCents)->toBe(9500)->and($q->newPackCents)->toBe(18000)->and($q->scrap)->toBeNull()->and($q->centsPerWh)->toBe(33.9);
    expect(Quote::of(pricesOf(), 30, 500, null, 60, 300.0, 280.0)->scrap)
        ->toContain('60 %')
        ->and(Quote::of(pricesOf(['fee_cents' => 0]), 0, 500, null, 10, 300.0, 100.0)->scrap)
        ->toContain('label')
        ->and(Quote::of(pricesOf(['fee_cents' => 0, 'new_per_wh_cents' => null]), 0, 500, null, 10, null, null)->scrap)
        ->toBeNull();
});

it('adds the shop\'s margin to parts alone, and its tax to all', function (): void {
    $q = Quote::of(
        pricesOf(['margin_percent' => 20, 'tax_percent' => 21, 'tax_name' => 'Levy', 'currency' => 'SEK']),
        3,
        500,
        null,
        60,
        300.0,
        280.0,
    );
    expect($q->partsCents)
        ->toBe(1800)
        ->and($q->labourCents)
        ->toBe(6000)
        ->and($q->taxCents)
        ->toBe(2058)
        ->and($q->totalCents)
        ->toBe(11858)
        ->and($q->toArray())
        ->toMatchArray(['tax' => 'Levy', 'tax_percent' => 21.0, 'currency' => 'SEK']);
});

it('holds a repair against what a new pack costs: its model\'s price before one by the Wh, up to the shop\'s own line', function (): void {
    $of = fn(array $said, ?int $new): Quote => Quote::of(pricesOf($said), 10, 500, null, 60, 300.0, 280.0, newPackCents: $new);
    // 13000 in all: the line of 60 % lies at 21667.
    expect($of([], 21660)->scrap)
        ->toContain('60 %')
        ->and($of([], 21670)->scrap)
        ->toBeNull()
        ->and($of([], null)->newPackCents)
        ->toBe(18000)
        ->and($of([], null)->toArray()['new_pack_listed'])
        ->toBeFalse()
        ->and($of([], 1)->toArray()['new_pack_listed'])
        ->toBeTrue()
        ->and($of(['scrap_cost_percent' => 50], 25990)->scrap)
        ->toContain('50 %')
        ->and($of(['scrap_cost_percent' => 50], 26010)->scrap)
        ->toBeNull();
    expect(Quote::of(pricesOf(), 10, 500, null, 60, 300.0, null, newPackCents: 100)->scrap)
        ->toContain('60 %')
        ->and(Quote::of(pricesOf(), 10, 500, null, 60, 300.0, null, newPackCents: 100, repairs: false)->scrap)
        ->toBeNull();
    $brings = fn(float $wh, array $said = []): ?string => Quote::of(pricesOf($said), 0, 500, null, 10, 300.0, $wh)->scrap;
    expect($brings(179.0))
        ->toContain('60 %')
        ->and($brings(181.0))
        ->toBeNull()
        ->and($brings(181.0, ['scrap_capacity_percent' => 70]))
        ->toContain('70 %');
});

it('knows which ways on end a pack', function (): void {
    expect(
        array_values(
            array_map(
                fn(RepairAction $a): string => $a->value,
                array_filter(RepairAction::cases(), fn(RepairAction $a): bool => $a->endsPack()),
            ),
        ),
    )->toEqualCanonicalizing(['recycle', 'donor', 'quarantine']);
});

it('takes a price of a cell from the list, or the shop\'s own in proportion to what it holds', function (): void {
    expect(Quote::of(pricesOf(), 2, null, 3.0, 0, null, null)->partsCents)
        ->toBe(1000)
        ->and(Quote::of(pricesOf(), 2, null, 6.0, 0, null, null)->partsCents)
        ->toBe(2000)
        ->and(Quote::of(pricesOf(), 2, 0, 6.0, 0, null, null)->partsCents)
        ->toBe(0);
});

it('reads a number as it is typed at the bench', function (string $typed, ?float $volts, ?float $resolution): void {
    $v = TypedValue::parse($typed);
    expect($v?->volts)
        ->toBe($volts)
        ->and($v?->resolutionV === null ? null : round($v->resolutionV, 9))
        ->toBe($resolution);
})->with([
    ['3.710', 3.71, 0.001],
    ['3,71', 3.71, 0.01],
    [' 45.5 ', 45.5, null],
    ['-0.02', -0.02, 0.01],
    ['3.7V', 3.7, null],
    ['3710 mV', 3.71, null],
    ['.5', 0.5, null],
    ['4', 4.0, null],
    ['', null, null],
    ['3.7.1', null, null],
    ['abc', null, null],
    ['3 . 7', 3.7, null],
    ['1e3', null, null],
    ['−0.10', -0.1, 0.01],
]);

it('says the one thing a job wants next', function (): void {
    expect(NextThing::of('probe', 'open', SafetyState::Clear, false, '')->lane)
        ->toBe('hands')
        ->and(NextThing::of('probe', 'open', SafetyState::Clear, true, 'a leak')->text)
        ->toBe('a leak')
        // A guided run knows its own time to the minute, whatever longer wait somebody set; a hold comes before it.
        ->and(NextThing::of('probe', 'open', SafetyState::Clear, true, 'a leak', false, '', 'Hold test: read', true))
        ->toMatchObject(['lane' => 'waiting', 'text' => 'Hold test: read', 'due' => false])
        ->and(NextThing::of('probe', 'open', SafetyState::Clear, false, '', false, '', 'Hold test: read', false))
        ->toMatchObject(['lane' => 'hands', 'due' => true])
        ->and(NextThing::of('probe', 'open', SafetyState::Clear, false, '', false, '', 'Hold test: read'))
        ->toMatchObject(['lane' => 'hands', 'due' => false])
        ->and(NextThing::of('probe', 'open', SafetyState::Hold, false, '', false, '', 'Hold test: read')->lane)
        ->toBe('held')
        ->and(NextThing::of('probe', 'open', SafetyState::Quarantine, true, '')->lane)
        ->toBe('held')
        ->and(NextThing::of('report', 'returned', SafetyState::Clear, false, '')->lane)
        ->toBe('done');
});

/** A phosphate pack at the end of a charge. @return array<string, mixed> */
function atTheTaper(float $v): array
{
    $record = Bench::record([3.35, 3.35, 3.35, 3.35], ['chemistry' => 'lfp']);
    $record['measurements'][] = [
        'id' => 'm2',
        'at' => '2026-05-04T07:00:00Z',
        'condition' => 'charge',
        'current_a' => 0.3,
        'readings' => Bench::readings([$v, $v, $v, $v]),
    ];

    return $record;
}

it('takes phosphate from 3.45 V a cell on for the taper end', function (float $v, string $status): void {
    expect(statuses(atTheTaper($v))['spread'])->toBe($status);
})->with([[3.452, 'passed'], [3.448, 'missing']]);

it('wants the rested pack within half a percent, and names a group that is short by more', function (float $v, string $status): void {
    expect(statuses(full(array_fill(0, 4, $v)))['finished-voltage'])->toBe($status);
})->with([
    'just' => [4.1798, 'passed'],
    'just not' => [4.1782, 'failed'],
    'just over' => [4.2202, 'passed'],
    'just too far over' => [4.2218, 'failed'],
]);

it('names a group short by seven thousandths', function (float $v, bool $named): void {
    $found = array_values(
        array_filter(
            (new Acceptance(Bench::parse(full([4.19, $v, 4.19, 4.19])), []))->results(),
            fn($r) => $r->check === Check::FinishedVoltage,
        ),
    )[0]->found;
    expect(str_contains($found, 'group 2'))->toBe($named);
})->with([[4.1697, true], [4.1715, false]]);

it('takes a pack for full from just under its full voltage', function (float $v, string $status): void {
    expect(statuses(full(array_fill(0, 4, $v)))['finished-voltage'])->toBe($status);
})->with([[4.096, 'failed'], [4.094, 'missing']]);
