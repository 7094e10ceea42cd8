<?php

declare(strict_types=1);

use App\Contract\SchemaCheck;
use App\Contract\Verbs;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Run\RunPlan;
use Heartwood\Core\Run\Said;
use Heartwood\Core\Run\Sample;
use Heartwood\Core\Run\SupervisedRun;
use Heartwood\Core\Twin\LiveGroup;
use Tests\Core\Rig;

/** The same thing, with something done to it. */
function tap_(Rig $rig, Closure $do): Rig
{
    $do($rig);

    return $rig;
}

/** A group of 9.4 Ah at rest at these volts, past empty. */
function lowGroup(float $v = 2.3, float $shortOhm = INF, float $leakA = 0.0): LiveGroup
{
    return new LiveGroup(($v - 2.95) / 35, 9.4, 0.01, 0.004, 0.006, $shortOhm, $leakA);
}

/** @param  list<float>  $charges */
function whole(array $charges): Rig
{
    $rig = new Rig(array_map(fn(float $x): LiveGroup => new LiveGroup($x, 9.4), $charges));
    $rig->scanner = fn(float $t, array $v): array => $v;

    return $rig;
}

/** @param  array<string, mixed>  $more */
function wholePlan(string $kind, Rig $rig, array $more = [], array $bms = []): RunPlan
{
    return Rig::plan($more + ['kind' => $kind, 'group' => null, 'plan_v' => $rig->pack->tap(4), 'target_v' => null], 'nmc', $bms);
}

/** Runs that must not start: each a rig, its plan, what was said, and what ends it. */
dataset('never on', [
    'clips reversed' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->meter = fn($t, $v) => -round($v, 3))),
        Rig::plan(),
        [],
        'clips.reversed',
    ],
    'a reversed group held by the diode' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->meter = fn($t, $v) => -0.6)),
        Rig::plan(),
        [],
        'clips.reversed',
    ],
    'a group at 0.11 V' => fn(): array => [Rig::of(lowGroup(0.11)), Rig::plan(), [], 'clips.below-floor'],
    'a group at 1.42 V' => fn(): array => [Rig::of(lowGroup(1.42)), Rig::plan(['plan_v' => 1.55]), [], 'clips.below-floor'],
    'clips in the air' => fn(): array => [tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->clip = fn($t) => 0)), Rig::plan(), [], 'clips.open'],
    'a healthy group' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->clip = fn($t) => 2)),
        Rig::plan(),
        [],
        'clips.wrong-group',
    ],
    'a neighbour that is low too, nearer by the scanner' => fn(): array => [
        tap_(new Rig([lowGroup(2.3), lowGroup(2.42), lowGroup(3.7), lowGroup(3.7)]), function (Rig $r): void {
            $r->clip = fn($t) => 2;
            $r->scanner = fn($t, $v) => $v;
        }),
        Rig::plan(),
        [],
        'clips.wrong-group',
    ],
    'a stale plan that nobody answers for' => fn(): array => [Rig::of(lowGroup(2.42)), Rig::plan(), [], 'clips.wrong-group'],
    'current with the output off' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->ammeter = fn($t, $a) => 0.4)),
        Rig::plan(),
        [],
        'supply.not-as-ordered',
    ],
    'a supply that keeps its own set-points' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->supply = fn($t, $o) => [12.0, 3.0])),
        Rig::plan(),
        [],
        'supply.not-as-ordered',
    ],
    'a supply that takes the volts and not the amps' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->supply = fn($t, $o) => [$o->volts, 3.0])),
        Rig::plan(),
        [],
        'supply.not-as-ordered',
    ],
    'a supply that stays at nothing' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->supply = fn($t, $o) => [0.0, 0.0])),
        Rig::plan(),
        [],
        'supply.not-as-ordered',
    ],
    'no thermometer' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->thermometer = fn($t, $c) => null)),
        Rig::plan(),
        [],
        'reading.missing',
    ],
    'a meter in overload' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->meter = fn($t, $v) => 9.9e37)),
        Rig::plan(),
        [],
        'reading.missing',
    ],
    'a cold group' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->thermometer = fn($t, $c) => -1.0)),
        Rig::plan(['ambient_c' => -1]),
        [],
        'temperature.cold',
    ],
    'a warm group' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->thermometer = fn($t, $c) => 26.0)),
        Rig::plan(),
        [],
        'temperature.rises',
    ],
    'a hot group in a hot room' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->thermometer = fn($t, $c) => 41.0)),
        Rig::plan(['ambient_c' => 38]),
        [],
        'temperature.hot',
    ],
    'a meter of 50 mV steps' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->meter = fn($t, $v) => round($v / 0.05) * 0.05)),
        Rig::plan(['resolution_v' => 0.05]),
        [],
        'reading.missing',
    ],
    'a group past full' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->meter = fn($t, $v) => 5.2)),
        Rig::plan(['kind' => 'balance', 'plan_v' => 4.1, 'target_v' => null]),
        [],
        'voltage.past-full',
    ],
    'volts that do not stand still' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->meter = fn($t, $v) => 2.3 + 0.03 * (($t / 5) % 2))),
        Rig::plan(),
        [],
        'clips.open',
    ],
    'past the board with a group unread' => fn(): array => [
        tap_(whole([-0.01, 0.02, 0.02, 0.02]), fn(Rig $r) => ($r->scanner = fn($t, $v) => [$v[0], null, $v[2], $v[3]])),
        wholePlan('bypass', whole([-0.01, 0.02, 0.02, 0.02])),
        [],
        'reading.missing',
    ],
    'past the board with a group under the floor' => fn(): array => [
        ($r = whole([-0.045, 0.02, 0.02, 0.02])),
        wholePlan('bypass', $r),
        [],
        'group.below-floor',
    ],
    'past the board with a group reversed' => fn(): array => [
        tap_($r = whole([0.0, 0.02, 0.02, 0.02]), fn(Rig $r) => ($r->scanner = fn($t, $v) => [-0.4, $v[1], $v[2], $v[3]])),
        wholePlan('bypass', $r),
        [],
        'group.below-floor',
    ],
    'a discharge that would start under the board\'s cut' => fn(): array => [
        ($r = whole([-0.01, 0.5, 0.5, 0.5])),
        wholePlan('discharge', $r, [], ['low_cut_v' => 3.0]),
        [],
        'group.below-floor',
    ],
    'ended by hand before it began' => fn(): array => [
        Rig::of(lowGroup()),
        Rig::plan(),
        [Said::of(5, 'end', null, 'wrong pack')],
        'person',
    ],
    'one sample reversed, hot and with current' => fn(): array => [
        tap_(Rig::of(lowGroup()), function (Rig $r): void {
            $r->meter = fn($t, $v) => -2.31;
            $r->thermometer = fn($t, $c) => 55.0;
            $r->ammeter = fn($t, $a) => 1.0;
        }),
        Rig::plan(),
        [],
        'clips.reversed',
    ],
]);

it('never switches on', function (Rig $rig, RunPlan $plan, array $says, string $why): void {
    $rig->drive($plan, $says, 0.5);
    expect($rig->why())->toBe($why)->and($rig->everOn())->toBeFalse();
})->with('never on');

/** Runs that start and must end: within so many seconds of current. */
dataset('ends itself', [
    'a hard short' => fn(): array => [Rig::of(lowGroup(2.3, 2.0)), Rig::plan(), [], ['voltage.falls'], 300],
    'a short that hangs' => fn(): array => [
        Rig::of(new LiveGroup(-0.02, 9.4, 0.01, 0.004, 0.006, 5.2)),
        Rig::plan(['plan_v' => 2.25]),
        [],
        ['voltage.hangs', 'voltage.falls', 'temperature.rises'],
        1500,
    ],
    'a leak of C/100' => fn(): array => [
        Rig::of(new LiveGroup(-0.02, 9.4, leakA: 0.1)),
        Rig::plan(['plan_v' => 2.25]),
        [],
        ['rest.falls'],
        4000,
    ],
    'three amps where half an amp was ordered' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->ammeter = fn($t, $a) => $a > 0.1 && $t > 300 ? 3.0 : round($a, 2))),
        Rig::plan(),
        [],
        ['supply.over-current'],
        310,
    ],
    'a supply that cannot be read and gives what it likes' => fn(): array => [
        tap_(Rig::of(lowGroup()), function (Rig $r): void {
            $r->shows = fn($t, $x) => null;
            $r->supply = fn($t, $o) => [12.0, 3.0];
        }),
        Rig::plan(),
        [],
        ['supply.over-current'],
        10,
    ],
    'somebody turns the knob' => fn(): array => [
        tap_(Rig::of(new LiveGroup(0.3, 9.4)), fn(Rig $r) => ($r->supply = fn($t, $o) => [$t > 600 ? 4.5 : $o->volts, $o->amps])),
        Rig::plan(['kind' => 'balance', 'plan_v' => 3.6, 'target_v' => null]),
        [],
        ['supply.not-as-ordered'],
        620,
    ],
    'current the wrong way' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->ammeter = fn($t, $a) => $a > 0.1 && $t > 300 ? -0.3 : round($a, 2))),
        Rig::plan(),
        [],
        ['supply.not-as-ordered'],
        310,
    ],
    'a fuse that has gone' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->gives = false)),
        Rig::plan(),
        [],
        ['supply.no-current'],
        135,
    ],
    'a balance fill without current' => fn(): array => [
        tap_(Rig::of(new LiveGroup(0.3, 9.4)), fn(Rig $r) => ($r->gives = false)),
        Rig::plan(['kind' => 'balance', 'plan_v' => 3.6, 'target_v' => null]),
        [],
        ['supply.no-current'],
        135,
    ],
    'warmth' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->thermometer = fn($t, $c) => 20 + $t / 600)),
        Rig::plan(),
        [],
        ['temperature.rises'],
        3100,
    ],
    'warming three kelvin in ten minutes' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->thermometer = fn($t, $c) => $t < 300 ? 18.0 : min(22.0, 18 + ($t - 300) / 100))),
        Rig::plan(),
        [],
        ['temperature.rises'],
        700,
    ],
    'the thermometer falls off' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->thermometer = fn($t, $c) => $t < 300 ? 20.0 : null)),
        Rig::plan(),
        [],
        ['reading.missing'],
        370,
    ],
    'the meter goes silent' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->meter = fn($t, $v) => $t < 300 ? round($v, 3) : null)),
        Rig::plan(),
        [],
        ['reading.missing'],
        325,
    ],
    'a clip that comes off for good' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->clip = fn($t) => $t < 300 ? 1 : 0)),
        Rig::plan(),
        [],
        ['clips.open', 'reading.missing'],
        310,
    ],
    'a clip that lands on a neighbour' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->clip = fn($t) => $t < 300 ? 1 : 2)),
        Rig::plan(),
        [],
        ['clips.wrong-group'],
        310,
    ],
    'resumed on a healthy neighbour' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->clip = fn($t) => $t < 900 ? 1 : 2)),
        Rig::plan(),
        [Said::of(800, 'pause'), Said::of(1000, 'resume')],
        ['clips.wrong-group'],
        810,
    ],
    'resumed on a dead group' => fn(): array => [
        tap_(new Rig([lowGroup(), lowGroup(0.2), lowGroup(3.7)]), fn(Rig $r) => ($r->clip = fn($t) => $t < 900 ? 1 : 2)),
        RunPlan::fromArray([
            'kind' => 'recovery',
            'pack' => ['series' => 3] + Rig::packData(),
            'group' => 1,
            'plan_v' => 2.3,
            'target_v' => 3.7,
        ]),
        [Said::of(800, 'pause'), Said::of(1000, 'resume')],
        ['clips.below-floor'],
        810,
    ],
    'nobody there' => fn(): array => [Rig::of(lowGroup()), Rig::plan(['confirm_every_min' => 10]), [], ['nobody-present'], 730],
    'closing time' => fn(): array => [Rig::of(lowGroup()), Rig::plan(['closes_at_s' => 900]), [], ['closing-time'], 900],
    'ended by hand' => fn(): array => [Rig::of(lowGroup()), Rig::plan(), [Said::of(600, 'end')], ['person'], 600],
    'more than the gap holds' => fn(): array => [
        tap_(Rig::of(new LiveGroup(0.3, 30.0)), fn(Rig $r) => null),
        Rig::plan(['kind' => 'balance', 'plan_v' => 3.6, 'target_v' => 3.9]),
        [],
        ['charge.too-much'],
        12000,
    ],
    'past the board, a group that falls' => fn(): array => [
        tap_(
            $r = whole([-0.01, 0.02, 0.02, 0.02]),
            fn(Rig $r) => ($r->scanner = fn($t, $v) => [$v[0], $v[1], $v[2] - max(0, $t - 300) / 5000, $v[3]]),
        ),
        wholePlan('bypass', $r),
        [],
        ['voltage.falls'],
        500,
    ],
    'past the board, a group no longer read' => fn(): array => [
        tap_(
            $r = whole([-0.01, 0.02, 0.02, 0.02]),
            fn(Rig $r) => ($r->scanner = fn($t, $v) => [$v[0], $t > 300 ? null : $v[1], $v[2], $v[3]]),
        ),
        wholePlan('bypass', $r),
        [],
        ['reading.missing'],
        400,
    ],
    'a watched charge whose board does not cut' => fn(): array => [
        ($r = whole([0.5, 0.6, 0.5, 0.5])),
        wholePlan('charge', $r, [], ['high_cut_v' => 4.25]),
        [],
        ['group.past-full'],
        20000,
    ],
    'a discharge with one small group' => fn(): array => [
        ($r = whole([0.9, 0.6, 0.9, 0.9])),
        wholePlan('discharge', $r),
        [],
        ['group.below-floor'],
        20000,
    ],
]);

it('ends itself in time', function (Rig $rig, RunPlan $plan, array $says, array $why, float $within): void {
    $rig->drive($plan, $says, 20.0);
    expect($rig->why())
        ->toBeIn($why)
        ->and($rig->everOn())
        ->toBeTrue()
        ->and($rig->onS)
        ->toBeLessThanOrEqual($within)
        ->and($rig->run->order()->on)
        ->toBeFalse();
})->with('ends itself');

/** Good work, which nothing may stop. */
dataset('good work', [
    'a recovery' => fn(): array => [Rig::of(lowGroup()), Rig::plan(), []],
    'a recovery read twice a minute' => fn(): array => [tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->dt = 30.0)), Rig::plan(), []],
    'a recovery read once a minute' => fn(): array => [tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->dt = 60.0)), Rig::plan(), []],
    'a recovery by hand' => fn(): array => [tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->dt = 60.0)), Rig::plan(['by_hand' => true]), []],
    'a supply that cannot be read back' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->shows = fn($t, $x) => null)),
        Rig::plan(),
        [],
    ],
    'a supply of coarse steps, rounded down' => fn(): array => [
        tap_(
            Rig::of(lowGroup()),
            fn(Rig $r) => ($r->supply = fn($t, $o) => [floor($o->volts * 20 + 1e-6) / 20, floor($o->amps * 50 + 1e-6) / 50]),
        ),
        Rig::plan(),
        [],
    ],
    'a pause and a good resume' => fn(): array => [Rig::of(lowGroup()), Rig::plan(), [Said::of(900, 'pause'), Said::of(1900, 'resume')]],
    'a pause in the rest' => fn(): array => [Rig::of(lowGroup()), Rig::plan(), [Said::of(2500, 'pause'), Said::of(2900, 'resume')]],
    'a pause near the top of it' => fn(): array => [Rig::of(lowGroup()), Rig::plan(), [Said::of(9000, 'pause'), Said::of(11000, 'resume')]],
    'a plan 110 mV stale, read anew' => fn(): array => [Rig::of(lowGroup(2.41)), Rig::plan(), [Said::of(60, 'plan', 2.41)]],
    'a stale plan, and a scanner that reads the group' => fn(): array => [
        tap_(Rig::of(lowGroup(2.41)), fn(Rig $r) => ($r->scanner = fn($t, $v) => $v)),
        Rig::plan(),
        [],
    ],
    'a clip off for a minute' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->clip = fn($t) => $t > 600 && $t < 660 ? 0 : 1)),
        Rig::plan(),
        [],
    ],
    'readings lost for twenty seconds, now and then' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->meter = fn($t, $v) => fmod($t, 1500) < 20 ? null : round($v, 3))),
        Rig::plan(),
        [],
    ],
    'small currents on a coarse ammeter' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->ammeter = fn($t, $a) => round($a, 1))),
        Rig::plan(['resolution_a' => 0.1]),
        [],
    ],
    'a current under the ammeter\'s last digit' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->ammeter = fn($t, $a) => round($a, 0))),
        Rig::plan(['resolution_a' => 1.0]),
        [],
    ],
    'a meter of 10 mV steps' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->meter = fn($t, $v) => round($v, 2))),
        Rig::plan(['resolution_v' => 0.01]),
        [],
    ],
    'a fill to full, taper and all' => fn(): array => [
        Rig::of(new LiveGroup(0.3, 9.4)),
        Rig::plan(['kind' => 'balance', 'plan_v' => 3.6, 'target_v' => null]),
        [],
    ],
    'a fill to a rest voltage' => fn(): array => [
        Rig::of(new LiveGroup(0.3, 9.4)),
        Rig::plan(['kind' => 'balance', 'plan_v' => 3.6, 'target_v' => 3.9]),
        [],
    ],
    'a cool group, slowly' => fn(): array => [
        tap_(Rig::of(lowGroup()), fn(Rig $r) => ($r->thermometer = fn($t, $c) => round($c - 14.0, 1))),
        Rig::plan(['ambient_c' => 6]),
        [],
    ],
    'phosphate to its tail' => fn(): array => [
        Rig::of(new LiveGroup(-0.01, 10.0, 0.008, 0.003, 0.003), 3.33, 'lfp'),
        Rig::plan(['plan_v' => 2.25, 'target_v' => 3.33], 'lfp'),
        [],
    ],
    'past the board, until it takes over' => fn(): array => [($r = whole([-0.01, -0.005, 0.02, 0.03])), wholePlan('bypass', $r), []],
    'a watched charge with one group at 4.22 V' => fn(): array => [
        tap_($r = whole([0.5, 0.5, 0.5, 0.5]), fn(Rig $r) => ($r->scanner = fn($t, $v) => [$v[0], min(4.22, $v[1] + 0.03), $v[2], $v[3]])),
        wholePlan('charge', $r, [], ['high_cut_v' => 4.25]),
        [],
    ],
    'a watched discharge' => fn(): array => [($r = whole([0.9, 0.9, 0.9, 0.9])), wholePlan('discharge', $r), []],
    'a senior answers for two days under the floor' => fn(): array => [
        Rig::of(lowGroup(1.3)),
        Rig::plan(['plan_v' => 1.3, 'below_floor_allowed' => true]),
        [],
    ],
]);

it('lets good work be', function (Rig $rig, RunPlan $plan, array $says): void {
    $rig->drive($plan, $says);
    expect($rig->run->ended()?->why->isGood())
        ->toBeTrue($rig->why() . ': ' . $rig->run->ended()?->text)
        ->and($rig->everOn())
        ->toBeTrue()
        ->and($rig->mostV)
        ->toBeLessThan($plan->kind === 'discharge' ? 16.5 : $plan->volts() + 0.02);
})->with('good work');

it('is the same run from its samples again', function (): void {
    $rig = Rig::of(lowGroup())->drive(Rig::plan(), [Said::of(900, 'pause'), Said::of(1900, 'resume')]);
    $again = new Heartwood\Core\Run\SupervisedRun(RunPlan::fromArray(json_decode((string) json_encode(Rig::plan()->toArray()), true)));
    $says = [Said::of(900, 'pause'), Said::of(1900, 'resume')];
    foreach ($rig->samples as $s) {
        while ($says !== [] && $says[0]->t <= $s->t) {
            $again->hear(array_shift($says));
        }
        $again->take($s);
    }
    expect(json_encode($again->view()))->toBe(json_encode($rig->run->view()));
});

it('goes on only with two rounds that agree and the set-points read back', function (): void {
    $rig = Rig::of(lowGroup())->drive(Rig::plan(), [], 0.02);
    expect($rig->orders[0])
        ->toBe(['t' => 0.0, 'on' => false, 'phase' => 'prove'])
        ->and($rig->orders[1]['t'])
        ->toBe(10.0)
        ->and($rig->orders[1]['on'])
        ->toBeTrue();
    $quick = Rig::of(lowGroup());
    $quick->dt = 1.0;
    expect($quick->drive(Rig::plan(), [], 0.01)->orders[1]['t'])->toBe(6.0);
});

/** The verb, from text. @param  array<string, mixed>  $more */
function watchFile(array $samples, array $more = []): array
{
    $in = $more + [
        'format' => 'heartwood.watch',
        'version' => 1,
        'kind' => 'recovery',
        'pack' => Rig::packData(),
        'group' => 1,
        'plan_v' => 2.3,
        'ambient_c' => 20,
        'target_v' => 3.7,
        'samples' => $samples,
    ];

    return Verbs::run('watch', (string) json_encode($in));
}

it('replays a run from a file and lists its orders as they change', function (): void {
    $s = fn(int $t, float $v, float $a, array $more = []): array => $more + [
        'at_s' => $t,
        'v' => $v,
        'a' => $a,
        'c' => 20.1,
        'set_v' => 4.2,
        'set_a' => 0.5,
    ];
    $out = watchFile([$s(0, 2.31, 0, ['set_v' => 0, 'set_a' => 0]), $s(5, 2.31, 0), $s(10, 2.31, 0), $s(15, 2.32, 0.5), $s(20, 2.32, 3.0)]);
    expect(array_column($out['orders'], 'output'))
        ->toBe(['off', 'on', 'off'])
        ->and(array_column($out['orders'], 'at_s'))
        ->toEqual([0, 10, 20])
        ->and($out['orders'][0])
        ->toMatchArray(['v' => 4.2, 'a' => 0.5, 'phase' => 'prove'])
        ->and($out['end'])
        ->toMatchArray(['at_s' => 20.0, 'why' => 'supply.over-current'])
        ->and(SchemaCheck::problems(json_decode((string) json_encode($out)), 'watch-result.schema.json'))
        ->toBe([]);
});

it('hears an event before a sample of the same second, and none that is later than the last', function (): void {
    $s = fn(int $t): array => ['at_s' => $t, 'v' => 2.31, 'a' => 0.0, 'c' => 20.1, 'set_v' => 4.2, 'set_a' => 0.5];
    $rows = array_map($s, [0, 5, 10]);
    expect(watchFile($rows, ['events' => [['at_s' => 10, 'do' => 'end']]])['end']['why'])
        ->toBe('person')
        ->and(watchFile($rows, ['events' => [['at_s' => 11, 'do' => 'end']]])['end'])
        ->toBeNull();
});

it('names what is wrong with its input, and where', function (array $more, string $pointer): void {
    try {
        watchFile([['at_s' => 0, 'v' => 2.3, 'a' => 0, 'c' => 20]], $more);
        $this->fail('nothing was said');
    } catch (InvalidRecord $e) {
        expect(array_column($e->problems, 'pointer'))->toContain($pointer);
    }
})->with([
    'a kind that is none' => [['kind' => 'boost'], '/kind'],
    'no group' => [['group' => null], '/group'],
    'a group the pack has not' => [['group' => 9], '/group'],
    'no capacity' => [['pack' => ['chemistry' => 'nmc', 'series' => 4]], '/pack/cell/capacity_ah'],
    'samples out of order' => [['samples' => [['at_s' => 5], ['at_s' => 1]]], '/samples/1/at_s'],
    'a word for a number' => [
        ['samples' => array_merge(array_fill(0, 30, ['at_s' => 1]), [['at_s' => 1, 'v' => 'much']])],
        '/samples/30/v',
    ],
    'a plan without volts' => [['events' => [['at_s' => 1, 'do' => 'plan']]], '/events/0/v'],
    'too few groups' => [['samples' => [['at_s' => 0, 'groups_v' => [3.7]]]], '/samples/0/groups_v'],
]);

it('lets a senior answer only for what the rules leave to one', function (?float $days, string $role, string $reason, bool $counts): void {
    expect(RunPlan::overrideCounts($days, $role, $reason))->toBe($counts);
})->with([
    'two days' => [2.0, 'senior', 'seen daily', true],
    'just under a week' => [6.99, 'senior', 'seen daily', true],
    'a week' => [7.0, 'senior', 'seen daily', false],
    'not known' => [null, 'senior', 'seen daily', false],
    'no days at all is not known' => [0.0, 'senior', 'seen daily', false],
    'a technician' => [2.0, 'technician', 'seen daily', false],
    'no reason' => [2.0, 'senior', ' ', false],
]);

it('watches on after an output that was on, though nobody read it in time while it was', function (): void {
    $end = function (bool $late): SupervisedRun {
        $run = new SupervisedRun(Rig::plan());
        $t = 0.0;
        // Proved, and switched on; the next reading comes two minutes later, and by then it is off again.
        for ($order = null; !($order?->on ?? false) && $t < 200.0; $t += 5.0) {
            $order = $run->take(Sample::of($t, 2.3, 0.0, 20.0, $order?->volts ?? 0.0, $order?->amps ?? 0.0));
        }
        expect($order->on)->toBeTrue();
        $order = $run->take(Sample::of($t + ($late ? 120.0 : 0.0), 2.31, 0.5, 20.0, $order->volts, $order->amps));
        expect($order->on)->toBe(!$late);
        $run->hear(Said::of($t + 125.0, 'end', null, 'test'));

        return $run;
    };
    foreach ([true, false] as $late) {
        $run = $end($late);
        expect($run->isOver())
            ->toBeTrue()
            ->and($run->isWatchedOut())
            ->toBeFalse()
            ->and($run->view()['after']['left_s'])
            ->toBeGreaterThan(1700.0);
    }
    // Never on, there is nothing to watch.
    $cold = new SupervisedRun(Rig::plan());
    $cold->take(Sample::of(0.0, 2.3, 0.0, 20.0));
    $cold->hear(Said::of(1.0, 'end', null, 'test'));
    expect($cold->isWatchedOut())->toBeTrue();
});
