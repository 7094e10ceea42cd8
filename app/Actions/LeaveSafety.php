<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\Person;
use App\Policies\Rights;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Safety\Triage;
use Illuminate\Support\Facades\DB;

/** The recorded ways out of quarantine and hold. Each names a person and a reason; none is silent. */
final class LeaveSafety
{
    public const WAYS = ['scrapped', 'cell-removed', 'mistake', 'released'];

    private const WATCH_HOURS = 24;

    public function handle(Person $person, Job $job, string $way, string $reason): Job
    {
        if (!Rights::isSenior($person)) {
            throw new Refused('no-right', 'Only a senior or the owner decides about a held pack.', 403);
        }

        return DB::transaction(function () use ($person, $job, $way, $reason): Job {
            LockJob::now($job);
            if ($job->safety() === SafetyState::Clear) {
                throw new Refused('not-held', 'This pack is neither held nor in quarantine.');
            }
            $watched = $job->held_since === null || $job->held_since->addHours(self::WATCH_HOURS)->isPast();
            $from = $job->safety();
            match ($way) {
                'scrapped' => $this->scrap($job),
                'mistake' => $this->mistake($job),
                'cell-removed' => $this->removed($person, $job, $watched),
                'released' => $this->release($job, $watched),
                default => throw new Refused('unknown-way', 'There is no such way out.', 422),
            };
            $job->save();
            EventLog::add($person, $job, EventKind::from('safety-' . $way), [
                'from' => $from->value,
                'to' => $job->safety_state,
                'reason' => $reason,
            ]);

            return $job;
        });
    }

    private function scrap(Job $job): void
    {
        $job->status = 'scrapped';
        $job->closed_at = now();
    }

    /** What was entered by mistake is taken back: the answers fall to "no", the state to what is left. */
    private function mistake(Job $job): void
    {
        $keys = Triage::keys(new Fields($job->inspection), $job->symptoms);
        $job->inspection = array_replace($job->inspection, array_fill_keys(array_intersect($keys, array_keys($job->inspection)), false));
        $job->symptoms = array_values(array_diff($job->symptoms, $keys));
        $this->set($job, SafetyState::Clear);
    }

    private function removed(Person $person, Job $job, bool $watched): void
    {
        if ($job->safety() !== SafetyState::Quarantine) {
            throw new Refused('not-quarantined', 'Only a pack in quarantine has a cell removed this way.');
        }
        if (!$watched) {
            throw new Refused('watch', 'A cell is removed after 24 hours observed cold: ' . $this->left($job) . '.');
        }
        Gatekeeper::pass($job, 'removal', $person);
        OpenRevision::next($person, $job, 'cell removed from quarantine');
        $job->safety_released = Triage::keys(new Fields($job->inspection), $job->symptoms);
        $this->set($job, SafetyState::Hold);
        $job->safety_reasons = ['a cell was removed: new triage for the remainder'];
    }

    private function release(Job $job, bool $watched): void
    {
        if ($job->safety() === SafetyState::Quarantine) {
            throw new Refused(
                'quarantine',
                'Nobody can override a quarantine while it lasts: scrapped, cell removed, or entered by mistake.',
            );
        }
        if (!$watched) {
            throw new Refused('watch', 'A hold is watched for 24 hours first: ' . $this->left($job) . '.');
        }
        $job->safety_released = array_values(
            array_unique([...$job->safety_released, ...Triage::keys(new Fields($job->inspection), $job->symptoms)]),
        );
        $this->set($job, SafetyState::Clear);
    }

    private function left(Job $job): string
    {
        $minutes = (int) ceil(now()->diffInMinutes($job->held_since?->addHours(self::WATCH_HOURS)));

        return $minutes >= 60 ? intdiv($minutes, 60) . ' h left' : "$minutes min left";
    }

    private function set(Job $job, SafetyState $state): void
    {
        $job->safety_state = $state->value;
        $job->safety_reasons = AssessSafety::triage($job)->reasons;
        $job->held_since = $state === SafetyState::Clear ? null : now();
    }
}
