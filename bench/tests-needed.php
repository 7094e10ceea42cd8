<?php

declare(strict_types=1);

// How many minutes the verdict's own advice takes until the true fault stands at 0.9, against the least expected minutes
// of any order of at most four tests, found by going through all of them: an order that is the same at every pack which
// looks alike at rest, because nobody knows the fault beforehand. Beside it what one who knew it would need. Small packs,
// first reading at rest, one fault. --trace tells what was advised at each.

use App\Contract\RecordReader;
use Heartwood\Bench\PackGenerator;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Diagnosis\Verdict;

require dirname(__DIR__) . '/vendor/autoload.php';
require __DIR__ . '/PackGenerator.php';

const FAULTS = ['undercharged', 'leak', 'low-capacity', 'joint'];
const SURE = 0.9;
const KINDS = ['load-step', 'charge-step', 'rest-again', 'capacity-group', 'continuity', 'tug-weld', 'resistance-cell'];

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
        $name =
            $i === 0
                ? null
                : ($m['condition'] === 'discharge'
                    ? 'load-step'
                    : ($m['condition'] === 'charge'
                        ? 'charge-step'
                        : 'rest-again'));
        if ($name !== null) {
            $out[$name] = ['measurements', $m];
        }
    }
    foreach ($record['tests'] as $t) {
        if ($t['kind'] === 'capacity') {
            $out['capacity-group:' . $t['scope']['group']] = ['tests', $t];
        }
    }
    // What a person at the bench could also do about the group that is at fault: joints, welds, cells by themselves.
    $healthy = $record['pack']['cell']['resistance_mohm'] / $record['pack']['parallel'];
    foreach ([$k - 1, $k] as $tap) {
        $out["continuity:$tap"] = [
            'tests',
            [
                'kind' => 'continuity',
                'element' => 'joint',
                'where' => ['joint' => $tap],
                'drop_v' => $fault === 'joint' && $tap === $k ? round($healthy * 0.005, 4) : 0.0005,
                'current_a' => -5.0,
            ],
        ];
    }
    $out["tug-weld:$k"] = ['tests', ['kind' => 'tug-weld', 'where' => ['group' => $k], 'loose' => false]];
    $out["resistance-cell:$k"] = [
        'tests',
        [
            'kind' => 'resistance',
            'scope' => ['group' => $k],
            'mohm' => round($healthy * ($fault === 'low-capacity' ? 1.25 : 1.0), 2),
            'method' => 'four-wire',
        ],
    ];

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
        $p +=
            in_array($f->code, $right[0]['codes'], true) && in_array($f->place->toArray(), $right[0]['where'], true)
                ? $f->probability
                : 0.0;
    }

    return $p >= SURE;
}

/** Minutes of hands that a list of pieces takes. @param  list<string>  $names */
function minutes(array $names): int
{
    return array_sum(array_map(fn(string $n): int => TestKind::from(explode(':', $n)[0])->minutes(), $names));
}

/**
 * @param  list<string>  $names
 * @return list<list<string>> every set of so many at the most
 */
function subsets(array $names, int $most): array
{
    $out = [[]];
    foreach ($names as $name) {
        foreach ($out as $set) {
            if (count($set) < $most) {
                $out[] = [...$set, $name];
            }
        }
    }

    return $out;
}

/**
 * @param  list<string>  $names
 * @return list<list<string>> every order of so many at the most
 */
function orders(array $names, int $most): array
{
    if ($most === 0) {
        return [[]];
    }
    $out = [[]];
    foreach ($names as $name) {
        foreach (orders(array_values(array_diff($names, [$name])), $most - 1) as $rest) {
            $out[] = [$name, ...$rest];
        }
    }

    return $out;
}

/**
 * What a person would do without advice: the same kinds in the same order at every pack that looks like this one. The
 * order of at most four kinds that takes the fewest minutes in the mean over all such packs; where it does not decide,
 * everything else is done after it.
 *
 * @param  list<array{pieces: array<string, array{string, mixed}>, decides: array<string, bool>}>  $packs
 * @return array{list<string>, float} order and mean minutes
 */
function bestOrder(array $packs): array
{
    $best = [[], INF];
    foreach (orders(KINDS, 4) as $order) {
        $sum = 0;
        foreach ($packs as $pack) {
            $done = [];
            foreach ([null, ...$order] as $kind) {
                array_push(
                    $done,
                    ...array_filter(
                        array_keys($pack['pieces']),
                        fn(string $n): bool => $kind !== null && kind($n) === $kind && suspect($n, $pack),
                    ),
                );
                if ($decided = $pack['decides'][key_of($done)]) {
                    break;
                }
            }
            $sum += minutes($decided ? $done : array_keys($pack['pieces']));
        }
        if ($sum < $best[1]) {
            $best = [$order, $sum];
        }
    }

    return [$best[0], $best[1] / max(1, count($packs))];
}

function kind(string $name): string
{
    return explode(':', $name)[0];
}

/** A person measures the capacity of the group that stands out, and of no other. */
function suspect(string $name, array $pack): bool
{
    return kind($name) !== 'capacity-group' || $name === "capacity-group:{$pack['suspect']}";
}

/** @param  list<string>  $done */
function key_of(array $done): string
{
    sort($done);

    return implode(' ', $done);
}

$table = $classes = [];
$unreached = 0;
for ($n = 0; $n < $packs; $n++) {
    $fault = FAULTS[$n % count(FAULTS)];
    do {
        $case = $generator->make($fault, true);
    } while ($case['record']['pack']['series'] > 5);
    $where = $case['right'][0]['where'];
    $k = (int) array_values($where[count($where) - 1])[0];
    $pieces = pieces($case['record'], $fault, $k);
    $pack = ['pieces' => $pieces, 'suspect' => $k, 'decides' => []];
    $fewest = null;
    // Kinds, and both joints at once: what the orders are made of.
    foreach (subsets(KINDS, 4) as $kinds) {
        $set = array_values(
            array_filter(array_keys($pieces), fn(string $name): bool => in_array(kind($name), $kinds, true) && suspect($name, $pack)),
        );
        $pack['decides'][key_of($set)] ??= sure(verdict($case['record'], $pieces, $set), $case['right']);
        $fewest = $pack['decides'][key_of($set)] ? min($fewest ?? PHP_INT_MAX, minutes($set)) : $fewest;
    }
    if ($fewest === null) {
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
            $name = $t->test->value . (in_array($t->place->kind, ['group', 'joint'], true) ? ':' . $t->place->number : '');
            if (isset($pieces[$name]) && !in_array($name, $done, true)) {
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
    // What a person sees before the first test: a group that stands out at rest, or none.
    $rest = array_column($case['record']['measurements'][0]['readings'], 'v');
    $spread = verdict($case['record'], $pieces, [])->spread?->spreadV ?? 0.0;
    $class = $spread > 0.01 ? 'a group stands out' : 'level at rest';
    $classes[$class][] = $pack;
    $table[$class][$fault][] = [count($done), minutes($done), $fewest];
    if (in_array('--trace', $argv, true)) {
        fprintf(STDERR, "%-14s %-18s %3d min: %s (best %d)\n", $fault, $class, minutes($done), implode(', ', $done), $fewest);
    }
}
$advised = $searched = $count = 0.0;
printf("%-16s %6s %8s %8s %12s\n", 'fault', 'packs', 'tests', 'minutes', 'knowing it');
foreach ($table as $class => $faults) {
    [$order, $mean] = bestOrder($classes[$class]);
    $rows = array_merge(...array_values($faults));
    foreach ($faults + ['all' => $rows] as $fault => $of) {
        printf(
            "%-16s %6d %8.2f %8.1f %12.1f\n",
            $fault,
            count($of),
            ...array_map(fn(int $i): float => array_sum(array_column($of, $i)) / count($of), [0, 1, 2]),
        );
    }
    printf("  %s: best order of at most four by search: %s, %.1f minutes in the mean\n\n", $class, implode(', ', $order), $mean);
    $advised += array_sum(array_column($rows, 1));
    $searched += $mean * count($rows);
    $count += count($rows);
}
$ratio = $advised / max(1e-9, $searched);
printf(
    "minutes as advised %.1f, least by any one order %.1f: %.2f (limit 1.25) %s\n",
    $advised / $count,
    $searched / $count,
    $ratio,
    $ratio <= 1.25 ? 'ok' : 'OVER',
);
printf("not decided by any four kinds of test: %d\n", $unreached);
exit($ratio <= 1.25 ? 0 : 1);
