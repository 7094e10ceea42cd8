<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Actions\BuildRecord;
use App\Instruments\RunFolder;
use App\Models\Job;
use App\Models\Person;
use App\Models\Run;
use App\Models\Verdict;
use Heartwood\Core\Balance\BalanceMeans;
use Heartwood\Core\Balance\BalancePlan;
use Heartwood\Core\Diagnosis\GroupEvidence;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Recovery\HoldTest;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Recovery\RecoveryPolicy;
use Heartwood\Core\Repair\WakeOrder;
use Heartwood\Core\Shop\Schools;
use Heartwood\Core\Shop\Settings;

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
            $plan = self::plan($job, $i + 1, $settings, [], $record, $evidence);
            $low = $e->restV !== null && $e->restV < $record->pack->lowReleaseV();
            $groups[] = [
                'group' => $i + 1,
                'v' => $e->restV === null ? null : round($e->restV, 4),
                'low' => $low,
                'plan' => $plan?->toArray(),
            ];
        }
        $balance = self::balance($job, [], $record, $evidence);
        $tried = [];
        foreach ($record->tests as $t) {
            if ($t->kind === 'wake' && $t->data->bool('woke') === false) {
                $tried[] = (string) $t->data->string('action');
            }
        }

        return [
            'groups' => $groups,
            'school' => $settings->text('recovery_school'),
            'past_board' => Schools::of($settings)->chargesPastBoard,
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

    /**
     * @param  array<string, mixed>  $data  below_floor_days, override, ambient_c, resolution_v
     */
    public static function plan(
        Job $job,
        int $group,
        Settings $settings,
        array $data = [],
        ?JobRecord $record = null,
        ?PackEvidence $evidence = null,
    ): ?RecoveryPlan {
        $record ??= JobRecord::fromArray(BuildRecord::of($job));
        $evidence ??= new PackEvidence($record);
        $v = ($evidence->groups[$group - 1] ?? null)?->restV;
        if ($v === null) {
            return null;
        }
        $others = [];
        foreach ($evidence->groups as $i => $e) {
            // Neighbours that are low themselves set no target.
            if ($i !== $group - 1 && $e->restV !== null && $e->restV >= $record->pack->lowReleaseV()) {
                $others[] = $e->restV;
            }
        }

        return RecoveryPlan::of(
            $record->pack,
            $group,
            $v,
            $others,
            self::codes($job, $group),
            isset($data['below_floor_days']) ? (float) $data['below_floor_days'] : null,
            new RecoveryPolicy($settings->text('recovery_school') === 'B' ? 'B' : 'A'),
            (float) ($data['ambient_c'] ?? 20.0),
            (float) ($data['resolution_v'] ?? 0.001),
            isset($data['override']) ? (string) $data['override'] : null,
        );
    }

    /** @return list<string> what the latest verdict of this revision says of a group with even odds or better */
    public static function codes(Job $job, int $group): array
    {
        $codes = [];
        $verdict = Verdict::query()->where('job_id', $job->id)->where('revision', $job->revision)->latest('id')->first();
        foreach ($verdict->document['findings'] ?? [] as $f) {
            if ($f['probability'] >= 0.5 && (($f['where']['group'] ?? null) === $group || str_starts_with($f['code'], 'cell.'))) {
                $codes[] = $f['code'];
            }
        }

        return $codes;
    }

    /** @param  array<string, mixed>  $data  supply_a, active_a, held, phosphate */
    public static function balance(Job $job, array $data = [], ?JobRecord $record = null, ?PackEvidence $evidence = null): ?BalancePlan
    {
        $record ??= JobRecord::fromArray(BuildRecord::of($job));
        $evidence ??= new PackEvidence($record);
        $curve = RestCurve::of($record->pack->chemistry);
        $rated = $record->pack->groupCapacityAh();
        $soc = $capacity = $ohm = $rest = [];
        foreach ($evidence->groups as $e) {
            if ($e->restV === null || $rated === null) {
                return null;
            }
            $rest[] = $e->restV;
            $soc[] = $curve->socAt($e->restV);
            $capacity[] = $e->capacity !== null ? max(0.05, $e->capacityAh) : $rated;
            $ohm[] = max(1e-4, $record->pack->groupResistanceMohm() / 1000);
        }

        return new BalancePlan($record->pack, $soc, $capacity, $ohm, self::means($job, $data, $record), $rest);
    }

    /** @param  array<string, mixed>  $data */
    public static function means(Job $job, array $data, ?JobRecord $record = null): BalanceMeans
    {
        $record ??= JobRecord::fromArray(BuildRecord::of($job));

        return BalanceMeans::of(
            $record->pack,
            isset($data['supply_a']) ? (float) $data['supply_a'] : null,
            isset($data['active_a']) ? (float) $data['active_a'] : null,
            (bool) ($data['held'] ?? true),
            (string) ($data['phosphate'] ?? $job->workshop->said()->text('phosphate_school')),
        );
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

    /** Seconds after which a state is old: nothing is said from it as if it were now. */
    private const OLD_S = 3.0;

    /** @return array<string, mixed> a run as its screen needs it, from the runner's own files */
    public static function live(Run $run, int $from = 0): array
    {
        $folder = RunFolder::of($run->id);
        $state = $folder->state();
        $samples = [];
        $journal = $folder->journal();
        foreach ($journal as $i => $e) {
            if ($i >= $from && ($e['is'] ?? '') === 'sample') {
                $x = is_array($e['x'] ?? null) ? $e['x'] : [null, null];
                $samples[] = [
                    't' => $e['t'],
                    'v' => $e['v'] ?? null,
                    'a' => $e['a'] ?? null,
                    'c' => $e['c'] ?? null,
                    'low' => $x[0],
                    'high' => $x[1],
                ];
            }
        }
        $age = isset($state['wall']) ? max(0.0, microtime(true) - (float) $state['wall']) : null;
        // What was true three seconds ago is not said to be true now.
        $silent = $run->closed_at === null && !$folder->isClosed() && $age !== null && $age > self::OLD_S;
        if ($silent) {
            $state['output'] = null;
            $state['live'] = ['v' => null, 'a' => null, 'c' => null];
        }

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
            'state' => $state === [] ? null : $state,
            'age_s' => $age === null ? null : round($age, 1),
            'silent' => $silent,
            'samples' => $samples,
            'next' => count($journal),
        ];
    }
}
