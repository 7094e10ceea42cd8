<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\EventKind;
use App\Actions\KeepJoint;
use App\Http\Requests\JointAgainBody;
use App\Http\Requests\JointBody;
use App\Models\Event;
use App\Models\Job;
use App\Models\JointCheck;
use Heartwood\Core\Build\Joint;
use Illuminate\Http\JsonResponse;

/** Joints set to their torque: by whom, and when to look again. */
final class JointController extends Controller
{
    /** Torqued joints: what was set, by whom, and when to look again. */
    public function index(Job $job): JsonResponse
    {
        $rows = Event::query()->where('job_id', $job->id)->where('kind', EventKind::Joint)->with('person')->orderBy('id')->get()->map(
            fn(Event $e): array => [
                'tap' => (int) $e->data['tap'],
                'set_nm' => (float) $e->data['set_nm'],
                'min_nm' => (float) $e->data['min_nm'],
                'max_nm' => (float) $e->data['max_nm'],
                'contact' => (string) ($e->data['contact'] ?? ''),
                'tool' => (string) ($e->data['tool'] ?? ''),
                'both_ends' => (bool) ($e->data['both_ends'] ?? false),
                'brought' => Joint::brought($e->data['before_mohm'] ?? null, $e->data['after_mohm'] ?? null),
                'by' => (string) $e->person?->name,
                'at' => $e->at->toIso8601ZuluString(),
                'check_again' => $e->at->addDays(Joint::CHECK_AGAIN_DAYS)->toIso8601ZuluString(),
            ],
        );

        return new JsonResponse([
            'joints' => $rows->all(),
            'checks' => JointCheck::query()
                ->where('job_id', $job->id)
                ->with('person')
                ->orderBy('id')
                ->get()
                ->map(
                    fn(JointCheck $c): array => [
                        'id' => $c->id,
                        'tap' => (int) $c->tap,
                        'mohm' => $c->mohm,
                        'due_at' => $c->due_at->toIso8601ZuluString(),
                        'due' => $c->done_at === null && $c->due_at->isPast(),
                        'done_at' => $c->done_at?->toIso8601ZuluString(),
                        'by' => $c->person?->name,
                        'holds' => $c->holds,
                        'text' => $c->text,
                    ],
                )
                ->all(),
        ]);
    }

    /** The look at a joint again, a week after it was set. */
    public function again(JointAgainBody $request, Job $job, JointCheck $jointCheck, KeepJoint $keep): JsonResponse
    {
        abort_unless($jointCheck->job_id === $job->id, 404);
        $in = $request->validated();
        $keep->again($this->person(), $job, $jointCheck, (float) $in['mv'], (float) $in['amps']);

        return $this->index($job);
    }

    /** A joint set to its torque: recorded, and known to the verdict as retightened. */
    public function store(JointBody $request, Job $job, KeepJoint $keep): JsonResponse
    {
        $target = $keep->handle($this->person(), $job, $request->validated());

        return new JsonResponse(['target' => $target] + (array) $this->index($job)->getData(true), 201);
    }
}
