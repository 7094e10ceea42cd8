<?php

declare(strict_types=1);

use App\Contract\Verbs;
use Heartwood\Core\Record\InvalidRecord;

function verb(string $verb, array $input): array
{
    return json_decode((string) json_encode(Verbs::run($verb, (string) json_encode($input))), true);
}

function complaintsOf(string $verb, string $text): array
{
    try {
        Verbs::run($verb, $text);
    } catch (InvalidRecord $e) {
        return array_column($e->problems, 'message', 'pointer');
    }

    return [];
}

$job = [
    'format' => 'heartwood.job',
    'version' => 1,
    'pack' => [
        'chemistry' => 'nmc',
        'series' => 3,
        'parallel' => 2,
        'cell' => ['capacity_ah' => 2.5, 'max_continuous_a' => 8],
        'load' => ['power_w' => 60],
    ],
    'measurements' => [
        [
            'id' => 'm',
            'condition' => 'rest',
            'rested_min' => 600,
            'readings' => [
                ['from' => 'T0', 'to' => 'T1', 'v' => 3.7],
                ['from' => 'T1', 'to' => 'T2', 'v' => 3.6],
                ['from' => 'T2', 'to' => 'T3', 'v' => 3.7],
            ],
        ],
    ],
];

it('works out every verb from its published input', function () use ($job): void {
    expect(verb('balance', ['job' => $job])['methods'])
        ->toHaveCount(5)
        ->and(verb('budget', ['job' => $job, 'parts' => ['wire' => ['awg' => 16]]])['weakest'])
        ->toContain('main wire')
        ->and(verb('layout', ['series' => 3, 'parallel' => 2, 'diameter_mm' => 18.4, 'length_mm' => 65])['cells'])
        ->toHaveCount(6)
        ->and(verb('pin-check', ['groups_v' => [3.7, 3.7], 'pins_v' => [0, 3.7, 7.4]])['go'])
        ->toBeTrue()
        ->and(
            verb('analyse-log', ['chemistry' => 'nmc', 'rated_ah' => 3, 'csv' => "t,v,i\n0,4.1,-0.6\n10,4.0,-0.6\n20,3.9,-0.6\n"])[
                'steps'
            ][0]['kind'],
        )
        ->toBe('discharge');
    $cells = array_map(fn(int $i): array => ['id' => "c$i", 'capacity_ah' => 2.9 + 0.01 * $i, 'mohm' => 30 + $i], range(1, 8));
    expect(verb('match', ['cells' => $cells, 'series' => 3, 'parallel' => 2])['groups'])
        ->toHaveCount(3)
        ->and(verb('match', ['cells' => $cells, 'series' => 3, 'parallel' => 2])['by_hand']['gap'])
        ->toBeGreaterThanOrEqual(0.0);
});

it('names the field and the mend for bad input of every verb', function (string $verb, string $text, string $pointer): void {
    expect(array_keys(complaintsOf($verb, $text)))->toContain($pointer);
})->with([
    ['match', '{"series":2,"parallel":2}', '/cells'],
    ['match', '{"cells":[{"id":"a","capacity_ah":-1,"mohm":3}],"series":1,"parallel":1}', '/cells/0/capacity_ah'],
    ['match', '{"cells":[{"id":"a","capacity_ah":1,"mohm":3},{"id":"a","capacity_ah":1,"mohm":3}],"series":1,"parallel":2}', '/cells/1/id'],
    ['layout', '{"series":2,"parallel":2,"diameter_mm":18,"length_mm":65,"max_width_mm":10}', '/max_width_mm'],
    ['layout', '{"series":2,"parallel":2,"diameter_mm":18,"length_mm":65,"colour":"red"}', '/colour'],
    ['pin-check', '{"groups_v":[3.7]}', '/pins_v'],
    ['budget', '{"job":{"format":"heartwood.job","version":1,"pack":{"chemistry":"nmc"}}}', '/job/pack/series'],
    [
        'budget',
        '{"job":{"format":"heartwood.job","version":1,"pack":{"chemistry":"nmc","series":3}},"parts":{"wire":{"awg":41}}}',
        '/parts/wire/awg',
    ],
    ['balance', '{"job":{"format":"heartwood.job","version":1,"pack":{"chemistry":"nmc","series":3}}}', '/job'],
    ['analyse-log', '{"chemistry":"nmc","rated_ah":3}', '/file'],
    ['analyse-log', '{"chemistry":"nmc","rated_ah":3,"file":"/nowhere.csv"}', '/file'],
    ['analyse-log', '{"chemistry":"nmc","rated_ah":3,"csv":"x"}', '/csv'],
    ['pin-check', 'not json', ''],
]);

it('takes square rows for a strip that offset ones have no room for, unless offset ones are asked for', function (): void {
    $in = ['series' => 4, 'parallel' => 3, 'diameter_mm' => 18.4, 'length_mm' => 65, 'max_width_mm' => 80, 'max_height_mm' => 66];
    $of = fn(array $more): array => Verbs::run('layout', (string) json_encode($in + $more));
    $strip = fn(float $mm): array => ['strip' => ['material' => 'nickel', 'width_mm' => $mm]];
    expect($of($strip(15.0))['packing'])
        ->toBe('square')
        ->and($of($strip(8.0))['widest_strip_mm'])
        ->toBeGreaterThanOrEqual(8.0)
        ->and(fn() => $of($strip(15.0) + ['packing' => 'offset']))
        ->toThrow(InvalidRecord::class);
    // Small cells with the strip that nobody named.
    $small = Verbs::run('layout', (string) json_encode(['series' => 3, 'parallel' => 4, 'diameter_mm' => 14.3, 'length_mm' => 50]));
    expect($small['widest_strip_mm'])->toBeGreaterThanOrEqual(8.0);
});

it('lays out every kind of case by its own fields, and names the field that stands in the way', function (): void {
    $in = ['series' => 7, 'parallel' => 1, 'diameter_mm' => 18.4, 'length_mm' => 65];
    $of = fn(array $more): array => Verbs::run('layout', (string) json_encode($more + $in));
    $refused = function (array $more) use ($of): string {
        try {
            $of($more);
        } catch (InvalidRecord $e) {
            return $e->problems[0]['pointer'];
        }

        return '';
    };
    expect($of(['shape' => 'round', 'case_diameter_mm' => 58])['shape'])
        ->toBe('round')
        ->and($of(['shape' => 'stairs', 'case_rows' => [4, [1, 3]]])['shape'])
        ->toBe('stairs')
        ->and($of(['shape' => 'two-layers'])['fold_at_tap'])
        ->toBeGreaterThan(0)
        ->and($of(['kind' => 'stack', 'stack_rows' => 2, 'diameter_mm' => 26, 'length_mm' => 148])['shape'])
        ->toBe('rows')
        ->and($of(['board' => ['side' => 'top', 'minus_mm' => 300]])['leads']['minus']['given_mm'])
        ->toEqual(300);
    expect($refused(['shape' => 'round', 'case_diameter_mm' => 50]))
        ->toBe('/case_diameter_mm')
        ->and($refused(['shape' => 'stairs', 'case_rows' => [3, 2]]))
        ->toBe('/case_rows')
        ->and($refused(['shape' => 'stairs']))
        ->toBe('/case_rows')
        ->and($refused(['shape' => 'two-layers', 'max_depth_mm' => 100]))
        ->toBe('/max_depth_mm')
        ->and($refused(['board' => ['side' => 'left', 'minus_mm' => 5]]))
        ->toBe('/board/side')
        ->and($refused(['stock' => ['length_mm' => 20]]))
        ->toBe('/stock/length_mm')
        ->and($refused(['stock' => ['sheet_mm' => 5]]))
        ->toBe('/stock/sheet_mm')
        ->and($refused(['strip' => ['material' => 'copper', 'width_mm' => 40]]))
        ->toBe('/strip/width_mm')
        ->and($refused(['max_width_mm' => 10]))
        ->toBe('/max_width_mm');
});
