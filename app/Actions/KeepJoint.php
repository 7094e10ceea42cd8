<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Event;
use App\Models\Job;
use App\Models\JointCheck;
use App\Models\Person;
use Heartwood\Core\Build\Joint;
use Heartwood\Core\Work\ClosedBy;
use Illuminate\Support\Facades\DB;

/** A joint that is set to its torque, with what it lost before and after, and the look at it a week later. */
final class KeepJoint
{
    /**
     * Records a joint that was set; the verdict knows it as retightened.
     *
     * @param  array<string, mixed>  $in  tap, min_nm, max_nm, tolerance, set_nm, contact, tool, both_ends, before_mv, after_mv, amps
     * @return string what was set, what it brought, and when to look again
     *
     * @throws Refused the limits cannot be kept with this tool; millivolts without a current; a contact that came back too often
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
        $before = self::milliohm($in, 'before_mv');
        $after = self::milliohm($in, 'after_mv');
        DB::transaction(function () use ($person, $job, $in, $set, $before, $after): void {
            Gatekeeper::open(LockJob::now($job));
            Gatekeeper::pass($job, 'open', $person);
            $tap = (int) $in['tap'];
            $history = self::history($job, $tap);
            $same = Joint::sameContact($history['came_back'], (string) ($in['contact'] ?? ''), $history['contacts']);
            if ($same !== null) {
                throw new Refused('same-contact', $same, 422, ['contact' => $same]);
            }
            $work = TickStep::altering($job, ClosedBy::Joint);
            if ($work !== null) {
                // What is measured of it from now on is of the joint as it was set.
                TickStep::turn($person, $job, $work);
            }
            EventLog::add($person, $job, EventKind::Joint, [
                'tap' => $tap,
                'set_nm' => $set,
                'min_nm' => $in['min_nm'],
                'max_nm' => $in['max_nm'],
                'contact' => $in['contact'] ?? '',
                'tool' => $in['tool'] ?? '',
                'both_ends' => (bool) ($in['both_ends'] ?? false),
                'before_mohm' => $before,
                'after_mohm' => $after,
            ]);
            EventLog::add($person, $job, EventKind::PackEvent, [
                'at' => now()->toIso8601ZuluString(),
                'kind' => 'retightened',
                'where' => ['joint' => $tap],
                'revision' => $job->revision,
            ]);
            // Set anew: the look that was due is of a joint that is no more.
            JointCheck::query()->where('job_id', $job->id)->where('tap', $tap)->whereNull('done_at')->delete();
            JointCheck::query()->create([
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'tap' => $tap,
                'mohm' => $after,
                'due_at' => now()->addDays(Joint::CHECK_AGAIN_DAYS),
            ]);
        });

        return Joint::torque($min, $max, $tolerance)['text'] . ' ' . Joint::brought($before, $after);
    }

    /** The look at it again: a fact, kept also of a pack that went back. */
    public function again(Person $person, Job $job, JointCheck $check, float $mv, float $amps): JointCheck
    {
        $now = self::milliohm(['now_mv' => $mv, 'amps' => $amps], 'now_mv');

        return DB::transaction(function () use ($person, $job, $check, $now): JointCheck {
            /** @var JointCheck $check */
            $check = JointCheck::query()->whereKey($check->id)->lockForUpdate()->firstOrFail();
            if ($check->done_at !== null) {
                throw new Refused('looked-at', 'Somebody has looked at this joint meanwhile: see what they read.');
            }
            $told = Joint::again($check->mohm, (float) $now, self::history($job, (int) $check->tap)['came_back']);
            $check->update([
                'done_at' => now(),
                'done_by' => $person->id,
                'now_mohm' => $now,
                'holds' => $told['holds'],
                'text' => $told['text'],
            ]);
            EventLog::add($person, $job, EventKind::JointChecked, ['tap' => $check->tap, 'mohm' => $now, 'holds' => $told['holds']]);
            if ($told['holds'] === null) {
                // There is a figure now, and it is held against in a week.
                JointCheck::query()->create([
                    'workshop_id' => $job->workshop_id,
                    'job_id' => $job->id,
                    'tap' => $check->tap,
                    'mohm' => $now,
                    'due_at' => now()->addDays(Joint::CHECK_AGAIN_DAYS),
                ]);
            }

            return $check;
        });
    }

    /**
     * How often a joint of this pack came back, in this job and those of the same serial, and what was between its contacts.
     *
     * @return array{came_back: int, contacts: list<string>}
     */
    private static function history(Job $job, int $tap): array
    {
        $jobs = Job::query()
            ->where('workshop_id', $job->workshop_id)
            ->where(fn($q) => $q->whereKey($job->id)->orWhere(fn($s) => $s->where('serial', $job->serial)->where('serial', '!=', '')))
            ->pluck('id');
        $set = Event::query()
            ->whereIn('job_id', $jobs)
            ->where('kind', EventKind::Joint)
            ->get(['job_id', 'data'])
            ->filter(fn(Event $e): bool => (int) ($e->data['tap'] ?? -1) === $tap);
        // It was set in an earlier job, and here it is again; or it was looked at and did not hold.
        $returned = $set->where('job_id', '!=', $job->id)->pluck('job_id')->unique()->count();

        return [
            'came_back' =>
                $returned +
                JointCheck::query()->whereIn('job_id', $jobs)->where('tap', $tap)->where('holds', false)->whereNotNull('done_at')->count(),
            'contacts' => array_values($set->map(fn(Event $e): string => (string) ($e->data['contact'] ?? ''))->all()),
        ];
    }

    /** @param  array<string, mixed>  $in */
    private static function milliohm(array $in, string $field): ?float
    {
        if (!isset($in[$field])) {
            return null;
        }
        try {
            return round(Joint::milliohm((float) $in[$field], (float) ($in['amps'] ?? 0.0)), 4);
        } catch (\InvalidArgumentException $e) {
            throw new Refused('amps', $e->getMessage(), 422, ['amps' => 'Say at how many amps the millivolts were read.']);
        }
    }
}
