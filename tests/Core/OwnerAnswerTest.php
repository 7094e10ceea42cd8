<?php

declare(strict_types=1);

use Heartwood\Core\Drift\Answer;
use Heartwood\Core\Drift\OwnerAnswer;
use Heartwood\Core\Drift\Point;
use Heartwood\Core\Drift\Sign;
use Heartwood\Core\Drift\Verdict;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Service\Glance;
use Tests\Core\DriftSeries as S;

/** @param  list<Point>  $before */
function told(
    Point $last,
    ?array $signs = null,
    ?float $packV = null,
    array $before = [],
    string $chemistry = 'nmc',
    int $series = 3,
): OwnerAnswer {
    $pack = S::pack($chemistry, $series);
    $no = array_fill_keys(array_column(Sign::cases(), 'value'), false);

    return OwnerAnswer::of($pack, Verdict::of($pack, S::ENDED, [...$before, $last]), $last, $packV, $signs ?? $no);
}
/** @param  list<float|null>|null  $groups */
function shown(
    ?array $groups,
    float $day = 7.0,
    string $condition = 'rest',
    ?float $soc = 0.6,
    ?float $high = null,
    ?float $low = null,
): Point {
    return new Point(S::at($day), $condition, $soc, $groups, $high, $low);
}
$codes = fn(OwnerAnswer $a): array => array_column($a->why, 'code');

it('says fine to a reading that compares, with no sign of harm, and when to read again', function () use ($codes): void {
    $a = told(shown([3.8, 3.801, 3.799]));
    expect($a->answer)->toBe(Answer::Fine)->and($codes($a))->toBe([])->and($a->againAt)->toBe(S::at(14));
    expect(told(shown(null, 7, 'rest', 0.6, 3.802, 3.798))->answer)->toBe(Answer::Fine);
});

it('stops at each sign alone, whatever was read', function (Sign $sign) use ($codes): void {
    $a = told(shown([3.8, 3.801, 3.799]), [$sign->value => true]);
    expect($a->answer)
        ->toBe(Answer::Stop)
        ->and($codes($a))
        ->toBe([$sign->value]);
})->with(Sign::cases());

it('stops over the board\'s high cut, and at rest under its low cut', function () use ($codes): void {
    $pack = S::pack('nmc', 3);
    $at = fn(float $v, string $condition): array => $codes(told(shown([$v, $v, $v], 7, $condition)));
    expect($at($pack->highCutV() + 0.001, 'full'))
        ->toBe(['over', 'over', 'over'])
        ->and($at($pack->highCutV(), 'full'))
        ->toBe([])
        ->and($at($pack->lowCutV() - 0.001, 'rest'))
        ->toBe(['under', 'under', 'under'])
        ->and($at($pack->lowCutV(), 'rest'))
        ->toBe([])
        // Under load it may sag there.
        ->and($at($pack->lowCutV() - 0.001, 'discharge'))
        ->toBe([]);
    $one = told(shown(null, 7, 'full', null, $pack->highCutV() + 0.01, 4.1));
    expect($one->why[0])
        ->toMatchArray(['code' => 'over', 'limit' => $pack->highCutV()])
        ->not->toHaveKey('group');
});

it('judges a pack by its volts alone where it shows no group', function () use ($codes): void {
    $pack = S::pack('nmc', 3);
    $at = fn(float $v): OwnerAnswer => told(shown(null, 7, 'rest', 0.6), null, $v);
    expect($codes($at(3 * $pack->highCutV() + 0.01)))
        ->toBe(['pack-over'])
        ->and($codes($at(3 * $pack->lowCutV() - 0.01)))
        ->toBe(['pack-under'])
        ->and($at(11.4)->answer)
        ->toBe(Answer::Again)
        ->and($codes($at(11.4)))
        ->toBe(['no-groups']);
});

it('stops when the groups are further apart than the pack may be used', function (string $chemistry, float $limit) use ($codes): void {
    $at = fn(float $apart): OwnerAnswer => told(shown([3.45, 3.45, 3.45 - $apart], 7, 'full', null), null, null, [], $chemistry);
    expect($codes($at($limit + 0.001)))
        ->toBe(['apart'])
        ->and($at($limit)->answer)
        ->toBe(Answer::Fine);
})->with(['nmc' => ['nmc', VerdictLimits::LAST_V], 'lfp' => ['lfp', VerdictLimits::LAST_PHOSPHATE_V]]);

it('stops what grows past its limit before it would be read again', function (): void {
    $grows = S::of([3.0, 7.0, 14.0, 21.0], 4.0, fn(): float => 0.0, 8.0, 0.001, 'rest', 5);
    $last = array_pop($grows);
    $a = told($last, null, null, $grows, 'nmc', 5);
    expect($a->answer)->toBe(Answer::Stop)->and($a->why[0]['code'])->toBe('grows');
    $slow = S::of([3.0, 7.0, 14.0, 30.0, 60.0, 90.0], 0.3, fn(): float => 0.0, 8.0, 0.001, 'rest', 5);
    $end = array_pop($slow);
    expect(told($end, null, null, $slow, 'nmc', 5)->answer)->toBe(Answer::Fine);
});

it('asks to read again where nobody looked, where it does not compare, and on the flat part of a curve', function () use ($codes): void {
    $even = [3.8, 3.801, 3.799];
    expect($codes(told(shown($even), [])))
        ->toBe(['not-looked'])
        ->and($codes(told(shown($even), ['swollen' => false])))
        ->toBe(['not-looked'])
        ->and($codes(told(shown($even, 0.5))))
        ->toBe(['not-comparable'])
        ->and($codes(told(shown($even, 7, 'discharge', null))))
        ->toBe(['not-comparable']);
    $v = S::plateauV();
    expect($codes(told(shown([$v, $v, $v], 7, 'rest', null), null, null, [], 'lfp')))->toBe(['flat']);
});

/** @param  array{float, float}|null  $halves */
function markedAnswer(Point $p, ?array $halves = null, ?float $packV = null): OwnerAnswer
{
    $pack = S::pack('nmc', 3);
    $no = array_fill_keys(array_column(Sign::cases(), 'value'), false);

    return OwnerAnswer::of($pack, Verdict::of($pack, S::ENDED, [$p]), $p, $packV, $no, Glance::of($pack, $p, $halves, $packV));
}

it('calls nothing fine whose mark lies beyond its band', function (float $spread, Answer $answer, array $why) use ($codes): void {
    $a = markedAnswer(shown([3.8, 3.8, 3.8 - $spread]));
    expect($a->answer)->toBe($answer)->and($codes($a))->toBe($why);
})->with([
    'just inside' => [0.099, Answer::Fine, []],
    'just beyond' => [0.101, Answer::Again, ['balance-soon']],
    'too far to be used' => [VerdictLimits::LAST_V + 0.001, Answer::Stop, ['apart']],
]);

it('stops at what a coarse check sees, and is never fine with it', function () use ($codes): void {
    $none = shown(null);
    $level = markedAnswer($none, [3.8, 7.6]);
    expect($level->answer)
        ->toBe(Answer::Again)
        ->and($codes($level))
        ->toBe(['no-groups']);
    // An odd pack of three: one group below, two above.
    $off = markedAnswer($none, [3.8, 7.25]);
    expect($off->answer)
        ->toBe(Answer::Stop)
        ->and($codes($off))
        ->toBe(['halves-off'])
        ->and($off->why[0]['limit'])
        ->toBe(0.3);
    expect($off->why[0]['v'])->toEqualWithDelta(0.35, 1e-9);
    $low = markedAnswer($none, packV: 10.2);
    expect($low->answer)
        ->toBe(Answer::Stop)
        ->and($codes($low))
        ->toBe(['whole-off']);
});
