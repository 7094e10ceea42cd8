<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\Version;
use App\Models\BenchTest;
use App\Models\Job;
use App\Models\Photo;
use App\Models\TeardownStep;
use Carbon\CarbonImmutable;
use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Teardown\Guide;
use Heartwood\Core\Teardown\Leads;
use Heartwood\Core\Teardown\Part;
use Heartwood\Core\Teardown\Step;
use Heartwood\Core\Teardown\WayBack;
use Illuminate\Database\Eloquent\Collection;
use Illuminate\Support\Facades\DB;

/** A teardown as its screen needs it: what came off, what comes next by the last of its model, what differs, and the way back. */
final class Teardowns
{
    /** @return array<string, mixed> */
    public static function of(Job $job): array
    {
        $rows = self::steps($job->id);
        $steps = array_map(fn(TeardownStep $s): Step => $s->forRules(), $rows->all());
        $before = self::before($job);
        $guided = $before === null ? new Collection() : self::steps($before->id);
        $guide = Guide::of(array_values(array_map(fn(TeardownStep $s): Step => $s->forRules(), $guided->all())), array_values($steps));
        $way = WayBack::of(array_values($steps));
        $back = [];
        foreach ($rows as $r) {
            if ($r->part === Part::Fastener->value && $r->back_count !== null) {
                $kind = $r->forRules()->kind();
                $back[$kind] = ($back[$kind] ?? 0) + $r->back_count;
            }
        }

        return [
            'steps' => array_values(array_map(self::row(...), $rows->all())),
            'fasteners' => (object) $way->fasteners,
            'renew' => (object) $way->renew,
            'leads' => Leads::warnings(array_values($steps)),
            'way_back' => self::wayBack($job, $way, $rows),
            'missing' => $way->missing($back),
            'guide' =>
                $before === null
                    ? null
                    : [
                        'job' => $before->number,
                        'next' => self::next($guided, $guide->next),
                        'left' => count($guide->left),
                        'deviations' => $guide->deviations,
                        'minutes_left' => $guide->minutesLeft === null ? null : round($guide->minutesLeft, 1),
                    ],
            'minutes' => round((float) $rows->sum('minutes'), 1),
        ];
    }

    /** The latest other pack of the same model that was taken apart; without a model the same serial's. */
    private static function before(Job $job): ?Job
    {
        $like = Job::query()->where('workshop_id', $job->workshop_id)->where('id', '!=', $job->id);
        if ($job->pack_model_id !== null) {
            $like->where('pack_model_id', $job->pack_model_id);
        } elseif ((string) $job->serial !== '') {
            $like->where('serial', $job->serial);
        } else {
            return null;
        }

        /** @var Job|null $job */
        $job = $like
            ->where('id', '<', $job->id)
            ->whereIn('id', TeardownStep::query()->where('workshop_id', $job->workshop_id)->select('job_id'))
            ->latest('id')
            ->first();

        return $job;
    }

    /** @return Collection<int, TeardownStep> */
    private static function steps(int $job): Collection
    {
        return TeardownStep::query()->where('job_id', $job)->with('person')->orderBy('position')->get();
    }

    /** @return array<string, mixed> */
    private static function row(TeardownStep $s): array
    {
        return [
            'id' => $s->id,
            'version' => Version::tag($s),
            'part' => $s->part,
            'line' => self::line($s),
            'text' => $s->forRules()->words(),
            'count' => $s->count,
            'volts' => $s->volts,
            'how' => $s->forRules()->how(),
            'remark' => $s->remark,
            'hidden' => $s->hidden,
            'photo_id' => $s->photo_id,
            'minutes' => $s->minutes,
            'by' => $s->person->name,
            'at' => $s->taken_at->toIso8601ZuluString(),
        ];
    }

    /** As it would be typed. */
    private static function line(TeardownStep $s): string
    {
        return ($s->count > 1 ? "$s->count " : '') .
            $s->what .
            ($s->place === '' ? '' : " @ $s->place") .
            ($s->tool === '' ? '' : " & $s->tool") .
            ($s->lay === '' ? '' : " ~ $s->lay") .
            ($s->volts === null ? '' : ' = ' . (float) $s->volts) .
            ($s->hidden ? ' !' : '') .
            ($s->remark === '' ? '' : " # $s->remark");
    }

    /**
     * @param  Collection<int, TeardownStep>  $guided
     * @return array<string, mixed>|null
     */
    private static function next(Collection $guided, ?string $id): ?array
    {
        $s = $guided->firstWhere('id', $id);
        if ($s === null) {
            return null;
        }
        $bare = clone $s;
        // The volts of that pack are not those of this one.
        $bare->volts = null;

        return [
            'line' => self::line($bare),
            'text' => $s->forRules()->words(),
            'hidden' => $s->hidden,
            'how' => $s->forRules()->how(),
            'remark' => $s->remark,
            'volts' => $s->volts,
            'photo_id' => Photo::query()
                ->whereKey($s->photo_id ?? '')
                ->exists()
                ? $s->photo_id
                : null,
        ];
    }

    /**
     * @param  Collection<int, TeardownStep>  $rows
     * @return list<array<string, mixed>>
     */
    private static function wayBack(Job $job, WayBack $way, Collection $rows): array
    {
        $of = $rows->keyBy('id');
        $checks = DB::table('teardown_checks')->where('job_id', $job->id)->get()->keyBy(fn(object $c): string => "$c->act $c->of");
        $latest = fn(string $column): float => (float) $rows->max(fn(TeardownStep $r): float => self::seconds($r->{$column}));
        [$taken, $put] = [$latest('taken_at'), $latest('back_at')];
        $low = self::low($job);
        $out = [];
        foreach ($way->steps as $s) {
            $row = $s['step'] === null ? null : $of[$s['step']];
            $check = $row === null ? $checks["{$s['act']} {$s['of']}"] ?? null : null;
            if ($check !== null && !WayBack::stillHolds($s['act'], self::seconds(CarbonImmutable::parse($check->done_at)), $taken, $put)) {
                $check = null;
            }
            $out[] = [
                'act' => $s['act'],
                'text' => $s['text'],
                'step' => $s['step'],
                'of' => $s['of'],
                'count' => $row?->count,
                'photo_id' => $row?->photo_id,
                'how' => $row === null ? '' : $row->forRules()->how(),
                'remark' => $row->remark ?? '',
                'done' => $row === null ? $check !== null : $row->back_at !== null,
                'back_count' => $row?->back_count,
                'value' => $check === null ? null : $check->value,
                'note' =>
                    (string) ($row !== null
                        ? $row->back_note
                        : ($s['act'] === 'insulation' && $check === null
                            ? $low
                            : $check->note ?? '')),
            ];
        }

        return $out;
    }

    /** What the latest measurement of the insulation says against closing the case; empty when it says nothing. */
    private static function low(Job $job): string
    {
        $test = BenchTest::query()
            ->where('job_id', $job->id)
            ->where('revision', $job->revision)
            ->where('kind', 'insulation')
            ->latest('taken_at')
            ->first();
        $mohm = $test === null ? null : (float) ($test->data['mohm'] ?? 0.0);

        return $mohm === null || $mohm > ProofLimits::INSULATION_MOHM
            ? ''
            : sprintf('%.3g Mohm: over %.0f is wanted. Find what touches the case.', $mohm, ProofLimits::INSULATION_MOHM);
    }

    private static function seconds(?CarbonImmutable $at): float
    {
        return $at === null ? 0.0 : (float) $at->getPreciseTimestamp(6) / 1e6;
    }
}
