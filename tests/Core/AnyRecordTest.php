<?php

declare(strict_types=1);

use App\Contract\RecordReader;
use App\Contract\SchemaCheck;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Pack\Chemistry;
use Tests\Core\AnyRecord;

// Whatever passes the schema gets a verdict, and some things hold of every verdict.

it('gives a whole and safe verdict to any record that passes the schema', function (int $seed): void {
    $any = new AnyRecord($seed);
    for ($i = 0; $i < 60; $i++) {
        $json = (string) json_encode($any->make());
        $input = RecordReader::read($json);
        $verdict = Diagnoser::diagnose($input['record'], $input['hash']);
        $d = json_decode((string) json_encode($verdict->toArray(), JSON_THROW_ON_ERROR), true);
        $named = "seed $seed, record $i: $json";
        expect(SchemaCheck::problems(json_decode((string) json_encode($verdict->toArray())), 'verdict.schema.json'))->toBe([], $named);
        foreach ($verdict->groups as $g) {
            expect(array_sum($g['states']))->toEqualWithDelta(1.0, 2e-3, $named);
        }
        $places = array_map(fn(array $f): string => $f['code'] . json_encode($f['where']), $d['findings']);
        expect($places)->toBe(array_values(array_unique($places)), $named);
        $floor = Chemistry::from($input['record']->pack->chemistry->value)->profile()->floorV;
        foreach ($d['options'] as $o) {
            $safe = $d['safety']['state'] === 'clear' || in_array($o['action'], ['none', 'recycle', 'quarantine'], true);
            foreach (in_array($o['action'], ['recover-group', 'charge-group'], true) ? $o['where'] ?? [] : [] as $place) {
                $volts = $d['groups'][$place['group'] - 1]['v'];
                $safe =
                    $safe &&
                    ($volts === null || $volts >= $floor) &&
                    array_filter(
                        $d['findings'],
                        fn(array $f): bool => $f['where'] === $place &&
                            in_array($f['code'], ['group.dead', 'group.reversed'], true) &&
                            $f['probability'] > 0.3,
                    ) === [];
            }
            expect($safe)->toBeTrue("{$o['action']} in $named");
        }
        if ($d['safety']['state'] === 'quarantine') {
            expect($d['next_tests'])->toBe([], $named);
        }
    }
})->with(range(1, 6));

it('says the same of the same record twice, and of its sets in any order that the clock gives them', function (): void {
    $any = new AnyRecord(77);
    for ($i = 0; $i < 20; $i++) {
        $record = $any->make();
        $once = RecordReader::read((string) json_encode($record));
        $shuffled = ['tests' => $record['tests'], 'measurements' => $record['measurements']] + $record;
        foreach ($shuffled['measurements'] as &$m) {
            $m['readings'] = array_reverse($m['readings']);
        }
        unset($m);
        $twice = RecordReader::read((string) json_encode($shuffled));
        $findings = fn(array $in): array => array_map(
            fn($f): array => [$f->code, $f->place->key(), round($f->probability, 3)],
            Diagnoser::diagnose($in['record'])->findings,
        );
        expect($findings($twice))->toBe($findings($once));
    }
});
