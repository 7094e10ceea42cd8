<?php

declare(strict_types=1);

// How many tests the verdict's own advice needs until the true fault stands at 0.9, against an oracle that tries every
// order of the same tests. Small packs, first reading at rest, one fault.

use App\Contract\RecordReader;
use Heartwood\Bench\PackGenerator;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\Verdict;

require dirname(__DIR__).'/vendor/autoload.php';
require __DIR__.'/PackGenerator.php';

const FAULTS = ['undercharged', 'leak', 'low-capacity', 'joint'];
const SURE = 0.9;

$packs = (int) ($argv[1] ?? 80);
$generator = new PackGenerator((int) ($argv[2] ?? 11));

/**
 * The tests that were not done yet: name (and group) to the piece of evidence that doing them adds.
 *
 * @param  array<string, mixed>  $record
 * @return array<string, array{string, mixed}>
 */
function pieces(array $record): array
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

/**
 * The fewest tests of any order: all subsets by size.
 *
 * @param  array<string, mixed>  $record
 * @param  array<string, array{string, mixed}>  $pieces
 * @param  list<array{codes: list<string>, where: list<array<string, int>|null>}>  $right
 */
function oracle(array $record, array $pieces, array $right): ?int
{
    $names = array_keys($pieces);
    for ($size = 0; $size <= 3; $size++) {
        foreach (subsets($names, $size) as $set) {
            if (sure(verdict($record, $pieces, $set), $right)) {
                return $size;
            }
        }
    }

    return null;
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
    $pieces = pieces($case['record']);
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
            $name = $t->test->value.($t->test->value === 'capacity-group' ? ':'.$t->place->number : '');
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
    $table[$fault]['asked'][] = count($done);
    $table[$fault]['oracle'][] = $best;
}
$mean = fn (array $v): float => array_sum($v) / max(1, count($v));
printf("%-16s %6s %14s %14s\n", 'fault', 'packs', 'tests as asked', 'best possible');
$asked = $oracle = [];
foreach ($table as $fault => $t) {
    printf("%-16s %6d %14.2f %14.2f\n", $fault, count($t['asked']), $mean($t['asked']), $mean($t['oracle']));
    $asked = [...$asked, ...$t['asked']];
    $oracle = [...$oracle, ...$t['oracle']];
}
printf("%-16s %6d %14.2f %14.2f   ratio %.2f\n", 'all', count($asked), $mean($asked), $mean($oracle), $mean($asked) / max(0.01, $mean($oracle)));
printf("not reached by any three tests: %d\n", $unreached);
