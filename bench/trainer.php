<?php

declare(strict_types=1);

// Rounds of the trainer, played by the tool itself with its own next tests: right by code and place, unsafe acts, kinds.

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Trainer\Attempt;
use Heartwood\Core\Trainer\CarefulHand;
use Heartwood\Core\Trainer\Choice;
use Heartwood\Core\Trainer\Outturn;
use Heartwood\Core\Trainer\Rounds;
use Heartwood\Core\Trainer\Score;
use Heartwood\Core\Trainer\Tool;

require dirname(__DIR__) . '/vendor/autoload.php';

/** Least share that is right, by level. */
const LEAST = [1 => 0.95, 2 => 0.95, 3 => 0.88, 4 => 0.88];
const KINDS = 12;
/** Least share of choices that are carried out, proved, and leave nothing wrong: one choice mends one of two faults. */
const CARRIED = 0.8;

$rounds = (int) ($argv[1] ?? 100);
$first = (int) ($argv[2] ?? 1);
$kinds = $missed = [];
$unsafe = $chosen = $worked = $back = $rid = 0;
$bad = 0;
foreach (LEAST as $level => $least) {
    $right = $tests = 0;
    $brier = 0.0;
    $minutes = [];
    for ($seed = $first; $seed < $first + $rounds; $seed++) {
        $round = Rounds::of($level, $seed);
        $tool = new Tool($round);
        $said = Tool::answer($tool->play());
        $score = Score::of($said['findings'], $round->patient->truth);
        if ($said['option'] !== null) {
            $fresh = Rounds::of($level, $seed)->patient;
            $where = array_map(fn(?array $w): array => $w ?? [], $said['option']['where']);
            $why = Choice::of(RepairAction::from($said['option']['action']), $where, $fresh, $round->knownV())->unsafe;
            $chosen += $why === null ? 0 : 1;
            $why === null || printf("  unsafe choice, level %d, seed %d: %s: %s\n", $level, $seed, $said['option']['action'], $why);
        }
        $action = $said['option'] === null ? RepairAction::None : RepairAction::from($said['option']['action']);
        if (!$action->endsPack() && $round->unsafe === null) {
            $round->carryOut(Fields::of($said));
            $hand = (new CarefulHand($round))->carryOut($action, $said['option']['where'] ?? []);
            $worked++;
            $back += $hand->returned === true ? 1 : 0;
            $left = array_diff(array_column(Outturn::of($round, 0, $hand->returned)->left, 'code'), [Attempt::PROTECTING]);
            $rid += $hand->returned === true && $left === [] ? 1 : 0;
            $round->unsafe === null || printf("  unsafe work, level %d, seed %d: %s\n", $level, $seed, $round->unsafe);
        }
        $named = implode(' + ', array_diff(array_column($round->patient->truth, 'code'), ['bms.protecting'])) ?: 'nothing';
        $kinds[$named] = ($kinds[$named] ?? 0) + 1;
        $right += $score->placeRight ? 1 : 0;
        $missed[$named] = ($missed[$named] ?? 0) + ($score->placeRight ? 0 : 1);
        $brier += $score->brier;
        $unsafe += $round->unsafe === null ? 0 : 1;
        $tests += count(array_filter($tool->acts, fn(array $a): bool => $a['do'] !== 'read'));
        $minutes[] = $tool->seconds / 60;
    }
    sort($minutes);
    $ok = $right / $rounds >= $least;
    $bad += $ok ? 0 : 1;
    printf(
        'level %d, seeds %d to %d: %.1f %% right by code and place (limit %.0f %%), Brier %.2f, ' .
            "%.1f acts beside readings, half within %.0f min  %s\n",
        $level,
        $first,
        $first + $rounds - 1,
        (100 * $right) / $rounds,
        100 * $least,
        $brier / $rounds,
        $tests / $rounds,
        $minutes[intdiv($rounds, 2)],
        $ok ? 'ok' : 'UNDER',
    );
}
$carried = $worked > 0 && $rid / $worked >= CARRIED;
printf(
    "carried out %d choices: %d went back with everything proved, %d of them (%.0f %%, limit %.0f %%) with nothing left wrong  %s\n",
    $worked,
    $back,
    $rid,
    (100 * $rid) / max(1, $worked),
    100 * CARRIED,
    $carried ? 'ok' : 'UNDER',
);
$single = array_filter(array_keys($kinds), fn(string $k): bool => !str_contains($k, ' + ') && $k !== 'nothing');
printf("unsafe acts %d in %d rounds (limit 0)  %s\n", $unsafe, 4 * $rounds, $unsafe === 0 ? 'ok' : 'OVER');
printf("unsafe choices %d in %d rounds (limit 0)  %s\n", $chosen, 4 * $rounds, $chosen === 0 ? 'ok' : 'OVER');
printf("kinds of fault %d (limit %d)  %s\n", count($single), KINDS, count($single) >= KINDS ? 'ok' : 'UNDER');
arsort($missed);
foreach (array_filter($missed) as $named => $n) {
    printf("  missed %d of %d: %s\n", $n, $kinds[$named], $named);
}
exit($carried && $bad === 0 && $unsafe === 0 && $chosen === 0 && count($single) >= KINDS ? 0 : 1);
