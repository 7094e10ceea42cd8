<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Actions\BuildRecord;
use App\Models\Job;
use App\Models\Verdict;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Repair\Option;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Twin\Replay;
use Heartwood\Core\Twin\Run;
use Heartwood\Core\Twin\TwinPack;

/** What the twin makes of a job: the customer's symptom run again, and every option of the verdict run through. */
final class ReplayView
{
    /** @return array<string, mixed> `ready` is false, with the reason, while the pack cannot be run */
    public static function of(Job $job): array
    {
        $record = JobRecord::fromArray(BuildRecord::of($job));
        $evidence = new PackEvidence($record);
        $pack = TwinPack::estimate($record->pack, $evidence);
        if ($pack === null) {
            return [
                'ready' => false,
                'why' => 'Every group needs a rest voltage, and cells or label a capacity, before the pack can be run.',
                'sentence' => null,
                'charge' => null,
                'discharge' => null,
                'options' => [],
                'weakest' => [],
            ];
        }
        $replay = new Replay($record->pack, $pack, TwinPack::estimate($record->pack, $evidence, false));
        $verdict = Verdict::query()->where('job_id', $job->id)->latest('id')->first();

        return [
            'ready' => true,
            'why' => null,
            'sentence' => $replay->sentence(),
            'charge' => self::run($replay->charge()),
            'discharge' => self::run($replay->discharge()),
            'options' => $verdict === null ? [] : self::options($replay, $verdict),
            'weakest' => $replay->replaceWeakest(),
        ];
    }

    /** @return list<array<string, mixed>> */
    private static function options(Replay $replay, Verdict $verdict): array
    {
        $out = [];
        foreach ($verdict->document['options'] as $o) {
            $after = $replay->after(
                new Option(
                    RepairAction::from($o['action']),
                    array_map(fn(array $w): Place => Place::from(new Fields($w)), array_values($o['where'])),
                    null,
                    [],
                ),
            );
            if ($after !== null) {
                $run = $replay->usable($after);
                $out[] = [
                    'action' => $o['action'],
                    'usable_ah' => round($run->ah, 1),
                    'usable_wh' => round($run->wh, 1),
                    'first_empty' => $run->group,
                    'sentence' => ucfirst("charged and used, {$run->sentence()}") . '.',
                    'soc' => array_map(fn(float $x): float => round(max(0.0, min(1.0, $x)), 3), $after->charge),
                ];
            }
        }

        return $out;
    }

    /** @return array<string, mixed> */
    private static function run(Run $run): array
    {
        $round = fn(array $values, int $digits): array => array_map(fn(float $v): float => round($v, $digits), $values);

        return [
            'ended_by' => $run->endedBy,
            'group' => $run->group,
            'ah' => round($run->ah, 2),
            'wh' => round($run->wh, 1),
            'seconds' => round($run->seconds),
            'sentence' => ucfirst($run->sentence()) . '.',
            'time_s' => $round($run->time, 0),
            'pack_v' => $round($run->packV, 3),
            'groups_v' => array_map(fn(array $g): array => $round($g, 3), $run->groupsV),
        ];
    }
}
