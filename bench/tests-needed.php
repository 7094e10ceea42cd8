<?php

declare(strict_types=1);

// How many tests the verdict's own advice needs until the true fault stands at 0.9, against an oracle that tries every
// order of the same tests. Small packs, first reading at rest, one fault.

use App\Contract\RecordReader;
use Heartwood\Bench\PackGenerator;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Diagnosis\Verdict;

require dirname(__DIR__).'/vendor/autoload.php';
require __DIR__.'/PackGenerator.php';

const FAULTS = ['undercharged', 'leak', 'low-capacity', 'joint'];
const SURE = 0.9;

$packs = (int) ($argv[1] ?? 80);
$generator = new PackGenerator((int) ($argv[2] ?? 11));

/**
 * The tests that were not done yet: name (and group or joint) to the piece of evidence that doing them adds.
 *
 * @param  array<string, mixed>  $record
 * @return array<string, array{string, mixed}>
 */
function pieces(array $record, string $fault, int $k): array
{
    $out = [];
    foreach ($record['measurements'] as $i => $m) {
        $name = $i === 0 ? null : ($m['condition'] === 'discharge' ? 'load-step' : ($m['condition'] === 'charge' ? 'charge-step' : 'rest-again'));
        if ($name !== null) {
            $out[$name] = ['measurements', $m];
        }
    }
    foreach ($record['tests'] as $t) {
        if ($t['kind'] === 'capacity') {
            $out['capacity-group:'.$t['scope']['group']] = ['tests', $t];
        }
    }
    // What a person at the bench could also do about the group that is at fault: joints, welds, cells by themselves.
    $healthy = $record['pack']['cell']['resistance_mohm'] / $record['pack']['parallel'];
    foreach ([$k - 1, $k] as $tap) {
        $out["continuity:$tap"] = ['tests', ['kind' => 'continuity', 'element' => 'joint', 'where' => ['joint' => $tap], 'drop_v' => $fault === 'joint' && $tap === $k ? round($healthy * 0.005, 4) : 0.0005, 'current_a' => -5.0]];
    }
    $out["tug-weld:$k"] = ['tests', ['kind' => 'tug-weld', 'where' => ['group' => $k], 'loose' => false]];
    $out["resistance-cell:$k"] = ['tests', ['kind' => 'resistance', 'scope' => ['group' => $k], 'mohm' => round($healthy * ($fault === 'low-capacity' ? 1.25 : 1.0), 2), 'method' => 'four-wire']];

    return $out;
}

/**
 * @param  array<string, mixed>  $record
 * @param  array<string, array{string, mixed}>  $pieces
 * @param  list<string>  $done
 */
function verdict(array $record, array $pieces, array $done): Verdict
{
    $seen = ['measurements' => [$record['measurements'][0]], 'tests' => []] + $record;
    foreach ($done as $name) {
        $seen[$pieces[$name][0]][] = $pieces[$name][1];
    }

    return Diagnoser::diagnose(RecordReader::read((string) json_encode($seen))['record']);
}

/** @param  list<array{codes: list<string>, where: list<array<string, int>|null>}>  $right */
function sure(Verdict $v, array $right): bool
{
    $p = 0.0;
    foreach ($v->findings as $f) {
        $p += in_array($f->code, $right[0]['codes'], true) && in_array($f->place->toArray(), $right[0]['where'], true) ? $f->probability : 0.0;
    }

    return $p >= SURE;
}

/** Minutes of hands that a list of pieces takes. */
function minutes(array $names): int
{
    return array_sum(array_map(fn (string $n): int => TestKind::from(explode(':', $n)[0])->minutes(), $names));
}

/**
 * The fewest tests of any order, and the fewest minutes: all subsets of up to three.
 *
 * @param  array<string, mixed>  $record
 * @param  array<string, array{string, mixed}>  $pieces
 * @param  list<array{codes: list<string>, where: list<array<string, int>|null>}>  $right
 * @return array{int, int}|null
 */
function oracle(array $record, array $pieces, array $right): ?array
{
    $names = array_keys($pieces);
    $fewest = $quickest = null;
    for ($size = 0; $size <= 3; $size++) {
        foreach (subsets($names, $size) as $set) {
            $takes = minutes($set);
            if (($quickest === null || $takes < $quickest || $fewest === null) && sure(verdict($record, $pieces, $set), $right)) {
                $fewest ??= $size;
                $quickest = min($quickest ?? PHP_INT_MAX, $takes);
            }
        }
    }

    return $fewest === null || $quickest === null ? null : [$fewest, $quickest];
}

/**
 * @param  list<string>  $names
 * @return list<list<string>>
 */
function subsets(array $names, int $size): array
{
    if ($size === 0) {
        return [[]];
    }
    $out = [];
    foreach ($names as $i => $name) {
        foreach (subsets(array_slice($names, $i + 1), $size - 1) as $rest) {
            $out[] = [$name, ...$rest];
        }
    }

    return $out;
}

$table = [];
$unreached = 0;
for ($n = 0; $n < $packs; $n++) {
    $fault = FAULTS[$n % count(FAULTS)];
    do {
        $case = $generator->make($fault, true);
    } while ($case['record']['pack']['series'] > 5);
    $where = $case['right'][0]['where'];
    $pieces = pieces($case['record'], $fault, (int) array_values($where[count($where) - 1])[0]);
    $best = oracle($case['record'], $pieces, $case['right']);
    if ($best === null) {
        $unreached++;

        continue;
    }
    $done = [];
    for ($steps = 0; $steps <= count($pieces); $steps++) {
        $v = verdict($case['record'], $pieces, $done);
        if (sure($v, $case['right'])) {
            break;
        }
        $next = null;
        foreach ($v->nextTests as $t) {
            $name = $t->test->value.(in_array($t->place->kind, ['group', 'joint'], true) ? ':'.$t->place->number : '');
            if (isset($pieces[$name]) && ! in_array($name, $done, true)) {
                $next = $name;
                break;
            }
        }
        // Nothing more is asked for: what is left is done in any order.
        $next ??= array_values(array_diff(array_keys($pieces), $done))[0] ?? null;
        if ($next === null) {
            break;
        }
        $done[] = $next;
    }
    $table[$fault][] = [count($done), $best[0], minutes($done), $best[1]];
}
printf("%-16s %6s %8s %6s %8s %6s\n", 'fault', 'packs', 'tests', 'best', 'minutes', 'best');
$row = function (string $name, array $rows): array {
    $mean = array_map(fn (int $i): float => array_sum(array_column($rows, $i)) / max(1, count($rows)), [0, 1, 2, 3]);
    printf('%-16s %6d %8.2f %6.2f %8.1f %6.1f', $name, count($rows), ...$mean);

    return $mean;
};
foreach ($table as $fault => $rows) {
    $row($fault, $rows);
    echo "\n";
}
$mean = $row('all', array_merge(...array_values($table)));
printf("   ratio of tests %.2f, of minutes %.2f\n", $mean[0] / max(0.01, $mean[1]), $mean[2] / max(0.01, $mean[3]));
printf("not reached by any three tests: %d\n", $unreached);
