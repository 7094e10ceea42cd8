<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\CheckReadings;
use App\Actions\StoreFacts;
use App\Http\Requests\MissingBody;
use App\Http\Requests\OutboxBody;
use App\Models\Job;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;

/** Takes a bench's outbox and answers each entry; says at once what is questionable about the set being read. */
final class OutboxController extends Controller
{
    public function store(OutboxBody $request, StoreFacts $store): JsonResponse
    {
        $data = $request->validated();
        $sent = isset($data['sent_at']) ? CarbonImmutable::parse($data['sent_at']) : null;
        $result = $store->handle($this->person(), $data['outbox_id'], $data['entries'], $sent);
        $last = $data['entries'] === [] ? null : $data['entries'][count($data['entries']) - 1];
        $set = $data['check'] ?? null;
        $job =
            $set === null || $last === null
                ? null
                : Job::query()->where('workshop_id', $this->person()->workshop_id)->whereKey($last['job_id'])->first();

        return new JsonResponse(
            $result + [
                'epoch' => (string) config('heartwood.epoch'),
                'check' => $job === null ? null : CheckReadings::of($job, $set),
            ],
        );
    }

    /** Entries that a bench was told are kept, and are not here: this server was set back. */
    public function missing(MissingBody $request, StoreFacts $store): JsonResponse
    {
        return new JsonResponse(['missing' => $store->missing($this->person(), $request->entries())]);
    }

    public function check(Job $job, string $measurement): JsonResponse
    {
        return new JsonResponse(CheckReadings::of($job, $measurement));
    }
}
