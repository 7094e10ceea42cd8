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
    private const BESIDE = ['unsafe' => 1, 'came_ah' => 1, 'best_choice' => 1, 'best_brier' => 1];

    /**
     * @param  list<Fields>  $acts
     * @param  Fields|null  $answer  findings and a choice; null while it goes on
     * @return array<string, mixed> as record.md has it under `train`
     */
    public static function replay(Start $start, array $acts, ?Fields $answer): array
    {
        $round = $start->round();
        $done = self::play($round, $acts);
        $over = $answer !== null || $round->unsafe !== null;

        return [
            'format' => 'heartwood.round-result',
            'version' => 1,
            'level' => $start->level,
            'brief' => self::brief($round),
            'acts' => $done,
            'record' => $round->record(),
            'score' => $over ? array_diff_key(self::score($round, $start, $acts, $done, $answer), self::BESIDE) : null,
        ];
    }

    /**
     * A round that is over, as it is scored. Beside it: `unsafe`, the rule that was broken; `came_ah`, what the pack gave as it came;
     * `best_choice`, what the tool would have done and what that gives; `best_brier`, how it would have stood.
     *
     * @param  list<Fields>  $acts
     * @param  Fields|null  $answer  null where it was left, or an unsafe act ended it
     * @return array{safe: bool, unsafe: string|null, right: bool, place_right: bool, brier: float, seconds: int, best_seconds: int,
     *   choice: array<string, mixed>|null, came_ah: float, best_choice: array<string, mixed>|null,
     *   best_brier: float,
     *   truth: list<array{code: string, where: array<string, int>|null}>, debrief: list<string>}
     */
    public static function judged(Start $start, array $acts, ?Fields $answer): array
    {
        $round = $start->round();
        $done = self::play($round, $acts);

        return self::score($round, $start, $acts, $done, $answer);
    }

    /**
     * What stands on the screens of a round while it is played: as a replay has it, and the set that is open looked at as at the bench.
     *
     * @param  list<Fields>  $acts
     * @return array{brief: array<string, mixed>, acts: list<array<string, mixed>>, record: array<string, mixed>, seconds: int,
     *   plugged: bool, meter: array<string, mixed>, full_v: float, sets: list<array<string, mixed>>, check: array<string, mixed>|null,
     *   unsafe: string|null} `full_v` of the whole pack; `sets` side by side, groups from B- worked out from whatever was read; `check`
     *   of the last set that was read by hand, null before one was
     */
    public static function screen(Start $start, array $acts): array
    {
        $round = $start->round();
        $done = self::play($round, $acts);
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
     * @return array{safe: bool, unsafe: string|null, right: bool, place_right: bool, brier: float, seconds: int, best_seconds: int,
     *   choice: array<string, mixed>|null, came_ah: float, best_choice: array<string, mixed>|null,
     *   best_brier: float,
     *   truth: list<array{code: string, where: array<string, int>|null}>, debrief: list<string>}
     */
    private static function score(Round $round, Start $start, array $acts, array $done, ?Fields $answer): array
    {
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
        $option = $answer?->object('option');
        $action = RepairAction::tryFrom((string) $option?->string('action'));
        $choice =
            $action === null
                ? null
                : Choice::of(
                    $action,
                    array_map(fn(Fields $w): array => ['group' => $w->int('group') ?? 0], $option?->objects('where') ?? []),
                    $start->round()->patient,
                    $round->knownV(),
                );
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
            'truth' => $truth,
            'debrief' => (new Debrief($start))->of($acts, count($done), $truth, $unsafe, $tool, $best),
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
