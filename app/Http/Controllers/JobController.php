<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\AssessSafety;
use App\Actions\Decide;
use App\Actions\EditIntake;
use App\Actions\IssueVerdict;
use App\Actions\LeaveSafety;
use App\Actions\MoveJob;
use App\Actions\OpenJob;
use App\Actions\Prove;
use App\Actions\TickStep;
use App\Contract\PackInput;
use App\Http\Requests\DecideBody;
use App\Http\Requests\EditIntakeBody;
use App\Http\Requests\GiveBackBody;
use App\Http\Requests\LeaveSafetyBody;
use App\Http\Requests\OpenJobBody;
use App\Http\Requests\ProofBody;
use App\Http\Requests\SignOffBody;
use App\Http\Requests\StageBody;
use App\Http\Requests\StepBody;
use App\Http\Requests\TakeBackBody;
use App\Http\Requests\TriageBody;
use App\Http\Requests\WaitBody;
use App\Http\Views\JobView;
use App\Http\Views\ReplayView;
use App\Models\Job;
use App\Models\WorkStep;
use Carbon\CarbonImmutable;
use Heartwood\Core\Service\Cause;
use Illuminate\Http\JsonResponse;

/** The verbs of one job. Each validates, calls one action and shows the job as it is then. */
final class JobController extends Controller
{
    public function show(Job $job): JsonResponse
    {
        return $this->view($job);
    }

    public function replay(Job $job): JsonResponse
    {
        return new JsonResponse(ReplayView::of($job));
    }

    public function store(OpenJobBody $request, OpenJob $open): JsonResponse
    {
        $data = $request->validated();
        PackInput::check($data['pack'], $data['symptoms'], $data['inspection']);
        /**
         * @var array{
         *     customer: string,
         *     name: string,
         *     pack: array<string, mixed>,
         *     symptoms: list<string>,
         *     inspection: array<string, mixed>
         * } $data
         */
        $data = array_filter($data, fn(mixed $v): bool => $v !== null);

        return $this->view($open->handle($this->person(), $data), 201);
    }

    public function update(EditIntakeBody $request, Job $job, EditIntake $edit): JsonResponse
    {
        $data = $request->validated();
        if (isset($data['pack'])) {
            PackInput::check($data['pack'], [], []);
        }

        return $this->view(
            $edit->handle($this->person(), $job, array_map(fn(mixed $v): mixed => $v ?? '', $data), $this->version($request)),
        );
    }

    public function triage(TriageBody $request, Job $job, AssessSafety $assess): JsonResponse
    {
        $data = $request->validated();
        PackInput::check($job->pack, $data['symptoms'] ?? [], $data['inspection']);

        return $this->view(
            $assess->handle(
                $this->person(),
                $job,
                $data['inspection'],
                $data['symptoms'] ?? null,
                array_values($data['withdrawn'] ?? []),
                $data['moment'] ?? null,
                trim((string) ($data['second_person'] ?? '')),
            ),
        );
    }

    public function safety(LeaveSafetyBody $request, Job $job, LeaveSafety $leave): JsonResponse
    {
        $data = $request->validated();

        return $this->view($leave->handle($this->person(), $job, $data['way'], $data['reason']));
    }

    public function stage(StageBody $request, Job $job, MoveJob $move): JsonResponse
    {
        $data = $request->validated();

        return $this->view($move->stage($this->person(), $job, $data['stage']));
    }

    public function wait(WaitBody $request, Job $job, MoveJob $move): JsonResponse
    {
        $data = $request->validated();

        return $this->view(
            $move->wait(
                $this->person(),
                $job,
                isset($data['until']) ? CarbonImmutable::parse($data['until'])->utc() : null,
                $data['for'] ?? '',
            ),
        );
    }

    public function verdict(Job $job, IssueVerdict $issue): JsonResponse
    {
        $issue->handle($this->person(), $job);

        return $this->view($job->refresh());
    }

    public function decide(DecideBody $request, Job $job, Decide $decide): JsonResponse
    {
        $data = $request->validated();
        $decide->handle(
            $this->person(),
            $job,
            (int) $data['verdict_id'],
            $data['action'],
            $data['reason'],
            array_key_exists('seen', $data) ? ['id' => $data['seen'] === null ? null : (int) $data['seen']] : null,
            array_values($data['with'] ?? []),
        );

        return $this->view($job->refresh());
    }

    public function step(StepBody $request, Job $job, WorkStep $step, TickStep $tick): JsonResponse
    {
        abort_unless($step->job_id === $job->id, 404);
        $data = $request->validated();
        if (array_key_exists('skip', $data)) {
            $tick->skip($this->person(), $job, $step, trim((string) $data['skip']));
        } elseif (($data['start'] ?? false) === true) {
            $tick->start($this->person(), $job, $step);
        } else {
            $tick->handle($this->person(), $job, $step, (bool) ($data['done'] ?? false), trim($data['entry'] ?? ''));
        }

        return $this->view($job->refresh());
    }

    public function proof(ProofBody $request, Job $job, Prove $prove): JsonResponse
    {
        $prove->enter($this->person(), $job, $request->check(), $request->entered());

        return $this->view($job->refresh());
    }

    public function signOff(SignOffBody $request, Job $job, Prove $prove): JsonResponse
    {
        $prove->signOff($this->person(), $job, (string) ($request->validated()['reason'] ?? ''));

        return $this->view($job->refresh());
    }

    public function takeBack(TakeBackBody $request, Job $job, MoveJob $move): JsonResponse
    {
        $move->takeBack($this->person(), $job, $request->validated()['reason']);

        return $this->view($job->refresh());
    }

    public function giveBack(GiveBackBody $request, Job $job, MoveJob $move): JsonResponse
    {
        $data = $request->validated();
        $move->giveBack(
            $this->person(),
            $job,
            (string) ($data['note'] ?? ''),
            isset($data['truth']) ? array_values($data['truth']) : null,
            Cause::tryFrom($data['cause'] ?? ''),
            $data['promise_months'] ?? null,
        );

        return $this->view($job->refresh());
    }

    private function view(Job $job, int $status = 200): JsonResponse
    {
        return new JsonResponse(JobView::of($job, $this->person()), $status);
    }
}
