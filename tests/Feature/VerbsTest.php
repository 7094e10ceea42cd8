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
