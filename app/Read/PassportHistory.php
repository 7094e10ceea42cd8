<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\EventKind;
use App\Models\Cell;
use App\Models\Decision;
use App\Models\Event;
use App\Models\Job;
use App\Models\Pack;
use App\Models\PackRevision;
use App\Models\Photo;
use App\Models\SignOff;
use App\Models\Verdict;
use App\Models\WorkStep;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Maths\Robust;
use Heartwood\Core\Repair\RepairAction;
use Illuminate\Database\Eloquent\Collection;

/** What was done to a pack over its jobs, gathered by as many questions however many there are. */
final class PassportHistory
{
    /** Jobs, cells and photos that are shown one by one: the newest. */
    private const SHOWN = 60;

    private const CELLS = 2000;

    /**
     * @param  Collection<int, Job>  $jobs  newest first
     * @param  Collection<int, Verdict>  $verdicts  the latest, by job
     * @param  Collection<int, Event>  $closed  by job
     * @param  Collection<int, Decision>  $decisions  the latest, by job
     * @param  Collection<int, SignOff>  $signed  the latest, by job
     * @param  Collection<int, PackRevision>  $revisions
     * @param  Collection<int, Cell>  $cells  that are in it
     * @param  Collection<int, Photo>  $photos  newest first
     * @param  Collection<int, WorkStep>  $steps  of what was decided
     */
    private function __construct(
        public Collection $jobs,
        public Collection $verdicts,
        public Collection $closed,
        public Collection $decisions,
        public Collection $signed,
        public Collection $revisions,
        public Collection $cells,
        public Collection $photos,
        public Collection $steps,
    ) {}

    public static function of(Pack $pack): self
    {
        /** @var Collection<int, Job> $jobs */
        $jobs = Job::query()->where('pack_id', $pack->id)->with('customer')->orderByDesc('id')->limit(self::SHOWN)->get();
        $ids = $jobs->pluck('id');
        $latest = fn(string $model): Collection => $model
            ::query()
            ->whereIn('id', $model::query()->selectRaw('max(id)')->whereIn('job_id', $ids)->groupBy('job_id'))
            ->get()
            ->keyBy('job_id');

        /** @var Collection<int, Event> $closed */
        $closed = Event::query()->whereIn('job_id', $ids)->where('kind', EventKind::Closed)->orderBy('id')->get()->keyBy('job_id');

        $decisions = $latest(Decision::class);

        return new self(
            $jobs,
            $latest(Verdict::class),
            $closed,
            $decisions,
            $latest(SignOff::class),
            PackRevision::query()->whereIn('job_id', $ids)->orderBy('id')->get(),
            Cell::query()->whereIn('job_id', $ids)->where('state', 'used')->orderBy('group_no')->orderBy('code')->limit(self::CELLS)->get(),
            Photo::query()->whereIn('job_id', $ids)->where('removed', false)->orderByDesc('taken_at')->limit(self::SHOWN)->get(),
            WorkStep::query()->whereIn('decision_id', $decisions->pluck('id'))->orderBy('position')->get(),
        );
    }

    /** @return list<array{action: string, title: string, where: list<array<string, mixed>>}> what was decided, part by part */
    public function parts(Job $job): array
    {
        $d = $this->decisions[$job->id] ?? null;
        $parts = $d === null ? [] : $d->option['parts'] ?? [['action' => $d->action] + $d->option];

        return array_values(
            array_map(
                fn(array $p): array => [
                    'action' => (string) $p['action'],
                    'title' => RepairAction::from((string) $p['action'])->title(),
                    'where' => array_values(array_filter((array) ($p['where'] ?? []))),
                ],
                $parts,
            ),
        );
    }

    /** @return array{months: int, until: string, excludes: list<string>, words: string, runs: bool}|null */
    public function promise(Job $job): ?array
    {
        $promise = $job->status === 'returned' ? Comebacks::promise($this->closed[$job->id] ?? null) : null;

        return $promise === null || $promise->months === 0
            ? null
            : [
                'months' => $promise->months,
                'until' => $promise->ends()->format('Y-m-d\TH:i:s\Z'),
                'excludes' => array_map(fn($c): string => $c->value, $promise->excludes),
                'words' => $promise->words,
                'runs' => $promise->runs(now()->toImmutable()),
            ];
    }

    /**
     * By the last verdict of each job, oldest first.
     *
     * @return list<array{at: string, number: int, groups_mohm: list<float|null>, middle_mohm: float}>
     */
    public function resistance(): array
    {
        $out = [];
        foreach ($this->jobs->reverse() as $j) {
            $v = $this->verdicts[$j->id] ?? null;
            $mohm = $v === null ? [] : array_map(fn(array $g): ?float => $g['mohm'] ?? null, $v->detail['groups'] ?? []);
            $known = array_values(array_filter($mohm, fn(?float $r): bool => $r !== null));
            if ($v !== null && $known !== []) {
                $out[] = [
                    'at' => $v->issued_at->toIso8601ZuluString(),
                    'number' => $j->number,
                    'groups_mohm' => array_values($mohm),
                    'middle_mohm' => round(Robust::median($known), 2),
                ];
            }
        }

        return $out;
    }

    /** @return list<array{at: string, number: int}> boards that were put in */
    public function boards(): array
    {
        $out = [];
        foreach ($this->jobs as $j) {
            if (in_array(RepairAction::ReplaceBoard->value, array_column($this->parts($j), 'action'), true) && $j->closed_at !== null) {
                $out[] = ['at' => $j->closed_at->toIso8601ZuluString(), 'number' => $j->number];
            }
        }

        return $out;
    }

    /** @return array{passed: int, failed: int, missing: int, at: string}|null */
    public function proof(Job $job): ?array
    {
        $s = $this->signed[$job->id] ?? null;
        if ($s === null) {
            return null;
        }
        $status = array_count_values(array_column($s->results, 'status'));

        return [
            'passed' => $status['passed'] ?? 0,
            'failed' => $status['failed'] ?? 0,
            'missing' => $status['missing'] ?? 0,
            'at' => $s->signed_at->toIso8601ZuluString(),
        ];
    }

    /** @return string|null what it was in the end, in words; null where nobody said */
    public function truth(Job $job): ?string
    {
        $truth = $this->closed[$job->id]->data['truth'] ?? null;

        return match ($truth) {
            null => null,
            [] => 'nothing was wrong',
            default => implode('; ', array_map(fn(array $t): string => lcfirst(Faults::of($t['code'])->words()->anywhere()), $truth)),
        };
    }
}
