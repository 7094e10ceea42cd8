<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Decision;
use App\Models\Job;
use App\Models\Person;
use App\Models\SignOff;
use Carbon\CarbonImmutable;
use Heartwood\Core\Repair\RepairAction;
use Illuminate\Support\Facades\DB;

/** Where the pack is on its way: stage, waiting, return. */
final class MoveJob
{
    public function stage(Person $person, Job $job, string $stage): Job
    {
        return DB::transaction(function () use ($person, $job, $stage): Job {
            Gatekeeper::open(LockJob::now($job));
            if ($stage === 'work' && !Decision::query()->where('job_id', $job->id)->exists()) {
                throw new Refused('no-decision', 'Choose an option under Plan first: the work follows from it.');
            }
            EventLog::add($person, $job, EventKind::Stage, ['from' => $job->stage, 'to' => $stage]);
            $job->update(['stage' => $stage]);

            return $job;
        });
    }

    public function wait(Person $person, Job $job, ?CarbonImmutable $until, string $for): Job
    {
        return DB::transaction(function () use ($person, $job, $until, $for): Job {
            Gatekeeper::open(LockJob::now($job));
            $job->update(['waits_until' => $until, 'waits_for' => $until === null ? '' : $for]);
            EventLog::add($person, $job, EventKind::Wait, ['until' => $until?->toIso8601ZuluString(), 'for' => $for]);

            return $job;
        });
    }

    /**
     * @param  list<array{code: string, where?: array<string, int>|null, seen_by?: string}>|null  $truth  what it was in the end;
     * empty: nothing was wrong; null: not known
     */
    public function giveBack(Person $person, Job $job, string $note, ?array $truth = null): Job
    {
        return DB::transaction(function () use ($person, $job, $note, $truth): Job {
            Gatekeeper::open(LockJob::now($job));
            Gatekeeper::pass($job, 'sign-off', $person);
            $decision = Decision::query()->where('job_id', $job->id)->latest('id')->first();
            $scrap = $decision !== null && RepairAction::from($decision->action)->endsPack();
            if (!$scrap && !SignOff::query()->where('job_id', $job->id)->where('revision', $job->revision)->exists()) {
                throw new Refused('not-signed', 'The proof of this revision is not signed: sign it off under Proof first.');
            }
            $job->update([
                'status' => $scrap ? 'scrapped' : 'returned',
                'stage' => 'report',
                'closed_at' => now(),
                'waits_until' => null,
                'waits_for' => '',
            ]);
            ShopPriors::learn($job->workshop_id, $truth);
            EventLog::add(
                $person,
                $job,
                EventKind::Closed,
                ['as' => $job->status, 'note' => $note] + ($truth === null ? [] : ['truth' => $truth]),
            );

            return $job;
        });
    }
}
