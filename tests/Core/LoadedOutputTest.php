<?php

declare(strict_types=1);

use App\Contract\RecordReader;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\Finding;
use Heartwood\Core\Diagnosis\NextTest;
use Heartwood\Core\Diagnosis\Verdict;

// The output under load is held against the string at the same moment; and what two complaints want looked at.

/**
 * Twelve groups that sink alike by so much a second while the probe walks up under 2.5 A; the output is read last.
 *
 * @param  float  $lost  volts between taps and terminals under load
 * @param  array<string, mixed>  $meter
 */
function loadedVerdict(float $sinks, float $lost, float $gain = 1.0, array $meter = ['percent' => 0.05, 'counts' => 2]): Verdict
{
    $pair = fn(int $k, float $v, int $at): array => ['from' => 'T' . ($k - 1), 'to' => "T$k", 'v' => round($v * $gain, 4), 'at_s' => $at];
    $out = fn(float $v, int $at): array => ['from' => 'P-', 'to' => 'P+', 'v' => round($v, 3), 'resolution_v' => 0.001, 'at_s' => $at];
    $rest = array_map(fn(int $k): array => $pair($k, 3.93, 14 * $k), range(1, 12));
    if ($gain !== 1.0) {
        // The whole string is read at rest on the range of the output, whose gain is its own.
        $rest[] = ['from' => 'T0', 'to' => 'T12', 'v' => round(12 * 3.93, 3), 'resolution_v' => 0.001, 'at_s' => 170];
    }
    $load = array_map(fn(int $k): array => $pair($k, 3.86 - $sinks * 4 * $k, 4 * $k), range(1, 12));
    $record = [
        'format' => 'heartwood.job',
        'version' => 1,
        'pack' => ['chemistry' => 'nmc', 'series' => 12, 'parallel' => 1, 'cell' => ['capacity_ah' => 2.5, 'resistance_mohm' => 30]],
        'measurements' => [
            ['condition' => 'rest', 'rested_min' => 720, 'instrument' => $meter, 'readings' => [...$rest, $out(12 * 3.93, 180)]],
            [
                'condition' => 'discharge',
                'current_a' => -2.5,
                'since_current_s' => 60,
                'instrument' => $meter,
                'readings' => [...$load, $out(12 * (3.86 - $sinks * 48) - $lost, 48)],
            ],
        ],
    ];
    foreach ($record['measurements'] as $i => $m) {
        $record['measurements'][$i] += ['id' => "m$i", 'at' => "2026-04-06T09:0$i:00Z"];
    }

    return Diagnoser::diagnose(RecordReader::read((string) json_encode($record))['record']);
}

function saysConnector(Verdict $v): bool
{
    return array_filter($v->findings, fn(Finding $f): bool => $f->code === 'path.connector' && $f->probability >= 0.5) !== [];
}

it('takes a string that sinks while it is read for no loss on the way out, and a loss for one', function (): void {
    expect(saysConnector(loadedVerdict(0.0006, 0.0)))
        ->toBeFalse()
        ->and(saysConnector(loadedVerdict(0.0, 0.0)))
        ->toBeFalse()
        ->and(saysConnector(loadedVerdict(0.0006, 0.8)))
        ->toBeTrue()
        ->and(saysConnector(loadedVerdict(0.0, 0.8)))
        ->toBeTrue();
});

it('takes another range of a hand meter for no loss, and a clear loss for one all the same', function (): void {
    $hand = ['percent' => 0.5, 'counts' => 2];
    expect(saysConnector(loadedVerdict(0.0, 0.0, 1.005, $hand)))
        ->toBeFalse()
        ->and(saysConnector(loadedVerdict(0.0, 0.8, 1.005, $hand)))
        ->toBeTrue();
});

it('asks for the pins of a pack that was modified, and for a watched charge where the charger blinks', function (
    string $symptom,
    string $test,
): void {
    $asked = function (array $symptoms) use ($test): bool {
        $record = [
            'format' => 'heartwood.job',
            'version' => 1,
            'pack' => ['chemistry' => 'nmc', 'series' => 4, 'parallel' => 2, 'cell' => ['capacity_ah' => 2.5]],
            'symptoms' => $symptoms,
            'measurements' => [
                [
                    'condition' => 'rest',
                    'rested_min' => 720,
                    'readings' => array_map(fn(int $k): array => ['from' => 'T' . ($k - 1), 'to' => "T$k", 'v' => 3.8], range(1, 4)),
                ],
            ],
        ];
        $v = Diagnoser::diagnose(RecordReader::read((string) json_encode($record))['record']);

        return array_filter($v->nextTests, fn(NextTest $t): bool => $t->test->value === $test) !== [];
    };
    expect($asked([$symptom]))->toBeTrue()->and($asked([]))->toBeFalse();
})->with([['modified', 'pin-check'], ['charger-blinks-fault', 'full-charge-watch']]);
