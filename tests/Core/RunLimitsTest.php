<?php

declare(strict_types=1);

use Heartwood\Core\Limits\Limit;
use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Run\AfterStop;
use Heartwood\Core\Run\Asked;
use Heartwood\Core\Run\History;
use Heartwood\Core\Run\Order;
use Heartwood\Core\Run\Phase;
use Heartwood\Core\Run\Prover;
use Heartwood\Core\Run\RunPlan;
use Heartwood\Core\Run\Said;
use Heartwood\Core\Run\Sample;
use Heartwood\Core\Run\SupervisedRun;
use Heartwood\Core\Safety\Isolation;
use Tests\Core\Rig;

/*
 * Every limit of a supervised run from both sides. Plans are of a group of 10 Ah: C/20 is 0.5 A, C/10 is 1 A, C/5 is 2 A.
 */

/** @param  array<string, mixed>  $s  t, v, a, c, set_v, set_a, groups, supply_v, ambient */
function seen(array $s): Sample
{
    return Sample::of(
        (float) $s['t'],
        $s['v'] ?? null,
        $s['a'] ?? null,
        array_key_exists('c', $s) ? $s['c'] : 20.0,
        $s['set_v'] ?? null,
        $s['set_a'] ?? null,
        $s['groups'] ?? null,
        $s['supply_v'] ?? null,
        $s['ambient'] ?? null,
    );
}

/** Proved and switched on at 10 s, with the plan's own volts. @param  array<string, mixed>  $more */
function proved(array $more = [], ?array $groups = null): SupervisedRun
{
    $run = new SupervisedRun(Rig::plan($more, 'nmc', $more['bms'] ?? []));
    foreach ([0, 5, 10] as $t) {
        $o = $run->order();
        $run->take(
            seen([
                't' => $t,
                'v' => $run->plan()->planV,
                'a' => 0.0,
                'set_v' => $o->volts,
                'set_a' => $o->amps,
                'groups' => $groups,
                'c' => $more['c'] ?? 20.0,
            ]),
        );
    }
    expect($run->order()->on)->toBeTrue();

    return $run;
}

/** Feeds rows every so many seconds, as ordered but for what each row says. @param  Closure(float): array<string, mixed>  $row */
function feeding(SupervisedRun $run, float $from, float $to, float $dt, Closure $row): SupervisedRun
{
    for ($t = $from; $t <= $to && !$run->isOver(); $t += $dt) {
        $o = $run->order();
        $run->take(
            seen(
                $row($t) + [
                    't' => $t,
                    'v' => $run->plan()->planV + 0.0002 * $t,
                    'a' => $o->on ? $o->amps : 0.0,
                    'set_v' => $o->volts,
                    'set_a' => $o->amps,
                ],
            ),
        );
    }

    return $run;
}

function whyOf(SupervisedRun $run): ?string
{
    return $run->ended()?->why->value;
}

const FOUR = [3.0, 2.9, 3.2, 3.2];

it('names every number once, with unit and source', function (string $register): void {
    $all = (new ReflectionClass($register))->getReflectionConstants(ReflectionClassConstant::IS_PUBLIC);
    expect($all)->not->toBeEmpty();
    foreach ($all as $c) {
        $limits = $c->getAttributes(Limit::class);
        expect($limits)
            ->toHaveCount(1, $c->getName())
            ->and($limits[0]->newInstance()->unit)
            ->not->toBe('')
            ->and(strlen($limits[0]->newInstance()->source))
            ->toBeGreaterThan(10);
    }
})->with([RunLimits::class, Heartwood\Core\Limits\VerdictLimits::class, Heartwood\Core\Limits\LogLimits::class]);

dataset('first sample', [
    'reversed, just' => [['v' => -0.101], [], 'clips.reversed'],
    'not reversed, just' => [['v' => -0.099], [], 'clips.below-floor'],
    'open, just' => [['v' => 0.049], [], null],
    'not open, just: under the floor' => [['v' => 0.051], [], 'clips.below-floor'],
    'above the floor, just' => [['v' => 1.501], ['plan_v' => 1.52], null],
    'under the floor, just' => [['v' => 1.499], ['plan_v' => 1.52], 'clips.below-floor'],
    'never under half a volt, whoever answers' => [['v' => 0.499], ['plan_v' => 0.52, 'below_floor_allowed' => true], 'clips.below-floor'],
    'just over half a volt, answered for' => [['v' => 0.501], ['plan_v' => 0.52, 'below_floor_allowed' => true], null],
    'stale, just' => [['v' => 2.599], [], null],
    'another group, just' => [['v' => 2.601], [], 'clips.wrong-group'],
    'current off, just allowed' => [['v' => 2.3, 'a' => 0.0199], [], null],
    'current off, just not' => [['v' => 2.3, 'a' => 0.0201], [], 'supply.not-as-ordered'],
    'cold, just not' => [['v' => 2.3, 'c' => 0.0], ['ambient_c' => 0], null],
    'cold, just' => [['v' => 2.3, 'c' => -0.1], ['ambient_c' => 0], 'temperature.cold'],
    'warm, just not' => [['v' => 2.3, 'c' => 25.0], [], null],
    'warm, just' => [['v' => 2.3, 'c' => 25.1], [], 'temperature.rises'],
    'hot, just not' => [['v' => 2.3, 'c' => 40.0], ['ambient_c' => 38], null],
    'hot, just' => [['v' => 2.3, 'c' => 40.1], ['ambient_c' => 38], 'temperature.hot'],
    'pack charge warm, just not' => [['v' => 14.0, 'c' => 30.0], ['kind' => 'charge', 'plan_v' => 14.0], null],
    'pack charge warm, just' => [['v' => 14.0, 'c' => 30.1], ['kind' => 'charge', 'plan_v' => 14.0], 'temperature.rises'],
    'pack charge hot, just not' => [['v' => 14.0, 'c' => 45.0], ['kind' => 'charge', 'plan_v' => 14.0, 'ambient_c' => 40], null],
    'pack charge hot, just' => [['v' => 14.0, 'c' => 45.1], ['kind' => 'charge', 'plan_v' => 14.0, 'ambient_c' => 40], 'temperature.hot'],
    'discharge cold, just not' => [
        ['v' => 14.0, 'c' => -20.0],
        ['kind' => 'discharge', 'group' => null, 'plan_v' => 14.0, 'ambient_c' => -20],
        null,
    ],
    'discharge cold, just' => [
        ['v' => 14.0, 'c' => -20.1],
        ['kind' => 'discharge', 'group' => null, 'plan_v' => 14.0, 'ambient_c' => -20],
        'temperature.cold',
    ],
    'discharge warm, just not' => [['v' => 14.0, 'c' => 40.0], ['kind' => 'discharge', 'group' => null, 'plan_v' => 14.0], null],
    'discharge warm, just' => [['v' => 14.0, 'c' => 40.1], ['kind' => 'discharge', 'group' => null, 'plan_v' => 14.0], 'temperature.rises'],
    'discharge hot, just not' => [
        ['v' => 14.0, 'c' => 60.0],
        ['kind' => 'discharge', 'group' => null, 'plan_v' => 14.0, 'ambient_c' => 45],
        null,
    ],
    'discharge hot, just' => [
        ['v' => 14.0, 'c' => 60.1],
        ['kind' => 'discharge', 'group' => null, 'plan_v' => 14.0, 'ambient_c' => 45],
        'temperature.hot',
    ],
    'meter just fine enough' => [['v' => 2.3], ['resolution_v' => 0.02], null],
    'meter just too coarse' => [['v' => 2.3], ['resolution_v' => 0.021], 'reading.missing'],
    'past full at once, just' => [['v' => 4.251], ['kind' => 'balance', 'plan_v' => 4.2], 'voltage.past-full'],
    'past full at once, just not' => [['v' => 4.249], ['kind' => 'balance', 'plan_v' => 4.2], null],
    'past the board, a group just above the floor' => [
        ['v' => 12.3, 'groups' => [1.501, 3.2, 3.2, 3.2]],
        ['kind' => 'bypass', 'group' => null, 'plan_v' => 12.3],
        null,
    ],
    'past the board, a group just under it' => [
        ['v' => 12.3, 'groups' => [1.499, 3.2, 3.2, 3.2]],
        ['kind' => 'bypass', 'group' => null, 'plan_v' => 12.3],
        'group.below-floor',
    ],
]);

it('judges the first sample', function (array $s, array $plan, ?string $why): void {
    $run = new SupervisedRun(Rig::plan($plan));
    $run->take(seen($s + ['t' => 0, 'a' => 0.0]));
    expect(whyOf($run))->toBe($why)->and($run->order()->on)->toBeFalse();
})->with('first sample');

it('holds the band of the plan: 60 mV a group, or three sigma', function (float $v, array $plan, bool $on): void {
    $run = new SupervisedRun(Rig::plan($plan));
    foreach ([0, 5, 10] as $t) {
        $o = $run->order();
        $run->take(
            seen([
                't' => $t,
                'v' => $v,
                'a' => 0.0,
                'set_v' => $o->volts,
                'set_a' => $o->amps,
                'groups' => ($plan['kind'] ?? '') === 'bypass' ? FOUR : null,
            ]),
        );
    }
    expect($run->order()->on)->toBe($on);
})->with([
    'just inside' => [2.359, [], true],
    'just outside' => [2.361, [], false],
    'just inside, below' => [2.241, [], true],
    'just outside, below' => [2.239, [], false],
    'an unsure plan, just inside' => [2.44, ['plan_sigma_v' => 0.048], true],
    'an unsure plan, just outside' => [2.446, ['plan_sigma_v' => 0.048], false],
    'four groups, just inside' => [12.539, ['kind' => 'bypass', 'group' => null, 'plan_v' => 12.3], true],
    'four groups, just outside' => [12.541, ['kind' => 'bypass', 'group' => null, 'plan_v' => 12.3], false],
]);

it('believes another group that is nearer than the plan, and no other', function (float $other, ?string $why): void {
    $run = new SupervisedRun(Rig::plan(['known_v' => [2.3, $other, 3.7, 3.7]]));
    $run->take(seen(['t' => 0, 'v' => 2.4, 'a' => 0.0]));
    expect(whyOf($run))->toBe($why);
})->with([
    'nearer' => [2.49, 'clips.wrong-group'],
    'further' => [2.51, null],
]);

it('says which group it looks like, and from which it cannot be told', function (): void {
    $run = new SupervisedRun(Rig::plan(['known_v' => [2.3, 3.71, 2.34, 2.31]]));
    $run->take(seen(['t' => 0, 'v' => 2.3, 'a' => 0.0]));
    expect(json_encode($run->view()['proofs']))->toContain('cannot be told from groups 3, 4 by volts');
    $run->take(seen(['t' => 5, 'v' => 3.71, 'a' => 0.0]));
    expect($run->view()['text'])->toContain('it looks like group 2.');
    $twins = new SupervisedRun(Rig::plan(['known_v' => [2.3, 3.71, 3.705, 3.6]]));
    $twins->take(seen(['t' => 0, 'v' => 3.71, 'a' => 0.0]));
    expect($twins->view()['text'])->toContain('group 2 or 3.');
});

it('wants two rounds that agree, five seconds to three minutes apart', function (array $rows, bool $on): void {
    $run = new SupervisedRun(Rig::plan());
    foreach ($rows as [$t, $v]) {
        $o = $run->order();
        $run->take(seen(['t' => $t, 'v' => $v, 'a' => 0.0, 'set_v' => $o->volts, 'set_a' => $o->amps]));
    }
    expect($run->order()->on)->toBe($on);
})->with([
    'just apart enough' => [[[0, 2.3], [5, 2.3], [6, 2.3]], true],
    'just too close' => [[[0, 2.3], [4.9, 2.3], [4.95, 2.3]], false],
    'just agreeing' => [[[0, 2.3], [5, 2.3099], [6, 2.31]], true],
    'just not agreeing' => [[[0, 2.3], [5, 2.3105], [6, 2.3105]], false],
    'just not too far apart' => [[[0, 2.3], [180, 2.3], [181, 2.3]], true],
    'too far apart' => [[[0, 2.3], [90, null], [179, null], [180.1, 2.3], [181, 2.3]], false],
]);

it('gives the proof five minutes, and an answer three', function (): void {
    $open = feeding(new SupervisedRun(Rig::plan()), 0, 300, 5, fn(): array => ['v' => 0.01]);
    expect(whyOf($open))->toBeNull()->and(whyOf(feeding($open, 301, 301, 5, fn(): array => ['v' => 0.01])))->toBe('clips.open');
    $stale = feeding(new SupervisedRun(Rig::plan()), 0, 175, 5, fn(): array => ['v' => 2.41]);
    expect(whyOf($stale))
        ->toBeNull()
        ->and($stale->view()['asks_reading'])
        ->toBeTrue()
        ->and(whyOf(feeding($stale, 180, 180, 5, fn(): array => ['v' => 2.41])))
        ->toBe('clips.wrong-group');
});

it('compares the set-points within a step, and hardly upwards', function (array $set, bool $on): void {
    $run = new SupervisedRun(Rig::plan());
    foreach ([0, 5, 10] as $t) {
        $run->take(seen(['t' => $t, 'v' => 2.3, 'a' => 0.0] + $set));
    }
    expect($run->order()->on)->toBe($on);
})->with([
    'volts just over' => [['set_v' => 4.221, 'set_a' => 0.5], false],
    'volts just not over' => [['set_v' => 4.2199, 'set_a' => 0.5], true],
    'amps just over' => [['set_v' => 4.2, 'set_a' => 0.5101], false],
    'amps just not over' => [['set_v' => 4.2, 'set_a' => 0.5099], true],
    'volts a step under' => [['set_v' => 4.151, 'set_a' => 0.5], true],
    'volts more than a step under' => [['set_v' => 4.149, 'set_a' => 0.5], false],
    'amps a step under' => [['set_v' => 4.2, 'set_a' => 0.4751], true],
    'amps more than a step under' => [['set_v' => 4.2, 'set_a' => 0.474], false],
]);

it('ends when set-points stay wrong for ten seconds, or are moved while the output is on', function (): void {
    $run = new SupervisedRun(Rig::plan());
    $set = ['set_v' => 12.0, 'set_a' => 3.0];
    foreach ([0, 5, 14.9] as $t) {
        $run->take(seen(['t' => $t, 'v' => 2.3, 'a' => 0.0] + $set));
    }
    expect(whyOf($run))->toBeNull();
    $run->take(seen(['t' => 15.1, 'v' => 2.3, 'a' => 0.0] + $set));
    expect(whyOf($run))->toBe('supply.not-as-ordered');
    expect(whyOf(feeding(proved(), 15, 15, 5, fn(): array => ['set_a' => 0.52])))->toBe('supply.not-as-ordered');
});

dataset('two samples on', [
    'somewhat over, just' => [['a' => 0.5501], [], 'supply.over-current', 2],
    'somewhat over, just not' => [['a' => 0.5499], [], null, 2],
    'a tenth over a large current, just' => [['a' => 2.201, 'v' => 3.6], ['kind' => 'balance', 'plan_v' => 3.6], 'supply.over-current', 2],
    'a tenth over a large current, just not' => [['a' => 2.199, 'v' => 3.6], ['kind' => 'balance', 'plan_v' => 3.6], null, 2],
    'never over a tenth of capacity in recovery' => [['a' => 1.001], ['plan_a' => 0.99], 'supply.over-current', 2],
    'at a tenth of capacity in recovery' => [['a' => 0.999], ['plan_a' => 0.99], null, 2],
    'over at once, just' => [['a' => 0.7501], [], 'supply.over-current', 1],
    'over at once, just not' => [['a' => 0.7499], [], null, 1],
    'over at once by a tenth of an amp, small currents' => [['a' => 0.201], ['plan_a' => 0.1], 'supply.over-current', 1],
    'over at once, small currents, just not' => [['a' => 0.199], ['plan_a' => 0.1], null, 1],
    'the wrong way, just' => [['a' => -0.021], [], 'supply.not-as-ordered', 1],
    'the wrong way, just not' => [['a' => -0.019], [], null, 1],
    'past full, just' => [['v' => 4.2151], ['kind' => 'balance', 'plan_v' => 4.19], 'voltage.past-full', 2],
    'past full, just not' => [['v' => 4.2149], ['kind' => 'balance', 'plan_v' => 4.19], null, 2],
    'past full by three sigma of a coarse meter, just' => [
        ['v' => 4.2175],
        ['kind' => 'balance', 'plan_v' => 4.19, 'resolution_v' => 0.02],
        'voltage.past-full',
        2,
    ],
    'by three sigma, just not' => [['v' => 4.217], ['kind' => 'balance', 'plan_v' => 4.19, 'resolution_v' => 0.02], null, 2],
    'past full at once, just' => [['v' => 4.2501], ['kind' => 'balance', 'plan_v' => 4.19], 'voltage.past-full', 1],
    'past full at once, just not' => [['v' => 4.2499], ['kind' => 'balance', 'plan_v' => 4.19], null, 1],
    'the supply over its voltage, just' => [
        ['v' => 3.61, 'supply_v' => 4.2631],
        ['kind' => 'balance', 'plan_v' => 3.6],
        'supply.over-voltage',
        2,
    ],
    'the supply over its voltage, just not' => [['v' => 3.61, 'supply_v' => 4.2629], ['kind' => 'balance', 'plan_v' => 3.6], null, 2],
]);

it('judges samples while current flows', function (array $row, array $plan, ?string $why, int $samples): void {
    $run = feeding(proved($plan), 15, 15 + 5 * ($samples - 1), 5, fn(): array => $row);
    expect(whyOf($run))->toBe($why);
    if ($samples === 2 && $why !== null) {
        expect(whyOf(feeding(proved($plan), 15, 15, 5, fn(): array => $row)))->toBeNull();
    }
})->with('two samples on');

it('calls it no current after two minutes, unless the voltage is reached or the ammeter is blind', function (
    array $row,
    float $to,
    array $plan,
    ?string $why,
): void {
    expect(whyOf(feeding(proved($plan), 15, $to, 5, fn(): array => $row)))->toBe($why);
})->with([
    'just under a tenth, two minutes' => [['a' => 0.0499], 135, [], 'supply.no-current'],
    'just not two minutes' => [['a' => 0.0499], 130, [], null],
    'just over a tenth' => [['a' => 0.0501], 140, [], null],
    'voltage just reached' => [['a' => 0.0, 'supply_v' => 4.138], 140, [], null],
    'voltage just not reached' => [['a' => 0.0, 'supply_v' => 4.136], 140, [], 'supply.no-current'],
    'an ammeter that cannot see it' => [['a' => 0.0], 140, ['resolution_a' => 0.51], null],
    'an ammeter that just can' => [['a' => 0.0], 140, ['resolution_a' => 0.5], 'supply.no-current'],
]);

it('puts the output off when volts or amps are lost, and ends it after three minutes', function (float $dt, float $lostAfter): void {
    $run = feeding(proved(), 10 + $dt, 10 + 12 * $dt, $dt, fn(): array => []);
    $last = 10 + 12 * $dt;
    $null = fn(): array => ['v' => null];
    feeding($run, $last + $lostAfter, $last + $lostAfter, 1, $null);
    expect($run->order()->on)->toBeTrue();
    feeding($run, $last + $lostAfter + 0.1, $last + $lostAfter + 0.1, 1, $null);
    expect($run->order()->on)->toBeFalse()->and(whyOf($run))->toBeNull();
    feeding($run, $last + 180, $last + 180, 1, $null);
    expect(whyOf($run))->toBeNull()->and(whyOf(feeding($run, $last + 180.1, $last + 180.1, 1, $null)))->toBe('reading.missing');
})->with([
    'quick samples: ten seconds' => [1.0, 10.0],
    'three intervals' => [8.0, 24.0],
    'never over a minute' => [30.0, 60.0],
]);

it('gives simulated time a minute, and no more', function (): void {
    $run = feeding(proved(['hurried' => true]), 15, 15, 5, fn(): array => []);
    $run = feeding($run, 74.9, 74.9, 5, fn(): array => ['v' => null]);
    expect($run->order()->on)
        ->toBeTrue()
        ->and(feeding($run, 75.1, 75.1, 5, fn(): array => ['v' => null])->order()->on)
        ->toBeFalse();
});

it('puts the output off at one overload, and a minute after the last temperature', function (): void {
    expect(feeding(proved(), 15, 15, 5, fn(): array => ['v' => 9.9e37])->order()->on)->toBeFalse();
    $run = feeding(proved(), 15, 70, 5, fn(): array => ['c' => null]);
    expect($run->order()->on)
        ->toBeTrue()
        ->and(feeding($run, 70.1, 70.1, 5, fn(): array => ['c' => null])->order()->on)
        ->toBeFalse();
});

it('gives a hand a minute more than was asked for', function (): void {
    $run = proved(['by_hand' => true]);
    expect($run->tick(10 + 60 + 60)->on)
        ->toBeTrue()
        ->and($run->tick(10 + 60 + 60.1)->on)
        ->toBeFalse();
});

it('proves anew after a jump, and leaves smaller steps alone', function (float $step, bool $on): void {
    $run = feeding(proved(), 15, 30, 5, fn(): array => ['v' => 2.3]);
    expect(feeding($run, 35, 35, 5, fn(): array => ['v' => 2.3 + $step])->order()->on)
        ->toBe($on)
        ->and(whyOf($run))
        ->toBeNull();
})->with([
    'up, just' => [0.301, false],
    'up, just not' => [0.299, true],
    'down, just' => [-0.101, false],
]);

it('does not compare samples more than a minute apart for a jump', function (float $gap, bool $jumped): void {
    $run = feeding(proved(['by_hand' => true]), 15, 20, 5, fn(): array => ['v' => 2.3]);
    feeding($run, 20 + $gap, 20 + $gap, 5, fn(): array => ['v' => 2.61]);
    expect(str_contains(json_encode($run->view()['log']), 'at one step'))->toBe($jumped);
})->with([[60.0, true], [60.1, false]]);

it('lets no clips on again that have jumped five times', function (): void {
    $run = proved();
    $t = 10.0;
    for ($n = 1; $n <= 5; $n++) {
        expect(whyOf($run))->toBeNull();
        feeding($run, $t + 5, $t + 25, 5, fn(): array => ['v' => 2.3]);
        feeding($run, $t + 30, $t + 30, 5, fn(): array => ['v' => 2.7]);
        feeding($run, $t + 35, $t + 50, 5, fn(): array => ['v' => 2.3]);
        $t += 50;
    }
    expect(whyOf($run))->toBe('clips.open');
});

it('forgives a jump after ten minutes', function (float $gap, ?string $why): void {
    $run = proved();
    $t = 10.0;
    for ($n = 1; $n <= 5; $n++) {
        $calm = $n === 5 ? $gap : 25;
        feeding($run, $t + 5, $t + $calm, 5, fn(float $t): array => ['v' => 2.3 + 0.0001 * $t]);
        $t += $calm;
        feeding($run, $t + 5, $t + 5, 5, fn(): array => ['v' => 3.0]);
        feeding($run, $t + 10, $t + 25, 5, fn(float $t): array => ['v' => 2.3 + 0.0001 * $t]);
        $t += 25;
    }
    expect(whyOf($run))->toBe($why);
})->with([
    'just within' => [410, 'clips.open'],
    'just after' => [430, null],
]);

it('calls a fall at steady current', function (float $mv, float $resolution, ?string $why): void {
    $run = feeding(proved(['resolution_v' => $resolution]), 15, 100, 5, fn(): array => ['v' => 2.4]);
    expect(whyOf(feeding($run, 105, 110, 5, fn(): array => ['v' => 2.4 - $mv / 1000])))->toBe($why);
})->with([
    '20 mV, just' => [20.2, 0.001, 'voltage.falls'],
    'just not' => [19.8, 0.001, null],
    'three steps of a coarse meter, just' => [30.2, 0.01, 'voltage.falls'],
    'three steps, just not' => [29.8, 0.01, null],
]);

it('calls a fall only over a current that is steady', function (float $nowA, float $resolutionA, ?string $why): void {
    $run = feeding(proved(['resolution_a' => $resolutionA]), 15, 100, 5, fn(): array => ['v' => 2.44]);
    expect(whyOf(feeding($run, 105, 110, 5, fn(): array => ['v' => 2.41, 'a' => $nowA, 'set_a' => 0.5])))->toBe($why);
})->with([
    'within five parts of a hundred' => [0.5262, 0.001, 'voltage.falls'],
    'beyond' => [0.5273, 0.001, null],
    'within two steps of the ammeter' => [0.5399, 0.02, 'voltage.falls'],
    'beyond two steps' => [0.5402, 0.02, null],
]);

it('counts ten milliamps as steady where currents are small', function (float $nowA, ?string $why): void {
    $run = feeding(proved(['plan_a' => 0.1, 'resolution_a' => 0.001]), 15, 100, 5, fn(): array => ['v' => 2.44]);
    expect(whyOf(feeding($run, 105, 110, 5, fn(): array => ['v' => 2.41, 'a' => $nowA])))->toBe($why);
})->with([[0.1099, 'voltage.falls'], [0.1101, null]]);

it('forgets volts after three minutes of current', function (): void {
    $run = feeding(proved(), 15, 40, 5, fn(): array => ['v' => 2.4]);
    $slow = fn(float $per): Closure => fn(float $t): array => ['v' => 2.4 - $per * ($t - 40)];
    expect(whyOf(feeding($run, 45, 500, 5, $slow(0.0001095))))->toBeNull();
    $run = feeding(proved(), 15, 40, 5, fn(): array => ['v' => 2.4]);
    expect(whyOf(feeding($run, 45, 500, 5, $slow(0.000115))))->toBe('voltage.falls');
});

it('calls it hanging at the tenth minute of current and not before, stretched as the current shrinks', function (
    float $rise,
    float $to,
    array $plan,
    ?string $why,
): void {
    expect(whyOf(feeding(proved($plan), 15, $to, 5, fn(float $t): array => ['v' => 2.3 + ($rise * ($t - 10)) / 600])))->toBe($why);
})->with([
    'just not risen' => [0.0495, 620, [], 'voltage.hangs'],
    'just risen' => [0.0505, 900, [], null],
    'not before ten minutes' => [0.0, 600, [], null],
    'half the current, twice the time' => [0.0, 1190, ['plan_a' => 0.25], null],
    'half the current, over twice the time' => [0.0, 1240, ['plan_a' => 0.25], 'voltage.hangs'],
]);

it('does not count a pause into the ten minutes, nor begin them anew', function (): void {
    $run = feeding(proved(), 15, 310, 5, fn(): array => ['v' => 2.3]);
    $run->hear(Said::of(312, 'pause'));
    $run->hear(Said::of(3000, 'resume'));
    feeding($run, 3005, 3015, 5, fn(): array => ['v' => 2.3]);
    expect($run->order()->on)->toBeTrue();
    expect(whyOf(feeding($run, 3020, 3295, 5, fn(): array => ['v' => 2.3])))
        ->toBeNull()
        ->and(whyOf(feeding($run, 3300, 3340, 5, fn(): array => ['v' => 2.3])))
        ->toBe('voltage.hangs');
});

it('lets eight parts of a hundred in before pre-charge, and no more', function (): void {
    $run = feeding(proved(), 15, 6 * 3600, 10, fn(float $t): array => ['v' => 2.3 + 0.00011 * $t]);
    expect(whyOf($run))->toBe('charge.too-much')->and($run->ahIn())->toBeGreaterThan(0.797)->toBeLessThanOrEqual(0.8);
});

it('lets the gap and a sixth more in, where both charges are known', function (): void {
    $run = feeding(proved(['kind' => 'balance', 'plan_v' => 3.6, 'target_v' => 3.79]), 15, 4 * 3600, 10, fn(): array => ['v' => 3.65]);
    expect(whyOf($run))->toBe('charge.too-much')->and($run->ahIn())->toBeGreaterThan(3.43)->toBeLessThanOrEqual(3.45);
    $plateau = new SupervisedRun(Rig::plan(['kind' => 'balance', 'plan_v' => 3.3, 'target_v' => null], 'lfp'));
    feeding($plateau, 0, 8 * 3600, 10, fn(): array => ['v' => 3.3]);
    expect(whyOf($plateau))->toBeNull()->and($plateau->ahIn())->toBeGreaterThan(15.0);
});

it('rests an hour after pre-charge and rejects a fall of over 30 mV in its last quarter', function (float $fall, ?string $why): void {
    $run = feeding(proved(['plan_v' => 2.96]), 15, 20, 5, fn(): array => ['v' => 3.01]);
    expect($run->phase())->toBe(Phase::Rest);
    feeding($run, 25, 3619, 30, fn(float $t): array => ['v' => 2.99 - ($t > 2720 ? ($fall * ($t - 2720)) / 900 : 0.0)]);
    expect($run->phase())->toBe(Phase::Rest);
    feeding($run, 3620, 3655, 5, fn(): array => ['v' => 2.99 - $fall]);
    expect(whyOf($run))->toBe($why);
})->with([
    'just' => [0.0305, 'rest.falls'],
    'hardly anything' => [0.002, null],
]);

it('takes relaxing for relaxing: it slows down', function (): void {
    $run = feeding(proved(['plan_v' => 2.96]), 15, 20, 5, fn(): array => ['v' => 3.01]);
    feeding($run, 25, 3660, 5, fn(float $t): array => ['v' => 2.93 + 0.06 * exp(-($t - 20) / 900)]);
    expect(whyOf($run))->toBeNull()->and($run->order()->on)->toBeTrue();
});

it('keeps a cool group at a tenth of its capacity', function (float $c, float $amps): void {
    $run = proved(['kind' => 'balance', 'plan_v' => 3.6, 'ambient_c' => 10, 'c' => $c]);
    expect($run->order()->amps)->toEqualWithDelta($amps, 1e-9);
})->with([
    'just cool' => [9.9, 1.0],
    'just not' => [10.0, 2.0],
]);

it('stops what warms three kelvin in ten minutes of current', function (float $k, ?string $why): void {
    $run = feeding(proved(['c' => 18.0]), 15, 300, 5, fn(): array => ['c' => 18.0]);
    expect(whyOf(feeding($run, 305, 400, 5, fn(): array => ['c' => 18.0 + $k])))->toBe($why);
})->with([
    'just' => [3.1, 'temperature.rises'],
    'just not' => [2.9, null],
]);

it('lets a watched charge go up to the board\'s cut', function (float $v, float $seconds, array $bms, ?string $why): void {
    $groups = [3.5, 3.5, 3.5, 3.5];
    $run = new SupervisedRun(Rig::plan(['kind' => 'charge', 'group' => null, 'plan_v' => 14.0, 'target_v' => null], 'nmc', $bms));
    $row = fn(array $g): Closure => fn(): array => ['v' => 14.1, 'groups' => $g];
    feeding($run, 0, 10, 5, $row($groups));
    expect($run->order()->on)->toBeTrue()->and(whyOf(feeding($run, 15, 15 + $seconds, 1, $row([3.5, $v, 3.5, 3.5]))))->toBe($why);
})->with([
    'over the cut for just five seconds' => [4.251, 5.0, ['high_cut_v' => 4.25], 'group.past-full'],
    'for just not five' => [4.251, 4.0, ['high_cut_v' => 4.25], null],
    'far over the cut, just' => [4.2705, 0.0, ['high_cut_v' => 4.25], 'group.past-full'],
    'far over, just not' => [4.2695, 0.0, ['high_cut_v' => 4.25], null],
    'at the cut for long' => [4.25, 60.0, ['high_cut_v' => 4.25], null],
    'no cut known, just' => [4.251, 0.0, [], 'group.past-full'],
    'no cut known, just not' => [4.249, 60.0, [], null],
]);

it('ends a bypass at a full group, and one past full by its own name', function (float $v, ?string $why): void {
    $run = new SupervisedRun(Rig::plan(['kind' => 'bypass', 'group' => null, 'plan_v' => 12.3, 'target_v' => null]));
    feeding($run, 0, 10, 5, fn(): array => ['v' => 12.3, 'groups' => FOUR]);
    feeding($run, 15, 15, 5, fn(): array => ['v' => 12.4, 'groups' => [3.0, 2.9, $v, 3.2]]);
    expect(whyOf($run))->toBe($why);
})->with([
    'just not full' => [4.199, null],
    'full' => [4.2, 'target-reached'],
    'past full at once' => [4.2501, 'group.past-full'],
]);

it('hands over when every group is past its release voltage, just', function (float $least, ?string $why): void {
    $run = new SupervisedRun(Rig::plan(['kind' => 'bypass', 'group' => null, 'plan_v' => 12.3, 'target_v' => null]));
    feeding($run, 0, 10, 5, fn(): array => ['v' => 12.3, 'groups' => FOUR]);
    expect(whyOf(feeding($run, 15, 15, 5, fn(): array => ['v' => 12.4, 'groups' => [3.2, $least, 3.2, 3.2]])))->toBe($why);
})->with([[3.1, null], [3.101, 'done']]);

it('asks for a person, with two minutes\' grace, and ends at closing time', function (): void {
    $run = proved(['confirm_every_min' => 10]);
    feeding($run, 15, 720, 5, fn(): array => ['v' => 2.3 + 0.0002 * 720]);
    $run = proved(['confirm_every_min' => 10]);
    expect($run->tick(720)->on)->toBeFalse();
    $run = proved(['confirm_every_min' => 10]);
    feeding($run, 15, 715, 5, fn(): array => []);
    expect(whyOf($run))->toBeNull()->and(whyOf(feeding($run, 720.1, 720.1, 5, fn(): array => [])))->toBe('nobody-present');
    $there = proved(['confirm_every_min' => 10]);
    feeding($there, 15, 600, 5, fn(): array => []);
    $there->hear(Said::of(601, 'present'));
    expect(whyOf(feeding($there, 605, 1300, 5, fn(): array => [])))->toBeNull();
    $shut = feeding(proved(['closes_at_s' => 100]), 15, 99, 5, fn(): array => []);
    expect(whyOf($shut))->toBeNull()->and(whyOf(feeding($shut, 100, 100, 5, fn(): array => [])))->toBe('closing-time');
});

it('orders what the handbook has for each kind, never more than cells or board may take', function (
    array $plan,
    array $cell,
    Phase $phase,
    float $amps,
): void {
    $pack = array_replace_recursive(Rig::packData(), $cell);
    expect(RunPlan::fromArray($plan + ['pack' => $pack, 'group' => 1, 'plan_v' => 3.5])->amps($phase))->toEqualWithDelta($amps, 1e-9);
})->with([
    'slow' => [['kind' => 'recovery'], [], Phase::Precharge, 0.5],
    'slow, asked for more' => [['kind' => 'recovery', 'plan_a' => 3.0], [], Phase::Precharge, 1.0],
    'raise' => [['kind' => 'recovery'], [], Phase::Raise, 2.0],
    'raise, small cells' => [['kind' => 'recovery'], ['cell' => ['max_charge_a' => 0.3]], Phase::Raise, 1.2],
    'fill' => [['kind' => 'balance'], [], Phase::Fill, 2.0],
    'fill, lowered' => [['kind' => 'balance', 'limit_a' => 0.7], [], Phase::Fill, 0.7],
    'a limit raises nothing' => [['kind' => 'balance', 'limit_a' => 9.0], [], Phase::Fill, 2.0],
    'past the board' => [['kind' => 'bypass', 'plan_a' => 2.0], [], Phase::Charge, 0.5],
    'pack' => [['kind' => 'charge'], [], Phase::Charge, 1.0],
    'pack, small board' => [['kind' => 'charge'], ['bms' => ['charge_limit_a' => 0.8]], Phase::Charge, 0.8],
    'discharge' => [['kind' => 'discharge'], [], Phase::Discharge, -2.0],
]);

it('watches on for half an hour after the end', function (): void {
    $after = fn(): AfterStop => new AfterStop(Rig::plan(), 0.0, 20.0, 22.0);
    $at = fn(float $t, float $c, float $a = 0.0): Sample => Sample::of($t, 2.3, $a, $c);
    $calm = $after();
    $calm->take($at(1799, 21.0));
    expect($calm->isOver())->toBeFalse();
    $calm->take($at(1800, 21.0));
    expect($calm->isOver())->toBeTrue()->and($calm->quarantine())->toBeNull();
    $current = $after();
    $current->take($at(5, 22.0, 0.3));
    expect($current->alarm())->toBeNull();
    $current->take($at(5.1, 22.0, 0.3));
    expect($current->alarm())->toContain('pull the clips');
    $rising = $after();
    $rising->take($at(60, 24.0));
    expect($rising->quarantine())->toBeNull();
    $rising->take($at(120, 24.1));
    expect($rising->quarantine())->toContain('risen');
});

it('calls a group that stays warm for quarantine, and one that cools not', function (float $c, float $t, bool $quarantine): void {
    $before = $c > 25.3 ? 25.6 : $c;
    $after = new AfterStop(Rig::plan(), 0.0, 20.0, $c === 25.4 ? 25.6 : $before);
    $after->take(Sample::of(300, 2.3, 0.0, $c === 25.4 ? 25.6 : $before));
    $after->take(Sample::of($t, 2.3, 0.0, $c));
    expect($after->quarantine() !== null)->toBe($quarantine);
})->with([
    'warm and not falling' => [25.6, 600.0, true],
    'not ten minutes yet' => [25.6, 599.0, false],
    'falling' => [25.4, 600.0, false],
    'just warm no longer' => [25.0, 600.0, false],
    'just warm still' => [25.1, 600.0, true],
]);

it('asks a hand sooner the sooner it is full', function (): void {
    $plan = Rig::plan(['by_hand' => true, 'kind' => 'balance', 'plan_v' => 3.6]);
    $h = new History(600, 0.0);
    foreach (range(0, 200, 5) as $t) {
        $h->add(5, Sample::of($t, 3.6 + 0.001 * $t, 2.0, 20.0));
    }
    expect(Asked::seconds($plan, Phase::Fill, $h, 3.9, 100))
        ->toEqualWithDelta((0.25 * 0.3) / ((3.9 - 3.62) / 180), 1.0)
        ->and(Asked::seconds($plan, Phase::Fill, $h, 4.19, 100))
        ->toBe(15.0)
        ->and(Asked::seconds($plan, Phase::Fill, $h, 3.62, 100))
        ->toBe(180.0)
        ->and(Asked::seconds($plan, Phase::Rest, $h, 3.0, 0))
        ->toBe(900.0)
        ->and(Asked::seconds($plan, Phase::Rest, $h, 3.0, 2600))
        ->toBe(100.0)
        ->and(Asked::seconds($plan, Phase::Prove, $h, null, 0))
        ->toBe(15.0);
});

it('says of a rule that is met that it is met, and does not count down', function (): void {
    $run = feeding(proved(), 15, 430, 5, fn(float $t): array => ['v' => 2.3 + 0.0004 * $t]);
    $row = $run->view()['watch'][0];
    expect($row['met'])->toBeTrue()->and($row['in_s'])->toBeNull()->and($row['text'])->toMatch('/risen 1\d\d of 50 mV in 7 min/');
});

it('lets the supply\'s clip on only once the meter has read it the right way round', function (): void {
    $run = new SupervisedRun(Rig::plan(['asks_clip' => true]));
    feeding($run, 0, 600, 5, fn(): array => ['v' => -2.3]);
    $run->hear(Said::of(601, 'clipped'));
    expect(whyOf($run))->toBeNull()->and($run->view()['asks_clip'])->toBeTrue();
    feeding($run, 605, 620, 5, fn(): array => ['v' => 2.3]);
    expect($run->order()->hasSetPoints())->toBeFalse();
    $run->hear(Said::of(621, 'clipped'));
    feeding($run, 625, 640, 5, fn(): array => ['v' => 2.3]);
    expect($run->order()->on)->toBeTrue();
});

it('tells reversed clips from a reversed group that the supply holds', function (float $v, string $says): void {
    $run = new SupervisedRun(Rig::plan());
    $run->take(seen(['t' => 0, 'v' => $v, 'a' => 0.0]));
    expect($run->view()['text'])->toContain($says);
})->with([[-1.49, 'Take the clip off now'], [-1.51, 'wrong way round']]);

it('knows what counts as no current by the ammeter\'s range', function (float $a, ?string $why): void {
    $run = new SupervisedRun(Rig::plan(['range_a' => 30.0]));
    $run->take(seen(['t' => 0, 'v' => 2.3, 'a' => $a]));
    expect(whyOf($run))->toBe($why);
})->with([[0.0599, null], [0.0601, 'supply.not-as-ordered']]);

it('lets steps of a supply be as coarse as they may, on high volts and small currents', function (array $plan, array $set, bool $on): void {
    $run = new SupervisedRun(Rig::plan($plan));
    foreach ([0, 5, 10] as $t) {
        $run->take(seen(['t' => $t, 'v' => $run->plan()->planV, 'a' => 0.0, 'groups' => [3.5, 3.5, 3.5, 3.5]] + $set));
    }
    expect($run->order()->on)->toBe($on);
})->with([
    'high volts, a step' => [
        ['kind' => 'charge', 'group' => null, 'plan_v' => 14.0, 'target_v' => null],
        ['set_v' => 16.717, 'set_a' => 1.0],
        true,
    ],
    'high volts, more than a step' => [
        ['kind' => 'charge', 'group' => null, 'plan_v' => 14.0, 'target_v' => null],
        ['set_v' => 16.715, 'set_a' => 1.0],
        false,
    ],
    'small current, a step' => [['plan_a' => 0.1, 'resolution_a' => 0.001], ['set_v' => 4.2, 'set_a' => 0.0801], true],
    'small current, more than a step' => [['plan_a' => 0.1, 'resolution_a' => 0.001], ['set_v' => 4.2, 'set_a' => 0.0799], false],
]);

it('tries a supply that cannot be read back with a tenth, on two samples that measure as ordered', function (): void {
    $run = new SupervisedRun(Rig::plan());
    foreach ([0, 5, 10] as $t) {
        $run->take(seen(['t' => $t, 'v' => 2.3, 'a' => 0.0]));
    }
    expect($run->order()->amps)->toEqualWithDelta(0.05, 1e-9);
    $run->take(seen(['t' => 15, 'v' => 2.3, 'a' => 0.05]));
    expect($run->order()->amps)->toEqualWithDelta(0.05, 1e-9);
    $run->take(seen(['t' => 20, 'v' => 2.3, 'a' => 0.0]));
    $run->take(seen(['t' => 25, 'v' => 2.3, 'a' => 0.05]));
    expect($run->order()->amps)->toEqualWithDelta(0.05, 1e-9);
    $run->take(seen(['t' => 30, 'v' => 2.3, 'a' => 0.05]));
    expect($run->order()->amps)->toEqualWithDelta(0.5, 1e-9);
});

it('allows 50 mA over a small order', function (float $a, ?string $why): void {
    expect(whyOf(feeding(proved(['plan_a' => 0.3]), 15, 20, 5, fn(): array => ['a' => $a])))->toBe($why);
})->with([[0.3501, 'supply.over-current'], [0.3499, null]]);

it('takes low volts for reached within 50 mV', function (float $supplyV, ?string $why): void {
    $run = new SupervisedRun(
        RunPlan::fromArray(['kind' => 'balance', 'pack' => ['chemistry' => 'lto'] + Rig::packData(), 'group' => 1, 'plan_v' => 2.3]),
    );
    feeding($run, 0, 10, 5, fn(): array => ['v' => 2.3]);
    expect($run->order()->on)
        ->toBeTrue()
        ->and(whyOf(feeding($run, 15, 140, 5, fn(): array => ['v' => 2.3, 'a' => 0.0, 'supply_v' => $supplyV])))
        ->toBe($why);
})->with([[2.699, 'supply.no-current'], [2.701, null]]);

it('allows for what relaxes when a jump has put the output off', function (float $down, bool $ok): void {
    // Half an amp on ten milliohms: three times five millivolts, below the band of 60 mV.
    $prover = Prover::jumped(Rig::plan(), 0.0, 2.5, 0.5);
    $prover->look(seen(['t' => 0, 'v' => 2.5 - $down, 'a' => 0.0]), false, Order::off(Phase::Prove));
    expect(array_column($prover->seen(), 'ok', 'what')['place'])->toBe($ok);
})->with(['just within' => [0.0745, true], 'just beyond' => [0.0755, false]]);

it('asks that a fall at rest slows down by a third', function (): void {
    $curve = RestCurve::of(Chemistry::Nmc);
    $at = ((1.4 * 0.7) / 200) * 0.25 * $curve->slope($curve->socAt(2.985));
    expect(whyOf(rested($at / 0.62, $at)))->toBeNull()->and(whyOf(rested($at / 0.665, $at)))->toBe('rest.falls');
});

it('tells a jump down from a fall', function (float $step, ?string $why): void {
    $run = feeding(proved(), 15, 30, 5, fn(): array => ['v' => 2.3]);
    expect(whyOf(feeding($run, 35, 35, 5, fn(): array => ['v' => 2.3 + $step])))->toBe($why)->and($run->order()->on)->toBeFalse();
})->with([
    'a jump, just' => [-0.1005, null],
    'a fall, just' => [-0.0995, 'voltage.falls'],
]);

/** Resting after pre-charge, with these falls in its third and in its last quarter. */
function rested(float $third, float $last): SupervisedRun
{
    $run = feeding(proved(['plan_v' => 2.96]), 15, 20, 5, fn(): array => ['v' => 3.01]);

    return feeding(
        $run,
        25,
        3640,
        5,
        fn(float $t): array => [
            'v' => 2.99 - $third * min(1.0, max(0.0, ($t - 1820) / 900)) - $last * min(1.0, max(0.0, ($t - 2720) / 900)),
        ],
    );
}

it('rejects a fall at rest by 30 mV, though it slows', function (): void {
    expect(whyOf(rested(0.06, 0.0303)))->toBe('rest.falls')->and(whyOf(rested(0.06, 0.0297)))->toBeNull();
});

it('rejects a smaller one that does not slow, from seven tenths of C/200', function (): void {
    $curve = RestCurve::of(Chemistry::Nmc);
    // The slope is that of where it ends, which is two such falls down.
    $at = 0.005;
    for ($n = 0; $n < 20; $n++) {
        $at = (0.7 / 200) * 0.25 * $curve->slope($curve->socAt(2.99 - 2 * $at));
    }
    expect($at)
        ->toBeGreaterThan(0.004)
        ->and(whyOf(rested(1.02 * $at, 1.02 * $at)))
        ->toBe('rest.falls')
        ->and(whyOf(rested(0.98 * $at, 0.98 * $at)))
        ->toBeNull();
});

it('lets a group stand over the board\'s cut for just under five seconds', function (float $dt, int $times, ?string $why): void {
    $run = new SupervisedRun(
        Rig::plan(['kind' => 'charge', 'group' => null, 'plan_v' => 14.0, 'target_v' => null], 'nmc', ['high_cut_v' => 4.25]),
    );
    feeding($run, 0, 10, 5, fn(): array => ['v' => 14.1, 'groups' => [3.5, 3.5, 3.5, 3.5]]);
    expect(whyOf(feeding($run, 11, 11 + $dt * $times, $dt, fn(): array => ['v' => 14.1, 'groups' => [3.5, 4.255, 3.5, 3.5]])))->toBe($why);
})->with([[0.7, 7, null], [0.51, 10, 'group.past-full']]);

it('measures warming over ten minutes of current', function (float $perS, ?string $why): void {
    expect(
        whyOf(
            feeding(proved(['c' => 17.0]), 15, 900, 5, fn(float $t): array => ['c' => 17.0 + $perS * ($t - 15), 'v' => 2.3 + 0.0002 * $t]),
        ),
    )->toBe($why);
})->with([[0.0049, null], [0.0051, 'temperature.rises']]);

it('asks for the ambient anew after an hour', function (float $to, bool $old): void {
    $run = feeding(proved(['plan_v' => 2.96]), 15, 20, 5, fn(): array => ['v' => 3.01]);
    expect(feeding($run, 25, $to, 25, fn(): array => ['v' => 2.99])->view()['ambient_old'])->toBe($old);
    $run->hear(Said::of($to, 'ambient', 21.0));
    expect($run->view()['ambient_old'])->toBeFalse()->and($run->view()['ambient_c'])->toBe(21.0);
})->with([[3600, false], [3625, true]]);

it('calls a fill full at its tail, with the voltage held', function (float $v, float $a, array $plan, ?string $why): void {
    $run = feeding(proved(['kind' => 'balance', 'plan_v' => 4.1, 'target_v' => null] + $plan), 15, 45, 5, fn(): array => ['v' => 4.17]);
    expect(whyOf(feeding($run, 50, 50, 5, fn(): array => ['v' => $v, 'a' => $a])))->toBe($why);
})->with([
    'C/20, just' => [4.2, 0.499, [], 'target-reached'],
    'C/20, just not' => [4.2, 0.501, [], null],
    'half of a small current, just' => [4.2, 0.399, ['plan_a' => 0.8], 'target-reached'],
    'half of a small current, just not' => [4.2, 0.401, ['plan_a' => 0.8], null],
    'voltage just held' => [4.1801, 0.4, [], 'target-reached'],
    'voltage just not held' => [4.1799, 0.4, [], null],
]);

/** A fill to 3.79 V that rests at these volts after each round. */
function topped(float $restsAt, int $rounds): SupervisedRun
{
    $run = new SupervisedRun(Rig::plan(['kind' => 'balance', 'plan_v' => 3.6, 'target_v' => 3.79]));
    [$v, $rest] = [3.6, 3.6];
    for ($t = 0.0; $t < $rounds * 6000 && !$run->isOver(); $t += 5) {
        $o = $run->order();
        // Under current volts climb 25 mV a sample; without it they stand at rest.
        [$v, $rest] = $o->on ? [min(4.19, $v + 0.025), $restsAt] : [$rest, $rest];
        $run->take(seen(['t' => $t, 'v' => $v, 'a' => $o->on ? $o->amps : 0.0, 'set_v' => $o->volts, 'set_a' => $o->amps]));
    }

    return $run;
}

it('is at its target when it rests within 8 mV under it, and gives up after five rounds', function (): void {
    expect(whyOf(topped(3.7821, 1)))->toBe('target-reached')->and(whyOf(topped(3.7819, 1)))->toBeNull();
    $again = topped(3.7819, 8);
    expect(whyOf($again))
        ->toBe('rest.falls')
        ->and(count(array_filter($again->log(), fn(array $l): bool => str_contains($l['text'], 'output on'))))
        ->toBe(5);
});

it('lets instruments share a pack that are proved isolated within the year', function (float $mohm, ?float $days, bool $proved): void {
    expect((new Isolation('Meter', $mohm, $days))->isProved())
        ->toBe($proved)
        ->and(Isolation::refuses([new Isolation('Meter', $mohm, $days), new Isolation('Supply', null, null)]) === null)
        ->toBe($proved)
        ->and(Isolation::refuses([new Isolation('Meter', $mohm, $days)]))
        ->toBeNull();
})->with([
    'over a megohm, just' => [1.01, 10.0, true],
    'just not' => [0.99, 10.0, false],
    'a year ago, just' => [50.0, 365.5, true],
    'over a year ago' => [50.0, 367.0, false],
    'no earth at all' => [INF, null, true],
    'without a date' => [50.0, null, false],
]);

it('draws what a sound group does round what a sound group does', function (array $more, float $v, float $resistance): void {
    $rig = Rig::of(
        new Heartwood\Core\Twin\LiveGroup(
            $v < 2.95 ? ($v - 2.95) / 35 : RestCurve::of(Chemistry::Nmc)->socAt($v),
            9.4,
            $resistance,
            0.4 * $resistance,
            0.3 * $resistance,
        ),
    );
    $plan = Rig::plan($more + ['plan_v' => $v + 0.04]);
    $rig->drive($plan, [], 3.0);
    $run = new SupervisedRun($plan);
    $seen = 0;
    foreach ($rig->samples as $s) {
        $run->take($s);
        $band = $run->view()['expected'];
        if ($band !== null && $run->order()->on && (float) $s->a > 0.3) {
            $seen++;
            expect($s->v)
                ->toBeGreaterThanOrEqual($band['low'] - 0.02)
                ->toBeLessThanOrEqual($band['high'] + 0.02);
        }
    }
    expect($seen)->toBeGreaterThan(100);
})->with([
    'past empty, new' => [[], 2.3, 0.008],
    'past empty, old' => [[], 2.6, 0.03],
    'half full' => [['kind' => 'balance', 'target_v' => null], 3.6, 0.01],
    'half full, old' => [['kind' => 'balance', 'target_v' => null], 3.6, 0.03],
]);

it('draws nothing where the start says nothing of charge', function (): void {
    $run = new SupervisedRun(Rig::plan(['kind' => 'balance', 'plan_v' => 3.3, 'target_v' => null], 'lfp'));
    feeding($run, 0, 30, 5, fn(): array => ['v' => 3.3]);
    expect($run->order()->on)->toBeTrue()->and($run->view()['expected'])->toBeNull();
});

it('shows the fullest and the lowest of watched groups', function (): void {
    $run = new SupervisedRun(
        Rig::plan(['kind' => 'charge', 'group' => null, 'plan_v' => 14.0, 'target_v' => null], 'nmc', ['high_cut_v' => 4.25]),
    );
    feeding($run, 0, 15, 5, fn(): array => ['v' => 14.05, 'groups' => [3.5, 3.62, 3.41, 3.5]]);
    $rows = implode('; ', array_column($run->view()['watch'], 'text'));
    expect($rows)->toContain('fullest: group 2, 3.620 of 4.25 V')->toContain('lowest: group 3, 3.410 V; 1.50 V ends it');
});

it('takes current to flow on while a reading of it is missing', function (): void {
    $run = feeding(proved(), 15, 100, 5, fn(): array => []);
    $before = $run->ahIn();
    feeding($run, 105, 105, 5, fn(): array => ['a' => null]);
    feeding($run, 110, 110, 5, fn(): array => []);
    expect($run->ahIn() - $before)->toEqualWithDelta((0.5 * 10) / 3600, 1e-6);
});

it('watches volts and warmth between what a hand types, and counts the charge all the same', function (): void {
    $run = proved(['by_hand' => true]);
    for ($t = 11.0; $t <= 70.0; $t += 1.0) {
        $run->take(seen(['t' => $t, 'v' => 2.3 + 0.0004 * $t, 'a' => fmod($t, 30.0) === 0.0 ? 0.5 : null]));
    }
    expect($run->order()->on)
        ->toBeTrue()
        ->and($run->ahIn())
        ->toEqualWithDelta((0.5 * 60) / 3600, 1e-5);
    $run->take(seen(['t' => 71, 'v' => 2.33, 'c' => 25.2]));
    expect(whyOf($run))->toBe('temperature.rises');
});

it('keeps a first sign of too much current in mind over readings without amps', function (): void {
    $run = proved(['by_hand' => true]);
    foreach ([[20, 0.56], [21, null], [22, null]] as [$t, $a]) {
        $run->take(seen(['t' => $t, 'v' => 2.31, 'a' => $a]));
    }
    expect(whyOf($run))->toBeNull();
    $run->take(seen(['t' => 50, 'v' => 2.32, 'a' => 0.56]));
    expect(whyOf($run))->toBe('supply.over-current');
});

/** Filling a single group of 10 Ah from 3.88 V to a rest voltage of 3.90 V, at 2 A; on since 10 s. @param  array<string, mixed>  $more */
function filling(float $to, float $v, float $a, array $more = []): SupervisedRun
{
    return feeding(
        proved($more + ['kind' => 'balance', 'plan_v' => 3.88, 'target_v' => 3.9]),
        10.5,
        $to,
        0.5,
        fn(): array => ['v' => $v, 'a' => $a],
    );
}

it('believes in a tail after half a minute of current', function (float $to, ?string $why): void {
    $run = feeding(
        proved(['kind' => 'balance', 'plan_v' => 4.19, 'target_v' => null]),
        10.5,
        $to,
        0.5,
        fn(): array => ['v' => 4.2, 'a' => 0.4],
    );
    expect(whyOf($run))->toBe($why);
})->with([[40.0, null], [41.0, 'target-reached']]);

it('knows that the target is reached after a minute of current, or 80 mV past it', function (float $to, float $v, Phase $phase): void {
    expect(filling($to, $v, 0.3)->phase())->toBe($phase);
})->with([
    'not yet' => [70.0, 3.91, Phase::Fill],
    'a minute' => [71.0, 3.91, Phase::Settle],
    'just under 80 mV past' => [12.0, 3.979, Phase::Fill],
    'just over' => [12.0, 3.981, Phase::Settle],
]);

it('learns resistance from a fifth of the ordered current up', function (float $a, Phase $phase): void {
    // 30 mV of rise in a minute is resistance: with it the target lies further up.
    expect(filling(71.5, 3.91, $a)->phase())->toBe($phase);
})->with(['just under: not learnt' => [0.396, Phase::Settle], 'just over' => [0.404, Phase::Fill]]);

it('lets in what the gap asks, and the taper of it', function (array $plan, string $most): void {
    // A group of 100 Ah at 20 A.
    $run = proved(
        $plan + [
            'kind' => 'balance',
            'plan_v' => 3.6,
            'pack' => ['chemistry' => 'nmc', 'series' => 4, 'parallel' => 40, 'cell' => ['capacity_ah' => 2.5]],
        ],
    );
    expect(implode(' ', array_column($run->view()['watch'], 'text')))->toContain("of at most $most Ah");
})->with([
    '10 Ah and a fiftieth of an hour' => [['target_ah' => 10.0, 'target_v' => null], '11.90'],
    'a hundredth of charge at least' => [['target_v' => 3.601], '1.15'],
]);

it('tries a supply with half of what was ordered at least', function (float $a, bool $whole): void {
    $run = new SupervisedRun(Rig::plan(['readable' => false]));
    foreach ([0, 5, 10] as $t) {
        $run->take(seen(['t' => $t, 'v' => 2.3, 'a' => 0.0]));
    }
    $tenth = $run->order()->amps;
    foreach ([15, 20, 25] as $t) {
        $run->take(seen(['t' => $t, 'v' => 2.3, 'a' => $a]));
    }
    expect($tenth)
        ->toEqualWithDelta(0.05, 1e-9)
        ->and($run->order()->amps > 0.4)
        ->toBe($whole);
})->with(['just half, the last digit allowed for' => [0.0203, true], 'just not' => [0.0197, false]]);

it('allows for what a group has shown to relax, one and a half times', function (float $down, Phase $phase): void {
    // Stops 0.1 V up at 2 A and falls back by 0.12 V: 60 milliohm are shown. Then 1 A, and off: 0.1 V, twice 90 mV for
    // what changed and what drove, and 10 mV of the ohms that are known.
    $run = feeding(
        proved(['kind' => 'balance', 'plan_v' => 3.88, 'target_v' => 3.9]),
        15,
        15,
        5,
        fn(): array => ['v' => 3.981, 'a' => 2.0],
    );
    expect($run->phase())->toBe(Phase::Settle);
    feeding($run, 20, 1810, 10, fn(float $t): array => ['v' => 3.861 + 0.12 * exp(-($t - 15) / 60)]);
    for ($t = 1815; !$run->order()->on && $t < 1900; $t += 5) {
        feeding($run, $t, $t, 5, fn(): array => ['v' => 3.861]);
    }
    expect($run->order()->on)->toBeTrue();
    expect($run->order()->amps)->toBe(1.0);
    feeding($run, $t, $t, 5, fn(): array => ['v' => 4.03]);
    expect($run->phase())->toBe(Phase::Settle);
    feeding($run, $t + 5, $t + 5, 5, fn(): array => ['v' => 4.03 - $down]);
    expect($run->phase())->toBe($phase);
})->with(['just within' => [0.285, Phase::Settle], 'just beyond' => [0.295, Phase::Prove]]);

it('says where a run ought to stand by now, and by how many minutes it is behind', function (): void {
    // 10 Ah at 1 A, 2 Ah asked for: half an hour on, half of the current came.
    $run = proved(['kind' => 'balance', 'plan_v' => 3.6, 'target_ah' => 2.0, 'target_v' => null, 'plan_a' => 1.0]);
    expect($run->view()['planned'])->toMatchArray(['to_ah' => 2.0, 'ah' => 0.0]);
    feeding($run, 15, 1810, 5, fn(float $t): array => ['v' => 3.62, 'a' => 0.5]);
    $planned = $run->view()['planned'];
    expect($planned['by_now_ah'])
        ->toEqualWithDelta(0.5, 0.003)
        ->and($planned['ah'])
        ->toEqualWithDelta(0.25, 0.003)
        ->and($planned['behind_min'])
        ->toEqualWithDelta(15.0, 0.3);
});

it('plans no further than what was asked for, and knows no amp-hours on a plateau', function (): void {
    $run = proved(['kind' => 'balance', 'plan_v' => 3.6, 'target_ah' => 0.1, 'target_v' => null, 'plan_a' => 1.0]);
    feeding($run, 15, 500, 5, fn(): array => ['v' => 3.62, 'a' => 0.6]);
    expect($run->view()['planned']['by_now_ah'])->toBe(0.1);
    $cells = ['series' => 4, 'parallel' => 4, 'cell' => ['capacity_ah' => 2.5]];
    $flat = proved(['kind' => 'balance', 'plan_v' => 3.28, 'target_v' => null, 'plan_a' => 1.0, 'pack' => ['chemistry' => 'lfp'] + $cells]);
    expect($flat->view()['planned'])->toMatchArray(['to_ah' => null]);
    // From the curve where it has a slope: from 3.6 V to full is what the rest curve has between them.
    $steep = proved(['kind' => 'balance', 'plan_v' => 3.6, 'target_v' => null, 'plan_a' => 1.0]);
    $soc = RestCurve::of(Chemistry::Nmc)->socAt(3.6);
    expect($steep->view()['planned']['to_ah'])->toEqualWithDelta(10 * (1 - $soc), 0.01);
    $over = feeding(proved(), 15, 15, 5, fn(): array => ['set_a' => 0.56]);
    expect($over->isOver())->toBeTrue()->and($over->view()['planned'])->toBeNull();
});
