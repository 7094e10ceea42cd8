<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\BuildRecord;
use App\Models\Job;
use App\Models\Measurement;
use App\Models\Pack;
use App\Models\ServiceReading;
use Carbon\CarbonImmutable;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Drift\Answer;
use Heartwood\Core\Drift\Point;
use Heartwood\Core\Drift\Verdict;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Service\Glance;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Collection;

/** What is known of packs after they went back: their readings as points of time, and what those come to. Computed only. */
final class PackWatch
{
    /** Readings that one judgement looks at: the newest. */
    private const LOOKED_AT = 400;

    /** Readings among which the last is looked for that marks a pack on its band. */
    private const GLANCED = 20;

    /** Null where it is not watched. */
    public static function drift(Pack $pack): ?Verdict
    {
        return $pack->work_ended_at === null
            ? null
            : Verdict::of(
                $pack->packSpec(),
                $pack->work_ended_at->toIso8601ZuluString('microsecond'),
                array_column(self::points($pack), 'point'),
            );
    }

    /**
     * What was read since the work: in service, and at the bench where every group was read at rest.
     *
     * @return list<array{point: Point, source: string}>
     */
    public static function points(Pack $pack): array
    {
        $out = [];
        if ($pack->work_ended_at === null) {
            return [];
        }
        /** @var Collection<int, ServiceReading> $read */
        $read = self::standing($pack)->where('at', '>=', $pack->work_ended_at)->orderByDesc('at')->limit(self::LOOKED_AT)->get();
        foreach ($read as $r) {
            $out[] = ['point' => $r->point(), 'source' => $r->source];
        }
        $job = $pack->watch_job_id === null ? null : Job::query()->whereKey($pack->watch_job_id)->first();
        if ($job !== null) {
            array_push($out, ...self::bench($job, $pack));
        }

        return $out;
    }

    /** @return Builder<ServiceReading> those that were not taken back */
    public static function standing(Pack $pack): Builder
    {
        return ServiceReading::query()
            ->where('pack_id', $pack->id)
            ->whereNull('takes_back_id')
            ->whereNotIn(
                'id',
                ServiceReading::query()->where('pack_id', $pack->id)->whereNotNull('takes_back_id')->select('takes_back_id'),
            );
    }

    /**
     * When its owner was told to stop using it. That stands until the bench has read it since and found it otherwise: what an owner says
     * later does not outweigh what ended its use.
     */
    public static function stoppedAt(Pack $pack): ?CarbonImmutable
    {
        $stop = null;
        /** @var Collection<int, ServiceReading> $read */
        $read = self::standing($pack)->where('at', '>=', $pack->work_ended_at)->orderByDesc('told_at')->limit(self::LOOKED_AT)->get();
        foreach ($read->sortBy('told_at') as $r) {
            if (($r->answer['answer'] ?? '') === Answer::Stop->value) {
                $stop = $r->told_at;
            } elseif ($r->source !== 'owner' && $stop !== null && $r->told_at->greaterThan($stop)) {
                $stop = null;
            }
        }

        return $stop;
    }

    /** When it was charged full last, as far as anybody said: from there on a leak empties it. */
    public static function fullAt(Pack $pack): CarbonImmutable
    {
        $full = self::standing($pack)
            ->where('at', '>=', $pack->work_ended_at)
            ->where(fn(Builder $q) => $q->where('condition', 'full')->orWhere('topped_up', true))
            ->max('at');

        return $full === null ? $pack->work_ended_at ?? CarbonImmutable::now() : CarbonImmutable::parse((string) $full);
    }

    /** @return array<string, mixed>|null its mark, by what was read of it last */
    public static function glance(Pack $pack): ?array
    {
        if ($pack->work_ended_at === null) {
            return null;
        }
        $spec = $pack->packSpec();
        /** @var Collection<int, ServiceReading> $read */
        $read = self::standing($pack)->where('at', '>=', $pack->work_ended_at)->orderByDesc('at')->limit(self::GLANCED)->get();
        foreach ($read as $r) {
            $mark = Glance::of($spec, $r->point(), $r->halves(), $r->pack_v);
            if ($mark !== null) {
                return $mark->toArray() + ['at' => $r->at->toIso8601ZuluString()];
            }
        }

        return null;
    }

    /** @return list<int> packs of a workshop that are due to be read, by the job that they went back by */
    public static function due(int $workshop): array
    {
        return array_values(self::overdue()->where('workshop_id', $workshop)->whereNotNull('watch_job_id')->pluck('watch_job_id')->all());
    }

    /**
     * @param  array<int, int>  $jobs
     * @return array<int, array{pack: int, text: string, at: string}> what is due, by job
     */
    public static function dueOf(array $jobs): array
    {
        $out = [];
        foreach (self::overdue()->whereIn('watch_job_id', $jobs)->get() as $pack) {
            $out[(int) $pack->watch_job_id] = [
                'pack' => $pack->id,
                'text' => match (true) {
                    $pack->stopped_at !== null => 'Its owner was told to stop using it: call them',
                    $pack->topup_at !== null && $pack->topup_at->isPast() => 'Remind its owner: top it up, attended',
                    default => 'Ask for a reading: does the repair hold?',
                },
                'at' => (string) $pack->next_at?->toIso8601ZuluString(),
            ];
        }

        return $out;
    }

    /** @return Builder<Pack> */
    private static function overdue(): Builder
    {
        return Pack::query()->where('next_at', '<=', now()->format('Y-m-d H:i:s.u'));
    }

    /** @return list<array{point: Point, source: string}> */
    private static function bench(Job $job, Pack $pack): array
    {
        /** @var Collection<int, Measurement> $sets */
        $sets = Measurement::query()
            ->where('job_id', $job->id)
            ->where('revision', $job->revision)
            ->where('condition', 'rest')
            ->where('taken_at', '>=', $pack->work_ended_at)
            ->get();
        if ($sets->isEmpty()) {
            return [];
        }
        $groups = (new PackEvidence(JobRecord::fromArray(BuildRecord::of($job))))->bySet();
        $out = [];
        foreach ($sets as $m) {
            $volts = $groups[$m->id]['volts'] ?? [];
            $resolution = (float) ($m->data['instrument']['resolution_v'] ?? Point::RESOLUTION_V);
            if (count($volts) === $job->series && !in_array(null, $volts, true)) {
                $out[] = [
                    'point' => new Point(
                        $m->taken_at->toIso8601ZuluString('microsecond'),
                        'rest',
                        null,
                        array_map(fn(?float $v): float => (float) $v, $volts),
                        null,
                        null,
                        $resolution,
                    ),
                    'source' => 'bench',
                ];
            }
        }

        return $out;
    }
}
