<?php

declare(strict_types=1);

namespace App\Read;

use App\Models\BenchTest;
use App\Models\Decision;
use App\Models\Job;
use App\Models\Measurement;
use App\Models\Run;
use App\Models\SignOff;
use App\Models\Verdict;
use App\Models\WorkStep;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Record\Condition;
use Heartwood\Core\Schedule\JobLine;
use Illuminate\Support\Collection;

/** The job's line of time, out of what is kept of it. */
final class JobLines
{
    /**
     * @param  Collection<int, Measurement>  $measurements
     * @param  Collection<int, BenchTest>  $tests
     */
    public static function of(Job $job, Collection $measurements, Collection $tests): JobLine
    {
        $marks = [];
        $mark = function (string $kind, ?\DateTimeInterface $at, string $title, ?\DateTimeInterface $until = null) use (&$marks): void {
            if ($at !== null) {
                $marks[] = [
                    'kind' => $kind,
                    'at' => \DateTimeImmutable::createFromInterface($at),
                    'until' => $until === null ? null : \DateTimeImmutable::createFromInterface($until),
                    'title' => $title,
                ];
            }
        };
        $mark('in', $job->created_at, 'taken in');
        foreach ($measurements as $m) {
            $mark('set', $m->taken_at, 'set ' . (Condition::tryFrom($m->condition)?->said() ?? $m->condition));
        }
        foreach ($tests as $t) {
            $mark('test', $t->taken_at, lcfirst(TestKind::tryFrom($t->kind)?->title() ?? $t->kind));
        }
        foreach (
            Verdict::query()
                ->where('job_id', $job->id)
                ->orderBy('id')
                ->get(['id', 'issued_at'])
            as $v
        ) {
            $mark('verdict', $v->issued_at, 'verdict');
        }
        foreach (Decision::query()->where('job_id', $job->id)->orderBy('id')->get() as $d) {
            $mark('decision', $d->decided_at, lcfirst((string) ($d->option['title'] ?? 'decided')));
        }
        $runs = Run::query()->where('job_id', $job->id)->orderBy('started_at');
        foreach ($runs->get(['id', 'kind', 'group_no', 'started_at', 'ended_at']) as $r) {
            $mark(
                'run',
                $r->started_at,
                $r->kind . ($r->group_no > 0 ? " of group {$r->group_no}" : ' of the pack'),
                $r->ended_at ?? now(),
            );
        }
        foreach (WorkStep::query()->where('job_id', $job->id)->whereNotNull('done_at')->orderBy('id')->get() as $w) {
            $mark('step', $w->done_at, str_replace('-', ' ', (string) ($w->step['code'] ?? 'step')));
        }
        foreach (SignOff::query()->where('job_id', $job->id)->orderBy('id')->get() as $s) {
            $mark('proof', $s->signed_at, 'signed');
        }
        $mark('out', $job->closed_at, $job->status === 'returned' ? 'handed back' : 'closed');

        return JobLine::of($marks, $job->status === 'open' ? \DateTimeImmutable::createFromInterface(now()) : null);
    }
}
