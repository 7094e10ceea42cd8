<?php

declare(strict_types=1);

use Heartwood\Core\Backup\Manifest;
use Heartwood\Core\Backup\Retention;
use Heartwood\Core\Limits\BackupLimits;

// Which backups stay, and what is wrong with one.

/** @return array<string, DateTimeImmutable> one a night, the latest first, by their date */
function nights(int $n, string $last = '2026-11-30'): array
{
    $out = [];
    for ($i = 0; $i < $n; $i++) {
        $at = (new DateTimeImmutable("$last 02:30"))->modify("-$i days");
        $out[$at->format('Y-m-d')] = $at;
    }

    return $out;
}

it('keeps the latest of each of the last days, weeks and months', function (): void {
    $all = nights(400);
    $kept = array_values(array_diff(array_keys($all), Retention::outdated($all)));
    rsort($kept);
    expect($kept)->toBe([
        // Seven days, the latest of two more weeks, of five more months.
        '2026-11-30',
        '2026-11-29',
        '2026-11-28',
        '2026-11-27',
        '2026-11-26',
        '2026-11-25',
        '2026-11-24',
        '2026-11-22',
        '2026-11-15',
        '2026-10-31',
        '2026-09-30',
        '2026-08-31',
        '2026-07-31',
        '2026-06-30',
    ]);
    expect([BackupLimits::DAYS, BackupLimits::WEEKS, BackupLimits::MONTHS])->toBe([7, 4, 6]);
    // What goes, goes the oldest first; again, nothing more goes.
    $gone = Retention::outdated($all);
    expect($gone)
        ->toBe([...array_reverse(array_reverse($gone))])
        ->and($gone[0])
        ->toBe(array_key_last($all));
    expect(Retention::outdated(array_diff_key($all, array_flip($gone))))->toBe([]);
});

it('never lets the latest go, nor all of a shop that was closed for months', function (): void {
    expect(Retention::outdated([]))->toBe([])->and(Retention::outdated(nights(1)))->toBe([]);
    $before = nights(6, '2026-03-01');
    expect(Retention::outdated($before + nights(1)))->toBe([]);
    $twice = ['a' => new DateTimeImmutable('2026-11-30 02:30'), 'b' => new DateTimeImmutable('2026-11-30 15:00')];
    expect(Retention::outdated($twice))->toBe(['a']);
});

it('calls a backup old after a night that brought none', function (): void {
    $last = new DateTimeImmutable('2026-11-28 02:30:00');
    $hours = fn(float $h): bool => Retention::isOld($last, $last->modify(sprintf('+%d seconds', (int) round(3600 * $h))));
    expect([$hours(BackupLimits::OLD_H), $hours(BackupLimits::OLD_H + 0.01), BackupLimits::OLD_H])->toBe([false, true, 36.0]);
});

it('finds what is missing, altered or not of it, and says so by its path', function (): void {
    $of = fn(string $text): array => ['bytes' => strlen($text), 'sha256' => hash('sha256', $text)];
    $members = ['database.sql.gz' => $of('dump'), 'photos/ab/abc.jpg' => $of('photo'), 'logs/x' => $of('log')];
    $manifest = Manifest::read(Manifest::of('2026-11-30T02:30:00Z', 'rules', $members)->toJson());
    expect($manifest)->toBeInstanceOf(Manifest::class);
    assert($manifest instanceof Manifest);
    expect($manifest->problems($members))
        ->toBe([])
        ->and($manifest->problems(array_diff_key($members, ['logs/x' => 1])))
        ->toBe(['logs/x is missing'])
        ->and($manifest->problems(['logs/x' => $of('lag')] + $members))
        ->toBe(['logs/x was altered, or did not come whole'])
        ->and($manifest->problems($members + ['more' => $of('')]))
        ->toBe(['more is not of this backup'])
        ->and(array_keys($manifest->members))
        ->toBe(['database.sql.gz', 'logs/x', 'photos/ab/abc.jpg']);
    $none = Manifest::of('x', 'y', ['logs/x' => $of('log')]);
    expect($none->problems(['logs/x' => $of('log')]))->toBe(['it has no database']);
});

it('takes nothing for a backup that is none, nor a path out of it', function (string $json, string $said): void {
    expect(Manifest::read($json))->toContain($said);
})->with([
    ['', 'no backup of Heartwood'],
    ['{"format":"other"}', 'no backup of Heartwood'],
    ['{"format":"heartwood.backup","version":2}', 'version 2, and version 1 is known here'],
    ['{"format":"heartwood.backup","version":1}', 'lacks when it was taken'],
    ['{"format":"heartwood.backup","version":1,"taken_at":"x","rules":"y","members":{"a":{"bytes":1,"sha256":"no"}}}', 'of "a"'],
    ...array_map(
        fn(string $path): array => [
            '{"format":"heartwood.backup","version":1,"taken_at":"x","rules":"y","members":{"' .
            $path .
            '":{"bytes":1,"sha256":"' .
            str_repeat('a', 64) .
            '"}}}',
            'what cannot be',
        ],
        ['../etc', 'photos/../../x', '/etc/passwd', 'a/..'],
    ),
]);
