<?php

declare(strict_types=1);

use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Limits\LogLimits;
use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Limits\ProtocolLimits;
use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Protocol\ChargerOdds;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Cycle;
use Heartwood\Core\Protocol\Entry;
use Heartwood\Core\Protocol\Guided;
use Heartwood\Core\Protocol\Kind\ChargerTrial;
use Heartwood\Core\Protocol\Outcome;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Protocols;
use Heartwood\Core\Protocol\Step;
use Heartwood\Core\Protocol\StepKind;
use Heartwood\Core\Protocol\TypedGroups;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Work\Facts;
use Tests\Core\Bench;

/* Guided runs as they go at a bench: every time is told in minutes after the start. */

const RUN_BEGAN = 1777885260.0;

/**
 * @param  array<string, mixed>  $pack
 * @param  array<string, mixed>  $more  of the record
 * @param  list<array{0: string, 1: float, 2?: array<string, mixed>|null}>  $entries  step, minute, what was typed; null: left out
 * @param  list<array<string, mixed>>  $runs
 * @param  array<string, array<string, mixed>>  $proof
 */
function courseOf(
    array $entries = [],
    array $pack = [],
    array $more = [],
    ?Place $scope = null,
    float $now = 0.0,
    array $runs = [],
    array $proof = [],
): Course {
    $pack += ['series' => 4, 'parallel' => 2, 'cell' => ['capacity_ah' => 2.5, 'resistance_mohm' => 40]];
    $groups = array_fill(0, $pack['series'], $more['rest'] ?? 3.8);
    unset($more['rest']);
    $record = Bench::parse(Bench::record($groups, $pack, $more));

    return new Course(
        new Facts($record, runs: $runs),
        new PackEvidence($record),
        $scope ?? Place::pack(),
        RUN_BEGAN,
        array_map(
            fn(array $e, int $i): Entry => new Entry(
                $e[0],
                RUN_BEGAN + 60 * $e[1],
                $e[2] ?? [],
                array_key_exists(2, $e) && $e[2] === null,
                '',
                "e$i",
            ),
            $entries,
            array_keys($entries),
        ),
        RUN_BEGAN + 60 * $now,
        array_map(fn(array $p): Fields => new Fields($p), $proof),
    );
}

function protocolOf(string $code): Protocol
{
    return Protocols::of($code) ?? throw new InvalidArgumentException($code);
}

function cameTo(string $code, Course $course): Outcome
{
    $guided = Guided::of(protocolOf($code), $course);

    return protocolOf($code)->outcome($guided->course);
}

/** @return list<string> code and state of each step */
function statesOf(string $code, Course $course): array
{
    return array_map(fn(array $s): string => $s['step']->code . ' ' . $s['state'], Guided::of(protocolOf($code), $course)->steps);
}

const FULL = ['by_taper' => true];

const GAVE = ['measured_ah' => 4.7, 'rate_a' => 1.0, 'cutoff_v' => 2.5, 'ambient_c' => 22.0];

it('knows every guided run by its code, with steps whose codes differ and a next thing in words', function (Protocol $p): void {
    $course = courseOf(scope: $p->scope() === 'joint' ? Place::joint(2) : ($p->scope() === 'group' ? Place::group(2) : Place::pack()));
    $guided = Guided::of($p, $course);
    $codes = array_map(fn(array $s): string => $s['step']->code, $guided->steps);
    expect(Protocols::of($p->code())?->code())
        ->toBe($p->code())
        ->and(array_unique($codes))
        ->toBe($codes)
        ->and($codes)
        ->not->toBe([])
        ->and($guided->at)
        ->toBe(0)
        ->and($guided->complete)
        ->toBeFalse()
        ->and($guided->next())
        ->not->toBe('')
        ->and($p->title() !== '' && $p->why() !== '')
        ->toBeTrue();
    foreach ($guided->steps as $s) {
        $names = array_map(fn($f): string => $f->name, $s['step']->fields);
        expect(array_unique($names))
            ->toBe($names)
            ->and($s['step']->toArray()['fields'])
            ->toHaveCount(count($names));
    }
})->with(
    fn(): array => array_combine(
        array_map(fn(Protocol $p): string => $p->code(), Protocols::all()),
        array_map(fn(Protocol $p): array => [$p], Protocols::all()),
    ),
);

it('is the way of a test and of a check that want one', function (): void {
    expect(Protocols::for(TestKind::LoadStep)?->code())
        ->toBe('load-step')
        ->and(Protocols::for(TestKind::CapacityGroup)?->code())
        ->toBe('capacity')
        ->and(Protocols::for(TestKind::Flex))
        ->toBeNull()
        ->and(Protocols::proving(Check::HighCut)?->code())
        ->toBe('board-cut')
        ->and(Protocols::proving(Check::CauseNamed))
        ->toBeNull()
        ->and(Protocols::of('no-such-run'))
        ->toBeNull();
});

it('takes a step after the other, waits, and goes on where it was left', function (): void {
    expect(statesOf('capacity', courseOf()))
        ->toBe(['full next', 'rest later', 'discharge later'])
        ->and(statesOf('capacity', courseOf([['full', 60, FULL]], now: 61)))
        ->toBe(['full done', 'rest next', 'discharge later'])
        ->and(statesOf('capacity', courseOf([['full', 60, FULL]], now: 60 + ProtocolLimits::REST_MIN)))
        ->toBe(['full done', 'rest done', 'discharge next'])
        ->and(statesOf('capacity', courseOf([['full', 60, FULL], ['discharge', 400, GAVE]], now: 400)))
        ->toBe(['full done', 'rest done', 'discharge done']);
    $waiting = Guided::of(protocolOf('capacity'), courseOf([['full', 60, FULL]], now: 61));
    expect($waiting->waits())
        ->toBe(RUN_BEGAN + 60 * (60 + ProtocolLimits::REST_MIN))
        ->and($waiting->open('discharge')?->code)
        ->toBe('discharge')
        ->and($waiting->open('full'))
        ->toBeNull()
        ->and($waiting->complete)
        ->toBeFalse();
    $done = Guided::of(protocolOf('capacity'), courseOf([['full', 60, FULL], ['discharge', 400, GAVE]], now: 400));
    expect($done->complete)
        ->toBeTrue()
        ->and($done->at)
        ->toBeNull()
        ->and($done->open('discharge'))
        ->toBeNull()
        ->and($done->waits())
        ->toBeNull();
});

it('counts a capacity only when it was full, rested, slow, empty and temperate', function (
    array $entries,
    string $word,
    string $why,
): void {
    $came = cameTo('capacity', courseOf($entries, now: 999));
    expect($came->word)
        ->toBe($word)
        ->and(implode(' ', $came->reasons))
        ->toContain($why)
        ->and($came->tests[0]['measured_ah'])
        ->toBe($entries[1][2]['measured_ah'])
        ->and($came->tests[0]['started_full'])
        ->toBe($entries[0][2]['by_taper']);
})->with([
    'by the book' => [[['full', 60, FULL], ['discharge', 400, GAVE]], 'pass', ''],
    'worn' => [[['full', 60, FULL], ['discharge', 400, ['measured_ah' => 3.9] + GAVE]], 'fail', ''],
    'just not worn' => [[['full', 60, FULL], ['discharge', 400, ['measured_ah' => 5 * ProofLimits::CAPACITY_SHARE] + GAVE]], 'pass', ''],
    'not full' => [[['full', 60, ['by_taper' => false]], ['discharge', 400, GAVE]], 'cannot-tell', 'It was not full'],
    'not rested' => [
        [['full', 60, FULL], ['discharge', 60 + 282 + ProtocolLimits::REST_MIN - 1, GAVE]],
        'cannot-tell',
        'It rested only 29 min',
    ],
    'begun before it was full' => [[['full', 60, FULL], ['discharge', 90, GAVE]], 'cannot-tell', 'It rested not at all'],
    'rested just enough' => [[['full', 60, FULL], ['discharge', 60 + 282 + ProtocolLimits::REST_MIN, GAVE]], 'pass', ''],
    'too fast' => [[['full', 60, FULL], ['discharge', 400, ['rate_a' => 1.6] + GAVE]], 'cannot-tell', 'At 1.60 A'],
    'not empty' => [[['full', 60, FULL], ['discharge', 400, ['cutoff_v' => 3.1] + GAVE]], 'cannot-tell', 'over the cut-off'],
    'cold' => [[['full', 60, FULL], ['discharge', 400, ['ambient_c' => LogLimits::COLDEST_C - 1] + GAVE]], 'cannot-tell', 'At 14 degC'],
]);

it('asks for nothing that stands on record: a run at the supply, a log that was read in', function (): void {
    $run = [
        'kind' => 'charge',
        'group' => null,
        'started' => RUN_BEGAN + 60,
        'ended' => RUN_BEGAN + 3600,
        'good' => true,
        'text' => 'Tapered.',
    ];
    $log = [
        'kind' => 'capacity',
        'scope' => 'pack',
        'measured_ah' => 4.6,
        'rate_a' => 1.0,
        'started_full' => true,
        'at' => gmdate('c', (int) RUN_BEGAN + 30000),
    ];
    $course = courseOf(more: ['tests' => [$log]], now: 600, runs: [$run]);
    $guided = Guided::of(protocolOf('capacity'), $course);
    $came = protocolOf('capacity')->outcome($guided->course);
    expect($guided->complete)
        ->toBeTrue()
        ->and($came->word)
        ->toBe('pass')
        ->and($came->tests)
        ->toBe([])
        ->and($guided->steps[0]['entry']?->found)
        ->toContain('Tapered.');
    // Another group's fill is none of this one's; a fill of all of them is.
    $fill = fn(?int $k): ?int => Guided::of(
        protocolOf('capacity'),
        courseOf(scope: Place::group(2), now: 70, runs: [['kind' => 'balance', 'group' => $k] + $run]),
    )->at;
    expect($fill(1))->toBe(0)->and($fill(2))->toBe(1)->and($fill(null))->toBe(1);
    // What ended badly, or was read in before it began, answers nothing.
    $bad = ['good' => false] + $run;
    $old = ['at' => gmdate('c', (int) RUN_BEGAN - 60)] + $log;
    expect(Guided::of(protocolOf('capacity'), courseOf(more: ['tests' => [$old]], now: 600, runs: [$bad]))->at)->toBe(0);
});

/** @return list<array{string, float, array<string, mixed>}> a load step of four groups */
function loadStepped(string $at60, string $after = '3.790 3.790 3.790 3.790', array $more = []): array
{
    return [
        ['before', 0, ['groups_v' => '3.800 3.800 3.800 3.800']],
        ['at-10', 2, null],
        ['at-60', 3, ['groups_v' => $at60, 'current_a' => 5.0] + $more],
        ['after', 5, ['groups_v' => $after]],
    ];
}

it('tells by a load step which group sags, and which stays down', function (array $entries, string $word, string $why): void {
    $came = cameTo('load-step', courseOf($entries, now: 9));
    expect($came->word)->toBe($word)->and(implode(' ', $came->reasons))->toContain($why)->and($came->tests)->toBe([]);
})->with([
    'even' => [loadStepped('3.700 3.700 3.698 3.702'), 'pass', ''],
    'a weak one' => [loadStepped('3.700 3.700 3.600 3.700'), 'fail', 'Group 3 sags 200 mV, the middle one 100 mV: +20.0 mohm.'],
    'just within' => [loadStepped('3.700 3.700 3.685 3.700'), 'pass', ''],
    'just beyond' => [loadStepped('3.700 3.700 3.684 3.700'), 'fail', 'Group 3'],
    'read from B-' => [loadStepped('3.700 7.400 11.000 14.700'), 'fail', 'Group 3 sags 200 mV'],
    'stays down' => [loadStepped('3.700 3.700 3.700 3.700', '3.790 3.779 3.790 3.790'), 'fail', 'Group 2 stays 11 mV'],
    'stays just within' => [loadStepped('3.700 3.700 3.700 3.700', '3.790 3.780 3.790 3.790'), 'pass', ''],
    'moved meanwhile' => [loadStepped('3.700 3.700 3.700 3.700', more: ['again_v' => 3.689]), 'cannot-tell', 'The first group moved 11 mV'],
    'hardly moved' => [loadStepped('3.700 3.700 3.700 3.700', more: ['again_v' => 3.691]), 'pass', ''],
    'one unread' => [loadStepped('3.700 - 3.700 3.700'), 'cannot-tell', 'group 2'],
    'under the low cut' => [loadStepped('2.700 2.700 2.700 2.700'), 'fail', 'under the low cut'],
]);

it('makes a reading into a set of the record, in the direction of its current', function (): void {
    $course = courseOf();
    $step = array_values(array_filter(protocolOf('load-step')->steps($course), fn(Step $s): bool => $s->code === 'at-60'))[0];
    $set = protocolOf('load-step')->set($course, $step, new Fields(['groups_v' => '3.70 7,40 - 14.80', 'current_a' => 5.0]));
    expect($set)
        ->toBe([
            'set' => ['condition' => 'discharge', 'current_a' => -5.0, 'since_current_s' => ProtocolLimits::LOAD_S],
            'readings' => [
                ['from' => 'T0', 'to' => 'T1', 'typed' => '3.70'],
                ['from' => 'T0', 'to' => 'T2', 'typed' => '7,40'],
                ['from' => 'T0', 'to' => 'T4', 'typed' => '14.80'],
            ],
        ])
        ->and(protocolOf('insulation')->set($course, protocolOf('insulation')->steps($course)[1], new Fields([])))
        ->toBeNull();
});

it('tells volts across each group from volts from B-, dead groups and missing ones included', function (string $typed, array $volts): void {
    $read = TypedGroups::of($typed, Chemistry::Nmc)->volts;
    foreach ($volts as $i => $v) {
        expect($read[$i] === null ? null : round($read[$i], 3))->toBe($v);
    }
})->with([
    ['3.81 3.80 3.79 3.82', [3.81, 3.8, 3.79, 3.82]],
    ['3.81 7.61 11.40 15.22', [3.81, 3.8, 3.79, 3.82]],
    ['0.01 0.02 3.95 3.97', [0.01, 0.02, 3.95, 3.97]],
    ['3.81 - 11.40 15.22', [3.81, null, null, 3.82]],
    ["3.81;3.80\n3.79\t3.82", [3.81, 3.8, 3.79, 3.82]],
]);

it('names the field and the mend of what cannot be taken', function (
    string $code,
    string $step,
    array $values,
    string $field,
    string $mend,
): void {
    $course = courseOf([['bench', 1, ['cells' => '4S', 'cut_v' => 4.2]], ['modes', 2, ['modes' => 'slow, fast']]]);
    $p = protocolOf($code);
    $found = array_values(array_filter($p->steps($course), fn(Step $s): bool => $s->code === $step))[0];
    expect($p->problems($course, $found, $values)[$field] ?? '')->toContain($mend);
})->with([
    'missing' => ['capacity', 'discharge', ['rate_a' => 1, 'cutoff_v' => 2.7, 'ambient_c' => 20], 'measured_ah', 'needed here'],
    'no number' => ['capacity', 'discharge', ['measured_ah' => 'much'] + GAVE, 'measured_ah', 'Type a number'],
    'another unit' => ['capacity', 'discharge', ['cutoff_v' => 2750.0] + GAVE, 'cutoff_v', 'Between -1 and 5.5'],
    'too few groups' => ['load-step', 'before', ['groups_v' => '3.8 3.8 3.8'], 'groups_v', 'each of the 4 groups'],
    'a word among them' => ['load-step', 'before', ['groups_v' => '3.8 x 3.8 3.8'], 'groups_v', 'group 2, "x"'],
    'none of them' => ['load-step', 'before', ['groups_v' => '- - - -'], 'groups_v', 'At least one'],
    'an unknown field' => ['load-step', 'before', ['groups_v' => '3.8 3.8 3.8 3.8', 'colour' => 'red'], 'colour', 'does not ask'],
    'no yes and no' => ['capacity', 'full', ['by_taper' => 'perhaps'], 'by_taper', 'yes or no'],
    'no such choice' => ['full-charge', 'end', ['stopped_by' => 'rain'], 'stopped_by', 'charger, bms, person'],
    'too much for a group' => ['refill', 'took', ['ah' => '0.1 0.1 9.0 0.1'], 'ah', 'Group 3: between 0 and 5'],
    'current of none' => ['joint-again', 'read', ['mv' => 12, 'current_a' => 0.0], 'current_a', 'Without a current'],
    'a board that protects nothing' => ['charger-trial', 'bench', ['cells' => '4S', 'cut_v' => 4.5], 'cut_v', 'protects nothing'],
    'alone and unguarded' => [
        'charger-trial',
        'begin-1',
        [
            'mode' => 'slow',
            'selected_by' => 'itself',
            'from' => 'half',
            'cold' => true,
            'attended' => false,
            'guards' => ['fire-safe place'],
        ],
        'guards',
        'second cut-off proved today',
    ],
]);

it('lets a night begin with every guard, and takes numbers that were typed with a comma', function (): void {
    $course = courseOf([['bench', 1, ['cells' => '4S', 'cut_v' => 4.2]], ['modes', 2, ['modes' => 'slow, fast']]]);
    $p = protocolOf('charger-trial');
    $begin = $p->steps($course)[2];
    $set = [
        'mode' => 'slow',
        'selected_by' => 'itself',
        'from' => 'half',
        'cold' => true,
        'attended' => false,
        'guards' => ChargerTrial::GUARDS,
    ];
    expect($p->problems($course, $begin, $set))
        ->toBe([])
        ->and($p->problems($course, $begin, ['attended' => true, 'guards' => []] + $set))
        ->toBe([])
        ->and(Protocol::typed($p->steps($course)[0], ['cells' => ' 4S ', 'cut_v' => '4,25', 'more' => 1]))
        ->toBe(['cells' => '4S', 'cut_v' => 4.25]);
});

/** @return list<array{string, float, array<string, mixed>}> rows every so many minutes, the last so long before the end */
function rowsWatched(array $rows, float $every = 5.0, float $tail = 0.4, string $by = 'charger'): array
{
    $out = [];
    foreach ($rows as $i => $volts) {
        $out[] = ['watch', $i * $every, ['groups_v' => $volts, 'current_a' => 0.5]];
    }
    $out[] = ['end', (count($rows) - 1) * $every + $tail, ['stopped_by' => $by, 'after_ah' => 2.1]];

    return $out;
}

it('tells who ended a watched charge, which group was there first, and when nobody looked', function (
    array $entries,
    string $word,
    string $why,
): void {
    $course = courseOf($entries, now: 99);
    $came = cameTo('full-charge', $course);
    expect($came->word)
        ->toBe($word)
        ->and($came->text . ' ' . implode(' ', $came->reasons))
        ->toContain($why)
        ->and($came->tests[0]['stopped_by'])
        ->toBe($entries[count($entries) - 1][2]['stopped_by'])
        ->and($came->tests[0]['after_ah'])
        ->toBe(2.1);
})->with([
    'by the charger' => [
        rowsWatched(['4.0 4.0 4.0 4.0', '4.10 4.12 4.10 4.10', '4.150 4.180 4.150 4.150']),
        'pass',
        'Group 2 was there first, 30 mV ahead',
    ],
    'by the board' => [rowsWatched(['4.0 4.0 4.0 4.0', '4.0 4.19 4.0 4.0'], by: 'bms'), 'fail', 'The board stopped it'],
    'by a hand' => [rowsWatched(['4.0 4.0 4.0 4.0', '4.0 4.1 4.0 4.0'], by: 'person'), 'cannot-tell', 'A person ended it'],
    'not looked' => [rowsWatched(['4.0 4.0 4.0 4.0', '4.1 4.1 4.1 4.1'], 12), 'cannot-tell', '12 min went by'],
    'looked just enough' => [rowsWatched(['4.0 4.0 4.0 4.0', '4.1 4.1 4.1 4.1'], ProtocolLimits::EVERY_MIN + 1), 'pass', ''],
    'end not seen' => [rowsWatched(['4.0 4.0 4.0 4.0', '4.1 4.1 4.1 4.1'], 5, 4), 'cannot-tell', 'which group ended it is not seen'],
    'past full' => [rowsWatched(['4.0 4.0 4.0 4.0', '4.0 4.31 4.0 4.0']), 'fail', 'Group 2 went to 4.310 V'],
]);

it('takes a charge that was watched at the supply for its own, typed by nobody and told once', function (): void {
    $at = fn(float $min): string => gmdate('Y-m-d\\TH:i:s\\Z', (int) (RUN_BEGAN + 60 * $min));
    $test = fn(float $min, array $more = []): array => $more + [
        'kind' => 'charge',
        'stopped_by' => 'charger',
        'after_ah' => 2.1,
        'groups_v' => [4.15, 4.18, 4.15, 4.15],
        'at' => $at($min),
    ];
    $course = fn(array $t): Course => courseOf(more: ['tests' => [$t]], now: 99);
    $came = cameTo('full-charge', $course($test(60)));
    expect(Guided::of(protocolOf('full-charge'), $course($test(60)))->complete)
        ->toBeTrue()
        ->and($came->word)
        ->toBe('pass')
        ->and($came->text)
        ->toContain('Group 2 was there first, 30 mV ahead')
        ->and($came->tests)
        ->toBe([])
        ->and(cameTo('full-charge', $course($test(60, ['groups_v' => [4.15, null, 4.15, 4.15]])))->word)
        ->toBe('cannot-tell')
        // What was charged before it began is another charge.
        ->and(Guided::of(protocolOf('full-charge'), $course($test(-5)))->at)
        ->toBe(0);
});

it('keeps rows open until it is said how it ended', function (): void {
    $course = courseOf([['watch', 0, ['groups_v' => '4.0 4.0 4.0 4.0', 'current_a' => 0.5]]], now: 3);
    $guided = Guided::of(protocolOf('full-charge'), $course);
    expect($guided->at)
        ->toBe(0)
        ->and($guided->steps[0]['rows'])
        ->toHaveCount(1)
        ->and($guided->open('watch')?->kind)
        ->toBe(StepKind::Log)
        ->and($guided->open('end')?->code)
        ->toBe('end')
        ->and(statesOf('full-charge', courseOf(rowsWatched(['4.0 4.0 4.0 4.0']), now: 9)))
        ->toBe(['watch done', 'end done']);
});

it('tells by a watched discharge which group is empty first, and a board that lets it sink', function (): void {
    $rows = fn(string $last, string $by): Outcome => cameTo(
        'full-discharge',
        courseOf(rowsWatched(['3.5 3.5 3.5 3.5', $last], by: $by), now: 99),
    );
    expect($rows('3.1 3.1 2.7 3.1', 'bms')->word)
        ->toBe('pass')
        ->and($rows('3.1 3.1 2.7 3.1', 'bms')->text)
        ->toContain('Group 3 was empty first, 400 mV under the next')
        ->and($rows('3.1 3.1 2.7 3.1', 'bms')->tests[0]['current_a'])
        ->toBe(-0.5)
        ->and($rows('3.3 3.3 3.2 3.3', 'person')->word)
        ->toBe('cannot-tell')
        ->and($rows('3.1 3.1 1.2 3.1', 'bms')->word)
        ->toBe('fail');
});

/** @return list<array{string, float, array<string, mixed>}> */
function heldHold(string $first, string $second, float $hours = 24, float $ended = 8): array
{
    return [['ended', 0, ['hours' => $ended]], ['first', 1, ['groups_v' => $first]], ['again-1', 1 + 60 * $hours, ['groups_v' => $second]]];
}

it('passes, rejects or cannot tell a hold by what a group loses beyond the others', function (
    array $entries,
    ?Place $scope,
    string $word,
): void {
    expect(cameTo('hold', courseOf($entries, scope: $scope, now: 99999))->word)->toBe($word);
})->with([
    'one leaks' => [heldHold('3.800 3.800 3.800 3.800', '3.798 3.798 3.781 3.798'), null, 'fail'],
    'another leaks' => [heldHold('3.800 3.800 3.800 3.800', '3.798 3.798 3.781 3.798'), Place::group(3), 'fail'],
    'too early' => [heldHold('3.800 3.800 3.800 3.800', '3.799 3.799 3.799 3.799', 6), null, 'cannot-tell'],
    'a coarse meter' => [heldHold('3.80 3.80 3.80 3.80', '3.80 3.80 3.80 3.80', 400), null, 'cannot-tell'],
    'it holds' => [heldHold('3.800 3.800 3.800 3.800', '3.796 3.796 3.796 3.796', 400), Place::group(3), 'pass'],
]);

it('goes on asking for a reading until a hold can be told, and not after', function (): void {
    $early = Guided::of(protocolOf('hold'), courseOf(heldHold('3.800 3.800 3.800 3.800', '3.799 3.799 3.799 3.799', 12), now: 800));
    expect($early->complete)
        ->toBeTrue()
        ->and($early->steps[count($early->steps) - 1]['step']->code)
        ->toBe('again-2')
        ->and($early->waits())
        ->toBeGreaterThan(RUN_BEGAN + 60 * (1 + 12 * 60));
    $leaks = Guided::of(
        protocolOf('hold'),
        courseOf(heldHold('3.800 3.800 3.800 3.800', '3.798 3.798 3.781 3.798'), scope: Place::group(3), now: 9999),
    );
    expect($leaks->at)->toBeNull();
});

it('takes a leak from what a second filling took, and from a week on', function (string $ah, float $days, string $word): void {
    $entries = [['filled', 0, []], ['took', 1440 * $days, ['ah' => $ah]]];
    $came = cameTo('refill', courseOf($entries, ['chemistry' => 'lfp'], ['rest' => 3.3], now: 99999));
    expect($came->word)->toBe($word)->and($came->tests)->toHaveCount(4)->and($came->tests[0]['days'])->toBe(round($days, 2));
})->with([
    'even' => ['0.05 0.05 0.05 0.05', 10, 'pass'],
    'one leaks' => ['0.05 0.05 0.35 0.05', 10, 'fail'],
    'too early' => ['0.05 0.05 0.05 0.05', ProtocolLimits::REFILL_DAYS - 0.1, 'cannot-tell'],
    'a week' => ['0.05 0.05 0.05 0.05', ProtocolLimits::REFILL_DAYS, 'pass'],
    'on the edge' => ['0.05 0.05 0.2175 0.05', 10, 'cannot-tell'],
]);

it('sends a hold on phosphate to the refill', function (): void {
    $needs = fn(string $chemistry): array => array_filter(
        protocolOf('hold')->needs(courseOf(pack: ['chemistry' => $chemistry], more: ['rest' => 3.3])),
        fn($n): bool => $n->met === false,
    );
    expect(array_values($needs('lfp'))[0]->room)->toContain('refill')->and($needs('nmc'))->toBe([]);
});

it('wakes a board by one action after another, and stops at the first that works', function (): void {
    $entries = [['try-charger-pulse', 1, ['output_v' => 0.4]], ['try-button', 2, ['output_v' => 15.1]]];
    $came = cameTo('wake', courseOf($entries, now: 3));
    expect(statesOf('wake', courseOf()))
        ->toBe(['try-charger-pulse next'])
        ->and(statesOf('wake', courseOf($entries, now: 3)))
        ->toBe(['try-charger-pulse done', 'try-button done'])
        ->and($came->word)
        ->toBe('pass')
        ->and($came->text)
        ->toBe('Woken by: button')
        ->and($came->tests)
        ->toBe([['kind' => 'wake', 'action' => 'charger-pulse', 'woke' => false], ['kind' => 'wake', 'action' => 'button', 'woke' => true]])
        ->and(cameTo('wake', courseOf([['try-charger-pulse', 1, null]]))->word)
        ->toBe('cannot-tell');
});

/** @return list<array{string, float, array<string, mixed>}> */
function relearned(float $after, float $topMin = 121, float $bottomMin = 301, bool $full = true): array
{
    return [
        ['before', 0, ['full_charge_wh' => 20.0, 'design_wh' => 80.0]],
        ['full', 100, ['by_taper' => $full]],
        ['load-on', 100 + $topMin],
        ['down', 500, ['measured_ah' => 4.6, 'wh' => 66.0, 'at_end' => 0.0]],
        ['charger-on', 500 + $bottomMin],
        ['full-again', 1100, FULL],
        ['after', 1101, ['full_charge_wh' => $after]],
    ];
}

it('holds a taught gauge against what the cells gave, and wants its rests', function (array $entries, string $word): void {
    $came = cameTo('gauge-relearn', courseOf($entries, now: 2000));
    expect($came->word)
        ->toBe($word)
        ->and($came->text)
        ->toContain('Before it was -70 %')
        ->and($came->tests[1]['measured_ah'])
        ->toBe(4.6)
        ->and($came->proof['gauge']['sane'])
        ->toBe($word !== 'fail');
})->with([
    'learnt' => [relearned(65.0), 'pass'],
    'stale still' => [relearned(55.0), 'fail'],
    'no rest at the top' => [relearned(65.0, ProtocolLimits::GAUGE_FULL_MIN - 1), 'cannot-tell'],
    'just rested at the top' => [relearned(65.0, ProtocolLimits::GAUGE_FULL_MIN), 'pass'],
    'no rest at the bottom' => [relearned(65.0, bottomMin: ProtocolLimits::GAUGE_EMPTY_MIN - 1), 'cannot-tell'],
    'just rested at the bottom' => [relearned(65.0, bottomMin: ProtocolLimits::GAUGE_EMPTY_MIN), 'pass'],
    'never full' => [relearned(65.0, full: false), 'cannot-tell'],
]);

it('holds a joint against what it had, against millivolts and against heat', function (
    float $mv,
    float $amps,
    array $tests,
    string $word,
): void {
    $entries = [['look', 1], ['read', 2, ['mv' => $mv, 'current_a' => $amps]]];
    $came = cameTo('joint-again', courseOf($entries, more: ['tests' => $tests], scope: Place::joint(2), now: 3));
    expect($came->word)
        ->toBe($word)
        ->and($came->tests[0]['where'])
        ->toBe(['joint' => 2])
        ->and($came->tests[0]['drop_v'])
        ->toBe($mv / 1000);
})->with([
    'good' => [9.0, 30.0, [], 'pass'],
    'just under' => [20.0, 20.0, [], 'pass'],
    'over' => [20.1, 20.0, [], 'fail'],
    'hot' => [19.0, 30.0, [], 'fail'],
    'came back' => [
        9.0,
        30.0,
        [['kind' => 'continuity', 'element' => 'joint', 'where' => ['joint' => 2], 'drop_v' => 0.003, 'current_a' => 30.0]],
        'fail',
    ],
    'as it was' => [
        9.0,
        30.0,
        [['kind' => 'continuity', 'element' => 'joint', 'where' => ['joint' => 2], 'drop_v' => 0.009, 'current_a' => 30.0]],
        'pass',
    ],
]);

it('holds the worse end of the insulation against its limit', function (): void {
    $read = fn(float $plus, float $minus): Outcome => cameTo(
        'insulation',
        courseOf([['apart', 1], ['read', 2, ['plus_mohm' => $plus, 'minus_mohm' => $minus]]], now: 3),
    );
    expect($read(200.0, 50.0)->word)
        ->toBe('pass')
        ->and($read(200.0, ProofLimits::INSULATION_MOHM)->word)
        ->toBe('fail')
        ->and($read(0.4, 200.0)->reasons[0])
        ->toContain('B+')
        ->and($read(0.4, 200.0)->tests)
        ->toBe([['kind' => 'insulation', 'mohm' => 0.4]]);
});

it('holds the cuts of a board against its own sheet, or says to look into it', function (
    array $board,
    float $high,
    float $low,
    string $word,
): void {
    $entries = [['input', 1], ['high', 2, ['v' => $high]], ['low', 3, ['v' => $low]], ['plug', 4]];
    $came = cameTo('board-cut', courseOf($entries, $board === [] ? [] : ['bms' => $board], now: 5));
    expect($came->word)
        ->toBe($word)
        ->and($came->proof)
        ->toBe(['board-high-cut' => ['v' => $high], 'board-low-cut' => ['v' => $low]]);
})->with([
    'as its sheet says' => [['high_cut_v' => 4.22, 'low_cut_v' => 2.9], 4.24, 2.93, 'pass'],
    'just off' => [['high_cut_v' => 4.22, 'low_cut_v' => 2.9], 4.275, 2.9, 'fail'],
    'unknown, usual' => [[], 4.25, 2.8, 'pass'],
    'unknown, odd' => [[], 4.1, 2.8, 'cannot-tell'],
]);

it('does not charge a build at its full current before it was seen to cut, checked and watched', function (): void {
    $pin = ['kind' => 'pin-check', 'pins_v' => [0.0, 3.8, 7.6, 11.4, 15.2], 'at' => '2026-05-04T09:00:00Z'];
    $met = fn(Course $c): array => array_map(fn($n): ?bool => $n->met, protocolOf('first-charge')->needs($c));
    expect($met(courseOf()))
        ->toBe([true, true, false, false])
        ->and($met(courseOf(more: ['tests' => [$pin]], proof: ['board-high-cut' => ['v' => 4.22]])))
        ->toBe([true, true, true, true]);
    $rows = [
        ['joints', 0],
        ['watch', 1, ['groups_v' => '4.0 4.0 4.0 4.0', 'current_a' => 0.5]],
        ['end', 2, ['stopped_by' => 'charger']],
        ['level', 30, ['top_v' => '4.180 4.170 4.180 4.180']],
        ['full-current', 60, ['amps' => 20.0, 'room_c' => 20.0, 'place_c' => 33.0]],
    ];
    $bent = fn(int $i, array $values): Outcome => cameTo(
        'first-charge',
        courseOf(array_replace($rows, [$i => [$rows[$i][0], $rows[$i][1], $values]]), now: 99),
    );
    expect(cameTo('first-charge', courseOf($rows, now: 99))->word)
        ->toBe('pass')
        ->and($bent(3, ['top_v' => '4.180 4.145 4.180 4.180'])->word)
        ->toBe('fail')
        ->and($bent(3, ['top_v' => '4.180 - 4.180 4.180'])->word)
        ->toBe('cannot-tell')
        ->and($bent(4, ['amps' => 20.0, 'room_c' => 20.0, 'place_c' => 20.0 + RunLimits::DISCHARGE_OVER_AMBIENT_K + 1])->word)
        ->toBe('fail');
    $step = array_values(array_filter(protocolOf('first-charge')->steps(courseOf()), fn(Step $s): bool => $s->code === 'watch'))[0];
    $at = fn(float $amps): array => protocolOf('first-charge')->problems(courseOf(), $step, [
        'groups_v' => '4 4 4 4',
        'current_a' => $amps,
    ]);
    expect($at(0.54))->toBe([])->and($at(0.56))->toHaveKey('current_a');
});

it('lets nothing low be charged, nothing empty be discharged and nothing unread begin', function (): void {
    $met = fn(string $code, float $rest): array => array_map(
        fn($n): ?bool => $n->met,
        protocolOf($code)->needs(courseOf(more: ['rest' => $rest])),
    );
    $profile = Chemistry::Nmc->profile();
    expect($met('full-charge', $profile->prechargeV + 0.01))
        ->toBe([true, true])
        ->and($met('full-charge', $profile->prechargeV - 0.01))
        ->toBe([true, false])
        ->and($met('full-discharge', $profile->boardLowV + 0.01))
        ->toBe([true, true])
        ->and($met('full-discharge', $profile->boardLowV))
        ->toBe([true, false]);
    $unread = courseOf(more: ['measurements' => [['readings' => array_fill(0, 5, ['from' => 'T0', 'to' => 'T1', 'v' => 3.8])]]]);
    expect(protocolOf('load-step')->needs($unread)[0]->met)->toBeFalse();
});

/** @param  array<string, mixed>  $end */
function cycleOf(array $end = [], array $begin = []): Cycle
{
    return new Cycle(
        new Fields($begin + ['mode' => 'slow', 'selected_by' => 'short-press', 'from' => 'half', 'cold' => false]),
        new Fields(
            $end + [
                'hours' => 3.0,
                'open_v' => 14.6,
                'end_v' => 14.6,
                'highest_group_v' => 3.65,
                'stages' => ['cc', 'cv'],
                'mode_after' => 'slow',
                'board_cut' => false,
                'mains_lost' => false,
                'fault_seen' => false,
            ],
        ),
    );
}

it('never acquits a charger, says how much the clean cycles say, and what was not tried', function (): void {
    $entries = [['bench', 1, ['cells' => '4S', 'cut_v' => 3.75]], ['modes', 2, ['modes' => 'slow, fast, slow']]];
    foreach ([1, 2, 3] as $i) {
        $c = cycleOf();
        $entries[] = [
            "begin-$i",
            10 * $i,
            ['mode' => 'slow', 'selected_by' => 'short-press', 'from' => 'half', 'cold' => false, 'attended' => true],
        ];
        $entries[] = [
            "end-$i",
            10 * $i + 5,
            ['hours' => 3.0, 'stages' => ['cc'], 'mode_after' => 'slow', 'board_cut' => false, 'fault_seen' => false],
        ];
    }
    $course = courseOf($entries, ['chemistry' => 'lfp'], ['rest' => 3.3], now: 99);
    $came = cameTo('charger-trial', $course);
    expect($came->word)
        ->toBe('cannot-tell')
        ->and($came->text)
        ->toBe('Not replicated in 3 trial cycles: under 63 % a cycle (95 %), which is no acquittal')
        ->and($came->reasons[1])
        ->toBe('Not tried: mode "fast", from empty, from full, a whole night, mains lost in mid-charge, a cold start.')
        ->and($came->tests[0]['cycles'])
        ->toHaveCount(3)
        ->and(Guided::of(protocolOf('charger-trial'), $course)->complete)
        ->toBeTrue();
    // A cycle that was begun and has not ended is under way.
    $begun = courseOf([...$entries, ['begin-4', 60, ['mode' => 'fast', 'attended' => true]]], now: 99);
    expect(Guided::of(protocolOf('charger-trial'), $begun)->complete)->toBeFalse();
});

it('calls a fault in a trial a fault', function (array $end, bool $fault, string $said): void {
    $c = cycleOf($end);
    expect($c->fault())->toBe($fault)->and($c->said())->toContain($said);
})->with([
    [[], false, 'nothing that it must not'],
    [['fault_seen' => true], true, 'the fault was seen'],
    [['board_cut' => true], true, 'the board had to cut'],
    [['stages' => ['cc', 'equalise']], true, 'equalise'],
    [['mode_after' => 'fast', 'mains_lost' => true], true, 'the mains were lost'],
]);

it('covers a night from its hours on', function (float $hours, bool $night): void {
    expect(cycleOf(['hours' => $hours])->overnight())->toBe($night);
})->with([[ProtocolLimits::OVERNIGHT_H, true], [ProtocolLimits::OVERNIGHT_H - 0.1, false]]);

it('weighs the causes by what the trial showed', function (): void {
    $odds = fn(array $cycles, array $proof = [], array $more = []): array => array_column(
        ChargerOdds::of($cycles, courseOf(more: $more)->record, array_map(fn(array $p): Fields => new Fields($p), $proof))->causes,
        'share',
        'cause',
    );
    $none = $odds([]);
    $clean = $odds([cycleOf(), cycleOf(), cycleOf()]);
    expect(array_sum($none))
        ->toEqualWithDelta(1.0, 1e-9)
        ->and(array_sum($clean))
        ->toEqualWithDelta(1.0, 1e-9)
        ->and($clean['wrong-profile'])
        ->toBeLessThan($none['wrong-profile'])
        ->and($clean['mode-slipped'])
        ->toBeGreaterThan($none['mode-slipped'])
        ->and(array_key_first($odds([cycleOf(['stages' => ['desulphate']])])))
        ->toBe('wrong-profile')
        ->and(array_key_first($odds([cycleOf(['highest_group_v' => 4.26])])))
        ->toBe('wrong-voltage')
        ->and(array_key_first($odds([cycleOf(['mains_lost' => true, 'mode_after' => 'fast'])])))
        ->toBe('mode-slipped')
        ->and($odds([cycleOf(['mains_lost' => true])])['mode-slipped'])
        ->toBeLessThan($odds([cycleOf()])['mode-slipped'])
        ->and(array_key_first($odds([cycleOf()], ['board-high-cut' => ['v' => 4.5]])))
        ->toBe('board-does-not-cut')
        ->and($odds([cycleOf()], ['board-high-cut' => ['v' => 4.25]])['board-does-not-cut'])
        ->toBeLessThan($odds([cycleOf()])['board-does-not-cut'])
        ->and(array_key_first($odds([cycleOf()], [], ['inspection' => ['crushed' => true]])))
        ->toBe('mechanical')
        ->and(array_sum(ProtocolLimits::CAUSES))
        ->toEqualWithDelta(1.0, 1e-9)
        ->and(VerdictLimits::AGED_SHARE)
        ->toBeLessThan(1.0);
});

// Each number of the register, just under and just over it.

it('holds a rest, a week, a night and the rests of a gauge to their minutes', function (): void {
    $rested = fn(float $min): Outcome => cameTo('capacity', courseOf([['full', 0, FULL], ['discharge', 282 + $min, GAVE]], now: 999));
    expect($rested(29)->word)
        ->toBe('cannot-tell')
        ->and($rested(30)->word)
        ->toBe('pass')
        ->and($rested(60)->reasons)
        ->toBe([])
        ->and($rested(62)->reasons[0])
        ->toContain('over the usual 60');
    $took = fn(float $days): string => cameTo(
        'refill',
        courseOf([['filled', 0], ['took', 1440 * $days, ['ah' => '0.05 0.05 0.05 0.05']]], now: 99999),
    )->word;
    expect($took(6.9))->toBe('cannot-tell')->and($took(7.0))->toBe('pass');
    expect(cycleOf(['hours' => 7.9])->overnight())
        ->toBeFalse()
        ->and(cycleOf(['hours' => 8.0])->overnight())
        ->toBeTrue();
    $gauge = fn(float $top, float $bottom): string => cameTo('gauge-relearn', courseOf(relearned(65.0, $top, $bottom), now: 2000))->word;
    expect($gauge(119, 300))->toBe('cannot-tell')->and($gauge(120, 299))->toBe('cannot-tell')->and($gauge(120, 300))->toBe('pass');
});

it('reads a load ten and sixty seconds in', function (): void {
    $of = fn(string $code): ?float => array_values(
        array_filter(protocolOf('load-step')->steps(courseOf()), fn(Step $s): bool => $s->code === $code),
    )[0]->sinceS;
    expect($of('at-10'))->toBe(10.0)->and($of('at-60'))->toBe(60.0)->and($of('before'))->toBeNull();
    $after = array_values(array_filter(protocolOf('load-step')->steps(courseOf()), fn(Step $s): bool => $s->code === 'after'))[0];
    expect($after->condition)->toBe(\Heartwood\Core\Record\Condition::Relaxing)->and($after->sinceS)->toBe(60.0);
});

it('lets the first group move by five millivolts, or a tenth of its sag', function (string $at60, float $again, string $word): void {
    $rows = loadStepped($at60, more: ['again_v' => $again]);
    $rows[3][2]['groups_v'] = '3.800 3.800 3.800 3.800';
    expect(cameTo('load-step', courseOf($rows, now: 9))->word)->toBe($word);
})->with([
    ['3.760 3.760 3.760 3.760', 3.755, 'pass'],
    ['3.760 3.760 3.760 3.760', 3.7548, 'cannot-tell'],
    ['3.700 3.700 3.700 3.700', 3.69, 'pass'],
    ['3.700 3.700 3.700 3.700', 3.6897, 'cannot-tell'],
]);

it('lets a group stay ten millivolts behind', function (string $after, string $word): void {
    expect(cameTo('load-step', courseOf(loadStepped('3.700 3.700 3.700 3.700', $after), now: 9))->word)->toBe($word);
})->with([['3.790 3.7800 3.790 3.790', 'pass'], ['3.790 3.7796 3.790 3.790', 'fail']]);

it('wants rows every five minutes, every half minute in the last tenth', function (
    int $rows,
    float $every,
    float $tail,
    string $word,
): void {
    $came = cameTo('full-charge', courseOf(rowsWatched(array_fill(0, $rows, '4.0 4.1 4.0 4.0'), $every, $tail), now: 999));
    expect($came->word)->toBe($word);
})->with([
    'five, and one to write' => [3, 6.0, 0.4, 'pass'],
    'longer' => [3, 6.2, 0.4, 'cannot-tell'],
    'half a minute, and one to write' => [3, 5.0, 1.5, 'pass'],
    'later' => [3, 5.0, 1.52, 'cannot-tell'],
    'a tenth of a long one' => [11, 5.0, 5.5, 'pass'],
    'more of it' => [11, 5.0, 5.7, 'cannot-tell'],
]);

it('knows how well a filling is told', function (float $more, string $word): void {
    $entries = [['filled', 0], ['took', 14400, ['ah' => sprintf('0.05 0.05 %.5f 0.05', 0.05 + $more)]]];
    expect(cameTo('refill', courseOf($entries, now: 99999))->word)->toBe($word);
})->with([[0.1739, 'fail'], [0.1735, 'cannot-tell']]);

it('says how much clean cycles leave open, and over which volts a second cut-off acts', function (): void {
    expect(\Heartwood\Core\Diagnosis\ChargerTrial::sentenceOf(1, 0))
        ->toContain('under 95 % a cycle')
        ->and(\Heartwood\Core\Diagnosis\ChargerTrial::sentenceOf(5, 0))
        ->toContain('under 45 % a cycle')
        ->and(protocolOf('charger-trial')->watch(courseOf(pack: ['chemistry' => 'lfp'], more: ['rest' => 3.3]))[0])
        ->toContain('over 3.75 V');
});

it('begins with weights of the causes, and turns them by what was seen, hinted at or not there', function (): void {
    $odds = fn(array $cycles, array $proof = [], array $more = []): array => array_column(
        ChargerOdds::of($cycles, courseOf(more: $more)->record, array_map(fn(array $p): Fields => new Fields($p), $proof))->causes,
        'share',
        'cause',
    );
    foreach (
        [
            'wrong-profile' => 0.2,
            'wrong-voltage' => 0.15,
            'mode-slipped' => 0.25,
            'board-does-not-cut' => 0.15,
            'weak-cells' => 0.15,
            'mechanical' => 0.1,
        ]
        as $cause => $share
    ) {
        expect($odds([])[$cause])->toEqualWithDelta($share, 1e-9);
    }
    $foreign = $odds([cycleOf(['stages' => ['equalise']])]);
    $crushed = $odds([], [], ['inspection' => ['crushed' => true]]);
    $cut = $odds([], ['board-high-cut' => ['v' => 4.25]]);
    expect($foreign['wrong-profile'] / $foreign['mechanical'])
        ->toEqualWithDelta(100.0, 1e-6)
        ->and($crushed['mechanical'] / $crushed['weak-cells'])
        ->toEqualWithDelta(1.0 / 0.15, 1e-6)
        ->and($cut['board-does-not-cut'] / $cut['weak-cells'])
        ->toEqualWithDelta(0.1, 1e-6);
});

/* What guided runs say: to the hand that does them, and to the owner of what was tried. */

/** @param  array<string, mixed>  $end  of the last of two cycles */
function trialSheet(array $end = []): array
{
    $begin = ['mode' => 'slow', 'selected_by' => 'long-press', 'from' => 'half', 'cold' => true, 'attended' => true];
    $did = ['hours' => 3.0, 'stages' => ['cc'], 'mode_after' => 'slow', 'board_cut' => false, 'mains_lost' => false, 'fault_seen' => false];
    $course = courseOf(
        [
            ['bench', 1, ['cells' => '4S', 'cut_v' => 3.7]],
            ['modes', 2, ['modes' => 'slow, fast']],
            ['begin-1', 3, $begin],
            ['end-1', 4, $did],
            ['begin-2', 5, $begin],
            ['end-2', 6, $end + $did],
        ],
        ['chemistry' => 'lfp'],
        ['rest' => 3.3],
        now: 9,
    );

    return array_column((new ChargerTrial())->sheet($course), 'lines', 'title');
}

it('tells the owner of a charger that nothing came back, how much that says, and never that it is well', function (): void {
    $sheet = trialSheet();
    expect($sheet['What happened'])
        ->toBe(['Nothing that it must not do.'])
        ->and($sheet['What we did'][0])
        ->toContain('2 times')
        ->and($sheet['What we did not try'][0])
        ->toContain('mode "fast"')
        ->and($sheet['What that means'][0])
        ->toContain('fewer than 78 of a hundred charges')
        ->toContain('It does not clear the charger.')
        ->and($sheet['What to do'])
        ->toHaveCount(3)
        ->and(implode(' ', array_merge(...array_values($sheet))))
        ->not->toContain('safe');
});

it('tells the owner of a charger that failed to use it no more, and what it did', function (): void {
    $sheet = trialSheet(['stages' => ['cc', 'equalise']]);
    expect($sheet['What happened'])
        ->toBe(['In "slow": it has a stage of another kind of battery (equalise).'])
        ->and($sheet['What that means'][0])
        ->toBe('Do not use this charger again.')
        ->and($sheet['What that means'][1])
        ->toContain('a profile for another kind of battery')
        ->and($sheet['What to do'])
        ->toHaveCount(2);
});

it('begins the next cycle with what was not tried yet', function (): void {
    $cycle = fn(int $i, string $mode, string $from): array => [
        ["begin-$i", 2 * $i + 1, ['mode' => $mode, 'from' => $from, 'selected_by' => 'long-press', 'attended' => true]],
        ["end-$i", 2 * $i + 2, ['hours' => 2.0, 'mode_after' => $mode]],
    ];
    $starts = function (array ...$cycles): array {
        $course = courseOf([
            ['bench', 1, ['cells' => '4S', 'cut_v' => 4.2]],
            ['modes', 2, ['modes' => 'slow, fast']],
            ...array_merge(...$cycles),
        ]);
        $steps = (new ChargerTrial())->steps($course);
        $begin = array_values(array_filter($steps, fn(Step $s): bool => $s->code === 'begin-' . (count($cycles) + 1)))[0];

        return array_column(array_map(fn($f): array => $f->toArray(), $begin->fields), 'value', 'name');
    };
    expect($starts())
        ->toMatchArray(['mode' => 'slow', 'selected_by' => null, 'from' => 'half'])
        ->and($starts($cycle(1, 'slow', 'half')))
        ->toMatchArray(['mode' => 'fast', 'selected_by' => 'long-press', 'from' => 'empty'])
        ->and($starts($cycle(1, 'slow', 'half'), $cycle(2, 'fast', 'empty')))
        ->toMatchArray(['mode' => 'slow', 'from' => 'full'])
        // Who stays with it is said anew each time.
        ->and($starts($cycle(1, 'slow', 'half'))['attended'])
        ->toBeNull();
});

it('names the limits of the pack in what is watched meanwhile', function (string $code, string $words): void {
    expect(implode(' ', (Protocols::of($code) ?? throw new LogicException($code))->watch(courseOf())))->toContain($words);
})->with([
    ['load-step', '2.80 V, the low cut'],
    ['full-charge', 'No group past 4.250 V'],
    ['full-charge', 'over 45 degC'],
    ['full-discharge', 'No group under 1.50 V'],
    ['full-discharge', 'over 60 degC'],
    ['gauge-relearn', 'No group under 1.50 V'],
    ['charger-trial', 'any cell over 4.30 V'],
]);

it('asks a hold of one group for that group', function (): void {
    $hold = Protocols::of('hold') ?? throw new LogicException();
    $course = courseOf([['ended', 0, ['hours' => 8.0]]], scope: Place::group(3), now: 10);
    $first = array_values(array_filter($hold->steps($course), fn(Step $s): bool => $s->code === 'first'))[0];
    expect($hold->problems($course, $first, ['groups_v' => '3.800 3.800 - 3.800'])['groups_v'] ?? '')
        ->toContain('Group 3 is what it is about')
        ->and($hold->problems($course, $first, ['groups_v' => '- - 3.800 -']))
        ->toBe([]);
});
