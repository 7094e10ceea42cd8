<?php

declare(strict_types=1);

namespace App\Actions;

use App\Contract\SchemaCheck;
use App\Models\Job;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\JobRecord;

/** What the published schema and the record's own rules say against one fact of a record. */
final class FactCheck
{
    /** Where the one fact that is checked lies in its record. */
    private const PLACES = [
        'measurement' => '/measurements/0/',
        'reading' => '/measurements/0/readings/0/',
        'test' => '/tests/0/',
        'event' => '/events/0/',
    ];

    /**
     * @param  'measurement'|'reading'|'test'|'event'  $kind
     * @param  array<string, mixed>  $fact  as the record has it
     * @return array<string, string> by field of the fact; empty when it can be stored
     */
    public static function errors(string $kind, array $fact, Job $job): array
    {
        $errors = [];
        foreach (SchemaCheck::problems(json_decode((string) json_encode((object) $fact)), 'job.schema.json', $kind) as $p) {
            $errors[ltrim($p['pointer'], '/')] = $p['message'];
        }
        if ($errors !== []) {
            return $errors;
        }
        $part = match ($kind) {
            'reading' => ['measurements' => [['id' => 'x', 'condition' => 'rest', 'readings' => [$fact]]]],
            'measurement' => ['measurements' => [$fact]],
            'test' => ['tests' => [$fact]],
            'event' => ['events' => [$fact]],
        };
        try {
            JobRecord::fromArray(
                ['format' => 'heartwood.job', 'version' => 1, 'pack' => ['chemistry' => $job->chemistry, 'series' => $job->series]] + $part,
            );
        } catch (InvalidRecord $e) {
            foreach ($e->problems as $p) {
                $place = self::PLACES[$kind];
                $errors[str_starts_with($p['pointer'], $place) ? substr($p['pointer'], strlen($place)) : $p['pointer']] = $p['message'];
            }
        }

        return $errors;
    }
}
