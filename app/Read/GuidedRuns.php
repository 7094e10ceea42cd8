<?php

declare(strict_types=1);

namespace App\Read;

use App\Models\GuidedEntry;
use App\Models\GuidedRun;
use App\Models\Job;
use App\Models\ProofEntry;
use Carbon\CarbonImmutable;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Diagnosis\TestKind;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Protocol\Course;
use Heartwood\Core\Protocol\Entry;
use Heartwood\Core\Protocol\Guided;
use Heartwood\Core\Protocol\Kind\ChargerTrial;
use Heartwood\Core\Protocol\Needs;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Protocols;
use Heartwood\Core\Protocol\StepKind;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Work\Facts;

/** The guided runs of a job: what each is, where it stands, what it came to. Computed only. */
final class GuidedRuns
{
    public static function protocol(GuidedRun $run): Protocol
    {
        return Protocols::of($run->code) ?? throw new \LogicException("no such guided run: $run->code");
    }

    /** A run under way, or one that is about to be started, as the rules see it. */
    public static function course(Job $job, ?GuidedRun $run = null, ?Place $scope = null, ?Facts $facts = null): Course
    {
        $facts ??= WorkSteps::facts($job);
        $proof = [];
        foreach (ProofEntry::query()->where('job_id', $job->id)->where('revision', $job->revision)->orderBy('id')->get() as $e) {
            $proof[$e->check_code] = new Fields($e->data);
        }

        return new Course(
            $facts,
            new PackEvidence($facts->record),
            $run === null ? $scope ?? Place::pack() : Place::from(new Fields((array) $run->scope)),
            (float) ($run === null ? CarbonImmutable::now() : $run->started_at)->format('U.u'),
            $run === null ? [] : self::entries($run),
            (float) CarbonImmutable::now()->format('U.u'),
            $proof,
        );
    }

    /** @return list<Entry> that stand, in their order */
    private static function entries(GuidedRun $run): array
    {
        return array_map(
            fn(GuidedEntry $e): Entry => new Entry($e->step, (float) $e->taken_at->format('U.u'), $e->data, $e->left, '', $e->id),
            self::live($run),
        );
    }

    /** @return list<GuidedEntry> */
    public static function live(GuidedRun $run): array
    {
        /** @var \Illuminate\Support\Collection<int, GuidedEntry> $all */
        $all = GuidedEntry::query()->where('guided_run_id', $run->id)->with('person')->orderBy('taken_at')->orderBy('id')->get();
        $gone = array_filter($all->pluck('withdraws')->all());

        return array_values($all->filter(fn(GuidedEntry $e): bool => $e->withdraws === null && !in_array($e->id, $gone, true))->all());
    }

    /** @return array<string, mixed> one run, as its screen shows it */
    public static function of(GuidedRun $run): array
    {
        /** @var Job $job */
        $job = Job::query()->findOrFail($run->job_id);
        $protocol = self::protocol($run);
        $guided = Guided::of($protocol, self::course($job, $run));
        $who = [];
        foreach (self::live($run) as $e) {
            $who[$e->id] = (string) $e->person?->name;
        }
        $entry = fn(?Entry $e): ?array => $e === null
            ? null
            : [
                'id' => $e->id,
                'at' => self::time($e->at),
                'by' => $who[$e->id] ?? null,
                'found' => $e->found,
                'values' => (object) $e->values,
            ];
        $open = $run->ended_at === null;

        return [
            ...self::row($run),
            'why' => $protocol->why(),
            'watch' => $protocol->watch($guided->course),
            'needs' => array_map(fn(Needs $n): array => $n->toArray(), $protocol->needs($guided->course)),
            'steps' => array_map(
                fn(array $s): array => [
                    ...$s['step']->toArray(),
                    'state' => $s['state'],
                    'entry' => $entry($s['entry']),
                    'rows' => array_map($entry, $s['rows']),
                    'due' => $s['due'] === null ? null : self::time($s['due']),
                    // What ends a row of rows, or follows a wait, can be said while those are under way.
                    'open' => $open && $guided->open($s['step']->code) !== null && $s['step']->kind !== StepKind::Wait,
                ],
                $guided->steps,
            ),
            'complete' => $guided->complete,
            'preview' => $open && $guided->complete ? $protocol->outcome($guided->course)->toArray() : null,
            'trial' => $protocol instanceof ChargerTrial ? self::trial($protocol, $guided->course) : null,
        ];
    }

    /** @return array<string, mixed> */
    private static function trial(ChargerTrial $protocol, Course $course): array
    {
        return [
            'coverage' => $protocol->coverage($course)->rows,
            'odds' => array_map(fn(array $c): array => ['share' => round($c['share'], 3)] + $c, $protocol->odds($course)->causes),
            'sheet' => $protocol->sheet($course),
        ];
    }

    /** @return array<string, mixed> what a list says of a run */
    public static function row(GuidedRun $run): array
    {
        $place = Place::from(new Fields((array) $run->scope));

        return [
            'id' => $run->id,
            'job_id' => $run->job_id,
            'code' => $run->code,
            'title' => self::protocol($run)->title(),
            'where' => $place->toArray(),
            'revision' => $run->revision,
            'started_at' => $run->started_at->toIso8601ZuluString(),
            'by' => (string) $run->person?->name,
            'next' => $run->ended_at === null ? $run->next_text : '',
            'waits_until' => $run->ended_at === null ? $run->waits_until?->toIso8601ZuluString() : null,
            'ended_at' => $run->ended_at?->toIso8601ZuluString(),
            'outcome' => $run->outcome,
            'left' => $run->left_reason,
        ];
    }

    /** @return array<string, mixed> all of a job: what can be started, with what it wants; what is under way; what ended */
    public static function ofJob(Job $job): array
    {
        $course = self::course($job);
        $offered = array_map(
            fn(Protocol $p): array => [
                'code' => $p->code(),
                'title' => $p->title(),
                'why' => $p->why(),
                'scope' => $p->scope(),
                'charges' => $p->charges(),
                'needs' => array_map(fn(Needs $n): array => $n->toArray(), $p->needs($course)),
                'tests' => array_map(fn(TestKind $t): string => $t->value, $p->tests()),
                'proves' => array_map(fn(Check $c): string => $c->value, $p->proves()),
            ],
            Protocols::all(),
        );

        return ['offered' => $offered, 'runs' => self::listed($job)];
    }

    /** @return list<array<string, mixed>> of a job, the newest first */
    public static function listed(Job $job): array
    {
        return array_values(
            GuidedRun::query()
                ->where('job_id', $job->id)
                ->with('person')
                ->orderByDesc('id')
                ->get()
                ->map(fn(GuidedRun $r): array => self::row($r))
                ->all(),
        );
    }

    /**
     * What guided runs under way want of each job, and when: the first that is due, else the first that waits.
     *
     * @param  array<int, int>  $jobs
     * @return array<int, array{text: string, until: CarbonImmutable|null, run: int}>
     */
    public static function under(array $jobs): array
    {
        $out = [];
        foreach (GuidedRun::query()->whereIn('job_id', $jobs)->whereNull('ended_at')->orderBy('waits_until')->get() as $r) {
            $out[$r->job_id] ??= [
                'text' => self::protocol($r)->title() . ': ' . $r->next_text,
                'until' => $r->waits_until,
                'run' => $r->id,
            ];
        }

        return $out;
    }

    private static function time(float $at): string
    {
        return CarbonImmutable::createFromTimestampUTC($at)->toIso8601ZuluString('millisecond');
    }
}
