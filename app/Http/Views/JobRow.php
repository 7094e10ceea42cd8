<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Actions\EventKind;
use App\Models\Job;
use App\Models\Verdict;
use App\Read\GuidedRuns;
use App\Read\JointChecks;
use App\Read\PackWatch;
use Carbon\CarbonImmutable;
use Carbon\CarbonInterface;
use Heartwood\Core\Diagnosis\Statements;
use Heartwood\Core\Schedule\NextThing;
use Illuminate\Database\Query\JoinClause;
use Illuminate\Support\Collection;
use Illuminate\Support\Facades\DB;

/** A job in a list: where it stands, what it wants next, and its thumbnail. */
final class JobRow
{
    /**
     * @param  array{text: string, until: CarbonImmutable|null, run: int}|null  $guided  a guided run that is under way
     * @param  array{pack: int, text: string, at: string}|null  $watch  a reading after the return that is due
     * @return array<string, mixed>
     */
    public static function of(
        Job $job,
        ?CarbonInterface $touched = null,
        string $again = '',
        ?array $guided = null,
        ?array $watch = null,
    ): array {
        $next = NextThing::of(
            $job->stage,
            $job->status,
            $job->safety(),
            $job->waits_until !== null && $job->waits_until->isFuture(),
            $job->waits_for,
            $touched !== null && $job->waits_until !== null && $touched->lessThan($job->waits_until),
            $again !== '' ? $again : $watch['text'] ?? '',
            $guided['text'] ?? '',
            $guided === null ? null : $guided['until']?->isFuture(),
        );

        return [
            'id' => $job->id,
            'number' => $job->number,
            'name' => $job->name,
            'serial' => $job->serial,
            'batch' => $job->batch,
            'batch_id' => $job->batch_id,
            'customer' => $job->customer->name,
            'customer_id' => $job->customer_id,
            'call' => self::call($job),
            'kind' => $job->pack['kind'] ?? 'other',
            'chemistry' => $job->chemistry,
            'series' => $job->series,
            'parallel' => $job->parallel,
            'stage' => $job->stage,
            'status' => $job->status,
            'safety_state' => $job->safety_state,
            'lane' => $next->lane,
            'next' => $next->text,
            'due' => $next->due,
            'pack_id' => $job->pack_id,
            // One that begins with a slash is no room of the job.
            'door' => match (true) {
                $again !== '' => 'build?do=checks',
                $watch !== null => "/packs/{$watch['pack']}",
                $guided !== null => "guided/{$guided['run']}",
                default => '',
            },
            'due_at' => $watch['at'] ?? ($guided === null ? null : $guided['until']?->toIso8601ZuluString()),
            'waits_until' => $job->waits_until?->toIso8601ZuluString(),
            'opened_at' => $job->created_at->toIso8601ZuluString(),
        ];
    }

    /** How to reach whose pack it is: the first that is known. */
    private static function call(Job $job): string
    {
        $c = $job->customer;

        return (string) (array_values(array_filter([$c->phone, $c->contact, $c->email]))[0] ?? '');
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

        $touched = self::touched($jobs);
        $again = JointChecks::due($jobs->pluck('id')->all());
        $guided = GuidedRuns::under($jobs->pluck('id')->all());
        $watched = PackWatch::dueOf($jobs->where('status', 'returned')->pluck('id')->all());

        return array_values(
            $jobs
                ->map(
                    fn(Job $job): array => self::of(
                        $job,
                        $touched[$job->id]['at'] ?? null,
                        $again[$job->id] ?? '',
                        $guided[$job->id] ?? null,
                        $watched[$job->id] ?? null,
                    ) + [
                        'touched_at' => ($touched[$job->id]['at'] ?? $job->created_at)->toIso8601ZuluString(),
                        'by' => $touched[$job->id]['by'] ?? null,
                        'groups' => array_map(
                            fn(array $g, ?array $more): array => [
                                'v' => $g['v'],
                                'state' => $g['state'],
                                'probability' => $g['probability'],
                                'doubt' => isset($more['doubt']),
                            ],
                            $latest[$job->id]->document['groups'] ?? [],
                            $latest[$job->id]->detail['groups'] ?? [],
                        ),
                        'first_finding' => Statements::first($latest[$job->id]->document['findings'] ?? []),
                    ],
                )
                ->all(),
        );
    }

    /**
     * When somebody last did something about a job, and who: two questions, however many jobs.
     *
     * @param  Collection<int, Job>  $jobs
     * @return array<int, array{at: CarbonImmutable, by: string}>
     */
    private static function touched(Collection $jobs): array
    {
        $out = [];
        $ids = $jobs->pluck('id');
        $last = DB::table('events')
            ->selectRaw('max(id)')
            ->whereIn('job_id', $ids)
            ->whereNotNull('person_id')
            ->where('kind', '!=', EventKind::Verdict)
            ->groupBy('job_id');
        $sets = DB::table('measurements')->selectRaw('job_id, max(taken_at) as at')->whereIn('job_id', $ids)->groupBy('job_id');
        $acts = DB::table('events')
            ->join('people', 'people.id', '=', 'events.person_id')
            ->whereIn('events.id', $last)
            ->get(['job_id', 'at', 'people.name']);
        $reads = DB::table('measurements as m')
            ->joinSub($sets, 'last', fn(JoinClause $on) => $on->on('last.job_id', '=', 'm.job_id')->on('last.at', '=', 'm.taken_at'))
            ->join('people', 'people.id', '=', 'm.taken_by')
            ->get(['m.job_id', 'm.taken_at as at', 'people.name']);
        foreach ([...$acts, ...$reads] as $row) {
            $at = CarbonImmutable::parse($row->at);
            if (!isset($out[$row->job_id]) || $at->greaterThan($out[$row->job_id]['at'])) {
                $out[$row->job_id] = ['at' => $at, 'by' => $row->name];
            }
        }

        return $out;
    }
}
