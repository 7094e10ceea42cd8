<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Decision;
use App\Models\Job;
use App\Models\PackRevision;
use App\Models\Person;
use App\Models\WorkStep;
use App\Policies\Rights;
use Heartwood\Core\Repair\RepairAction;
use Illuminate\Support\Facades\DB;

/** Ticks a line of the checklist, or takes the tick back. The first tick that alters the pack opens its next revision. */
final class TickStep
{
    public function handle(Person $person, Job $job, WorkStep $step, bool $done, string $entry): WorkStep
    {
        return DB::transaction(function () use ($person, $job, $step, $done, $entry): WorkStep {
            Gatekeeper::open(LockJob::now($job));
            $decision = Decision::query()->findOrFail($step->decision_id);
            $action = RepairAction::from($decision->action);
            if ($done) {
                Gatekeeper::pass($job, $action->gate(), $person);
                if ($action === RepairAction::RecoverGroup && !Rights::allows($person, 'recover')) {
                    throw new Refused('no-right', 'A trainee may not carry out a recovery.', 403);
                }
            }
            $reason = "decision {$decision->id}: {$decision->option['title']}";
            if ($done && $step->step['alters'] && !PackRevision::query()->where('job_id', $job->id)->where('reason', $reason)->exists()) {
                OpenRevision::next($person, $job, $reason);
                $job->save();
            }
            $step->update(['entry' => $entry, 'done_at' => $done ? now() : null, 'done_by' => $done ? $person->id : null]);
            EventLog::add($person, $job, $done ? EventKind::StepDone : EventKind::StepUndone, [
                'step' => $step->step['code'],
                'entry' => $entry,
            ]);

            return $step;
        });
    }
}
