<?php

declare(strict_types=1);

use Heartwood\Core\Drift\Point;
use Heartwood\Core\Limits\DriftLimits;
use Heartwood\Core\Limits\VerdictLimits;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Rules;
use Heartwood\Core\Service\Cause;
use Heartwood\Core\Service\Comeback;
use Heartwood\Core\Service\Glance;
use Heartwood\Core\Service\MessageKind;
use Heartwood\Core\Service\PassportFile;
use Heartwood\Core\Service\PastedReadings;
use Heartwood\Core\Service\Promise;
use Heartwood\Core\Shop\Settings;

// What goes with a pack after it went back: promise and comeback, the mark on its band, readings as they are pasted, its passport.

function servicePack(string $chemistry = 'nmc', int $series = 10): PackSpec
{
    return PackSpec::from(new Fields(['chemistry' => $chemistry, 'series' => $series]));
}

/** @return array<string, mixed> a finding as a verdict has it */
function comebackFinding(string $code, ?array $where = null, float $p = 0.9, string $severity = 'fix'): array
{
    return ['code' => $code, 'where' => $where, 'probability' => $p, 'severity' => $severity, 'title' => "Title of $code"];
}

it('promises calendar months, and to the last day of a shorter one', function (string $from, int $months, string $until): void {
    $promise = new Promise(new DateTimeImmutable($from), $months, []);
    expect($promise->ends()->format('Y-m-d H:i'))
        ->toBe($until)
        ->and($promise->runs($promise->ends()))
        ->toBeTrue()
        ->and($promise->runs($promise->ends()->modify('+1 second')))
        ->toBeFalse()
        ->and($promise->runs($promise->from->modify('-1 second')))
        ->toBeFalse();
})->with([
    ['2026-03-14 10:00', 6, '2026-09-14 10:00'],
    ['2026-08-31 10:00', 6, '2027-02-28 10:00'],
    ['2027-08-31 10:00', 6, '2028-02-29 10:00'],
    ['2026-12-31 23:30', 2, '2027-02-28 23:30'],
    ['2026-01-31 00:00', 1, '2026-02-28 00:00'],
    ['2026-11-05 00:00', 24, '2028-11-05 00:00'],
]);

it('says whether a comeback falls under the promise', function (): void {
    $promise = new Promise(new DateTimeImmutable('2026-01-10'), 6, [Cause::Use], 'Bring the receipt.');
    $in = new DateTimeImmutable('2026-07-09');
    $after = new DateTimeImmutable('2026-07-11');
    expect($promise->covers(Cause::SameFault, $in))
        ->toBeTrue()
        ->and($promise->covers(Cause::OurWork, $in))
        ->toBeTrue()
        ->and($promise->covers(Cause::Use, $in))
        ->toBeFalse()
        ->and($promise->covers(Cause::SameFault, $after))
        ->toBeFalse();
    expect($promise->sentence())->toBe('This work is promised for 6 months, until 10 July 2026; not: how it was used. Bring the receipt.');
    $none = new Promise(new DateTimeImmutable('2026-01-10'), 0, []);
    expect($none->covers(Cause::OurWork, $none->from))->toBeFalse()->and($none->sentence())->toBe('Nothing is promised of this work.');
    expect((new Promise($none->from, 1, []))->sentence())->toBe('This work is promised for 1 month, until 10 February 2026.');
});

it('proposes why a pack came back', function (array $was, array $done, array $found, array $symptoms, ?Cause $cause): void {
    $comeback = Comeback::of($was, $done, $found, $symptoms, []);
    expect($comeback?->cause)->toBe($cause);
    if ($comeback !== null) {
        expect($comeback->why)->not->toBe('');
    }
})->with([
    'nothing found yet' => [[], [], [], [], null],
    'what is only a note' => [[], [], [comebackFinding('group.undercharged', ['group' => 2], 0.9, 'note')], [], null],
    'what is hardly believed' => [[], [], [comebackFinding('group.dead', ['group' => 2], 0.34)], [], null],
    'what is believed enough' => [[], [], [comebackFinding('group.dead', ['group' => 2], 0.35)], [], Cause::OtherFault],
    'as it was' => [
        [['code' => 'group.self-discharge', 'where' => ['group' => 3]]],
        [['action' => 'keep-with-topup', 'where' => [['group' => 3]]]],
        [comebackFinding('group.self-discharge', ['group' => 3])],
        [],
        Cause::SameFault,
    ],
    'the same, of another group' => [
        [['code' => 'group.self-discharge', 'where' => ['group' => 3]]],
        [],
        [comebackFinding('group.self-discharge', ['group' => 4])],
        [],
        Cause::OtherFault,
    ],
    'where it was worked on' => [
        [['code' => 'group.dead', 'where' => ['group' => 3]]],
        [['action' => 'replace-group', 'where' => [['group' => 3]]]],
        [comebackFinding('group.low-capacity', ['group' => 3])],
        [],
        Cause::OurWork,
    ],
    'a joint, after it was open' => [
        [['code' => 'group.dead', 'where' => ['group' => 3]]],
        [['action' => 'replace-group', 'where' => [['group' => 3]]]],
        [comebackFinding('joint.high-resistance', ['joint' => 7])],
        [],
        Cause::OurWork,
    ],
    'a joint, though nobody opened it' => [
        [],
        [['action' => 'balance', 'where' => [['group' => 3]]]],
        [comebackFinding('joint.high-resistance', ['joint' => 7])],
        [],
        Cause::OtherFault,
    ],
    'the board that was put in' => [[], [['action' => 'replace-board']], [comebackFinding('bms.trips-early')], [], Cause::OurWork],
    'dropped' => [
        [['code' => 'group.dead', 'where' => ['group' => 3]]],
        [],
        [comebackFinding('group.dead', ['group' => 3])],
        ['dropped'],
        Cause::Use,
    ],
    'left empty' => [[], [], [comebackFinding('pack.deep-discharged')], [], Cause::Use],
]);

it('proposes how it was used from what is seen', function (): void {
    expect(Comeback::of([], [], [], [], ['salt_water' => true])->cause)->toBe(Cause::Use);
    expect(Comeback::of([], [], [], [], ['salt_water' => false, 'crushed' => null]))->toBeNull();
});

it('marks a pack by how far its groups are apart', function (): void {
    $at = fn(float $spread, float $step = 0.001): Glance => Glance::of(
        servicePack(),
        new Point('2026-05-04T09:00:00Z', 'rest', null, null, 3.8 + $spread, 3.8, $step),
        null,
        null,
    );
    expect($at(DriftLimits::SPREAD_V - 0.001)->isInside())
        ->toBeTrue()
        ->and($at(DriftLimits::SPREAD_V + 0.001)->isInside())
        ->toBeFalse()
        ->and($at(0.01)->should)
        ->toBe(0.0)
        ->and($at(0.01, 0.01)->sees)
        ->toEqualWithDelta(0.11, 1e-9);
    $whole = Glance::of(
        servicePack(),
        new Point('2026-05-04T09:00:00Z', 'rest', null, [3.8, ...array_fill(0, 9, 3.79)], null, null),
        null,
        null,
    );
    expect($whole->kind)->toBe('groups')->and($whole->value)->toEqualWithDelta(0.01, 1e-9);
});

it('says where millivolts tell nothing of a phosphate pack', function (): void {
    $at = fn(string $condition, string $chemistry): bool => Glance::of(
        servicePack($chemistry),
        new Point('2026-05-04T09:00:00Z', $condition, null, null, 3.3, 3.29),
        null,
        null,
    )->flat;
    expect($at('rest', 'lfp'))->toBeTrue()->and($at('full', 'lfp'))->toBeFalse()->and($at('rest', 'nmc'))->toBeFalse();
});

it('marks half against half as coarse as an ordinary meter sees it', function (): void {
    $at = fn(float $lower, float $upper, int $series = 10, float $step = 0.01): Glance => Glance::of(
        servicePack(series: $series),
        new Point('2026-05-04T09:00:00Z', 'rest', null, null, null, null, $step),
        [$lower, $upper],
        null,
    );
    expect($at(19.0, 19.29)->isInside())
        ->toBeTrue()
        ->and($at(19.0, 19.31)->isInside())
        ->toBeFalse()
        ->and($at(19.31, 19.0)->isInside())
        ->toBeFalse()
        ->and($at(19.0, 19.1)->sees)
        ->toBe(DriftLimits::HALVES_V);
    // One group off by so much is seen; two alike, one in each half, are not.
    expect($at(5 * 3.8 - 0.31, 5 * 3.8)->isInside())
        ->toBeFalse()
        ->and($at(5 * 3.8 - 0.31, 5 * 3.8 - 0.31)->isInside())
        ->toBeTrue();
    // An odd pack has a group more above; a coarse display sees less.
    expect($at(4 * 3.8, 5 * 3.8, 9)->value)->toEqualWithDelta(0.0, 1e-9);
    expect($at(19.0, 19.59, 10, 0.2)->isInside())->toBeTrue()->and($at(19.0, 19.61, 10, 0.2)->isInside())->toBeFalse();
});

it('marks the volts of a whole pack against its curve, and against its cuts where the charge is not known', function (): void {
    $pack = servicePack();
    $at = fn(?float $soc, float $v): Glance => Glance::of(
        $pack,
        new Point('2026-05-04T09:00:00Z', 'rest', $soc, null, null, null, 0.1),
        null,
        $v,
    );
    $curve = RestCurve::of(Chemistry::from('nmc'));
    $low = 10 * $curve->volts(0.5 - DriftLimits::WHOLE_SOC);
    expect($at(0.5, $low)->isInside())
        ->toBeTrue()
        ->and($at(0.5, $low - 0.15)->isInside())
        ->toBeFalse()
        ->and($at(0.5, 10 * $curve->volts(0.5))->should)
        ->toEqualWithDelta(10 * $curve->volts(0.5), 1e-9)
        ->and($at(null, 10 * $pack->highCutV() + 0.05)->isInside())
        ->toBeTrue()
        ->and($at(null, 10 * $pack->highCutV() + 0.15)->isInside())
        ->toBeFalse()
        ->and($at(null, 10 * $pack->lowCutV() - 0.15)->isInside())
        ->toBeFalse();
    // Ten percent either way, by a meter that shows millivolts.
    $fine = fn(float $v): bool => Glance::of(
        $pack,
        new Point('2026-05-04T09:00:00Z', 'rest', 0.5, null, null, null, 0.001),
        null,
        $v,
    )->isInside();
    [$bottom, $top] = [10 * $curve->volts(0.4), 10 * $curve->volts(0.6)];
    expect($fine($bottom))
        ->toBeTrue()
        ->and($fine($bottom - 0.005))
        ->toBeFalse()
        ->and($fine($top))
        ->toBeTrue()
        ->and($fine($top + 0.005))
        ->toBeFalse();
    expect(Glance::of($pack, new Point('2026-05-04T09:00:00Z', 'rest', null, null, null, null), null, null))->toBeNull();
});

it('reads dated lines, a table and the report of a board', function (): void {
    $read = fn(string $text, int $series = 4): PastedReadings => PastedReadings::of(
        $text,
        $series,
        '2026-05-04',
        'rest',
        new DateTimeZone('Europe/Berlin'),
    );
    $lines = $read("2026-03-04 full 62% 4.18 4.17 - 4.19\n# a remark\n\n2026-03-05 08:30 3,81 3,79\n");
    expect($lines->wrong)->toBe([])->and($lines->readings)->toHaveCount(2);
    expect($lines->readings[0])->toMatchArray([
        'at' => '2026-03-04T11:00:00Z',
        'condition' => 'full',
        'soc' => 0.62,
        'groups_v' => [4.18, 4.17, null, 4.19],
        'resolution_v' => 0.01,
    ]);
    expect($lines->readings[1])->toMatchArray([
        'at' => '2026-03-05T07:30:00Z',
        'condition' => 'rest',
        'highest_v' => 3.81,
        'lowest_v' => 3.79,
    ]);

    $typed = $read('3812 3799 3808 3811');
    expect($typed->readings[0])->toMatchArray([
        'at' => '2026-05-04T10:00:00Z',
        'source' => 'bench',
        'groups_v' => [3.812, 3.799, 3.808, 3.811],
    ]);
    expect($read('full 55% 4.1 4.2', 10)->readings[0])->toMatchArray([
        'condition' => 'full',
        'soc' => 0.55,
        'highest_v' => 4.2,
        'resolution_v' => 0.1,
    ]);

    $table = $read(
        "date;condition;soc;cell 1;cell 2;cell 3;cell 4;note\n04.03.2026;full;100;4,181;4,183;;4,179;by hand\n" .
            "05.03.2026 07:15;;;3812;3799;3808;3811;\n",
    );
    expect($table->wrong)
        ->toBe([])
        ->and($table->notes)
        ->toBe(['Read as a table with 4 columns of groups.']);
    expect($table->readings[0])->toMatchArray([
        'at' => '2026-03-04T11:00:00Z',
        'condition' => 'full',
        'source' => 'import',
        'soc' => 1.0,
        'groups_v' => [4.181, 4.183, null, 4.179],
        'note' => 'by hand',
    ]);
    expect($table->readings[1])->toMatchArray([
        'at' => '2026-03-05T06:15:00Z',
        'condition' => 'rest',
        'groups_v' => [3.812, 3.799, 3.808, 3.811],
    ]);
    $two = $read("Date,Max,Min,Pack\n2026-03-04T12:00:00Z,3.812,3.799,15.2\n");
    expect($two->readings[0])->toMatchArray(['at' => '2026-03-04T12:00:00Z', 'highest_v' => 3.812, 'lowest_v' => 3.799, 'pack_v' => 15.2]);

    $board = $read("cell 1: 3812 mV\ncell 2: 3799 mV\ncell 3: 3808 mV\ncell 4: 3811 mV\ntemp: 21\n");
    expect($board->readings)
        ->toHaveCount(1)
        ->and($board->readings[0])
        ->toMatchArray([
            'source' => 'board',
            'condition' => 'rest',
            'groups_v' => [3.812, 3.799, 3.808, 3.811],
        ]);
});

it('names what cannot be read by its line, and takes nothing for what it is not', function (string $text, string $wrong): void {
    $read = PastedReadings::of($text, 4, '2026-05-04', 'rest', new DateTimeZone('UTC'));
    expect(implode(' ', $read->wrong))->toContain($wrong)->and($read->readings)->toBe([]);
})->with([
    ['2026-13-04 3.8 3.8', '"2026-13-04" is no date'],
    ['2026-03-04 3.8 3.8 3.8', 'Line 1: 3 volts, and the pack has 4 groups'],
    ['2026-03-04 02:80 3.8 3.8', '"2026-03-04 02:80" is no date'],
    ['2026-03-04 25:10 3.8 3.8', '"2026-03-04 25:10" is no date'],
    ['2026-03-04Tnoon 3.8 3.8', '"2026-03-04Tnoon" is no date'],
    ['31.02.2026 3.8 3.8', '"31.02.2026" is no date'],
    ["\n2026-03-04 120% 3.8 3.8", 'Line 2: percent is between 0 and 100'],
    ['2026-03-04 3.8 x', '"x" is no voltage of a group'],
    ['2026-03-04 3.8 12.5', '"12.5" is no voltage of a group'],
    ["date,g1,g2,g3,g9\n2026-03-04,3.8,3.8,3.8,3.8", 'there is no group 9'],
    ["date,condition,max,min\n2026-03-04,warm,3.8,3.8", '"warm" is no condition'],
    ["date,max,min\n3.4.26,3.8,3.8", '"3.4.26" is no date'],
    ['3.8 3.8 3.8', '3 volts, and the pack has 4 groups'],
]);

/** @return array<string, mixed> a passport as another workshop writes it */
function passportFile(array $more = []): array
{
    return PassportFile::sealed(
        $more + [
            'format' => 'heartwood.passport',
            'version' => 1,
            'written_at' => '2026-05-01T10:00:00Z',
            'workshop' => 'Lower Wharf Repairs',
            'pack' => ['name' => 'Shears', 'serial' => 'S-1', 'spec' => ['chemistry' => 'nmc', 'series' => 4]],
            'jobs' => [],
            'readings' => [
                [
                    'id' => 'a',
                    'at' => '2026-04-01T10:00:00Z',
                    'condition' => 'rest',
                    'source' => 'bench',
                    'groups_v' => [3.8, 3.8, 3.8, 3.8],
                ],
            ],
        ],
    );
}

it('tells a passport that was changed, whatever the order of its fields', function (): void {
    $file = passportFile();
    expect(PassportFile::of($file)->isWhole())->toBeTrue();
    expect(PassportFile::of(array_reverse($file))->isWhole())->toBeTrue();
    $read = json_decode((string) json_encode($file), true);
    expect(PassportFile::of($read)->isWhole())->toBeTrue();
    $file['readings'][0]['groups_v'][2] = 3.81;
    expect(PassportFile::of($file)->isWhole())->toBeFalse();
    $file = passportFile();
    $file['added'] = true;
    expect(PassportFile::of($file)->isWhole())->toBeFalse();
});

it('says what it cannot vouch for in a passport, each by itself', function (array $change, string $doubt): void {
    $now = new DateTimeImmutable('2026-05-02');
    $plain = PassportFile::of(passportFile())->doubts($now);
    expect($plain)->toBe(['What Lower Wharf Repairs measured, found and did was not seen here.']);
    $doubts = PassportFile::of(passportFile($change))->doubts($now);
    expect($doubts)->toHaveCount(2)->and($doubts[1])->toBe($doubt);
})->with([
    'later than now' => [['written_at' => '2026-05-03T00:00:00Z'], 'It was written at a time that is yet to come.'],
    'not signed' => [
        ['jobs' => [['number' => 4, 'opened_at' => '2026-01-01T00:00:00Z', 'closed_at' => '2026-01-05T00:00:00Z', 'status' => 'returned']]],
        'Job 4 of Lower Wharf Repairs went back without a signed proof.',
    ],
    'backwards' => [
        ['jobs' => [['number' => 4, 'opened_at' => '2026-01-09T00:00:00Z', 'closed_at' => '2026-01-05T00:00:00Z', 'status' => 'scrapped']]],
        'Job 4 of Lower Wharf Repairs ends before it begins.',
    ],
    'by other rules' => [
        [
            'jobs' => [
                [
                    'number' => 4,
                    'opened_at' => '2026-01-01T00:00:00Z',
                    'status' => 'open',
                    'verdict' => ['rules' => 'abc', 'findings' => []],
                ],
            ],
        ],
        'Its verdicts are by other rules than ours (abc).',
    ],
    'said by the owner' => [
        [
            'readings' => [
                [
                    'id' => 'b',
                    'at' => '2026-04-01T10:00:00Z',
                    'condition' => 'rest',
                    'source' => 'owner',
                    'highest_v' => 3.8,
                    'lowest_v' => 3.7,
                ],
            ],
        ],
        '1 of its 1 readings were said by its owner.',
    ],
    'of another pack' => [
        ['readings' => [['id' => 'b', 'at' => '2026-04-01T10:00:00Z', 'condition' => 'rest', 'source' => 'bench', 'groups_v' => [3.8]]]],
        '1 of its readings are none of a pack of 4 groups: kept, not counted.',
    ],
    'read tomorrow' => [
        ['readings' => [['id' => 'b', 'at' => '2026-06-01T10:00:00Z', 'condition' => 'rest', 'source' => 'bench', 'pack_v' => 15.0]]],
        '1 of its readings are dated into the future: kept, not counted.',
    ],
    'what is not known here' => [['warranty' => ['x' => 1]], 'Not known here, kept as it came: warranty.'],
]);

it('says nothing of verdicts by its own rules, and of a proof that was signed', function (): void {
    $job = [
        'number' => 4,
        'opened_at' => '2026-01-01T00:00:00Z',
        'closed_at' => '2026-01-05T00:00:00Z',
        'signed_at' => '2026-01-05T00:00:00Z',
        'status' => 'returned',
        'verdict' => ['rules' => Rules::VERSION, 'findings' => []],
    ];
    expect(PassportFile::of(passportFile(['jobs' => [$job]]))->doubts(new DateTimeImmutable('2026-05-02')))->toHaveCount(1);
});

it('takes nothing of a passport whose readings share a name, or that lies too deep', function (): void {
    $twice = passportFile();
    $twice['readings'][] = $twice['readings'][0];
    expect(PassportFile::of($twice)->problems())->toBe([
        ['pointer' => '/readings/1/id', 'message' => 'stands twice: each reading has its own'],
    ]);
    $nest = function (int $deep): array {
        $file = passportFile();
        for ($i = 1; $i < $deep; $i++) {
            $file = passportFile(['earlier' => [['imported_at' => '2026-04-30T00:00:00Z', 'document' => $file]]]);
        }

        return $file;
    };
    expect(PassportFile::of($nest(8))->problems())
        ->toBe([])
        ->and(PassportFile::of($nest(9))->problems())
        ->toHaveCount(1);
});

it('has a shop promise half a year where it has said nothing', function (): void {
    expect(DriftLimits::PROMISE_MONTHS)->toBe(6)->and(DriftLimits::SPREAD_V)->toBe(VerdictLimits::BALANCE_SOON_V);
});

it('writes about what is due, once a moment, and asks nobody for readings who was told to stop', function (): void {
    $now = new DateTimeImmutable('2026-05-20T12:00:00Z');
    $ago = fn(float $days): DateTimeImmutable => $now->modify('-' . (int) round($days * 86400) . ' seconds');
    $kinds = fn(?DateTimeImmutable $stopped, ?DateTimeImmutable $read, ?DateTimeImmutable $topUp): array => array_map(
        fn(array $m): string => $m['kind']->value,
        MessageKind::due($now, $stopped, $read, $topUp),
    );
    expect($kinds(null, $ago(0.01), null))
        ->toBe(['reading-due'])
        ->and($kinds(null, $ago(6.99), null))
        ->toBe(['reading-due'])
        ->and($kinds(null, $ago(7.01), null))
        ->toBe(['overdue'])
        ->and($kinds(null, $ago(-0.01), $ago(-0.01)))
        ->toBe([])
        ->and($kinds(null, $ago(1), $ago(2)))
        ->toBe(['top-up', 'reading-due'])
        ->and($kinds($ago(1), $ago(9), $ago(2)))
        ->toBe(['stop'])
        ->and($kinds(null, null, null))
        ->toBe([]);
    expect(MessageKind::due($now, null, $ago(1), null)[0]['about'])->toBe('2026-05-19T12:00:00Z');
    foreach (MessageKind::cases() as $kind) {
        expect(Settings::all())->toHaveKey($kind->setting());
        expect(Settings::of(null)->on($kind->setting()))->toBeFalse();
    }
});
