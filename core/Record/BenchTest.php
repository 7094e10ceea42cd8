<?php

declare(strict_types=1);

namespace Heartwood\Core\Record;

/** One test of the record: its kind, where, and what came out (fields by kind, see the schema). */
final readonly class BenchTest
{
    public function __construct(public string $kind, public int $revision, public Place $place, public Fields $data) {}

    public static function from(Fields $t): self
    {
        $scope = $t->has('scope') ? Place::from($t->object('scope')) : Place::from($t->object('where'));

        return new self((string) $t->string('kind'), $t->int('revision') ?? 1, $scope, $t);
    }

    /** Whether a temperature sensor is far off its curve; null when this is no such test. */
    public function sensorOff(): ?bool
    {
        $ohm = $this->data->float('ohm');
        $expected = $this->data->float('expected_ohm');

        return $this->kind !== 'sensor' || $ohm === null || $expected === null || $expected <= 0 ? null : abs($ohm / $expected - 1) > 0.3;
    }
}
