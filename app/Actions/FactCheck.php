<?php

declare(strict_types=1);

namespace App\Actions;

use App\Contract\SchemaCheck;
use App\Models\Job;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\JobRecord;

/** What the published schema and the record's own rules say against a part of a record. */
final class FactCheck
{
    /**
     * @param  array<string, mixed>  $part  as the record has it: `measurements`, `tests`, `events`
     * @return array<string, string> by field below $prefix; empty when it can be stored
     */
    public static function errors(array $part, Job $job, string $prefix): array
    {
        $document =
            ['format' => 'heartwood.job', 'version' => 1, 'pack' => ['chemistry' => $job->chemistry, 'series' => $job->series]] + $part;
        $problems = SchemaCheck::problems(json_decode((string) json_encode($document)), 'job.schema.json');
        if ($problems === []) {
            try {
                JobRecord::fromArray($document);
            } catch (InvalidRecord $e) {
                $problems = $e->problems;
            }
        }
        $errors = [];
        foreach ($problems as $p) {
            $errors[str_starts_with($p['pointer'], $prefix) ? substr($p['pointer'], strlen($prefix)) : $p['pointer']] = $p['message'];
        }

        return $errors;
    }
}
