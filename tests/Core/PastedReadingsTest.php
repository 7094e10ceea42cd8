<?php

declare(strict_types=1);

use Heartwood\Core\Drift\Point;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Service\PastedReadings;

// Whatever a sheet makes of readings is read back as it was; what it is not is named, and never taken for something else.

/** @return list<array{at: string, condition: string, soc: float|null, groups: list<float|null>}> */
function pastedSample(int $seed, int $series): array
{
    mt_srand($seed);
    $out = [];
    $at = new DateTimeImmutable('2026-01-04T08:00:00Z');
    for ($i = 0; $i < 6; $i++) {
        $at = $at->modify('+' . mt_rand(1, 400) . ' hours');
        $out[] = [
            'at' => $at->format('Y-m-d\TH:i:s\Z'),
            'condition' => ['rest', 'full', 'charge', 'discharge'][mt_rand(0, 3)],
            'soc' => mt_rand(0, 2) === 0 ? null : mt_rand(0, 100) / 100,
            'groups' => array_map(fn(): ?float => mt_rand(0, 9) === 0 ? null : mt_rand(2500, 4250) / 1000, range(1, $series)),
        ];
    }

    return $out;
}

/** @param  list<array{at: string, condition: string, soc: float|null, groups: list<float|null>}>  $rows */
function asTable(array $rows, string $separator, bool $comma, bool $millivolts): string
{
    $number = function (float $v) use ($comma, $millivolts): string {
        $text = $millivolts ? (string) (int) round(1000 * $v) : number_format($v, 3, '.', '');

        return $comma ? str_replace('.', ',', $text) : $text;
    };
    $lines = [
        implode($separator, [
            'Date',
            'Condition',
            'SoC',
            ...array_map(fn(int $k): string => "Cell $k", range(1, count($rows[0]['groups']))),
        ]),
    ];
    foreach ($rows as $r) {
        $lines[] = implode($separator, [
            $r['at'],
            $r['condition'],
            $r['soc'] === null ? '' : (string) round(100 * $r['soc']),
            ...array_map(fn(?float $v): string => $v === null ? '' : $number($v), $r['groups']),
        ]);
    }

    return implode("\r\n", $lines);
}

it('reads a table back as it was written, whatever separates it', function (string $separator, bool $comma, bool $millivolts): void {
    foreach ([[1, 4], [2, 13], [3, 96]] as [$seed, $series]) {
        $rows = pastedSample($seed, $series);
        $read = PastedReadings::of(asTable($rows, $separator, $comma, $millivolts), $series, '2026-01-01', 'rest', new DateTimeZone('UTC'));
        expect($read->wrong)->toBe([])->and($read->readings)->toHaveCount(count($rows));
        foreach ($rows as $i => $row) {
            $got = $read->readings[$i];
            expect($got['at'])
                ->toBe($row['at'])
                ->and($got['condition'])
                ->toBe($row['condition'])
                ->and($got['soc'] ?? null)
                ->toBe($row['soc']);
            foreach ($row['groups'] as $k => $v) {
                $v === null ? expect($got['groups_v'][$k])->toBeNull() : expect(abs($got['groups_v'][$k] - $v))->toBeLessThan(1e-9);
            }
            expect($got['resolution_v'])->toBe(0.001);
        }
    }
})->with([
    'semicolons' => [';', false, false],
    'semicolons, decimal commas' => [';', true, false],
    'tabs' => ["\t", false, false],
    'tabs, decimal commas' => ["\t", true, false],
    'commas' => [',', false, false],
    'millivolts' => [';', false, true],
]);

it('reads lines back as they were written', function (): void {
    foreach ([4, 13] as $series) {
        $rows = pastedSample(7, $series);
        $lines = array_map(
            fn(array $r): string => implode(' ', [
                substr($r['at'], 0, 10),
                substr($r['at'], 11, 5),
                $r['condition'],
                ...$r['soc'] === null ? [] : [round(100 * $r['soc']) . '%'],
                ...array_map(fn(?float $v): string => $v === null ? '-' : number_format($v, 3, ',', ''), $r['groups']),
            ]),
            $rows,
        );
        $read = PastedReadings::of(implode("\n", $lines), $series, '2026-01-01', 'rest', new DateTimeZone('UTC'));
        expect($read->wrong)->toBe([]);
        foreach ($rows as $i => $row) {
            expect($read->readings[$i]['groups_v'])
                ->toEqualWithDelta($row['groups'], 1e-9)
                ->and($read->readings[$i]['at'])
                ->toBe($row['at']);
        }
    }
});

it('never breaks on what is none, names each line that it does not take, and takes nothing of another size', function (): void {
    mt_srand(11);
    $letters = str_split("0123456789.,;:\t -%mVx/\n\r\"äfullrest");
    for ($n = 0; $n < 800; $n++) {
        $text =
            mt_rand(0, 1) === 0 ? asTable(pastedSample($n, 4), [';', ',', "\t"][$n % 3], false, false) : '2026-03-04 full 4.1 4.1 4.1 4.1';
        for ($k = mt_rand(1, 12); $k > 0; $k--) {
            $text = substr_replace($text, $letters[mt_rand(0, count($letters) - 1)], mt_rand(0, strlen($text)), mt_rand(0, 2));
        }
        $read = PastedReadings::of($text, 4, '2026-01-01', 'rest', new DateTimeZone('Europe/Berlin'));
        expect(count($read->readings) + count($read->wrong))->toBeGreaterThan(0, json_encode($text, JSON_INVALID_UTF8_SUBSTITUTE) ?: '');
        foreach ($read->readings as $r) {
            expect(Point::from(new Fields($r))->problem(4))
                ->toBeNull()
                ->and($r['at'])
                ->toMatch('/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ$/');
            foreach ($r['groups_v'] ?? [] as $v) {
                expect($v === null || abs($v) < 10)->toBeTrue();
            }
        }
    }
});

it('keeps a day of its own in the zone of the shop, over the change of the clocks', function (string $line, string $at): void {
    $read = PastedReadings::of("$line 3.8 3.7", 4, '2026-01-01', 'rest', new DateTimeZone('Europe/Berlin'));
    expect($read->readings[0]['at'])->toBe($at);
})->with([
    'winter' => ['2026-02-01', '2026-02-01T11:00:00Z'],
    'summer' => ['2026-07-01', '2026-07-01T10:00:00Z'],
    'the hour before' => ['2026-03-29 01:30', '2026-03-29T00:30:00Z'],
    'the hour after' => ['2026-03-29 03:30', '2026-03-29T01:30:00Z'],
    'as it is said to the second' => ['2026-07-01 23:59:59', '2026-07-01T21:59:59Z'],
]);
