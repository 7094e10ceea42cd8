<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Diagnosis\Verdict;
use Heartwood\Core\Reading\LiveCheck;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\RepairAction;

/**
 * One round replayed from its start and the acts so far: nothing is kept between two calls, and until an answer is given
 * nothing that is said tells what is wrong.
 */
final class Trainer
{
    /** What a score says to the screens alone. */
    private const BESIDE = [
        'unsafe' => 1,
        'came_ah' => 1,
        'best_choice' => 1,
        'best_brier' => 1,
        'outturn' => 1,
        'took' => 1,
        'best_took' => 1,
    ];

    /** Acts that find something out by more than a reading. */
    private const TESTS = ['load', 'charge', 'test'];

    /**
     * @param  list<Fields>  $acts
     * @param  Fields|null  $answer  findings and a choice; null while it goes on
     * @param  Handover|null  $work  how the choice is carried out; null: as a careful hand does it
     * @return array<string, mixed> as record.md has it under `train`; with `work`, where there is one
     */
    public static function replay(Start $start, array $acts, ?Fields $answer, ?Handover $work = null): array
    {
        $round = $start->round();
        $done = self::play($round, $acts);
        $worked = self::work($round, $answer, $work);
        $over = match (true) {
            $round->unsafe !== null => true,
            $answer === null => false,
            default => $work?->returned !== null || $work === null || !self::isWork($start, $acts, $answer),
        };
        $score = $over ? self::score($round, $start, $acts, $done, $answer, $work, $worked) : null;

        return [
            'format' => 'heartwood.round-result',
            'version' => 1,
            'level' => $start->level,
            'brief' => self::brief($round),
            'acts' => $done,
            'record' => $round->record(),
            'score' => $score === null ? null : array_diff_key($score, self::BESIDE),
        ] + ($work === null ? [] : ['work' => ['acts' => $worked, 'outturn' => $score['outturn'] ?? null]]);
    }

    /**
     * A round that is over, as it is scored. Beside it: `unsafe`, the rule that was broken; `came_ah`, what the pack gave as it came;
     * `best_choice`, what the tool would have done and what that gives; `best_brier`, how it would have stood; `outturn`, what came of
     * the choice where it was carried out; `took`, `best_took`, readings and tests of both lines.
     *
     * @param  list<Fields>  $acts
     * @param  Fields|null  $answer  null where it was left, or an unsafe act ended it
     * @param  Handover|null  $work  null where the choice was not carried out by whoever made it
     * @return array{safe: bool, unsafe: string|null, right: bool, place_right: bool, brier: float, seconds: int, best_seconds: int,
     *   choice: array<string, mixed>|null, came_ah: float, best_choice: array<string, mixed>|null,
     *   best_brier: float, outturn: array<string, mixed>|null,
     *   took: array{readings: int, tests: int}, best_took: array{readings: int, tests: int},
     *   truth: list<array{code: string, where: array<string, int>|null}>, debrief: list<string>}
     */
    public static function judged(Start $start, array $acts, ?Fields $answer, ?Handover $work = null): array
    {
        $round = $start->round();
        $done = self::play($round, $acts);
        $worked = self::work($round, $answer, $work);

        return self::score($round, $start, $acts, $done, $answer, $work, $worked);
    }

    /**
     * Whether there is something to carry out: the choice is safe on what was read, and the pack goes on.
     *
     * @param  list<Fields>  $acts
     */
    public static function isWork(Start $start, array $acts, Fields $answer): bool
    {
        $round = $start->round();
        self::play($round, $acts);
        $action = RepairAction::tryFrom((string) $answer->object('option')->string('action'));

        return $round->unsafe === null &&
            $action !== null &&
            !$action->endsPack() &&
            self::choice($start, $round->knownV(), $answer)?->unsafe === null;
    }

    /**
     * What stands on the screens of a round while it is played: as a replay has it, and the set that is open looked at as at the bench.
     *
     * @param  list<Fields>  $acts
     * @param  Fields|null  $answer  null before it was given
     * @param  Handover|null  $work  what was done after it
     * @return array{brief: array<string, mixed>, acts: list<array<string, mixed>>, record: array<string, mixed>, seconds: int,
     *   plugged: bool, meter: array<string, mixed>, full_v: float, sets: list<array<string, mixed>>, check: array<string, mixed>|null,
     *   work: array{isolated: bool, checks: list<array{code: string, title: string, status: string, found: string, limit: string}>}|null,
     *   unsafe: string|null} `full_v` of the whole pack; `sets` side by side, groups from B- worked out from whatever was read; `check`
     *   of the last set that was read by hand, null before one was
     */
    public static function screen(Start $start, array $acts, ?Fields $answer = null, ?Handover $work = null): array
    {
        $round = $start->round();
        $done = [...self::play($round, $acts), ...self::work($round, $answer, $work)];
        $record = $round->record();
        $sets = $checks = [];
        foreach ((new Fields($record))->objects('measurements') as $m) {
            $check = LiveCheck::of(JobRecord::fromArray(['measurements' => [$m->all()], 'tests' => []] + $record));
            $output = array_values(array_filter($m->objects('readings'), fn(Fields $r): bool => $r->string('to') === 'P+'));
            $amps = (float) $m->float('current_a');
            $sets[] = [
                'id' => (string) $m->string('id'),
                'at' => (string) $m->string('at'),
                'condition' => (string) $m->string('condition'),
                'current_a' => $amps,
                'plugged' => $m->bool('sense_connected') !== false,
                'groups_v' => array_column($check['groups'], 'v'),
                'output_v' => $output === [] ? null : $output[count($output) - 1]->float('v'),
            ];
            if ($amps === 0.0) {
                $checks[] = ['measurement_id' => (string) $m->string('id')] + $check;
            }
        }

        return [
            'brief' => self::brief($round),
            'acts' => $done,
            'record' => $record,
            'seconds' => (int) round($round->patient->clockS),
            'plugged' => $round->patient->plugged,
            'meter' => $round->instrument(),
            'full_v' => $round->patient->spec->fullVolts(),
            'sets' => $sets,
            'check' => $checks === [] ? null : $checks[count($checks) - 1],
            'work' =>
                $round->working === null
                    ? null
                    : ['isolated' => $round->working->isolated, 'checks' => Outturn::told(Outturn::checks($round))],
            'unsafe' => $round->unsafe,
        ];
    }

    /**
     * @param  list<Fields>  $acts
     * @return list<array{seconds: int, result: array<string, mixed>|object}> up to the one that ended it
     */
    private static function play(Round $round, array $acts): array
    {
        $done = [];
        foreach ($acts as $act) {
            $done[] = $round->play($act);
            if ($round->unsafe !== null) {
                break;
            }
        }

        return $done;
    }

    /** @return list<array{seconds: int, result: array<string, mixed>|object}> of the acts after the answer */
    private static function work(Round $round, ?Fields $answer, ?Handover $work): array
    {
        if ($answer === null || $work === null || $round->unsafe !== null) {
            // Nothing is carried out before there is an answer.
            return [];
        }
        $round->carryOut($answer);

        return self::play($round, $work->acts);
    }

    /** @param  list<float|null>  $known  volts of the groups when it was made */
    private static function choice(Start $start, array $known, ?Fields $answer): ?Choice
    {
        $option = $answer?->object('option');
        $action = RepairAction::tryFrom((string) $option?->string('action'));

        return $action === null
            ? null
            : Choice::of(
                $action,
                array_map(fn(Fields $w): array => Place::from($w)->toArray() ?? ['group' => 0], $option?->objects('where') ?? []),
                $start->round()->patient,
                $known,
            );
    }

    /** @return array{pack: array<string, mixed>, symptoms: list<string>, says: string} what whoever brought it tells */
    public static function brief(Round $round): array
    {
        return [
            'pack' => $round->patient->pack,
            'symptoms' => $round->patient->symptoms,
            'says' => implode(' ', $round->patient->says),
        ];
    }

    /**
     * @param  list<Fields>  $acts
     * @param  list<array{seconds: int, result: array<string, mixed>|object}>  $done
     * @param  list<array{seconds: int, result: array<string, mixed>|object}>  $worked
     * @return array{safe: bool, unsafe: string|null, right: bool, place_right: bool, brier: float, seconds: int, best_seconds: int,
     *   choice: array<string, mixed>|null, came_ah: float, best_choice: array<string, mixed>|null,
     *   best_brier: float, outturn: array<string, mixed>|null,
     *   took: array{readings: int, tests: int}, best_took: array{readings: int, tests: int},
     *   truth: list<array{code: string, where: array<string, int>|null}>, debrief: list<string>}
     */
    private static function score(
        Round $round,
        Start $start,
        array $acts,
        array $done,
        ?Fields $answer,
        ?Handover $work,
        array $worked,
    ): array {
        $said = array_map(
            fn(Fields $f): array => [
                'code' => (string) $f->string('code'),
                'where' => $f->has('where') ? Place::from($f->object('where'))->toArray() : null,
                'probability' => (float) $f->float('probability'),
            ],
            $answer?->objects('findings') ?? [],
        );
        $truth = $round->patient->truth;
        $tool = new Tool($start->round());
        $best = $tool->play();
        // What was known when the choice was made, and not what the work found out.
        $choice = self::choice($start, $round->working->knownBefore ?? $round->knownV(), $answer);
        $outturn = $round->working === null ? null : Outturn::of($round, array_sum(array_column($worked, 'seconds')), $work?->returned);
        $unsafe = $round->unsafe ?? $choice?->unsafe;
        $score = Score::of($said, $truth);
        $seconds = array_sum(array_column($done, 'seconds'));

        return [
            'safe' => $unsafe === null,
            'unsafe' => $unsafe,
            'right' => $unsafe === null && $answer !== null && $score->right,
            'place_right' => $unsafe === null && $answer !== null && $score->placeRight,
            'brier' => round($score->brier, 4),
            'seconds' => $seconds,
            'best_seconds' => $tool->seconds,
            'choice' => $choice?->toArray(),
            'came_ah' => Choice::of(RepairAction::None, [], $start->round()->patient)->usableAh,
            'best_choice' => self::bestChoice($start, $best),
            'best_brier' => round(Score::of(Tool::answer($best)['findings'], $truth)->brier, 4),
            'took' => self::took(array_map(fn(Fields $a): string => (string) $a->string('do'), array_slice($acts, 0, count($done)))),
            'best_took' => self::took(array_map(fn(array $a): string => (string) (new Fields($a))->string('do'), $tool->acts)),
            'outturn' => $outturn === null ? null : $outturn->toArray() + ['walk' => Debrief::ofWork($work->acts ?? [], $worked)],
            'truth' => $truth,
            'debrief' => (new Debrief($start))->of($acts, count($done), $truth, $unsafe, $tool, $best),
        ];
    }

    /**
     * @param  list<string>  $done  what each act was
     * @return array{readings: int, tests: int}
     */
    private static function took(array $done): array
    {
        return [
            'readings' => count(array_keys($done, 'read', true)),
            'tests' => count(array_filter($done, fn(string $do): bool => in_array($do, self::TESTS, true))),
        ];
    }

    /** @return array{title: string, usable_ah: float, cost: float, minutes: int}|null null where there is nothing to be done */
    private static function bestChoice(Start $start, Verdict $best): ?array
    {
        $option = $best->options[0] ?? null;
        if ($option === null) {
            return null;
        }
        $of = $option->toArray();
        $action = RepairAction::from($of['action']);

        return ['title' => $action->at($of['where'])] + Choice::of($action, $of['where'], $start->round()->patient)->toArray();
    }
}
