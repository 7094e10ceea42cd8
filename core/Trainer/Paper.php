<?php

declare(strict_types=1);

namespace Heartwood\Core\Trainer;

use Heartwood\Core\Diagnosis\GroupEvidence;
use Heartwood\Core\Record\Fields;

/** A round on paper: what is said and what a careful hand reads first in front; folded away, what was done next and what it was. */
final readonly class Paper
{
    /**
     * @return array{brief: array<string, mixed>, level: int, seen: list<string>, readings: list<array{from: string, to: string, v: float}>,
     *   groups_v: list<float|null>, next: list<array{test: string, result: object}>, answers: list<string>} `seen`: what eyes, hand and
     *   nose found, empty where nothing; `groups_v` from B-
     */
    public static function of(Start $start): array
    {
        $round = $start->round();
        $tool = new Tool($round);
        $verdict = $tool->play();
        $front = $start->round();
        $readings = $next = [];
        $inspection = [];
        $first = true;
        foreach ($tool->acts as $a) {
            $act = new Fields($a);
            $result = (array) $front->play($act)['result'];
            $first = $first && in_array($act->string('do'), ['look', 'read'], true);
            if ($act->string('do') === 'look') {
                $inspection = array_keys(array_filter($result, fn(mixed $found): bool => $found === true));
            } elseif ($first) {
                $readings[] = [
                    'from' => (string) $act->string('from'),
                    'to' => (string) $act->string('to'),
                    'v' => (float) Fields::of($result)->float('v'),
                ];
            } elseif ($act->string('do') !== 'read') {
                $next[] = ['test' => Debrief::said($act), 'result' => (object) $result];
            }
        }
        $truth = $round->patient->truth;

        return [
            'brief' => Trainer::brief($round),
            'level' => $start->level,
            'seen' => array_values(array_diff($inspection, ['metal_case'])),
            'readings' => $readings,
            'groups_v' => array_map(fn(GroupEvidence $g): ?float => $g->restV, self::firstEvidence($start, $tool)),
            'next' => $next,
            'answers' => (new Debrief($start))->of(
                array_map(Fields::of(...), $tool->acts),
                count($tool->acts),
                $truth,
                null,
                $tool,
                $verdict,
            ),
        ];
    }

    /** @return list<GroupEvidence> as they were known from the first readings alone */
    private static function firstEvidence(Start $start, Tool $tool): array
    {
        $round = $start->round();
        foreach ($tool->acts as $a) {
            if (!in_array($a['do'], ['look', 'read'], true)) {
                break;
            }
            $round->play(new Fields($a));
        }

        return $round->evidence()->groups;
    }
}
