<?php

declare(strict_types=1);

use Heartwood\Core\Teardown\Guide;
use Heartwood\Core\Teardown\Leads;
use Heartwood\Core\Teardown\Line;
use Heartwood\Core\Teardown\Part;
use Heartwood\Core\Teardown\Step;
use Heartwood\Core\Teardown\WayBack;

/** Steps as they are typed, numbered from 1. @return list<Step> */
function taken(string ...$lines): array
{
    return array_values(
        array_map(
            function (string $line, int $i): Step {
                $r = Line::read($line);

                return new Step(
                    (string) ($i + 1),
                    Part::from($r['part']),
                    $r['count'],
                    $r['what'],
                    $r['where'],
                    $r['remark'],
                    $r['hidden'],
                    $r['volts'],
                    minutes: 2.0,
                );
            },
            $lines,
            array_keys($lines),
        ),
    );
}

it('reads a step as a hand types it', function (string $typed, array $is): void {
    expect(Line::read($typed))->toMatchArray($is);
})->with([
    ['11 screws M3x8 @ lid', ['part' => 'fastener', 'count' => 11, 'what' => 'screws M3x8', 'where' => 'lid']],
    ['screw M3x8 @ under sealant !', ['count' => 1, 'where' => 'under sealant', 'hidden' => true]],
    ['lead red @ T3 to pin 4 = 11,4', ['part' => 'lead', 'where' => 'T3 to pin 4', 'volts' => 11.4]],
    ['lead red = -3.95 V # through the grommet', ['volts' => -3.95, 'remark' => 'through the grommet']],
    ['2 x foam', ['part' => 'foam', 'count' => 2, 'what' => 'foam']],
    ['LID', ['part' => 'lid', 'count' => 1, 'what' => 'LID']],
    ['board screws M2', ['part' => 'fastener']],
    ['cell tape @ block 2', ['part' => 'tape']],
    ['18650 holder', ['part' => 'other', 'count' => 1, 'what' => '18650 holder']],
    ['thing', ['part' => 'other', 'what' => 'thing', 'volts' => null, 'hidden' => false]],
    [
        '2 screws M4x12 & hex 3 @ under the label ~ heads to the board ! # tight',
        [
            'count' => 2,
            'what' => 'screws M4x12',
            'tool' => 'hex 3',
            'where' => 'under the label',
            'lay' => 'heads to the board',
            'hidden' => true,
        ],
    ],
    // Inside a word they are letters, and so is a sign that was there before.
    ['R&D plug @ B+&B- = 0.2 ~ latch up', ['what' => 'R&D plug', 'where' => 'B+&B-', 'lay' => 'latch up', 'tool' => '', 'volts' => 0.2]],
    ['lid @ top @ left', ['where' => 'top @ left', 'tool' => '', 'lay' => '']],
]);

it('says what is wrong with a line, and takes nothing of it', function (string $typed, string $word): void {
    expect(fn() => Line::read($typed))->toThrow(InvalidArgumentException::class, $word);
})->with([
    ['', 'Say what came off'],
    ['@ lid', 'Say what came off'],
    ['& hex 3', 'Say what came off'],
    ['lid & ' . str_repeat('x', 121), '120 letters'],
    ['0 screws', 'From 1 to 500'],
    ['501 screws', 'From 1 to 500'],
    ['lead = red', 'no voltage'],
    ['lead = 2001', 'no voltage'],
    [str_repeat('x', 121), 'behind #'],
    ['lid @ ' . str_repeat('x', 121), 'behind #'],
]);

it('knows every part by its words, each by one', function (): void {
    $of = [];
    foreach (Part::cases() as $p) {
        foreach ($p->words() as $w) {
            expect($of)->not->toHaveKey($w);
            $of[$w] = $p;
            expect(Line::part($w))->toBe($p)->and(Line::part("old {$w}s"))->toBe($p);
        }
    }
    expect(Line::read(str_repeat('x', 120) . ' @ ' . str_repeat('y', 120) . ' # ' . str_repeat('z', 150))['where'])->toBe(
        str_repeat('y', 120),
    );
    expect(Line::read('500 screws')['count'])->toBe(500)->and(Line::read('lead = 2000')['volts'])->toBe(2000.0);
});

it('goes back the way it came, with what must be new, a tug at each conductor and the insulation before it is closed', function (): void {
    $way = WayBack::of(
        taken(
            '11 screws M3x8 @ lid',
            'sealant @ rim',
            'lid',
            'screw M3x8 @ under the label !',
            '2 tape',
            'lead red @ B- to pin 1 = 0',
            'plug',
        ),
    );
    expect(array_map(fn(array $s): array => [$s['act'], $s['step']], $way->steps))
        ->toBe([
            ['connect', '7'],
            ['tug', null],
            ['connect', '6'],
            ['tug', null],
            ['renew', '5'],
            ['insulation', null],
            ['put-back', '4'],
            ['put-back', '3'],
            ['renew', '2'],
            ['put-back', '1'],
            ['count', null],
        ])
        ->and($way->steps[2]['text'])
        ->toBe('Connect lead red, B- to pin 1: it must read 0 V against B- first.')
        ->and($way->steps[0]['text'])
        ->toContain('nothing was noted')
        ->and($way->renew)
        ->toBe(['tape' => 2, 'sealant' => 1])
        ->and($way->fasteners)
        ->toBe(['screw m3x8' => 12]);
});

it('proves the insulation once for all that was undone under one cover, and at the end where nothing covers it', function (): void {
    $acts = fn(string ...$lines): array => array_column(WayBack::of(taken(...$lines))->steps, 'act');
    expect($acts('lid', 'link'))
        ->toBe(['put-back', 'tug', 'insulation', 'put-back'])
        ->and($acts('link'))
        ->toBe(['put-back', 'tug', 'insulation'])
        ->and(array_count_values($acts('lid', 'link', 'link', 'lead = 3.9'))['insulation'])
        ->toBe(1)
        ->and($acts('lid', 'foam'))
        ->toBe(['put-back', 'put-back'])
        ->and($acts())
        ->toBe([])
        // Undone again between two covers, it is proved again.
        ->and(array_count_values($acts('lead = 3.9', 'lid', 'lead = 7.8', 'lid'))['insulation'])
        ->toBe(2);
});

it('counts fasteners back by kind, however they were written', function (): void {
    $way = WayBack::of(taken('3 screws M3x8 @ lid', '2 Screw  m3x8 @ rim', '4 screws M3x12 @ lid'));
    expect($way->fasteners)
        ->toBe(['screw m3x12' => 4, 'screw m3x8' => 5])
        ->and($way->missing(['screw m3x8' => 5, 'screw m3x12' => 4]))
        ->toBe([])
        ->and(array_column($way->missing(['screw m3x8' => 4, 'screw m3x12' => 5]), 'text'))
        ->toBe(['1 screw m3x12 more than came out', '1 screw m3x8 left over'])
        ->and($way->missing([]))
        ->toHaveCount(2);
});

it('is guided by the last of its model, and asks about what differs', function (): void {
    $before = taken('11 screws M3x8 @ lid', 'lid', 'lead red @ pin 1 = 42.1', 'board');
    $at = fn(string ...$lines): Guide => Guide::of($before, taken(...$lines));
    expect($at()->next)
        ->toBe('1')
        ->and($at()->minutesLeft)
        ->toBe(8.0)
        ->and($at('11 screws m3x8 @ lid')->next)
        ->toBe('2')
        ->and($at('11 screws m3x8 @ lid')->deviations)
        ->toBe([])
        ->and($at('10 screws M3x8 @ lid', 'lid')->deviations)
        ->toBe(['screws M3x8, lid: 11 last time, 10 now.'])
        ->and($at('11 screws M3x8 @ lid', 'strap', 'lid')->deviations)
        ->toBe(['strap: not there last time.'])
        ->and($at('lid')->left)
        ->toBe(['1', '3', '4'])
        ->and($at('lead red @ pin 1 = -42.0')->deviations)
        ->toBe(['lead red, pin 1: its polarity is the other way round than last time.'])
        ->and($at('11 screws M3x8 @ lid', 'lid', 'lead red = 42', 'board')->next)
        ->toBeNull()
        ->and(Guide::of([], taken('lid'))->deviations)
        ->toBe([]);
});

it('ties a check to the step that it proves, and lets it hold only while nothing came off since', function (): void {
    $way = WayBack::of(taken('screws M3', 'lid', 'lead = 3.9', 'link'));
    $checks = array_values(array_filter($way->steps, fn(array $s): bool => $s['step'] === null));
    expect(array_map(fn(array $s): array => [$s['act'], $s['of']], $checks))->toBe([
        ['tug', '4'],
        ['tug', '3'],
        ['insulation', '2'],
        ['count', ''],
    ]);
    expect(WayBack::stillHolds('tug', 10.0, 9.9, 50.0))
        ->toBeTrue()
        ->and(WayBack::stillHolds('tug', 10.0, 10.1, 0.0))
        ->toBeFalse()
        ->and(WayBack::stillHolds('count', 10.0, 9.0, 10.1))
        ->toBeFalse()
        ->and(WayBack::stillHolds('count', 10.0, 9.0, 10.0))
        ->toBeTrue();
});

it('believes the meter and not the colour of a lead', function (): void {
    expect(Leads::warnings(taken('lead red = 0.04', 'lead black = 0.06', 'lead black = 0.04', 'lead red = 0.06', 'lead blue = -4', 'lid')))
        ->toBe([
            'Lead red is red and reads 0.04 V against B-: it is not positive.',
            'Lead black is black and reads 0.06 V against B-: it is not B-.',
        ])
        ->and(Leads::warnings(taken('lead blue')))
        ->toBe(['lead blue: its polarity was not measured.']);
});
