<?php

declare(strict_types=1);

use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Proof\Strictness;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Shop\Schools;
use Heartwood\Core\Shop\Setting;
use Heartwood\Core\Shop\Settings;

it('has a default that it would itself take, a change and a source for every setting', function (Setting $s): void {
    expect($s->changes)
        ->toEndWith('.')
        ->and($s->source)
        ->not->toBe('')
        ->and(Settings::GROUPS)
        ->toHaveKey($s->group)
        ->and($s->default === null || $s->refuses($s->default) === null || $s->default === '')
        ->toBeTrue();
})->with(fn() => array_map(fn(Setting $s): array => [$s], Settings::all()));

it('gives the default where nothing was said, and where what was said cannot be', function (): void {
    expect(Settings::of(null)->int('rate_cents'))
        ->toBe(6000)
        ->and(Settings::of(['rate_cents' => 7100])->int('rate_cents'))
        ->toBe(7100)
        ->and(Settings::of(['rate_cents' => 'much'])->int('rate_cents'))
        ->toBe(6000)
        ->and(Settings::of(['rate_cents' => -1])->int('rate_cents'))
        ->toBe(6000)
        ->and(Settings::of(['rate_cents' => 7100])->differs('rate_cents'))
        ->toBeTrue()
        ->and(Settings::of(['rate_cents' => 6000])->differs('rate_cents'))
        ->toBeFalse();
});

it('starts from these numbers where a shop has said nothing', function (): void {
    $numbers = array_filter(Settings::of([])->values(), fn(mixed $v): bool => is_int($v) || is_float($v));
    expect($numbers)->toEqual([
        'tax_percent' => 0,
        'promise_months' => 6,
        'mail_port' => 587,
        'rate_cents' => 6000,
        'fee_cents' => 2500,
        'margin_percent' => 0,
        'lot_margin_percent' => 30,
        'cell_cents' => 600,
        'board_cents' => 4500,
        'strip_cents' => 35,
        'scrap_cost_percent' => 60,
        'scrap_capacity_percent' => 60,
        'proof_spread_mv' => 30,
        'proof_capacity_percent' => 80,
        'proof_warmer_k' => 20,
        'proof_leak_percent' => 10,
        'idle_minutes' => 30,
        'absolute_hours' => 12,
    ]);
});

it('refuses what a setting cannot be, and says the mend', function (string $key, mixed $value, ?string $says): void {
    $why = Settings::all()[$key]->refuses($value);
    $says === null ? expect($why)->toBeNull() : expect($why)->toContain($says);
})->with([
    ['rate_cents', 0, null],
    ['rate_cents', 100000, null],
    ['rate_cents', 100001, 'From 0 to 1000'],
    ['rate_cents', 54.5, 'whole'],
    ['rate_cents', '54', 'whole'],
    ['rate_cents', INF, 'whole'],
    ['tax_percent', 50, null],
    ['tax_percent', 50.01, 'From 0 to 50 %'],
    ['tax_percent', NAN, 'number'],
    ['tax_percent', INF, 'number'],
    ['tax_percent', [], 'number'],
    ['closes_at', '17:30', null],
    ['closes_at', null, null],
    ['closes_at', '24:00', 'time of day'],
    ['closes_at', "17:30\n", 'time of day'],
    ['timezone', 'Atlantic/Azores', null],
    ['timezone', 'Mars/Base', 'time zone'],
    ['timezone', null, 'default'],
    ['currency', 'SEK', null],
    ['currency', 'JPY', 'One of'],
    ['owner_second_factor', true, null],
    ['owner_second_factor', 1, 'Yes or no'],
    ['margin_percent', 400, null],
    ['margin_percent', 400.1, 'From 0 to 400 %'],
    ['fee_cents', 10_000_000, null],
    ['fee_cents', 10_000_001, 'From 0 to 100000'],
    ['new_per_wh_cents', 100_000, null],
    ['new_per_wh_cents', 100_001, 'From 0'],
    ['instrument_networks', str_repeat('1', 2000), null],
    ['instrument_networks', str_repeat('1', 2001), '2000 characters'],
    ['tax_name', 'Levy', null],
    ['tax_name', ' ', 'characters'],
    ['tax_name', str_repeat('a', 121), 'characters'],
    ['idle_minutes', 30, null],
    ['idle_minutes', 31, 'From 2 to 30 min'],
    ['idle_minutes', 1, 'From 2'],
    ['absolute_hours', 12, null],
    ['absolute_hours', 13, 'From 1 to 12 h'],
]);

it('lets a shop be stricter than the handbook and never more lenient', function (string $key, float $stricter, float $lenient): void {
    expect(Settings::all()[$key]->refuses($stricter))
        ->toBeNull()
        ->and(Settings::all()[$key]->refuses($lenient))
        ->toContain('not more lenient');
})->with([
    ['proof_spread_mv', 1000 * VerdictLimits::GOOD_V - 0.1, 1000 * VerdictLimits::GOOD_V + 0.1],
    ['proof_capacity_percent', 100 * ProofLimits::CAPACITY_SHARE + 0.1, 100 * ProofLimits::CAPACITY_SHARE - 0.1],
    ['proof_warmer_k', ProofLimits::WARMER_K - 0.1, ProofLimits::WARMER_K + 0.1],
    ['proof_leak_percent', 100 * VerdictLimits::LEAK_A_MONTH - 0.1, 100 * VerdictLimits::LEAK_A_MONTH + 0.1],
]);

it('is the handbook\'s own strictness where nothing was said, and stays it whoever asks for less', function (): void {
    $same = Strictness::of(Settings::of([]));
    expect([$same->spreadV, $same->capacityShare, $same->warmerK, $same->leakAMonth])->toBe([
        VerdictLimits::GOOD_V,
        ProofLimits::CAPACITY_SHARE,
        ProofLimits::WARMER_K,
        VerdictLimits::LEAK_A_MONTH,
    ]);
    $less = new Strictness(1.0, 0.1, 90.0, 0.9);
    expect([$less->spreadV, $less->capacityShare, $less->warmerK, $less->leakAMonth])->toBe([
        VerdictLimits::GOOD_V,
        ProofLimits::CAPACITY_SHARE,
        ProofLimits::WARMER_K,
        VerdictLimits::LEAK_A_MONTH,
    ]);
});

it('says of each option what this shop\'s way is, where ways differ', function (
    array $said,
    RepairAction $action,
    ?bool $agrees,
    ?string $why,
): void {
    $says = Schools::of(Settings::of($said))->says($action);
    expect($says['agrees'] ?? null)->toBe($agrees);
    if ($why !== null) {
        expect($says['text'])->toContain($why);
    }
})->with([
    'a recovery, said nothing' => [[], RepairAction::RecoverGroup, true, 'slowly'],
    'a pack\'s' => [[], RepairAction::RecoverPack, true, null],
    'a recovery, where low groups are replaced' => [['recovery_school' => 'B'], RepairAction::RecoverGroup, false, 'copper'],
    'a group, said nothing' => [[], RepairAction::ReplaceGroup, true, 'whole group'],
    'a cell, said nothing' => [[], RepairAction::ReplaceCell, false, 'out of step'],
    'a group, where one cell is changed' => [['scope_school' => 'B'], RepairAction::ReplaceGroup, false, 'alone'],
    'a cell, where one is changed' => [['scope_school' => 'B'], RepairAction::ReplaceCell, true, 'prove the rest'],
    'kept leaking, said nothing' => [[], RepairAction::KeepWithTopup, false, 'grows'],
    'kept leaking, where it is' => [['leak_school' => 'B'], RepairAction::KeepWithTopup, true, 'signs'],
    'nothing that ways differ in' => [['scope_school' => 'B'], RepairAction::Balance, null, null],
    'a word that is no school' => [['scope_school' => 'Z'], RepairAction::ReplaceCell, false, null],
]);

it('charges no pack past its board until the owner says that the shop does', function (): void {
    expect(Schools::of(Settings::of([]))->chargesPastBoard)
        ->toBeFalse()
        ->and(Schools::of(Settings::of(['bypass_school' => 'B']))->chargesPastBoard)
        ->toBeTrue();
});
