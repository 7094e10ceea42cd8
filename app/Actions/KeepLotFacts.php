<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\BenchTest;
use App\Models\Decision;
use App\Models\Job;
use App\Models\Verdict;
use App\Read\SupplyPlans;
use Heartwood\Core\Batch\Answer;
use Heartwood\Core\Diagnosis\Statements;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Repair\RepairAction;

/**
 * What is known of a pack of a lot, gathered beside its job whenever it changes: so the lane of a lot is read without opening each of its
 * jobs, and the packs are held against one another by the same figures.
 */
final class KeepLotFacts
{
    public static function of(Job $job): void
    {
        if ($job->batch_id === null) {
            return;
        }
        $verdict = Verdict::query()->where('job_id', $job->id)->latest('id')->first();
        $decision = Decision::query()->where('job_id', $job->id)->latest('id')->first();
        $mohm = array_values(
            array_filter(array_map(fn(array $g): ?float => $g['mohm'] ?? null, $verdict->detail['groups'] ?? []), is_numeric(...)),
        );
        $tests = BenchTest::query()
            ->where('job_id', $job->id)
            ->whereIn('kind', ['capacity', 'recovery'])
            ->orderBy('taken_at')
            ->get(['id', 'kind', 'corrects_id', 'data']);
        $gone = $tests->pluck('corrects_id')->filter()->all();
        $capacity = $rise = $warm = null;
        foreach ($tests as $t) {
            if (in_array($t->id, $gone, true)) {
                continue;
            }
            if ($t->kind === 'capacity') {
                $whole = ($t->data['scope'] ?? 'pack') === 'pack' && ($t->data['started_full'] ?? null) === true;
                $capacity = $whole && isset($t->data['measured_ah']) ? (float) $t->data['measured_ah'] : $capacity;

                continue;
            }
            $answer = Answer::of((array) ($t->data['samples'] ?? []), isset($t->data['ambient_c']) ? (float) $t->data['ambient_c'] : null);
            // The slowest and the warmest of its groups.
            $rise = $answer->rise === null ? $rise : min($rise ?? INF, $answer->rise);
            $warm = $answer->warmK === null ? $warm : max($warm ?? -INF, $answer->warmK);
        }
        $job->lot_facts = array_filter(
            [
                'groups_v' => array_map(fn(array $g): ?float => $g['v'], $verdict->document['groups'] ?? []),
                'states' => array_map(fn(array $g): string => (string) $g['state'], $verdict->document['groups'] ?? []),
                'first' => Statements::first($verdict->document['findings'] ?? []),
                'mohm' => $mohm === [] ? null : round(Robust::median($mohm), 3),
                'capacity_ah' => $capacity,
                'rise' => $rise,
                'warm_k' => $warm,
                'decided' => $decision === null ? null : self::decided($job, $decision),
            ],
            fn(mixed $v): bool => $v !== null && $v !== [] && $v !== '',
        );
        $job->save();
    }

    /** @return array{action: string, title: string, minutes: int, hours: float|null, parts_cents: int} */
    private static function decided(Job $job, Decision $d): array
    {
        $hours = null;
        $action = RepairAction::from($d->action);
        if ($action === RepairAction::RecoverGroup) {
            foreach (array_filter(array_column((array) ($d->option['where'] ?? []), 'group')) as $group) {
                // One after another: a supply drives one group at a time.
                $hours += SupplyPlans::plan($job, (int) $group, $job->workshop->said())?->hours() ?? 0.0;
            }
        }

        return [
            'action' => $d->action,
            'title' => (string) ($d->option['title'] ?? $action->title()),
            'minutes' => (int) ($d->option['hands_minutes'] ?? $action->minutes()),
            'hours' => $hours === null ? null : round($hours, 2),
            'parts_cents' => (int) ($d->quote['parts_cents'] ?? 0),
        ];
    }
}
