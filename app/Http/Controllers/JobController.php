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
use App\Http\Views\JobView;
use App\Http\Views\ReplayView;
use App\Models\Job;
use App\Models\WorkStep;
use Carbon\CarbonImmutable;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Proof\Check;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\Rule;

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

    public function store(Request $request, OpenJob $open): JsonResponse
    {
        $data = $request->validate([
            'customer' => 'required|string|max:160', 'contact' => 'nullable|string|max:190', 'name' => 'required|string|max:160', 'serial' => 'nullable|string|max:80',
            'batch' => 'nullable|string|max:80', 'complaint' => 'nullable|string|max:5000', 'pack' => 'required|array', 'pack_model_id' => 'nullable|integer', 'save_model' => 'nullable|boolean',
            'symptoms' => 'present|array', 'inspection' => 'present|array',
        ]);
        PackInput::check($data['pack'], $data['symptoms'], $data['inspection']);
        $data = array_filter($data, fn (mixed $v): bool => $v !== null);

        return $this->view($open->handle($this->person(), $data), 201);
    }

    public function update(Request $request, Job $job, EditIntake $edit): JsonResponse
    {
        $data = $request->validate(['name' => 'sometimes|required|string|max:160', 'serial' => 'nullable|string|max:80', 'batch' => 'nullable|string|max:80', 'complaint' => 'nullable|string|max:5000', 'pack' => 'sometimes|array']);
        if (isset($data['pack'])) {
            PackInput::check($data['pack'], [], []);
        }

        return $this->view($edit->handle($this->person(), $job, array_map(fn (mixed $v): mixed => $v ?? '', $data), $request->header('If-Match')));
    }

    public function triage(Request $request, Job $job, AssessSafety $assess): JsonResponse
    {
        $data = $request->validate(['inspection' => 'present|array', 'symptoms' => 'nullable|array', 'withdrawn' => 'nullable|array', 'withdrawn.*' => 'string|max:40']);
        PackInput::check($job->pack, $data['symptoms'] ?? [], $data['inspection']);

        return $this->view($assess->handle($this->person(), $job, $data['inspection'], $data['symptoms'] ?? null, array_values($data['withdrawn'] ?? [])));
    }

    public function safety(Request $request, Job $job, LeaveSafety $leave): JsonResponse
    {
        $data = $request->validate(['way' => ['required', Rule::in(LeaveSafety::WAYS)], 'reason' => 'required|string|min:3|max:2000']);

        return $this->view($leave->handle($this->person(), $job, $data['way'], $data['reason']));
    }

    public function stage(Request $request, Job $job, MoveJob $move): JsonResponse
    {
        $data = $request->validate(['stage' => ['required', Rule::in(Job::STAGES)]]);

        return $this->view($move->stage($this->person(), $job, $data['stage']));
    }

    public function wait(Request $request, Job $job, MoveJob $move): JsonResponse
    {
        $data = $request->validate(['until' => 'nullable|date', 'for' => 'nullable|string|max:200']);

        return $this->view($move->wait($this->person(), $job, isset($data['until']) ? CarbonImmutable::parse($data['until'])->utc() : null, $data['for'] ?? ''));
    }

    public function verdict(Job $job, IssueVerdict $issue): JsonResponse
    {
        $issue->handle($this->person(), $job);

        return $this->view($job->refresh());
    }

    public function decide(Request $request, Job $job, Decide $decide): JsonResponse
    {
        $data = $request->validate(['verdict_id' => 'required|integer', 'action' => 'required|string|max:24', 'reason' => 'required|string|min:2|max:2000']);
        $decide->handle($this->person(), $job, (int) $data['verdict_id'], $data['action'], $data['reason']);

        return $this->view($job->refresh());
    }

    public function step(Request $request, Job $job, WorkStep $step, TickStep $tick): JsonResponse
    {
        abort_unless($step->job_id === $job->id, 404);
        $data = $request->validate(['done' => 'required|boolean', 'entry' => 'nullable|string|max:2000']);
        $tick->handle($this->person(), $job, $step, (bool) $data['done'], $data['entry'] ?? '');

        return $this->view($job->refresh());
    }

    public function proof(Request $request, Job $job, Prove $prove): JsonResponse
    {
        $data = $request->validate(['check' => ['required', Rule::enum(Check::class)], 'data' => 'present|array']);
        $check = Check::from($data['check']);
        $fields = array_column($check->fields(), 'kind', 'name');
        $rules = array_map(fn (string $kind): string => ['number' => 'required|numeric|between:-100000,100000', 'yes-no' => 'required|boolean', 'text' => 'required|string|max:2000'][$kind], $fields);
        $clean = validator($data['data'], $rules)->validate();
        foreach ($clean as $name => $value) {
            $clean[$name] = $fields[$name] === 'number' ? (float) $value : $value;
        }
        $prove->enter($this->person(), $job, $check, $clean);

        return $this->view($job->refresh());
    }

    public function signOff(Request $request, Job $job, Prove $prove): JsonResponse
    {
        $prove->signOff($this->person(), $job, (string) ($request->validate(['reason' => 'nullable|string|max:2000'])['reason'] ?? ''));

        return $this->view($job->refresh());
    }

    public function giveBack(Request $request, Job $job, MoveJob $move): JsonResponse
    {
        $data = $request->validate([
            'note' => 'nullable|string|max:2000', 'truth' => 'nullable|array|max:100', 'truth.*' => 'array:code,where,seen_by',
            'truth.*.code' => ['required', 'string', Rule::in(Faults::codes())], 'truth.*.where' => 'nullable|array:group,tap,joint|max:1', 'truth.*.where.*' => 'integer|min:0|max:400',
            'truth.*.seen_by' => 'nullable|in:replaced,measured,opened,tried',
        ], ['truth.*.code.in' => 'Choose a fault from the list.', 'truth.*.seen_by.in' => 'Say how it was seen: replaced, measured, opened or tried.']);
        $move->giveBack($this->person(), $job, (string) ($data['note'] ?? ''), isset($data['truth']) ? array_values($data['truth']) : null);

        return $this->view($job->refresh());
    }

    private function view(Job $job, int $status = 200): JsonResponse
    {
        return new JsonResponse(JobView::of($job, $this->person()), $status);
    }
}
