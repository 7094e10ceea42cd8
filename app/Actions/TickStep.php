<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Decision;
use App\Models\Job;
use App\Models\PackRevision;
use App\Models\Person;
use App\Models\WorkStep;
use App\Policies\Rights;
use App\Read\WorkSteps;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Work\ClosedBy;
use Heartwood\Core\Work\Work;
use Illuminate\Support\Facades\DB;

/**
 * A line of the work: begun, closed by a person's word where nothing can prove it, left with a reason, or taken back. What can be
 * proved is closed by its evidence alone. The first that alters the pack opens its next revision.
 */
final class TickStep
{
    public function handle(Person $person, Job $job, WorkStep $step, bool $done, string $entry): WorkStep
    {
        return DB::transaction(function () use ($person, $job, $step, $done, $entry): WorkStep {
            $decision = self::may($person, $job, $step, $done);
            $step->refresh();
            if ($done) {
                self::believed($decision, $step, $entry);
                self::alter($person, $job, $decision, $step);
            }
            $step->update(['entry' => $entry, 'skipped' => '', 'done_at' => $done ? now() : null, 'done_by' => $done ? $person->id : null]);
            EventLog::add($person, $job, $done ? EventKind::StepDone : EventKind::StepUndone, [
                'step' => $step->step['code'],
                'entry' => $entry,
            ]);

            return $step;
        });
    }

    /** The first touch: its time runs from here, and what is measured from now on counts for the pack that it alters. */
    public function start(Person $person, Job $job, WorkStep $step): void
    {
        DB::transaction(function () use ($person, $job, $step): void {
            $decision = self::may($person, $job, $step, true);
            $step->refresh();
            if ($step->started_at === null) {
                $step->update(['started_at' => now()]);
            }
            // A recovery alters nothing until the group has come back: its trial belongs to the pack as it came in.
            if (self::closedBy($decision, $step) !== ClosedBy::Trial) {
                self::alter($person, $job, $decision, $step);
            }
        });
    }

    /** Not done, and why: it stays on the report. */
    public function skip(Person $person, Job $job, WorkStep $step, string $reason): void
    {
        if ($reason === '') {
            throw new Refused('no-reason', 'A step that is left needs its reason: it stays on the report.', 422, [
                'skip' => 'Say why it is left.',
            ]);
        }
        DB::transaction(function () use ($person, $job, $step, $reason): void {
            $decision = self::may($person, $job, $step, true);
            $step->refresh();
            if (self::closedBy($decision, $step) === ClosedBy::NoCurrent) {
                throw new Refused('never-left', 'That nothing flows is proved before anything is loosened: this step is not left out.');
            }
            $step->update(['entry' => '', 'skipped' => $reason, 'done_at' => now(), 'done_by' => $person->id]);
            EventLog::add($person, $job, EventKind::StepSkipped, ['step' => $step->step['code'], 'reason' => $reason]);
        });
    }

    /** Opens the next revision for a decision, once: what its work altered is another pack from here on. */
    public static function turn(Person $person, Job $job, Decision $decision): void
    {
        $reason = "decision {$decision->id}: {$decision->option['title']}";
        if (!PackRevision::query()->where('job_id', $job->id)->where('reason', $reason)->exists()) {
            OpenRevision::next($person, $job, $reason);
            $job->save();
        }
    }

    /** The decision whose work is under way, where a step that alters the pack is closed by such evidence. */
    public static function altering(Job $job, ClosedBy $by): ?Decision
    {
        $decision = Decision::query()->where('job_id', $job->id)->latest('id')->first();
        $step =
            $decision === null
                ? null
                : WorkSteps::rows($decision)->first(
                    fn(WorkStep $s): bool => (bool) $s->step['alters'] && self::closedBy($decision, $s) === $by && $s->done_at === null,
                );

        return $step === null ? null : $decision;
    }

    private static function may(Person $person, Job $job, WorkStep $step, bool $acts): Decision
    {
        Gatekeeper::open(LockJob::now($job));
        /** @var Decision $decision */
        $decision = Decision::query()->whereKey($step->decision_id)->firstOrFail();
        $action = WorkSteps::actionOf($decision, $step);
        if ($acts) {
            Gatekeeper::pass($job, $action->gate(), $person);
            if ($action === RepairAction::RecoverGroup && !Rights::allows($person, 'recover')) {
                throw new Refused('no-right', 'A trainee may not carry out a recovery.', 403);
            }
        }

        return $decision;
    }

    /** @throws Refused its evidence is missing, or what was typed is no word for it */
    private static function believed(Decision $decision, WorkStep $step, string $entry): void
    {
        $by = self::closedBy($decision, $step);
        if (!$by->isWord()) {
            $all = WorkSteps::rows($decision);
            $at = (int) $all->search(fn(WorkStep $s): bool => $s->id === $step->id);
            $proof = WorkSteps::proofs($decision, $all)[$at];
            throw $proof->closed
                ? new Refused('proved', "It is closed by its evidence: $proof->text.")
                : new Refused('evidence-wanted', "Its evidence closes it, and not a tick. $proof->text Or leave it, and say why.");
        }
        $wrong = match (true) {
            $by === ClosedBy::NoCurrent => Work::noCurrent($entry),
            $step->step['entry'] !== '' && $entry === '' => "Write down: {$step->step['entry']}.",
            default => null,
        };
        if ($wrong !== null) {
            throw new Refused('entry', $wrong, 422, ['entry' => $wrong]);
        }
        $against = WorkSteps::against($decision, (string) $step->step['code']);
        if ($against !== null) {
            throw new Refused('not-yet', $against);
        }
    }

    private static function alter(Person $person, Job $job, Decision $decision, WorkStep $step): void
    {
        if ($step->step['alters']) {
            self::turn($person, $job, $decision);
        }
    }

    private static function closedBy(Decision $decision, WorkStep $step): ClosedBy
    {
        return ClosedBy::of(WorkSteps::actionOf($decision, $step), (string) $step->step['code']);
    }
}
