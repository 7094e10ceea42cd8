<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Models\Job;
use App\Models\Verdict;
use Heartwood\Core\Schedule\NextThing;
use Illuminate\Support\Collection;

/** A job in a list: where it stands, what it wants next, and its thumbnail. */
final class JobRow
{
    /** @return array<string, mixed> */
    public static function of(Job $job): array
    {
        $next = NextThing::of(
            $job->stage,
            $job->status,
            $job->safety(),
            $job->waits_until !== null && $job->waits_until->isFuture(),
            $job->waits_for,
        );

        return [
            'id' => $job->id,
            'number' => $job->number,
            'name' => $job->name,
            'serial' => $job->serial,
            'batch' => $job->batch,
            'customer' => $job->customer->name,
            'customer_id' => $job->customer_id,
            'kind' => $job->pack['kind'] ?? 'other',
            'chemistry' => $job->chemistry,
            'series' => $job->series,
            'parallel' => $job->parallel,
            'stage' => $job->stage,
            'status' => $job->status,
            'safety_state' => $job->safety_state,
            'lane' => $next->lane,
            'next' => $next->text,
            'waits_until' => $job->waits_until?->toIso8601ZuluString(),
            'opened_at' => $job->created_at->toIso8601ZuluString(),
        ];
    }

    /**
     * @param  Collection<int, Job>  $jobs
     * @return list<array<string, mixed>> rows, each with its groups' states out of the latest verdict
     */
    public static function many(Collection $jobs): array
    {
        $latest = Verdict::query()
            ->whereIn('id', Verdict::query()->selectRaw('max(id)')->whereIn('job_id', $jobs->pluck('id'))->groupBy('job_id'))
            ->get()
            ->keyBy('job_id');

        return array_values(
            $jobs
                ->map(
                    fn(Job $job): array => self::of($job) + [
                        'groups' => array_map(
                            fn(array $g): array => ['v' => $g['v'], 'state' => $g['state'], 'probability' => $g['probability']],
                            $latest[$job->id]->document['groups'] ?? [],
                        ),
                        'first_finding' => $latest[$job->id]->document['findings'][0]['title'] ?? null,
                    ],
                )
                ->all(),
        );
    }
}
