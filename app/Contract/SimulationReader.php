<?php

declare(strict_types=1);

namespace App\Contract;

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Record\JobRecord;

/** JSON text of a scenario with its job record, checked against both schemas. */
final class SimulationReader
{
    /**
     * @return array{JobRecord, Fields} the record and its scenario
     *
     * @throws InvalidRecord
     */
    public static function read(string $json): array
    {
        try {
            $data = json_decode($json, false, 64, JSON_THROW_ON_ERROR);
        } catch (\JsonException $e) {
            throw new InvalidRecord([['pointer' => '', 'message' => 'this is not JSON: ' . $e->getMessage()]]);
        }
        $problems = SchemaCheck::problems($data, 'scenario.schema.json');
        if ($problems !== []) {
            throw new InvalidRecord($problems);
        }
        $array = json_decode($json, true, 64, JSON_THROW_ON_ERROR);
        try {
            $record = RecordReader::read((string) json_encode($data->job));
        } catch (InvalidRecord $e) {
            throw new InvalidRecord(
                array_map(fn(array $p): array => ['pointer' => '/job' . $p['pointer'], 'message' => $p['message']], $e->problems),
            );
        }

        return [$record['record'], Fields::of($array['scenario'])];
    }
}
