<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\EventKind;
use App\Models\Event;
use App\Models\Job;
use App\Models\Pack;
use App\Models\Verdict;
use Heartwood\Core\Diagnosis\Statements;
use Heartwood\Core\Service\Cause;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Collection;

/** What this workshop knows of a pack by its serial or mark: every time that it was here. */
final class KnownPack
{
    /** Earlier visits that are told one by one. */
    private const TOLD = 20;

    /** @return array<string, mixed> empty where it was never here */
    public static function bySerial(int $workshop, string $serial): array
    {
        $serial = trim($serial);
        $pack = $serial === '' ? null : Pack::coded($workshop, $serial);
        $jobs = self::jobs($workshop)
            ->where(
                fn(Builder $q) => $q
                    ->where('serial', $serial === '' ? null : $serial)
                    ->when($pack !== null, fn(Builder $w) => $w->orWhere('pack_id', $pack?->id)),
            )
            ->get();
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
        $serial = trim((string) $job->serial);
        if ($job->pack_id === null) {
            return [];
        }

        return self::rows(
            self::jobs($job->workshop_id)
                ->where('id', '!=', $job->id)
                ->where(fn(Builder $q) => $q->where('pack_id', $job->pack_id)->orWhere('serial', $serial === '' ? null : $serial))
                ->get(),
        );
    }

    /** @return Builder<Job> */
    private static function jobs(int $workshop): Builder
    {
        return Job::query()->where('workshop_id', $workshop)->with('customer')->orderByDesc('id')->limit(self::TOLD);
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
        /** @var Collection<int, Event> $closed */
        $closed = Event::query()
            ->whereIn('job_id', $jobs->pluck('id'))
            ->where('kind', EventKind::Closed)
            ->orderBy('id')
            ->get()
            ->keyBy('job_id');
        $out = [];
        foreach ($jobs as $j) {
            $promise = $j->status === 'returned' ? Comebacks::promise($closed[$j->id] ?? null) : null;
            $cause = Cause::tryFrom($closed[$j->id]->data['comeback']['cause'] ?? '');
            $out[] = [
                'id' => $j->id,
                'number' => $j->number,
                'name' => $j->name,
                'status' => $j->status,
                'opened_at' => $j->created_at->toIso8601ZuluString(),
                'promise_until' => $promise?->runs(now()->toImmutable()) === true ? $promise->ends()->format('Y-m-d\TH:i:s\Z') : null,
                'cause' => $cause?->words(),
                'found' => Statements::first($found[$j->id]->document['findings'] ?? []),
            ];
        }

        return $out;
    }
}
