<?php

declare(strict_types=1);

use Heartwood\Core\Schedule\JobLine;

function marked(string $kind, string $at, ?string $until = null, string $title = ''): array
{
    return [
        'kind' => $kind,
        'at' => new DateTimeImmutable("2026-11-{$at}Z"),
        'until' => $until === null ? null : new DateTimeImmutable("2026-11-{$until}Z"),
        'title' => $title === '' ? $kind : $title,
    ];
}

it('tells sittings and the waits between them, in whatever order they are kept', function (): void {
    $line = JobLine::of(
        [
            marked('set', '21T09:00', null, 'set at rest'),
            marked('in', '20T10:00', null, 'taken in'),
            marked('set', '20T10:20', null, 'set at rest'),
            marked('set', '20T10:30', null, 'set under charge'),
            marked('verdict', '20T10:40'),
        ],
        null,
    )->toArray();
    expect($line['sittings'])
        ->toBe([
            [
                'from' => '2026-11-20T10:00:00Z',
                'to' => '2026-11-20T10:40:00Z',
                'wait_h' => 0.0,
                'marks' => [
                    ['kind' => 'in', 'text' => 'taken in', 'more' => '', 'hours' => 0.0],
                    ['kind' => 'set', 'text' => '2 sets', 'more' => 'set at rest, set under charge', 'hours' => 0.0],
                    ['kind' => 'verdict', 'text' => 'verdict', 'more' => '', 'hours' => 0.0],
                ],
            ],
            [
                'from' => '2026-11-21T09:00:00Z',
                'to' => '2026-11-21T09:00:00Z',
                'wait_h' => 22.33,
                'marks' => [['kind' => 'set', 'text' => 'set at rest', 'more' => '', 'hours' => 0.0]],
            ],
        ])
        ->and($line['open_h'])
        ->toBe(0.0);
});

it('puts what is written at one moment in the order in which it is done', function (): void {
    $line = JobLine::of([marked('verdict', '20T10:00'), marked('set', '20T10:00'), marked('in', '20T10:00')], null);
    expect(array_column($line->sittings[0]['marks'], 'kind'))->toBe(['in', 'set', 'verdict']);
    $finer = JobLine::of([marked('in', '20T10:00:00.400'), marked('set', '20T10:00:00')], null);
    expect(array_column($finer->sittings[0]['marks'], 'kind'))->toBe(['in', 'set']);
});

it('begins another sitting after two hours without a mark', function (string $second, int $sittings): void {
    expect(JobLine::of([marked('set', '20T10:00'), marked('set', $second)], null)->sittings)->toHaveCount($sittings);
})->with([['20T11:59', 1], ['20T12:00', 1], ['20T12:01', 2]]);

it('counts a wait from the end of a run, and keeps each run by itself', function (): void {
    $line = JobLine::of(
        [
            marked('run', '20T10:00', '20T18:00', 'recovery of group 3'),
            marked('run', '20T18:30', '20T19:00', 'recovery of group 4'),
            marked('set', '20T20:30'),
            marked('set', '22T20:30'),
        ],
        new DateTimeImmutable('2026-11-23T08:30Z'),
    );
    expect($line->sittings)
        ->toHaveCount(2)
        ->and(array_column($line->sittings[0]['marks'], 'hours'))
        ->toBe([8.0, 0.5, 0.0])
        ->and($line->sittings[1]['wait_h'])
        ->toBe(48.0)
        ->and($line->openH)
        ->toBe(12.0);
});

it('takes an end before its begin for none, and is empty where nothing was done', function (): void {
    expect(JobLine::of([marked('run', '20T10:00', '20T09:00')], null)->sittings[0]['marks'][0]['hours'])
        ->toBe(0.0)
        ->and(JobLine::of([], new DateTimeImmutable('2026-11-20Z'))->toArray())
        ->toBe(['sittings' => [], 'earlier' => 0, 'open_h' => 0.0]);
});

it('shows the latest of a long history and counts the others', function (int $days, int $shown, int $earlier): void {
    $marks = array_map(fn(int $d): array => marked('set', sprintf('%02dT10:00', $d)), range(1, $days));
    $line = JobLine::of($marks, null);
    expect($line->sittings)->toHaveCount($shown)->and($line->earlier)->toBe($earlier);
})->with([[24, 24, 0], [25, 24, 1]]);

it('says a length of time in the unit that says something', function (float $hours, string $said): void {
    expect(JobLine::lasting($hours))->toBe($said);
})->with([
    [0.0, '0 min'],
    [1.48, '89 min'],
    [1.5, '1.5 h'],
    [2.0, '2 h'],
    [9.94, '9.9 h'],
    [11.6, '12 h'],
    [47.0, '47 h'],
    [49.0, '2 days'],
]);
