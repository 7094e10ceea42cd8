<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\RepairAction;

/**
 * One round replayed from its level, its seed and the acts so far: nothing is kept between two calls, and until an answer is given
 * nothing that is said tells what is wrong.
 */
final class Trainer
{
    /**
     * @param  list<Fields>  $acts
     * @param  Fields|null  $answer  findings and a choice; null while it goes on
     * @return array<string, mixed> as record.md has it under `train`
     */
    public static function replay(int $level, int $seed, array $acts, ?Fields $answer): array
    {
        $round = Rounds::of($level, $seed);
        $done = [];
        foreach ($acts as $act) {
            $done[] = $round->play($act);
            if ($round->unsafe !== null) {
                break;
            }
        }
        $over = $answer !== null || $round->unsafe !== null;

        return [
            'format' => 'heartwood.round-result',
            'version' => 1,
            'level' => $level,
            'brief' => [
                'pack' => $round->patient->pack,
                'symptoms' => $round->patient->symptoms,
                'says' => implode(' ', $round->patient->says),
            ],
            'acts' => $done,
            'record' => $round->record(),
            'score' => $over ? self::score($round, $level, $seed, $acts, $done, $answer) : null,
        ];
    }

    /**
     * @param  list<Fields>  $acts
     * @param  list<array{seconds: int, result: array<string, mixed>|object}>  $done
     * @return array<string, mixed>
     */
    private static function score(Round $round, int $level, int $seed, array $acts, array $done, ?Fields $answer): array
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
        $tool = new Tool(Rounds::of($level, $seed));
        $best = $tool->play();
        $option = $answer?->object('option');
        $action = RepairAction::tryFrom((string) $option?->string('action'));
        $choice =
            $action === null
                ? null
                : Choice::of(
                    $action,
                    array_map(fn(Fields $w): array => ['group' => $w->int('group') ?? 0], $option?->objects('where') ?? []),
                    Rounds::of($level, $seed)->patient,
                );
        $unsafe = $round->unsafe ?? $choice?->unsafe;
        $score = Score::of($said, $truth);
        $seconds = array_sum(array_column($done, 'seconds'));

        return [
            'safe' => $unsafe === null,
            'right' => $unsafe === null && $answer !== null && $score->right,
            'place_right' => $unsafe === null && $answer !== null && $score->placeRight,
            'brier' => round($score->brier, 4),
            'seconds' => $seconds,
            'best_seconds' => $tool->seconds,
            'choice' => $choice?->toArray(),
            'truth' => $truth,
            'debrief' => (new Debrief($level, $seed))->of($acts, count($done), $truth, $unsafe, $tool, $best),
        ];
    }
}
