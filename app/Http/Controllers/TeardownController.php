<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\KeepTeardown;
use App\Http\Requests\TeardownBackBody;
use App\Http\Requests\TeardownBody;
use App\Http\Requests\TeardownChangeBody;
use App\Http\Requests\TeardownCheckBody;
use App\Models\Job;
use App\Models\TeardownStep;
use App\Read\Teardowns;
use Illuminate\Http\JsonResponse;

/** What came off a pack, and the way back. */
final class TeardownController extends Controller
{
    public function show(Job $job): JsonResponse
    {
        return new JsonResponse(Teardowns::of($job));
    }

    public function store(TeardownBody $request, Job $job, KeepTeardown $keep): JsonResponse
    {
        $keep->take($this->person(), $job, array_values($request->validated()['lines']));

        return new JsonResponse(Teardowns::of($job), 201);
    }

    public function update(TeardownChangeBody $request, TeardownStep $teardownStep, KeepTeardown $keep): JsonResponse
    {
        $keep->change($this->person(), $teardownStep, $request->validated(), $this->version($request));

        return new JsonResponse(Teardowns::of($teardownStep->job));
    }

    public function back(TeardownBackBody $request, TeardownStep $teardownStep, KeepTeardown $keep): JsonResponse
    {
        $in = $request->validated();
        $keep->back($this->person(), $teardownStep, (int) $in['count'], trim((string) ($in['note'] ?? '')));

        return new JsonResponse(Teardowns::of($teardownStep->job));
    }

    public function check(TeardownCheckBody $request, Job $job, KeepTeardown $keep): JsonResponse
    {
        $in = $request->validated();
        $keep->check(
            $this->person(),
            $job,
            $in['act'],
            (string) ($in['of'] ?? ''),
            isset($in['value']) ? (float) $in['value'] : null,
            trim((string) ($in['note'] ?? '')),
        );

        return new JsonResponse(Teardowns::of($job));
    }
}
