<?php

declare(strict_types=1);

namespace Tests\Core;

use App\Contract\RecordReader;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\Verdict;
use Heartwood\Core\Reading\NetworkReading;
use Heartwood\Core\Record\JobRecord;

/** Builds job records and readings for tests, as a technician would take them. */
final class Bench
{
    /**
     * @param  list<float>  $groups  rest volts
     * @param  array<string, mixed>  $pack
     * @param  array<string, mixed>  $more  of the record
     * @return array<string, mixed>
     */
    public static function record(array $groups, array $pack = [], array $more = [], string $style = 'across'): array
    {
        return array_replace_recursive(
            [
                'format' => 'heartwood.job',
                'version' => 1,
                'pack' => $pack + [
                    'chemistry' => 'nmc',
                    'series' => count($groups),
                    'parallel' => 3,
                    'cell' => ['capacity_ah' => 2.8, 'resistance_mohm' => 40],
                ],
                'measurements' => [self::rest('m1', $groups, $style)],
            ],
            $more,
        );
    }

    /**
     * @param  list<float>  $groups
     * @return array<string, mixed>
     */
    public static function rest(string $id, array $groups, string $style = 'across', string $at = '2026-05-04T09:00:00Z'): array
    {
        return [
            'id' => $id,
            'at' => $at,
            'condition' => 'rest',
            'rested_min' => 600,
            'current_a' => 0,
            'instrument' => self::meter(),
            'readings' => self::readings($groups, $style),
        ];
    }

    /** @return array<string, mixed> */
    public static function meter(): array
    {
        return ['id' => 'meter-1', 'kind' => 'multimeter', 'percent' => 0.5, 'counts' => 2, 'resolution_v' => 0.001, 'input' => 'high'];
    }

    /**
     * @param  list<float>  $groups
     * @return list<array<string, mixed>>
     */
    public static function readings(array $groups, string $style = 'across'): array
    {
        $sum = 0.0;
        $out = [];
        foreach ($groups as $i => $v) {
            $sum += $v;
            $out[] =
                $style === 'across'
                    ? ['from' => "T$i", 'to' => 'T' . ($i + 1), 'v' => round($v, 3)]
                    : ['from' => 'T0', 'to' => 'T' . ($i + 1), 'v' => round($sum, $sum > 10 ? 2 : 3)];
        }
        if ($style === 'across') {
            $out[] = ['from' => 'T0', 'to' => 'T' . count($groups), 'v' => round($sum, 2), 'resolution_v' => 0.01];
        }

        return $out;
    }

    public static function reading(int $from, int $to, float $volts, float $resolution = 0.001, float $percent = 0.5): NetworkReading
    {
        return new NetworkReading(
            $from,
            $to,
            $volts,
            $resolution,
            (2 * $resolution) / sqrt(3),
            "m/$resolution",
            $percent / 100 / sqrt(3),
            "/$from-$to",
        );
    }

    /** @param  array<string, mixed>  $record */
    public static function parse(array $record): JobRecord
    {
        return RecordReader::read(json_encode($record, JSON_THROW_ON_ERROR))['record'];
    }

    /** @param  array<string, mixed>  $record */
    public static function verdict(array $record): Verdict
    {
        $input = RecordReader::read(json_encode($record, JSON_THROW_ON_ERROR));

        return Diagnoser::diagnose($input['record'], $input['hash']);
    }

    /** Probability of a code at a place ('group' => 3), or anywhere. */
    public static function probability(Verdict $verdict, string $code, ?array $where = null): float
    {
        $sum = 0.0;
        foreach ($verdict->findings as $f) {
            if ($f->code === $code && ($where === null || $f->place->toArray() === $where)) {
                $sum += $f->probability;
            }
        }

        return $sum;
    }

    /** @return list<string> */
    public static function actions(Verdict $verdict): array
    {
        return array_map(fn($o): string => $o->action->value, $verdict->options);
    }
}
