<?php

declare(strict_types=1);

namespace App\Contract;

use Heartwood\Core\Record\Canonical;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\JobRecord;

/** JSON text to a job record: syntax, schema, then what a schema cannot say. Needs no framework. */
final class RecordReader
{
    /** Larger inputs are refused rather than read halfway. */
    public const MAX_BYTES = 32 * 1024 * 1024;

    /**
     * @return array{record: JobRecord, data: array<string, mixed>, hash: string}
     *
     * @throws InvalidRecord
     */
    public static function read(string $json): array
    {
        if (strlen($json) > self::MAX_BYTES) {
            throw new InvalidRecord([['pointer' => '', 'message' => 'the record is larger than 32 MB: split it']]);
        }
        try {
            $data = json_decode($json, false, 64, JSON_THROW_ON_ERROR);
        } catch (\JsonException $e) {
            throw new InvalidRecord([['pointer' => '', 'message' => 'this is not JSON: ' . $e->getMessage()]]);
        }
        $problems = SchemaCheck::problems($data, 'job.schema.json');
        if ($problems !== []) {
            throw new InvalidRecord($problems);
        }
        /** @var array<string, mixed> $array */
        $array = json_decode($json, true, 64, JSON_THROW_ON_ERROR);

        return [
            'record' => JobRecord::fromArray($array),
            'data' => $array,
            'hash' => Canonical::hash(array_diff_key($array, ['workshop' => 1])),
        ];
    }
}
