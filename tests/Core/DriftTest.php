<?php

declare(strict_types=1);

use App\Contract\SchemaCheck;
use App\Contract\Verbs;
use Heartwood\Core\Drift\Comparable;
use Heartwood\Core\Drift\Point;
use Heartwood\Core\Drift\State;
use Heartwood\Core\Drift\Trend;
use Heartwood\Core\Limits\DriftLimits;
use Heartwood\Core\Maths\Normal;
use Heartwood\Core\Maths\TheilSen;
use Heartwood\Core\Record\InvalidRecord;
use Tests\Core\DriftSeries as S;

const WATCHED = [3.0, 7.0, 14.0, 30.0, 60.0, 90.0];

/** @return callable(): float the same noise each time: from a list, over and over */
function steadyNoise(float $mv): callable
{
    $i = 0;
    $list = [0.4, -0.7, 0.1, 0.9, -0.3, -0.9, 0.6, -0.1, 0.2, -0.5, 0.8];

    return function () use (&$i, $list, $mv): float {
        return $mv * $list[$i++ % count($list)];
    };
}
$still = fn(): float => 0.0;

/** @param  array<string, mixed>  $more */
function driftInput(array $points, array $more = []): string
{
    return (string) json_encode(
        $more + [
            'format' => 'heartwood.drift',
            'version' => 1,
            'pack' => ['name' => 'Post bike', 'kind' => 'e-bike', 'chemistry' => 'nmc', 'series' => 3],
            'work_ended_at' => S::ENDED,
            'points' => $points,
        ],
    );
}

it('has the slope of the middle pair, and an interval by Kendall\'s variance', function (): void {
    // Gilbert's worked example of Sen's estimator: n = 10 values, slopes ranked, 90 % interval.
    $t = [1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 7.0, 8.0, 9.0, 10.0];
    $y = [1.0, 2.1, 2.9, 4.2, 5.0, 5.8, 7.1, 7.9, 30.0, 10.1];
    $s = TheilSen::of($t, $y, 1.0);
    expect($s->mid)->toEqualWithDelta(1.01, 0.02)->and($s->low)->toBeBetween(0.9, 1.0)->and($s->high)->toBeBetween(1.0, 1.6);
    // 45 slopes; variance 125; 1.645 x 11.18 = 18.39: ranks 13.3 and 32.7.
    $slopes = [];
    foreach ($t as $i => $a) {
        foreach (array_slice($t, 0, $i) as $j => $b) {
            $slopes[] = ($y[$i] - $y[$j]) / ($a - $b);
        }
    }
    sort($slopes);
    expect($s->low)->toBeBetween($slopes[12], $slopes[13])->and($s->high)->toBeBetween($slopes[31], $slopes[32]);
});

it('takes the interval from the sigma of the values under four readings, and has none with one', function (): void {
    $few = TheilSen::of([0.0, 10.0], [0.0, 5.0], 2.0);
    // Sum of squares about the mean: 50.
    expect($few->mid)
        ->toBe(0.5)
        ->and($few->high - $few->mid)
        ->toEqualWithDelta((DriftLimits::Z_90 * 2.0) / sqrt(50.0), 1e-9)
        ->and($few->low)
        ->toEqualWithDelta(2 * $few->mid - $few->high, 1e-9)
        ->and(TheilSen::of([1.0], [1.0], 1.0))
        ->toBeNull()
        ->and(TheilSen::of([1.0, 1.0], [1.0, 2.0], 1.0))
        ->toBeNull();
    // Four exact ones: no width of their own, but never narrower than the display's steps.
    $line = fn(int $n): TheilSen => TheilSen::of(
        range(0.0, $n - 1.0),
        array_map(fn(float $x): float => 2 * $x, range(0.0, $n - 1.0)),
        5.0,
        0.3,
    );
    expect($line(DriftLimits::SEN_FROM)->high - 2.0)
        ->toEqualWithDelta((DriftLimits::Z_90 * 0.3) / sqrt(5.0), 1e-9)
        ->and($line(DriftLimits::SEN_FROM - 1)->high - 2.0)
        ->toEqualWithDelta((DriftLimits::Z_90 * 5.0) / sqrt(2.0), 1e-9);
});

it('compares readings of one condition and one charge, after the first day', function (): void {
    $point = fn(float $day, string $condition, ?float $soc, ?array $groups = [3.8, 3.81]): Point => new Point(
        S::at($day),
        $condition,
        $soc,
        $groups,
        null,
        null,
    );
    $day = DriftLimits::SETTLES_H / 24;
    $within = DriftLimits::SOC_WITHIN;
    $c = Comparable::of(S::pack('nmc', 2), (float) strtotime(S::ENDED), [
        $point(30, 'rest', 0.6),
        $point($day - 0.01, 'rest', 0.6),
        $point($day, 'rest', 0.6 + $within),
        $point(-1, 'rest', 0.6),
        $point(5, 'charge', 0.6),
        $point(7, 'rest', 0.6 + $within + 0.005),
        $point(9, 'rest', 0.6, [3.8, null]),
        $point(11, 'rest', 0.6 - $within),
        $point(12, 'rest', 0.6),
    ]);
    expect(array_map(fn(Point $p): string => $p->at, $c->points))
        ->toBe([S::at($day), S::at(11), S::at(12), S::at(30)])
        ->and(array_column($c->leftOut, 'at'))
        ->toBe([S::at(-1), S::at($day - 0.01), S::at(5), S::at(7), S::at(9)])
        ->and(array_column($c->leftOut, 'why'))
        ->toBe([
            'before the work was done',
            'within 24 h after the work: cells still settle',
            'read at another condition: charge, where most were read at rest',
            'at 66 % charge, where most were read at 60 %',
            'neither every group nor the highest and the lowest were read',
        ]);
});

it('knows the charge at the top and at rest from the curve, and of no other condition', function (): void {
    $two = fn(string $condition, array $a, array $b): int => count(
        Comparable::of(S::pack('nmc', 2), (float) strtotime(S::ENDED), [
            new Point(S::at(3), $condition, null, $a, null, null),
            new Point(S::at(9), $condition, null, $b, null, null),
        ])->points,
    );
    expect($two('full', [4.19, 4.18], [4.1, 4.0]))
        ->toBe(2)
        ->and($two('rest', [3.8, 3.8], [3.81, 3.8]))
        ->toBe(2)
        ->and($two('rest', [3.8, 3.8], [4.0, 4.0]))
        ->toBe(0)
        ->and($two('charge', [3.8, 3.8], [3.8, 3.8]))
        ->toBe(0);
});

it('says that a spread holds, grows or cannot be told', function (float $mvPerDay, array $days, State $state): void {
    expect(S::judge(S::of($days, $mvPerDay, steadyNoise(0.5)))->state)->toBe($state);
})->with([
    'still, over three months' => [0.0, WATCHED, State::Holds],
    'slow enough for a year' => [0.15, WATCHED, State::Holds],
    'over the limit within the year' => [0.5, WATCHED, State::Grows],
    'fast' => [3.0, [3.0, 7.0, 14.0, 21.0], State::Grows],
    'fast, of two readings' => [5.0, [3.0, 17.0], State::Grows],
    'still, of two readings in a week' => [0.0, [3.0, 7.0], State::CannotTell],
    'one reading' => [1.0, [3.0], State::CannotTell],
    'none' => [1.0, [], State::CannotTell],
]);

it('lets a spread hold up to the limit in a year, and not beyond', function () use ($still): void {
    // Exact readings of half a millivolt's thousandth: what is left is the slope.
    $days = [10.0, 20.0, 30.0, 40.0, 50.0, 60.0];
    $room = 1000 * DriftLimits::SPREAD_V - 8.0;
    $at = fn(float $slope): State => S::judge(S::of($days, $slope, $still, 8.0, 1e-6))->state;
    $most = $room / (60.0 + DriftLimits::HOLDS_D);
    expect($at($most - 0.002))->toBe(State::Holds)->and($at($most + 0.002))->toBe(State::Grows);
});

it('calls nothing growth that is slower than a tenth of a millivolt a day', function () use ($still): void {
    $days = [10.0, 20.0, 30.0, 40.0, 50.0, 60.0];
    $near = 1000 * DriftLimits::SPREAD_V - 1.0;
    $at = fn(float $slope): State => S::judge(S::of($days, $slope, $still, $near - 60 * $slope, 1e-6))->state;
    expect($at(DriftLimits::GROWS_MV_D + 0.003))->toBe(State::Grows)->and($at(DriftLimits::GROWS_MV_D - 0.003))->toBe(State::CannotTell);
});

it('forecasts when the limit is passed, early, likely and late in order', function (): void {
    $v = S::judge(S::of(WATCHED, 0.5, steadyNoise(0.5)));
    $r = $v->reaches();
    // 92 mV of room at half a millivolt a day: on day 184.
    expect($r['early'])
        ->toBeLessThanOrEqual($r['likely'])
        ->and($r['likely'])
        ->toBeLessThanOrEqual($r['late'])
        ->and((strtotime($r['likely']) - strtotime(S::ENDED)) / 86_400)
        ->toEqualWithDelta(184.0, 12.0);
    // Passed already: in the past, in order, never null while it grows.
    $past = S::judge(S::of(WATCHED, 2.0, steadyNoise(0.5)))->reaches();
    expect($past['early'])
        ->toBeLessThanOrEqual($past['likely'])
        ->and($past['likely'])
        ->toBeLessThanOrEqual($past['late'])
        ->and(strtotime($past['late']))
        ->toBeLessThan(strtotime(S::at(90)))
        ->and(S::judge(S::of(WATCHED, 0.0, steadyNoise(0.5)))->reaches())
        ->toBeNull();
});

it('gives no date that is further off than ten years', function (): void {
    // Two readings ten days apart cannot tell; the middle slope decides how far off the likely date is.
    $likely = function (float $slope): ?string {
        $point = fn(float $day): Point => new Point(S::at($day), 'rest', 0.6, null, 3.8 + 0.06 - ($slope * (13 - $day)) / 1000, 3.8);

        return S::judge([$point(3), $point(13)])->reaches()['likely'] ?? null;
    };
    $room = (1000 * DriftLimits::SPREAD_V - 60.0) / (DriftLimits::FAR_A * 365.25);
    expect($likely($room * 1.02))->not->toBeNull()->and($likely($room * 0.98))->toBeNull();
});

it('tells which group falls behind, and leaves the state to the spread', function (): void {
    $v = S::judge(S::of(WATCHED, 0.6, steadyNoise(0.5)));
    $by = array_column($v->toArray()['groups'], null, 'group');
    expect($by[4]['slope_mv_per_day']['mid'])
        ->toEqualWithDelta(-0.6, 0.05)
        ->and($by[4]['state'])
        ->toBe('grows')
        ->and($by[1]['state'])
        ->toBe('holds')
        ->and($by[1]['slope_mv_per_day']['mid'])
        ->toEqualWithDelta(0.0, 0.05);
});

it('is content with the highest and the lowest group', function (): void {
    $points = array_map(
        fn(Point $p): Point => new Point($p->at, 'rest', 0.6, null, max($p->groupsV), min($p->groupsV)),
        S::of(WATCHED, 0.5, steadyNoise(0.5)),
    );
    $v = S::judge($points);
    expect($v->state)->toBe(State::Grows)->and($v->groups)->toBe([])->and($v->toArray()['used'])->toBe(6);
});

it('does not say that it holds from the flat part of a curve, and asks for the top', function (): void {
    $flat = S::judge(S::of(WATCHED, 0.0, steadyNoise(0.5), 3.0, 0.001, 'rest', 10, S::plateauV()), 'lfp');
    $top = S::judge(S::of(WATCHED, 0.0, steadyNoise(0.5), 3.0, 0.001, 'full', 10, 3.45), 'lfp');
    expect($flat->state)
        ->toBe(State::CannotTell)
        ->and($flat->flat)
        ->toBeTrue()
        ->and($flat->notes[0])
        ->toContain('at the top of a full charge')
        ->and($top->state)
        ->toBe(State::Holds)
        ->and($top->flat)
        ->toBeFalse();
});

it('says at once that the last reading is over the limit', function (): void {
    $at = fn(float $mv): bool => S::judge(S::of([3.0], 0.0, fn(): float => 0.0, $mv))->over;
    expect($at(1000 * DriftLimits::SPREAD_V))
        ->toBeFalse()
        ->and($at(1000 * DriftLimits::SPREAD_V + 1.0))
        ->toBeTrue()
        ->and(S::judge(S::of([3.0, 9.0], 0.0, fn(): float => 0.0, 130.0))->notes[0])
        ->toContain('130 mV apart, 100 allowed');
});

it('is read next when that decides, else by the plan', function (): void {
    $day = fn(array $days, float $slope = 0.0): float => (strtotime(S::judge(S::of($days, $slope, steadyNoise(0.5)))->nextAt) -
        strtotime(S::ENDED)) /
        86_400;
    expect($day([]))
        ->toBe(3.0)
        ->and($day([3.0]))
        ->toBe(7.0)
        ->and($day([3.5]))
        ->toBe(7.0)
        // It holds: the plan goes on, and after its end every three months.
        ->and($day(WATCHED))
        ->toBe(180.0)
        ->and($day([3.0, 7.0, 14.0, 30.0], 3.0))
        ->toBe(90.0);
    // Two readings in a week cannot tell; the next is on the first day that would, were it on the line.
    $next = $day([3.0, 7.0]);
    $with = fn(float $d): Trend => S::judge(S::of([3.0, 7.0], 0.0, steadyNoise(0.5)))->spread->with($d, 1.633, 0.408);
    expect($next)
        ->toBeGreaterThan(7.0)
        ->and($with($next)->state())
        ->not->toBe(State::CannotTell)
        ->and($with($next - 1)->state())
        ->toBe(State::CannotTell);
});

it('answers as a verb, in the form that its schema says', function (): void {
    $point = fn(float $day, array $more): array => ['at' => S::at($day), 'condition' => 'rest'] + $more;
    $out = Verbs::run(
        'drift',
        driftInput([
            $point(3, ['groups_v' => [3.8, 3.802, 3.801]]),
            $point(20, ['highest_v' => 3.803, 'lowest_v' => 3.799, 'soc' => null, 'groups_v' => null]),
            $point(40, ['groups_v' => [3.8, 3.803, 3.801], 'resolution_v' => 0.001]),
            $point(0.5, ['groups_v' => [3.8, 3.802, 3.801]]),
        ]),
    );
    expect(SchemaCheck::problems(json_decode((string) json_encode($out)), 'drift-result.schema.json'))
        ->toBe([])
        ->and($out['used'])
        ->toBe(3)
        ->and($out['left_out'][0]['at'])
        ->toBe(S::at(0.5))
        ->and($out['spread']['limit_mv'])
        ->toBe(100);
    $one = Verbs::run('drift', driftInput([$point(3, ['groups_v' => [3.8, 3.802, 3.801]])]));
    expect($one['spread'])->toBeNull()->and($one['state'])->toBe('cannot-tell')->and($one['groups'])->toBe([]);
});

it('refuses by pointer what no reading can be', function (array $points, array $more, string $pointer): void {
    try {
        Verbs::run('drift', driftInput($points, $more));
        $problems = [];
    } catch (InvalidRecord $e) {
        $problems = array_column($e->problems, 'pointer');
    }
    expect($problems)->toContain($pointer);
})->with([
    'groups of another pack' => [[['at' => S::ENDED, 'condition' => 'rest', 'groups_v' => [3.8, 3.8]]], [], '/points/0/groups_v'],
    'the highest under the lowest' => [
        [['at' => S::ENDED, 'condition' => 'rest', 'highest_v' => 3.7, 'lowest_v' => 3.8]],
        [],
        '/points/0/highest_v',
    ],
    'an unknown condition' => [[['at' => S::ENDED, 'condition' => 'warm']], [], '/points/0/condition'],
    'no date' => [[['at' => 'yesterday', 'condition' => 'rest']], [], '/points/0/at'],
    'charge over one' => [[['at' => S::ENDED, 'condition' => 'rest', 'soc' => 60]], [], '/points/0/soc'],
    'another format' => [[], ['format' => 'heartwood.job'], '/format'],
    'no end of the work' => [[], ['work_ended_at' => null], '/work_ended_at'],
]);

it('has the numbers that the handbook gives', function (): void {
    expect([
        DriftLimits::SPREAD_V,
        DriftLimits::SETTLES_H,
        DriftLimits::SOC_WITHIN,
        DriftLimits::HOLDS_D,
        DriftLimits::GROWS_MV_D,
        DriftLimits::SEN_FROM,
        DriftLimits::FAR_A,
        DriftLimits::PLAN_D,
    ])->toBe([0.1, 24.0, 0.05, 365.0, 0.1, 4, 10.0, [3, 7, 14, 30, 90]]);
    // Nine tenths of a normal law lie within this of its middle.
    expect(2 * Normal::cumulative(DriftLimits::Z_90) - 1)->toEqualWithDelta(0.9, 0.0001);
});
