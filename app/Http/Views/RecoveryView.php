<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Actions\BuildRecord;
use App\Instruments\RunFolder;
use App\Models\Job;
use App\Models\Person;
use App\Models\Run;
use App\Read\SupplyPlans;
use App\Watch\RunLook;
use Heartwood\Core\Diagnosis\GroupEvidence;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Recovery\BypassRules;
use Heartwood\Core\Recovery\HoldTest;
use Heartwood\Core\Repair\WakeOrder;
use Heartwood\Core\Shop\Schools;

/** What can be recovered, balanced and woken on a job, and the runs it has had. */
final class RecoveryView
{
    /** @return array<string, mixed> */
    public static function of(Job $job, Person $person): array
    {
        $settings = $person->workshop->said();
        $record = JobRecord::fromArray(BuildRecord::of($job));
        $evidence = new PackEvidence($record);
        $groups = [];
        foreach ($evidence->groups as $i => $e) {
            $plan = SupplyPlans::plan($job, $i + 1, $settings, [], $record, $evidence);
            $low = $e->restV !== null && $e->restV < $record->pack->lowReleaseV();
            $groups[] = [
                'group' => $i + 1,
                'v' => $e->restV === null ? null : round($e->restV, 4),
                'low' => $low,
                'plan' => $plan?->toArray(),
            ];
        }
        $balance = SupplyPlans::balance($job, [], $record, $evidence);
        $tried = [];
        foreach ($record->tests as $t) {
            if ($t->kind === 'wake' && $t->data->bool('woke') === false) {
                $tried[] = (string) $t->data->string('action');
            }
        }

        return [
            'groups' => $groups,
            'school' => $settings->text('recovery_school'),
            'past_board' => Schools::of($settings)->chargesPastBoard ? null : BypassRules::NOT_PRACTISED,
            'closes_at' => $settings->get('closes_at'),
            'phosphate' => $settings->text('phosphate_school'),
            'checks' => \App\Actions\StartRun::CHECKS,
            'balance' => $balance?->toArray(),
            'wake' => WakeOrder::of($record->pack, array_map(fn(GroupEvidence $e): ?float => $e->restV, $evidence->groups), $tried),
            'runs' => Run::query()
                ->where('job_id', $job->id)
                ->with('person')
                ->orderByDesc('started_at')
                ->limit(30)
                ->get()
                ->map(fn(Run $r): array => self::row($r, $job, $record))
                ->all(),
        ];
    }

    /** @return array<string, mixed> */
    public static function row(Run $run, ?Job $job = null, ?JobRecord $record = null): array
    {
        return [
            'id' => $run->id,
            'job_id' => $run->job_id,
            'kind' => $run->kind,
            'group' => $run->group_no,
            'by' => $run->person->name,
            'started_at' => $run->started_at->toIso8601ZuluString(),
            'ended_at' => $run->ended_at?->toIso8601ZuluString(),
            'outcome' => $run->outcome,
            'outcome_word' => \Heartwood\Core\Run\Why::tryFrom($run->outcome)?->word() ?? str_replace('-', ' ', $run->outcome),
            'good' => \Heartwood\Core\Run\Why::tryFrom($run->outcome)?->isGood() ?? $run->outcome === 'at-target',
            'watched_until_closed' => $run->closed_at === null,
            'reason' => $run->reason,
            'text' => (string) ($run->state['text'] ?? ''),
            'hold' =>
                $job !== null &&
                $record !== null &&
                in_array($run->outcome, ['at-target', 'target-reached'], true) &&
                $run->kind === 'recovery'
                    ? self::hold($run, $record)
                    : null,
        ];
    }

    /** @return array<string, mixed> the hold test so far, from the rest sets read since the run ended */
    private static function hold(Run $run, JobRecord $record): array
    {
        $readings = [];
        foreach ($record->measurements as $m) {
            $at = $m->at?->getTimestamp();
            if ($at === null || !$m->isRest() || $m->fromBoard || $run->ended_at === null || $at <= $run->ended_at->timestamp) {
                continue;
            }
            $groups = \Heartwood\Core\Reading\LiveCheck::of($record->only($m))['groups'];
            $own = $groups[$run->group_no - 1]['v'] ?? null;
            if (is_float($own)) {
                $others = array_values(
                    array_filter(
                        array_column(array_filter($groups, fn(array $g): bool => $g['group'] !== $run->group_no), 'v'),
                        is_float(...),
                    ),
                );
                $readings[] = ['h' => ($at - $run->ended_at->timestamp) / 3600, 'v' => $own, 'others' => $others];
            }
        }
        $hold = HoldTest::judge($readings, $record->pack->chemistry);

        return [
            'outcome' => $hold->outcome,
            'text' => $hold->text,
            'percent_month' => $hold->percentMonth === null ? null : round($hold->percentMonth, 1),
            'sigma' => $hold->sigma === null ? null : round($hold->sigma, 1),
            'read_again_in_h' => $hold->readAgainInH === null ? null : round($hold->readAgainInH, 1),
            'readings' => count($readings),
        ];
    }

    /**
     * @param  int  $from  the place in the journal that an earlier answer gave as `next`; 0 for the whole course
     * @return array<string, mixed> a run as its screen needs it, from the runner's own files
     */
    public static function live(Run $run, int $from = 0): array
    {
        return [
            'run' => self::row($run),
            'plan' => [
                'time_scale' => $run->plan['time_scale'] ?? 1,
                'instruments' => array_values(
                    array_filter(
                        array_map(fn(string $k): ?string => $run->plan[$k]['name'] ?? null, [
                            'meter',
                            'thermometer',
                            'ammeter',
                            'supply',
                            'board',
                        ]),
                    ),
                ),
                'simulated' => (bool) ($run->plan['meter']['simulated'] ?? false),
            ],
        ] + RunLook::of(RunFolder::of($run->id), $run->closed_at !== null, $from, microtime(true));
    }
}
