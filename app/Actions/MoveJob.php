<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Decision;
use App\Models\Event;
use App\Models\Job;
use App\Models\Person;
use App\Models\SignOff;
use App\Read\Comebacks;
use App\Read\OwnMinutes;
use Carbon\CarbonImmutable;
use Heartwood\Core\Limits\WorkLimits;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Service\Cause;
use Heartwood\Core\Service\Promise;
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
     * @param  Cause|null  $cause  why it came back, where it went back before
     * @param  int|null  $months  that are promised of the work; null: as the shop does
     */
    public function giveBack(Person $person, Job $job, string $note, ?array $truth = null, ?Cause $cause = null, ?int $months = null): Job
    {
        return DB::transaction(function () use ($person, $job, $note, $truth, $cause, $months): Job {
            Gatekeeper::open(LockJob::now($job));
            Gatekeeper::pass($job, 'sign-off', $person);
            $decision = Decision::query()->where('job_id', $job->id)->latest('id')->first();
            $scrap = $decision !== null && RepairAction::from($decision->action)->endsPack();
            if (!$scrap && !SignOff::query()->where('job_id', $job->id)->where('revision', $job->revision)->exists()) {
                throw new Refused('not-signed', 'The proof of this revision is not signed: sign it off under Proof first.');
            }
            $comeback = self::cameBack($job, $cause);
            $job->update([
                'status' => $scrap ? 'scrapped' : 'returned',
                'stage' => 'report',
                'closed_at' => now(),
                'waits_until' => null,
                'waits_for' => '',
            ]);
            KeepLotFacts::of($job);
            $scrap ? KeepPack::unwatch($job) : KeepPack::watch($job);
            ShopPriors::learn($job->workshop_id, $truth);
            foreach ($decision === null ? [] : OwnMinutes::ofWork($decision) as $action => $minutes) {
                EventLog::add($person, $job, EventKind::WorkTimed, ['action' => $action, 'minutes' => round($minutes, 1)]);
            }
            EventLog::add(
                $person,
                $job,
                EventKind::Closed,
                ['as' => $job->status, 'note' => $note] +
                    ($truth === null ? [] : ['truth' => $truth]) +
                    ($comeback === null ? [] : ['comeback' => $comeback]) +
                    ($scrap ? [] : ['promise' => self::promised(Comebacks::offered($job->workshop, $months))]),
            );

            return $job;
        });
    }

    /** @return array{of: int, cause: string, under_promise: bool|null}|null null where it never went back before */
    private static function cameBack(Job $job, ?Cause $cause): ?array
    {
        $before = Comebacks::before($job);
        if ($before === null) {
            return null;
        }
        if ($cause === null) {
            throw new Refused('no-cause', "It went back by job {$before->number} and came in again: say why.", 422, [
                'cause' => 'Say why it came back: ' . implode(', ', array_map(fn(Cause $c): string => $c->words(), Cause::cases())) . '.',
            ]);
        }
        $promise = Comebacks::promise(Comebacks::closed($before));

        return [
            'of' => $before->id,
            'cause' => $cause->value,
            'under_promise' => $promise?->covers($cause, $job->created_at->toImmutable()),
        ];
    }

    /** @return array{months: int, excludes: list<string>, words: string, ends_at: string} */
    private static function promised(Promise $p): array
    {
        return [
            'months' => $p->months,
            'excludes' => array_map(fn(Cause $c): string => $c->value, $p->excludes),
            'words' => $p->words,
            'ends_at' => CarbonImmutable::instance($p->ends())->toIso8601ZuluString(),
        ];
    }

    public static function mayTakeBack(Job $job): bool
    {
        return $job->closed_at !== null && !$job->closed_at->addMinutes((int) (WorkLimits::TAKE_BACK_H * 60))->isPast();
    }

    /** A hand-back that was a slip: the job is open again as it was, within the day and with the reason. */
    public function takeBack(Person $person, Job $job, string $reason): Job
    {
        return DB::transaction(function () use ($person, $job, $reason): Job {
            LockJob::now($job);
            if ($job->status === 'open') {
                throw new Refused('open', 'This job is open: nothing is to be taken back.');
            }
            $closed = Event::query()->where('job_id', $job->id)->where('kind', EventKind::Closed)->latest('id')->first();
            if ($closed === null || $job->closed_at === null) {
                throw new Refused('not-here', 'It did not leave by a hand-back: what ended it is not taken back here.');
            }
            if (!self::mayTakeBack($job)) {
                throw new Refused('too-late', 'It went back more than a day ago: take it in anew, the tool knows it by its serial.');
            }
            ShopPriors::learn($job->workshop_id, $closed->data['truth'] ?? null, -1);
            EventLog::add($person, $job, EventKind::TakenBack, ['from' => $job->status, 'reason' => $reason]);
            $job->update(['status' => 'open', 'stage' => 'report', 'closed_at' => null]);
            KeepPack::unwatch($job);
            // What it was is open again: it teaches nothing until it is closed anew.
            (new Train())->dropCase($job);

            return $job;
        });
    }
}
