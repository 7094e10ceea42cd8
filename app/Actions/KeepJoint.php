<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\Person;
use Heartwood\Core\Build\Joint;
use Heartwood\Core\Work\ClosedBy;
use Illuminate\Support\Facades\DB;

/** Records a joint that was set to its torque; the verdict knows it as retightened. */
final class KeepJoint
{
    /**
     * @param  array<string, mixed>  $in  tap, min_nm, max_nm, tolerance, set_nm, contact
     * @return string what to set and when to look again
     *
     * @throws Refused the limits cannot be kept with this tool
     */
    public function handle(Person $person, Job $job, array $in): string
    {
        [$min, $max, $tolerance] = [(float) $in['min_nm'], (float) $in['max_nm'], (float) $in['tolerance']];
        try {
            $set = Joint::set($min, $max, $tolerance, isset($in['set_nm']) ? (float) $in['set_nm'] : null);
        } catch (\InvalidArgumentException $e) {
            throw new Refused('torque', $e->getMessage(), 422, ['min_nm' => $e->getMessage()]);
        } catch (\DomainException $e) {
            throw new Refused('torque', $e->getMessage(), 422, ['set_nm' => $e->getMessage()]);
        }
        DB::transaction(function () use ($person, $job, $in, $set): void {
            Gatekeeper::open(LockJob::now($job));
            Gatekeeper::pass($job, 'open', $person);
            $work = TickStep::altering($job, ClosedBy::Joint);
            if ($work !== null) {
                // What is measured of it from now on is of the joint as it was set.
                TickStep::turn($person, $job, $work);
            }
            EventLog::add($person, $job, EventKind::Joint, [
                'tap' => $in['tap'],
                'set_nm' => $set,
                'min_nm' => $in['min_nm'],
                'max_nm' => $in['max_nm'],
                'contact' => $in['contact'] ?? '',
            ]);
            EventLog::add($person, $job, EventKind::PackEvent, [
                'at' => now()->toIso8601ZuluString(),
                'kind' => 'retightened',
                'where' => ['joint' => $in['tap']],
                'revision' => $job->revision,
            ]);
        });

        return Joint::torque($min, $max, $tolerance)['text'];
    }
}
