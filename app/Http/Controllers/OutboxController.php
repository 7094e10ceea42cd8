<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\CheckReadings;
use App\Actions\StoreFacts;
use App\Models\Job;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** Takes a bench's outbox and answers each entry; says at once what is questionable about the set being read. */
final class OutboxController extends Controller
{
    private const MOST = 200;

    public function store(Request $request, StoreFacts $store): JsonResponse
    {
        $data = $request->validate([
            'outbox_id' => 'required|uuid', 'entries' => 'required|list|min:1|max:'.self::MOST, 'entries.*.seq' => 'required|integer|min:1', 'entries.*.id' => 'required|uuid',
            'entries.*.kind' => 'required|string', 'entries.*.job_id' => 'required|integer', 'entries.*.at' => 'required|date', 'entries.*.data' => 'present|array', 'check' => 'nullable|uuid',
        ]);
        $result = $store->handle($this->person(), $data['outbox_id'], $data['entries']);
        $last = $data['entries'][count($data['entries']) - 1];
        $set = $data['check'] ?? null;
        $job = $set === null ? null : Job::query()->where('workshop_id', $this->person()->workshop_id)->find($last['job_id']);

        return new JsonResponse($result + ['check' => $job === null ? null : CheckReadings::of($job, $set)]);
    }

    public function check(Job $job, string $measurement): JsonResponse
    {
        return new JsonResponse(CheckReadings::of($job, $measurement));
    }
}
