<?php

declare(strict_types=1);

namespace App\Read;

use App\Models\Cell;
use App\Models\Job;
use App\Models\Pack;
use App\Models\PackImport;
use App\Models\PackOwner;
use App\Models\PackRevision;
use App\Models\Photo;
use App\Models\ServiceReading;
use App\Models\WorkStep;
use Carbon\CarbonImmutable;
use Heartwood\Core\Rules;
use Heartwood\Core\Service\PassportFile;
use Illuminate\Support\Facades\DB;

/** A pack as one open file, contract/passport.schema.json: all that is known of it, and no person's name. */
final class PassportExport
{
    private const READINGS = 5000;

    /** @return array<string, mixed> the document, sealed; the same pack at the same moment gives the same bytes */
    public static function of(Pack $pack): array
    {
        $h = PassportHistory::of($pack);
        $capacity = $h->jobs->isEmpty() ? null : Capacities::of($h->jobs->first())['history'];

        return PassportFile::sealed([
            'format' => 'heartwood.passport',
            'version' => 1,
            // As it stands since then: the same passport is the same file, whenever it is asked for and on whichever machine.
            'written_at' => self::changedAt($pack)->toIso8601ZuluString(),
            'rules' => Rules::VERSION,
            'workshop' => (string) \App\Models\Workshop::query()->whereKey($pack->workshop_id)->value('name'),
            'pack' => [
                'name' => $pack->name,
                'serial' => $pack->serial,
                'code' => Passport::code($pack->code),
                'spec' => (object) $pack->spec,
            ],
            'owners' => PackOwner::query()
                ->where('pack_id', $pack->id)
                ->orderBy('id')
                ->get()
                ->map(
                    fn(PackOwner $o): array => [
                        'from' => $o->from_at->toIso8601ZuluString(),
                        'to' => $o->to_at?->toIso8601ZuluString(),
                    ],
                )
                ->all(),
            'jobs' => array_values($h->jobs->reverse()->map(fn(Job $j): array => self::job($h, $j))->all()),
            'capacity' => array_map(
                fn(array $t): array => ['at' => $t['at'], 'ah' => $t['ah'], 'sigma_ah' => $t['sigma'] ?? null],
                $capacity['tests'] ?? [],
            ),
            'resistance' => array_map(fn(array $r): array => ['at' => $r['at'], 'groups_mohm' => $r['groups_mohm']], $h->resistance()),
            'watch' =>
                $pack->work_ended_at === null
                    ? null
                    : [
                        'work_ended_at' => $pack->work_ended_at->toIso8601ZuluString(),
                        'state' => $pack->state,
                        'next_at' => $pack->next_at?->toIso8601ZuluString(),
                        'topup_every_days' => $pack->topup_every_d,
                    ],
            'readings' => array_values(
                PackWatch::standing($pack)
                    ->orderBy('at')
                    ->orderBy('id')
                    ->limit(self::READINGS)
                    ->get()
                    ->map(
                        fn(ServiceReading $r): array => [
                            'id' => $r->id,
                            'at' => $r->at->toIso8601ZuluString(),
                            'condition' => $r->condition,
                            'source' => $r->source,
                            'soc' => $r->soc,
                            'groups_v' => $r->groups_v,
                            'highest_v' => $r->highest_v,
                            'lowest_v' => $r->lowest_v,
                            'pack_v' => $r->pack_v,
                            'halves_v' => $r->halves(),
                            'resolution_v' => $r->resolution_v,
                        ],
                    )
                    ->all(),
            ),
            'earlier' => array_values(
                PackImport::query()
                    ->where('pack_id', $pack->id)
                    ->orderBy('id')
                    ->get()
                    ->map(
                        fn(PackImport $i): array => [
                            'imported_at' => $i->at->toIso8601ZuluString(),
                            'document' => json_decode((string) $i->document, false, 512, JSON_THROW_ON_ERROR),
                        ],
                    )
                    ->all(),
            ),
        ]);
    }

    /** @return array<string, mixed> */
    private static function job(PassportHistory $h, Job $j): array
    {
        $verdict = $h->verdicts[$j->id] ?? null;
        $closed = $h->closed[$j->id] ?? null;
        $decision = $h->decisions[$j->id] ?? null;
        $comeback = $closed->data['comeback'] ?? null;
        $promise = $h->promise($j);

        return [
            'number' => $j->number,
            'opened_at' => $j->created_at->toIso8601ZuluString(),
            'closed_at' => $j->closed_at?->toIso8601ZuluString(),
            'status' => $j->status,
            'revision' => $j->revision,
            'symptoms' => array_values($j->symptoms ?? []),
            'revisions' => array_values(
                $h->revisions
                    ->where('job_id', $j->id)
                    ->map(
                        fn(PackRevision $r): array => [
                            'number' => $r->number,
                            'at' => $r->opened_at->toIso8601ZuluString(),
                            'reason' => $r->reason,
                        ],
                    )
                    ->all(),
            ),
            'verdict' =>
                $verdict === null
                    ? null
                    : ['rules' => $verdict->document['rules'] ?? '', 'findings' => $verdict->document['findings'] ?? []],
            'truth' => $closed->data['truth'] ?? null,
            'decision' =>
                $decision === null
                    ? null
                    : [
                        'action' => $decision->action,
                        'said' => Plans::said(['action' => $decision->action] + $decision->option),
                        'steps' => array_values(
                            $h->steps
                                ->where('decision_id', $decision->id)
                                ->map(
                                    fn(WorkStep $s): array => [
                                        'title' => (string) $s->step['title'],
                                        'state' => $s->skipped !== '' ? 'skipped' : ($s->done_at === null ? 'open' : 'done'),
                                    ],
                                )
                                ->all(),
                        ),
                    ],
            'proof' => array_map(
                fn(array $r): array => array_intersect_key($r, ['code' => 1, 'title' => 1, 'status' => 1, 'found' => 1, 'limit' => 1]),
                $h->signed[$j->id]->results ?? [],
            ),
            'signed_at' => isset($h->signed[$j->id]) ? $h->signed[$j->id]->signed_at->toIso8601ZuluString() : null,
            'promise' =>
                $promise === null
                    ? null
                    : [
                        'months' => $promise['months'],
                        'from' => $j->closed_at?->toIso8601ZuluString(),
                        'until' => $promise['until'],
                        'excludes' => $promise['excludes'],
                        'words' => $promise['words'],
                    ],
            'comeback' =>
                $comeback === null
                    ? null
                    : [
                        'cause' => $comeback['cause'],
                        'of' => (int) ($h->jobs->firstWhere('id', $comeback['of'])->number ?? 0),
                        'under_promise' => $comeback['under_promise'],
                    ],
            'cells' => array_values(
                $h->cells
                    ->where('job_id', $j->id)
                    ->map(
                        fn(Cell $c): array => [
                            'code' => $c->code,
                            'model' => $c->model,
                            'group' => $c->group_no,
                            'capacity_ah' => $c->capacity_ah,
                            'mohm' => $c->mohm,
                        ],
                    )
                    ->all(),
            ),
            'photos' => array_values(
                $h->photos
                    ->where('job_id', $j->id)
                    ->map(
                        fn(Photo $p): array => [
                            'sha256' => $p->sha256,
                            'about' => $p->about,
                            'note' => $p->note,
                            'at' => $p->taken_at->toIso8601ZuluString(),
                        ],
                    )
                    ->all(),
            ),
        ];
    }

    /** When anything of it changed last. */
    private static function changedAt(Pack $pack): CarbonImmutable
    {
        $jobs = DB::table('jobs')->where('pack_id', $pack->id);
        $at = [
            (string) $pack->updated_at,
            (string) (clone $jobs)->max('updated_at'),
            (string) DB::table('events')->whereIn('job_id', $jobs->select('id'))->max('at'),
            (string) DB::table('service_readings')->where('pack_id', $pack->id)->max('told_at'),
            (string) DB::table('pack_imports')->where('pack_id', $pack->id)->max('at'),
        ];

        return CarbonImmutable::parse(max($at));
    }
}
