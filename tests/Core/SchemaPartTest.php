<?php

declare(strict_types=1);

use App\Contract\SchemaCheck;

// A fact that comes alone is judged by its part of the schema, as it would be within its document.

const WHOLE_FACTS = [
    'reading' => ['from' => 'T0', 'to' => 'T4', 'v' => 14.91, 'resolution_v' => 0.01, 'at_s' => 3],
    'measurement' => [
        'id' => 'm1',
        'condition' => 'discharge',
        'current_a' => -11.0,
        'since_current_s' => 60,
        'ambient_c' => 20,
        'sense_connected' => true,
        'instrument' => ['id' => 'meter-1', 'kind' => 'multimeter', 'percent' => 0.5, 'counts' => 2, 'resolution_v' => 0.001],
        'readings' => [['from' => 'P-', 'to' => 'P+', 'v' => 45.5]],
        'temperatures' => [['where' => ['joint' => 4], 'c' => 41.5]],
    ],
    'test' => ['kind' => 'capacity', 'scope' => ['group' => 4], 'measured_ah' => 15.9, 'rate_a' => 3.4, 'started_full' => true],
    'event' => ['at' => '2026-11-19T15:00:00Z', 'kind' => 'retightened', 'where' => ['joint' => 4], 'revision' => 1],
];

/** @return array{list<array<string, string>>, list<array<string, string>>} alone, and within its document with the way to it taken off */
function bothWays(string $kind, mixed $fact): array
{
    $part = match ($kind) {
        'reading' => ['measurements' => [['id' => 'x', 'condition' => 'rest', 'readings' => [$fact]]]],
        default => ["{$kind}s" => [$fact]],
    };
    $document = ['format' => 'heartwood.job', 'version' => 1, 'pack' => ['chemistry' => 'nmc', 'series' => 14]] + $part;
    $plain = fn(mixed $x): mixed => json_decode((string) json_encode($x));
    $way = $kind === 'reading' ? '/measurements/0/readings/0' : "/{$kind}s/0";
    $within = array_map(
        fn(array $p): array => ['pointer' => substr($p['pointer'], strlen($way)), 'message' => $p['message']],
        SchemaCheck::problems($plain($document), 'job.schema.json'),
    );

    return [SchemaCheck::problems($plain($fact), 'job.schema.json', $kind), $within];
}

it('judges a part as it is judged within its document, right or changed at any place', function (string $kind, int $seed): void {
    mt_srand($seed);
    $good = WHOLE_FACTS[$kind];
    expect(bothWays($kind, $good))->toBe([[], []]);
    $wrong = 0;
    for ($n = 0; $n < 300; $n++) {
        $fact = $good;
        $at = &$fact;
        // Some place in it, at any depth.
        while (is_array($at) && $at !== [] && (mt_rand(0, 2) > 0 || $at === $fact)) {
            $at = &$at[array_rand($at)];
        }
        $other = [null, 'x', '', -1, 1e9, 3.5, true, [], ['a' => 1], [1, 2]];
        $at = $other[mt_rand(0, count($other) - 1)];
        if (mt_rand(0, 3) === 0) {
            $fact['unknown'] = 1;
        }
        if (mt_rand(0, 3) === 0) {
            unset($fact[array_rand($good)]);
        }
        unset($at);
        [$alone, $within] = bothWays($kind, $fact === [] ? (object) [] : $fact);
        expect($alone)->toBe($within, json_encode($fact));
        $wrong += $alone === [] ? 0 : 1;
    }
    // Most of what was changed is wrong, and some of it is not.
    expect($wrong)->toBeGreaterThan(150)->toBeLessThan(300);
})->with([
    'a reading' => ['reading', 11],
    'a set' => ['measurement', 12],
    'a test' => ['test', 13],
    'an event' => ['event', 14],
]);

it('cuts out with a part all that it refers to, and says of no part that it is there when it is not', function (): void {
    $schema = json_decode((string) file_get_contents(dirname(__DIR__, 2) . '/contract/job.schema.json'));
    foreach (array_keys((array) $schema->{'$defs'}) as $part) {
        // A reference that leads nowhere is an exception, not a verdict.
        expect(SchemaCheck::problems((object) ['unknown' => 1], 'job.schema.json', $part))->not->toBe([], $part);
    }
});
