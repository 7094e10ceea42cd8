<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\Version;
use App\Models\Job;
use App\Models\Pack;
use App\Models\PackImport;
use App\Models\PackLink;
use App\Models\PackOwner;
use App\Models\Photo;
use App\Models\ServicePhoto;
use App\Models\ServiceReading;
use Carbon\CarbonImmutable;
use Heartwood\Core\Diagnosis\Statements;
use Heartwood\Core\Drift\Comparable;
use Heartwood\Core\Drift\Point;
use Heartwood\Core\Drift\Trend;
use Heartwood\Core\Drift\Verdict;
use Heartwood\Core\Service\Cause;
use Heartwood\Core\Service\PassportFile;
use Illuminate\Database\Eloquent\Collection;

/** Everything known of one pack, over all its jobs and owners: computed only, by as many questions however long it is in service. */
final class Passport
{
    /** Readings and jobs that are shown one by one: the newest. */
    private const SHOWN = 60;

    private const IMPORTS = 20;

    /** @return array<string, mixed> */
    public static function of(Pack $pack): array
    {
        $pack->load('customer');
        $h = PassportHistory::of($pack);
        $link = PackLink::query()->where('pack_id', $pack->id)->whereNull('ended_at')->latest('id')->first();

        return [
            'id' => $pack->id,
            'version' => Version::tag($pack),
            'code' => self::code($pack->code),
            'name' => $pack->name,
            'serial' => $pack->serial,
            'customer' => $pack->customer->name,
            'customer_id' => $pack->customer_id,
            'chemistry' => $pack->spec['chemistry'] ?? '',
            'series' => $pack->packSpec()->series,
            'parallel' => $pack->packSpec()->parallel,
            'owners' => PackOwner::query()
                ->where('pack_id', $pack->id)
                ->with('customer')
                ->orderByDesc('id')
                ->limit(self::SHOWN)
                ->get()
                ->map(
                    fn(PackOwner $o): array => [
                        'name' => $o->customer->name,
                        'from_at' => $o->from_at->toIso8601ZuluString(),
                        'to_at' => $o->to_at?->toIso8601ZuluString(),
                    ],
                )
                ->all(),
            'jobs' => array_values($h->jobs->map(fn(Job $j): array => self::job($h, $j))->all()),
            'cells' => array_values(
                $h->cells
                    ->groupBy('group_no')
                    ->map(
                        fn(Collection $of, int|string $group): array => [
                            'group' => $group === '' ? null : (int) $group,
                            'codes' => $of->pluck('code')->all(),
                            'models' => array_values($of->pluck('model')->unique()->all()),
                        ],
                    )
                    ->all(),
            ),
            'boards' => $h->boards(),
            'board' => (object) ($pack->spec['bms'] ?? []),
            'resistance' => $h->resistance(),
            'photos' => array_values(
                $h->photos
                    ->map(
                        fn(Photo $p): array => [
                            'id' => $p->id,
                            'job_id' => $p->job_id,
                            'about' => $p->about,
                            'note' => $p->note,
                            'at' => $p->taken_at->toIso8601ZuluString(),
                        ],
                    )
                    ->all(),
            ),
            'display_photos' => self::displays($pack),
            'imports' => self::imports($pack),
            'topup' => self::topUp($pack),
            'glance' => $pack->glance,
            'capacity' => $h->jobs->isEmpty() ? null : Capacities::of($h->jobs->first())['history'],
            'watch' => self::watch($pack),
            'readings' => self::readings($pack),
            'link' =>
                $link === null
                    ? null
                    : [
                        'opened_at' => $link->opened_at->toIso8601ZuluString(),
                        'used_at' => $link->used_at?->toIso8601ZuluString(),
                        'entries' => (int) $link->entries,
                    ],
        ];
    }

    /** @return array<string, mixed> */
    private static function job(PassportHistory $h, Job $j): array
    {
        $comeback = $h->closed[$j->id]->data['comeback'] ?? null;

        return [
            'id' => $j->id,
            'number' => $j->number,
            'name' => $j->name,
            'status' => $j->status,
            'stage' => $j->stage,
            'opened_at' => $j->created_at->toIso8601ZuluString(),
            'closed_at' => $j->closed_at?->toIso8601ZuluString(),
            'revision' => $j->revision,
            'complaint' => (string) $j->complaint,
            'found' => Statements::first($h->verdicts[$j->id]->document['findings'] ?? []),
            'truth' => $h->truth($j),
            'did' => isset($h->decisions[$j->id])
                ? Plans::said(['action' => $h->decisions[$j->id]->action] + $h->decisions[$j->id]->option)
                : null,
            'proof' => $h->proof($j),
            'promise' => $h->promise($j),
            'comeback' =>
                $comeback === null
                    ? null
                    : ['words' => Cause::from($comeback['cause'])->words(), 'under_promise' => $comeback['under_promise']],
        ];
    }

    /** @return list<array{id: string, reading: string|null, at: string}> photos of its display, by its owner */
    private static function displays(Pack $pack): array
    {
        return array_values(
            ServicePhoto::query()
                ->where('pack_id', $pack->id)
                ->orderByDesc('taken_at')
                ->limit(self::SHOWN)
                ->get()
                ->map(
                    fn(ServicePhoto $p): array => [
                        'id' => $p->id,
                        'reading' => $p->service_reading_id,
                        'at' => $p->taken_at->toIso8601ZuluString(),
                    ],
                )
                ->all(),
        );
    }

    /** @return list<array<string, mixed>> passports of other workshops, and what of them nobody here vouches for */
    private static function imports(Pack $pack): array
    {
        return array_values(
            PackImport::query()
                ->where('pack_id', $pack->id)
                ->orderByDesc('id')
                ->limit(self::IMPORTS)
                ->get()
                ->map(function (PackImport $i): array {
                    $d = $i->read();

                    return [
                        'id' => $i->id,
                        'from' => $i->from_workshop,
                        'at' => $i->at->toIso8601ZuluString(),
                        'written_at' => (string) $d['written_at'],
                        'doubts' => PassportFile::of($d)->doubts($i->at),
                        'jobs' => array_map(
                            fn(array $j): array => [
                                'number' => $j['number'],
                                'opened_at' => $j['opened_at'],
                                'status' => $j['status'],
                                'did' => $j['decision']['said'] ?? null,
                                'found' => array_slice(
                                    array_map(
                                        fn(array $f): string => (string) ($f['title'] ?? $f['code']),
                                        $j['verdict']['findings'] ?? [],
                                    ),
                                    0,
                                    3,
                                ),
                                'cells' => count($j['cells'] ?? []),
                            ],
                            $d['jobs'],
                        ),
                        'capacity' => $d['capacity'] ?? [],
                        'readings' => count($d['readings']),
                    ];
                })
                ->all(),
        );
    }

    /** @return array{every_days: int, at: string, due: bool, groups: list<array<string, mixed>>}|null null where none leaks */
    public static function topUp(Pack $pack): ?array
    {
        return $pack->topup_every_d === null || $pack->topup_at === null
            ? null
            : [
                'every_days' => $pack->topup_every_d,
                'at' => $pack->topup_at->toIso8601ZuluString(),
                'due' => $pack->topup_at->isPast(),
                'groups' => array_values((array) $pack->topup),
            ];
    }

    /** As it stands on a label: four and four. */
    public static function code(string $code): string
    {
        return substr($code, 0, 4) . '-' . substr($code, 4);
    }

    /** @return array<string, mixed>|null null where it is not watched */
    public static function watch(Pack $pack): ?array
    {
        if ($pack->work_ended_at === null) {
            return null;
        }
        $ended = $pack->work_ended_at;
        $points = PackWatch::points($pack);
        $drift = Verdict::of($pack->packSpec(), $ended->toIso8601ZuluString('microsecond'), array_column($points, 'point'));
        $used = $drift->comparable->points;

        return [
            'job_id' => $pack->watch_job_id,
            'work_ended_at' => $ended->toIso8601ZuluString(),
            'next_at' => $drift->nextAt,
            'due' => CarbonImmutable::parse($drift->nextAt)->isPast(),
            'state' => $drift->state->value,
            'words' => $drift->state->words(),
            'over' => $drift->over,
            'notes' => $drift->notes,
            'limit_mv' => Trend::limit(),
            'last_mv' => $drift->lastMv(),
            'slope' =>
                $drift->spread === null
                    ? null
                    : [
                        'low' => round($drift->spread->slope->low, 3),
                        'mid' => round($drift->spread->slope->mid, 3),
                        'high' => round($drift->spread->slope->high, 3),
                    ],
            'now_mv' => $drift->spread?->at($drift->spread->last()),
            'reaches' => $drift->reaches(),
            'used' => array_map(
                fn(Point $p): array => [
                    'at' => $p->at,
                    'day' => round(Comparable::days($p, (float) $ended->format('U.u')), 3),
                    'mv' => round(Verdict::MV * (float) $p->spreadV(), 2),
                    'groups_mv' => self::deviations($p),
                ],
                $used,
            ),
            'left_out' => $drift->comparable->leftOut,
            'groups' => array_map(
                fn(array $g): array => [
                    'group' => $g['group'],
                    'mid' => round($g['trend']->slope->mid, 3),
                    'state' => $g['trend']->stateOfEither()->value,
                ],
                $drift->groups,
            ),
        ];
    }

    /** @return list<float>|null millivolts of each group against the middle one */
    private static function deviations(Point $p): ?array
    {
        $groups = $p->groups();
        $middle = $p->middleV();

        return $groups === null || $middle === null
            ? null
            : array_map(fn(float $v): float => round(Verdict::MV * ($v - $middle), 2), $groups);
    }

    /** @return list<array<string, mixed>> newest first, those that were taken back said to be */
    private static function readings(Pack $pack): array
    {
        /** @var Collection<int, ServiceReading> $rows */
        $rows = ServiceReading::query()
            ->where('pack_id', $pack->id)
            ->whereNull('takes_back_id')
            ->with('person')
            ->orderByDesc('at')
            ->limit(self::SHOWN)
            ->get();
        $back = ServiceReading::query()
            ->where('pack_id', $pack->id)
            ->whereIn('takes_back_id', $rows->pluck('id'))
            ->get()
            ->keyBy('takes_back_id');

        return array_values(
            $rows
                ->map(
                    fn(ServiceReading $r): array => self::reading($r) + [
                        'by' => $r->person?->name,
                        'taken_back' => $back->has($r->id) ? (string) $back[$r->id]->note : null,
                    ],
                )
                ->all(),
        );
    }

    /** @return array<string, mixed> one reading, without who took it */
    public static function reading(ServiceReading $r): array
    {
        return [
            'id' => $r->id,
            'at' => $r->at->toIso8601ZuluString(),
            'source' => $r->source,
            'condition' => $r->condition,
            'soc' => $r->soc,
            'groups_v' => $r->groups_v,
            'highest_v' => $r->highest_v,
            'lowest_v' => $r->lowest_v,
            'pack_v' => $r->pack_v,
            'halves_v' => $r->halves(),
            'topped_up' => $r->topped_up,
            'note' => $r->note,
            'signs' => array_keys(array_filter((array) $r->signs)),
            'answer' => $r->answer,
        ];
    }
}
