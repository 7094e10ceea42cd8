<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\PinStaircase;
use Heartwood\Core\Fault\Faults;
use Tests\Core\Bench;

// Cases in which the first rule that comes to mind is wrong.

/** @return array<string, mixed> */
function under(string $id, float $amps, array $volts, string $at = '2026-05-04T10:00:00Z', string $condition = ''): array
{
    return [
        'id' => $id,
        'at' => $at,
        'condition' => $condition ?: ($amps < 0 ? 'discharge' : 'charge'),
        'current_a' => $amps,
        'ambient_c' => 20,
        'instrument' => Bench::meter(),
        'readings' => Bench::readings($volts),
    ];
}

/** @return array<string, mixed> */
function capacityOf(int $k, float $ah): array
{
    return ['kind' => 'capacity', 'scope' => ['group' => $k], 'measured_ah' => $ah, 'started_full' => true];
}

$lfp = ['chemistry' => 'lfp', 'parallel' => 1, 'cell' => ['capacity_ah' => 50, 'resistance_mohm' => 1.0]];

it('takes a nearly full phosphate group that shoots up on charge for full once it stays up, not for a bad joint', function () use (
    $lfp,
): void {
    $record = Bench::record([3.334, 3.335, 3.338, 3.333], $lfp);
    $record['measurements'][] = under('m2', 20.0, [3.358, 3.359, 3.52, 3.357], '2026-05-04T10:00:00Z');
    $unsure = Bench::verdict($record);
    expect(Bench::probability($unsure, 'joint.high-resistance') + Bench::probability($unsure, 'group.high-resistance'))->toBeLessThan(0.35);
    $record['measurements'][] = under('m3', 0.0, [3.344, 3.345, 3.43, 3.343], '2026-05-04T10:10:00Z', 'relaxing');
    $stays = Bench::verdict($record);
    expect(Bench::probability($stays, 'group.overcharged', ['group' => 3]))
        ->toBeGreaterThan(0.5)
        ->and(Bench::probability($stays, 'joint.high-resistance') + Bench::probability($stays, 'group.high-resistance'))
        ->toBeLessThan(0.2);
});

it('takes what vanishes with the current for resistance on phosphate too', function () use ($lfp): void {
    $record = Bench::record([3.334, 3.335, 3.334, 3.333], $lfp);
    $record['measurements'][] = under('m2', 20.0, [3.358, 3.359, 3.47, 3.357]);
    $record['measurements'][] = under('m3', 0.0, [3.344, 3.345, 3.345, 3.343], '2026-05-04T10:10:00Z', 'relaxing');
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'joint.high-resistance') + Bench::probability($v, 'group.high-resistance'))
        ->toBeGreaterThan(0.6)
        ->and(Bench::probability($v, 'group.overcharged'))
        ->toBeLessThan(0.2);
});

it('calls a group that turns sign with the current a joint or its cells, and one that does not an imbalance', function (): void {
    $pack = ['parallel' => 3, 'cell' => ['capacity_ah' => 2.8, 'resistance_mohm' => 36]];
    $turns = Bench::record([3.82, 3.82, 3.82, 3.82, 3.82], $pack);
    $turns['measurements'][] = under('m2', -8.0, [3.71, 3.71, 3.57, 3.71, 3.71]);
    $turns['measurements'][] = under('m3', 4.0, [3.875, 3.875, 3.945, 3.875, 3.875]);
    $v = Bench::verdict($turns);
    expect(Bench::probability($v, 'joint.high-resistance') + Bench::probability($v, 'group.high-resistance'))->toBeGreaterThan(0.8);
    $stays = Bench::record([3.82, 3.82, 3.68, 3.82, 3.82], $pack);
    $stays['measurements'][] = under('m2', -8.0, [3.71, 3.71, 3.57, 3.71, 3.71]);
    $stays['measurements'][] = under('m3', 4.0, [3.875, 3.875, 3.735, 3.875, 3.875]);
    $w = Bench::verdict($stays);
    expect(Bench::probability($w, 'joint.high-resistance') + Bench::probability($w, 'group.high-resistance'))
        ->toBeLessThan(0.1)
        ->and($w->findings[0]->code)
        ->toBe('group.undercharged');
});

it('tells the lowest group apart: undercharged, leaking or aged', function (): void {
    $volts = [3.86, 3.861, 3.74, 3.859, 3.86];
    $later = fn(float $v) => Bench::rest('m2', [3.86, 3.861, $v, 3.859, 3.86], at: '2026-05-09T09:00:00Z');
    $capacities = fn(float $ah) => array_map(fn(int $k) => capacityOf($k, $k === 3 ? $ah : 8.3), range(1, 5));
    $drifted = Bench::record($volts, [], ['tests' => $capacities(8.25)]);
    $drifted['measurements'][] = $later(3.739);
    expect(Bench::verdict($drifted)->findings[0]->code)->toBe('group.undercharged');
    $leaking = Bench::record($volts, [], ['tests' => $capacities(8.25)]);
    $leaking['measurements'][] = $later(3.66);
    expect(Bench::verdict($leaking)->findings[0]->code)->toBe('group.self-discharge');
    $aged = Bench::record($volts, [], ['tests' => $capacities(4.9)]);
    $aged['measurements'][] = $later(3.739);
    expect(Bench::verdict($aged)->findings[0]->code)->toBe('group.low-capacity');
});

it('blames the sense lead when the board reports what cannot be and the meter is fine', function (): void {
    $record = Bench::record([3.8, 3.801, 3.799, 3.8, 3.8]);
    $record['measurements'][] = ['source' => 'bms-report', 'at' => '2026-05-04T09:20:00Z'] + Bench::rest('m2', [3.8, 5.2, 2.4, 3.8, 3.8]);
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'sense.open', ['tap' => 2]))
        ->toBeGreaterThan(0.8)
        ->and(
            Bench::probability($v, 'group.undercharged') +
                Bench::probability($v, 'group.overcharged') +
                Bench::probability($v, 'group.deep-discharged'),
        )
        ->toBeLessThan(0.2);
});

it('doubts the lead, not the groups, when only the board has spoken', function (): void {
    $record = Bench::record([3.8, 3.801, 3.799, 3.8, 3.8]);
    $record['measurements'] = [['source' => 'bms-report'] + Bench::rest('m1', [3.8, 3.95, 3.65, 3.8, 3.8], 'cumulative')];
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'sense.open', ['tap' => 2]))
        ->toBeGreaterThan(0.6)
        ->and($v->nextTests[0]->test->value)
        ->toBe('group-reading');
});

it('finds two faults at two places', function (): void {
    $record = Bench::record(
        [3.86, 3.7, 3.861, 3.859, 3.86],
        ['parallel' => 3, 'cell' => ['capacity_ah' => 2.8, 'resistance_mohm' => 36]],
        ['tests' => array_map(fn(int $k) => capacityOf($k, $k === 4 ? 4.6 : 8.2), range(1, 5))],
    );
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'group.undercharged', ['group' => 2]))
        ->toBeGreaterThan(0.5)
        ->and(Bench::probability($v, 'group.low-capacity', ['group' => 4]))
        ->toBeGreaterThan(0.8);
});

it('makes no group faulty when all are low alike after long storage', function (): void {
    $v = Bench::verdict(Bench::record([3.02, 3.021, 3.019, 3.02, 3.022], [], ['symptoms' => ['stored-long', 'dead-output']]));
    expect(array_filter($v->findings, fn($f) => str_starts_with($f->code, 'group.') && $f->probability > 0.3))->toBe([]);
    $deeper = Bench::verdict(Bench::record([2.41, 2.415, 2.409, 2.412, 2.411], [], ['symptoms' => ['stored-long', 'dead-output']]));
    foreach (['group.self-discharge', 'group.dead', 'group.low-capacity', 'group.missing-cell'] as $code) {
        expect(array_filter($deeper->findings, fn($f) => $f->code === $code && $f->probability > 0.3))->toBe([]);
    }
    expect(Bench::probability($deeper, 'bms.protecting'))->toBeGreaterThan(0.8);
});

it('puts a drain at one end on the board, not on the groups', function (): void {
    $v = Bench::verdict(Bench::record([3.7, 3.701, 3.699, 3.86, 3.861, 3.859, 3.86, 3.862], [], ['symptoms' => ['stored-long']]));
    expect(Bench::probability($v, 'bms.drain'))
        ->toBeGreaterThan(0.6)
        ->and(array_filter($v->findings, fn($f) => $f->place->kind === 'group' && $f->probability > 0.6))
        ->toBe([]);
});

it('finds the leak by refilling where phosphate voltage says nothing', function () use ($lfp): void {
    $refill = fn(int $k, float $ah) => ['kind' => 'refill', 'scope' => ['group' => $k], 'days' => 9, 'refill_ah' => $ah];
    $v = Bench::verdict(
        Bench::record([3.33, 3.331, 3.33, 3.329], $lfp, [
            'tests' => [$refill(1, 0.2), $refill(2, 0.24), $refill(3, 6.4), $refill(4, 0.22)],
        ]),
    );
    expect(Bench::probability($v, 'group.self-discharge', ['group' => 3]))->toBeGreaterThan(0.9);
});

it('finds the leaking cell by the strip that carries current at rest', function (): void {
    $strip = ['kind' => 'strip-millivolt', 'scope' => ['group' => 3], 'cells_mv' => [-0.06, 0.24, -0.05, -0.06, -0.07], 'current_a' => 0];
    $v = Bench::verdict(Bench::record([3.86, 3.861, 3.75, 3.859], ['parallel' => 5], ['tests' => [$strip]]));
    expect($v->findings[0]->code)->toBe('group.self-discharge');
});

it('knows a cut-out that is the board\'s job from one that is its fault and one that is its rating', function (
    array $test,
    string $code,
): void {
    $record = Bench::record(
        [3.8, 3.801, 3.8, 3.799],
        ['bms' => ['discharge_limit_a' => 30]],
        ['symptoms' => ['cuts-out-under-load'], 'tests' => [['kind' => 'discharge', 'stopped_by' => 'bms'] + $test]],
    );
    expect(Bench::probability(Bench::verdict($record), $code))->toBeGreaterThan(0.7);
    $empty = ['groups_v' => [3.5, 3.5, 2.79, 3.5], 'current_a' => -12.0];
    $job = Bench::record(
        [3.8, 3.801, 3.8, 3.799],
        ['bms' => ['discharge_limit_a' => 30]],
        ['tests' => [['kind' => 'discharge', 'stopped_by' => 'bms'] + $empty]],
    );
    expect(Bench::probability(Bench::verdict($job), 'bms.trips-early'))->toBe(0.0);
})->with([
    [['current_a' => -12.0, 'groups_v' => [3.5, 3.5, 3.51, 3.49]], 'bms.trips-early'],
    [['current_a' => -12.0, 'peak_a' => -34.0, 'groups_v' => [3.5, 3.5, 3.51, 3.49]], 'bms.limit-too-low'],
]);

it('stops at a board that lets a group past full', function (): void {
    $record = Bench::record([4.1, 4.1, 4.1, 4.1]);
    $record['measurements'][] = under('m2', 1.5, [4.16, 4.34, 4.16, 4.15]);
    $v = Bench::verdict($record);
    expect(Bench::probability($v, 'bms.no-overcharge-cut'))
        ->toBeGreaterThan(0.8)
        ->and($v->findings[0]->severity->value)
        ->toBe('stop');
});

it('takes a charger that is good and groups that are fine for a dead charge switch', function (): void {
    $v = Bench::verdict(
        Bench::record(
            [3.8, 3.801, 3.8, 3.799],
            [],
            [
                'symptoms' => ['will-not-charge'],
                'tests' => [
                    ['kind' => 'charger', 'open_v' => 16.8, 'loaded_v' => 16.75],
                    ['kind' => 'sensor', 'ohm' => 10000, 'expected_ohm' => 10000],
                ],
            ],
        ),
    );
    expect(Bench::probability($v, 'bms.charge-dead'))->toBeGreaterThan(0.5);
});

it('keeps a hot joint apart from its cells and finds the right end of the group', function (): void {
    $record = Bench::record([3.82, 3.82, 3.82, 3.82], ['parallel' => 3, 'cell' => ['capacity_ah' => 2.8, 'resistance_mohm' => 36]]);
    $record['measurements'][] =
        ['temperatures' => [['where' => ['joint' => 2], 'c' => 44.0], ['where' => ['joint' => 3], 'c' => 24.0]]] +
        under('m2', -8.0, [3.71, 3.71, 3.57, 3.71]);
    $v = Bench::verdict($record);
    expect($v->findings[0]->code)
        ->toBe('joint.high-resistance')
        ->and($v->findings[0]->place->number)
        ->toBe(2)
        ->and(Bench::probability($v, 'joint.high-resistance', ['joint' => 2]))
        ->toBeGreaterThan(3 * Bench::probability($v, 'joint.high-resistance', ['joint' => 3]));
});

it('classifies every single mistake of a sense plug', function (): void {
    $stair = array_map(fn(int $k) => 3.8 * $k, range(0, 10));
    $pin = fn(array $pins) => PinStaircase::classify($pins, $stair, 3.8)['kind'];
    expect($pin($stair))
        ->toBe('right')
        ->and($pin(array_reverse($stair)))
        ->toBe('reversed')
        ->and($pin(array_map(fn($v) => -$v, $stair)))
        ->toBe('polarity')
        ->and($pin(array_map(fn(int $k) => 3.8 * ($k + 1), range(0, 10))))
        ->toBe('offset');
    for ($k = 0; $k < 10; $k++) {
        $swapped = $stair;
        [$swapped[$k], $swapped[$k + 1]] = [$swapped[$k + 1], $swapped[$k]];
        expect($pin($swapped))->toBe('swapped');
        $missing = $stair;
        $missing[$k + 1] = null;
        expect($pin($missing))->toBe('missing');
    }
});

it('has a home for every code of the catalogue: plain words and what would overturn it', function (): void {
    $schema = json_decode((string) file_get_contents(dirname(__DIR__, 2) . '/contract/verdict.schema.json'), true);
    $codes = $schema['properties']['findings']['items']['properties']['code']['enum'];
    expect(array_diff($codes, Faults::codes()))->toBe([])->and(array_diff(Faults::codes(), $codes))->toBe([]);
    foreach ($codes as $code) {
        $words = Faults::of($code)->words();
        expect($words->plain)
            ->not->toMatch('/\d+\s?(mV|V|Ah|ohm)/')
            ->not->toBe('')
            ->and($words->overturn)
            ->not->toBe('')
            ->and($words->title)
            ->not->toBe('');
    }
});

it('names what was not done yet and when a leak can be told at all', function (): void {
    $v = Bench::verdict(Bench::record([3.86, 3.861, 3.7, 3.86]));
    expect($v->ledger[0]['missing'])
        ->toContain('rest-again', 'load-step', 'capacity-group')
        ->and($v->leakReadyDays)
        ->toBeGreaterThan(0.3)
        ->toBeLessThan(6.0);
    $flat = Bench::verdict(Bench::record([3.297, 3.296, 3.297, 3.296], ['chemistry' => 'lfp']));
    expect($flat->leakReadyDays)->toBeGreaterThan(15.0);
});
