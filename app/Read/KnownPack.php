<?php

declare(strict_types=1);

namespace App\Read;

use App\Models\Job;
use App\Models\Verdict;
use Heartwood\Core\Diagnosis\Statements;
use Illuminate\Database\Eloquent\Collection;

/** What this workshop knows of a pack by its serial or mark: every time that it was here. */
final class KnownPack
{
    /** Earlier visits that are told one by one. */
    private const TOLD = 20;

    /** @return array<string, mixed> empty where it was never here */
    public static function bySerial(int $workshop, string $serial): array
    {
        $jobs = self::jobs($workshop, $serial, null);
        $last = $jobs->first();

        return [
            'visits' => self::rows($jobs),
            'last' =>
                $last === null
                    ? null
                    : [
                        'name' => $last->name,
                        'customer' => $last->customer->name,
                        'contact' => (string) $last->customer->contact,
                        'pack_model_id' => $last->pack_model_id,
                        'pack' => (object) $last->pack,
                    ],
        ];
    }

    /** @return list<array<string, mixed>> the other jobs of the same pack, newest first */
    public static function others(Job $job): array
    {
        return trim((string) $job->serial) === '' ? [] : self::rows(self::jobs($job->workshop_id, $job->serial, $job->id));
    }

    /** @return Collection<int, Job> */
    private static function jobs(int $workshop, string $serial, ?int $but): Collection
    {
        $serial = trim($serial);

        return Job::query()
            ->where('workshop_id', $workshop)
            ->where('serial', $serial === '' ? null : $serial)
            ->when($but !== null, fn($q) => $q->where('id', '!=', $but))
            ->with('customer')
            ->orderByDesc('id')
            ->limit(self::TOLD)
            ->get();
    }

    /**
     * @param  Collection<int, Job>  $jobs
     * @return list<array<string, mixed>>
     */
    private static function rows(Collection $jobs): array
    {
        $found = Verdict::query()
            ->whereIn('id', Verdict::query()->selectRaw('max(id)')->whereIn('job_id', $jobs->pluck('id'))->groupBy('job_id'))
            ->get()
            ->keyBy('job_id');
        $out = [];
        foreach ($jobs as $j) {
            $out[] = [
                'id' => $j->id,
                'number' => $j->number,
                'name' => $j->name,
                'status' => $j->status,
                'opened_at' => $j->created_at->toIso8601ZuluString(),
                'found' => Statements::first($found[$j->id]->document['findings'] ?? []),
            ];
        }

        return $out;
    }
}
