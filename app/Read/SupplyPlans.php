<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\BuildRecord;
use App\Models\Job;
use App\Models\Verdict;
use Heartwood\Core\Balance\BalanceMeans;
use Heartwood\Core\Balance\BalancePlan;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Pack\RestCurve;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Recovery\RecoveryPlan;
use Heartwood\Core\Recovery\RecoveryPolicy;
use Heartwood\Core\Shop\Settings;

/** What could be done to a pack at the supply, out of its record and what was entered: computed only, for screens and acts alike. */
final class SupplyPlans
{
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
}
