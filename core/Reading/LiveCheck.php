<?php

declare(strict_types=1);

namespace Heartwood\Core\Reading;

use Heartwood\Core\Record\JobRecord;

/** One set while it is being taken: groups so far, spread, and every value that deserves a question at once. */
final class LiveCheck
{
    /** @return array{groups: list<array<string, mixed>>, questions: list<array<string, mixed>>, spread: string|null, redundancy: int} */
    public static function of(JobRecord $record): array
    {
        $readings = [];
        $rest = true;
        foreach ($record->measurements as $m) {
            $rest = $rest && $m->isRest();
            foreach ($m->readings as $r) {
                if ($r->isBetweenTaps()) {
                    $readings[] = NetworkReading::of($r, $m->instrument, $m->fromBoard);
                }
            }
        }
        $solution = ReadingNetwork::solve(
            $readings,
            $record->pack->series,
            $record->pack->profile()->fullV + ($rest ? 0.0 : ReadingNetwork::ABOVE_FULL_V),
        );
        $spread = $rest ? RestSpread::of($solution, $record->pack->chemistry) : null;

        return [
            'groups' => array_map(
                fn(GroupVoltage $g): array => [
                    'group' => $g->group,
                    'v' => $g->volts === null ? null : round($g->volts, GroupVoltage::DECIMALS),
                    'sigma_v' => $g->sigmaV === null ? null : round($g->sigmaV, GroupVoltage::DECIMALS),
                    'basis' => $g->basis(),
                    'doubt' => $g->doubt,
                ],
                $solution->groups,
            ),
            'questions' => array_map(
                fn(Suspicion $s): array => [
                    'kind' => $s->kind,
                    'text' => $s->text,
                    'settle' => $s->settle === null ? null : ['from' => 'T' . $s->settle['from'], 'to' => 'T' . $s->settle['to']],
                    'readings' => array_map(fn(NetworkReading $r): array => ['from' => 'T' . $r->from, 'to' => 'T' . $r->to], $s->readings),
                ],
                $solution->suspicions,
            ),
            'spread' => $spread !== null && $solution->isComplete() ? $spread->sentence() : null,
            'redundancy' => $solution->redundancy,
        ];
    }
}
