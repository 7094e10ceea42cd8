<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\BenchTest;
use App\Models\GuidedEntry;
use App\Models\GuidedRun;
use App\Models\Job;
use App\Models\Measurement;
use App\Models\Person;
use App\Models\Reading;
use App\Policies\Rights;
use App\Read\GuidedRuns;
use Carbon\CarbonImmutable;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Protocol\Guided;
use Heartwood\Core\Protocol\Needs;
use Heartwood\Core\Protocol\Protocol;
use Heartwood\Core\Protocol\Protocols;
use Heartwood\Core\Protocol\Step;
use Heartwood\Core\Reading\TypedValue;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\Place;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

/** Guided runs: begun where their needs are met, written step by step, kept with what they came to, or left with a reason. */
final class GuideRun
{
    public const REASON_LETTERS = 400;

    /**
     * @param  array<string, int>|null  $where  `group` or `joint`; null: the pack
     *
     * @throws Refused what it needs is not met, a gate is closed, or the same one is under way
     */
    public function start(Person $person, Job $job, string $code, ?array $where): GuidedRun
    {
        $protocol =
            Protocols::of($code) ??
            throw new Refused('no-such-run', 'There is no such guided run.', 422, ['code' => 'Choose one of the list.']);

        return DB::transaction(function () use ($person, $job, $protocol, $where): GuidedRun {
            Gatekeeper::open(LockJob::now($job));
            $scope = self::scope($job, $protocol, $where);
            if ($protocol->charges() && !Rights::allows($person, 'recover')) {
                throw new Refused('no-right', 'Cells are charged by a technician or a senior: ask one to begin it.', 403);
            }
            if ($protocol->moves()) {
                Gatekeeper::pass($job, 'load-or-charge', $person);
                Gatekeeper::looked($job);
            }
            foreach (GuidedRun::query()->where('job_id', $job->id)->where('code', $protocol->code())->whereNull('ended_at')->get() as $r) {
                if (Place::from(new Fields((array) $r->scope))->key() === $scope->key()) {
                    throw new Refused('under-way', 'The same is under way already: go on with it, or leave it with a reason.', 409);
                }
            }
            $course = GuidedRuns::course($job, null, $scope);
            $unmet = array_filter($protocol->needs($course), fn(Needs $n): bool => $n->met === false);
            if ($unmet !== []) {
                throw new Refused('needs', implode(' ', array_map(fn(Needs $n): string => $n->text, $unmet)), 409);
            }
            $run = GuidedRun::query()->create([
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'revision' => $job->revision,
                'code' => $protocol->code(),
                'scope' => $scope->toArray() ?? [],
                'started_by' => $person->id,
                'started_at' => now(),
            ]);
            EventLog::add($person, $job, EventKind::GuidedBegun, ['run' => $run->id, 'title' => $protocol->title()]);
            self::tell($job, $run);

            return $run;
        });
    }

    /** @param  array<string, int>|null  $where */
    private static function scope(Job $job, Protocol $protocol, ?array $where): Place
    {
        $group = $where['group'] ?? null;
        $joint = $where['joint'] ?? null;
        $wrong = match ($protocol->scope()) {
            'joint' => $joint === null || $joint < 0 || $joint > $job->series ? "Which joint: its tap, 0 to {$job->series}." : null,
            'group' => $group === null || $group < 1 || $group > $job->series ? "Which group: 1 to {$job->series}." : null,
            'pack-or-group' => $group !== null && ($group < 1 || $group > $job->series) ? "Which group: 1 to {$job->series}." : null,
            default => null,
        };
        if ($wrong !== null) {
            throw new Refused('where', $wrong, 422, ['where' => $wrong]);
        }

        return match (true) {
            $protocol->scope() === 'joint' => Place::joint((int) $joint),
            $group !== null && $protocol->scope() !== 'pack' => Place::group($group),
            default => Place::pack(),
        };
    }

    /**
     * What was typed at a step: kept with its time, and groups that were read become a set of the record. Inside the transaction of the
     * outbox.
     *
     * @param  array<string, mixed>  $base  of a row: its id, whose, when
     * @param  array<string, mixed>  $data  `run`, `step`, `values`, or `left`, or `withdraws`
     * @return array<string, string> by field; empty when it is stored
     */
    public function entry(Job $job, array $base, array $data): array
    {
        /** @var GuidedRun|null $run */
        $run = is_int($data['run'] ?? null)
            ? GuidedRun::query()->where('job_id', $job->id)->whereKey($data['run'])->lockForUpdate()->first()
            : null;
        if ($run === null) {
            return ['run' => 'This guided run does not exist.'];
        }
        if ($run->ended_at !== null) {
            return ['run' => 'This guided run has ended: what comes now belongs to another.'];
        }
        $row = $base + ['guided_run_id' => $run->id, 'step' => '', 'data' => []];
        if (isset($data['withdraws'])) {
            return $this->withdraw($job, $run, $row, $data['withdraws']);
        }
        $protocol = GuidedRuns::protocol($run);
        $guided = Guided::of($protocol, GuidedRuns::course($job, $run));
        $step = is_string($data['step'] ?? null) ? $guided->open($data['step']) : null;
        if ($step === null) {
            return ['step' => 'This step is not open: ' . $guided->next()];
        }
        $left = ($data['left'] ?? false) === true;
        if ($left && !$step->may) {
            return ['left' => 'This step cannot be left out.'];
        }
        $values = $left ? [] : (array) ($data['values'] ?? []);
        $problems = $left ? [] : $protocol->problems($guided->course, $step, $values);
        if ($problems !== []) {
            return $problems;
        }
        $typed = Protocol::typed($step, $values);
        GuidedEntry::query()->create(['step' => $step->code, 'data' => $typed, 'left' => $left] + $row);
        if (!$left) {
            $this->set($job, $protocol, $guided, $step, $typed, $base);
        }
        self::tell($job, $run);

        return [];
    }

    /**
     * @param  array<string, mixed>  $row
     * @return array<string, string>
     */
    private function withdraw(Job $job, GuidedRun $run, array $row, mixed $id): array
    {
        $live = GuidedRuns::live($run);
        $last = $live === [] ? null : $live[count($live) - 1];
        if ($last === null || $last->id !== $id) {
            return ['withdraws' => 'Only the last thing that was written can be taken back; then the one before it.'];
        }
        GuidedEntry::query()->create(['step' => $last->step, 'withdraws' => $last->id] + $row);
        // The set that it became keeps its name and says nothing any more.
        foreach (Reading::query()->where('measurement_id', $last->id)->orderBy('seq')->get() as $i => $r) {
            Reading::query()->create(
                self::reading($row, $last->id, ['from' => $r->from_point, 'to' => $r->to_point, 'typed' => ''], $i) + [
                    'corrects_id' => $r->id,
                ],
            );
        }
        self::tell($job, $run);

        return [];
    }

    /**
     * @param  array<string, mixed>  $typed
     * @param  array<string, mixed>  $base
     */
    private function set(Job $job, Protocol $protocol, Guided $guided, Step $step, array $typed, array $base): void
    {
        $made = $protocol->set($guided->course, $step, new Fields($typed));
        if ($made === null) {
            return;
        }
        $condition = $made['set']['condition'];
        unset($made['set']['condition']);
        $meter = Measurement::query()->where('job_id', $job->id)->orderByDesc('taken_at')->value('data')['instrument'] ?? null;
        Measurement::query()->create(
            $base + [
                'revision' => $job->revision,
                'condition' => $condition,
                'data' => $made['set'] + ($meter === null ? [] : ['instrument' => $meter]),
            ],
        );
        foreach ($made['readings'] as $i => $r) {
            Reading::query()->create(self::reading($base, (string) $base['id'], $r, $i));
        }
    }

    /**
     * @param  array<string, mixed>  $base
     * @param  array{from: string, to: string, typed: string}  $r
     * @return array<string, mixed>
     */
    private static function reading(array $base, string $set, array $r, int $i): array
    {
        $value = TypedValue::parse($r['typed']);

        return [
            'id' => (string) Str::uuid7(),
            'workshop_id' => $base['workshop_id'],
            'job_id' => $base['job_id'],
            'measurement_id' => $set,
            'from_point' => $r['from'],
            'to_point' => $r['to'],
            'typed' => $r['typed'],
            'value' => $value?->volts,
            'resolution_v' => $value?->resolutionV,
            'taken_by' => $base['taken_by'],
            'taken_at' => $base['taken_at'],
            'received_at' => $base['received_at'],
            // Its own box: the entry that it came with.
            'outbox_id' => $base['id'],
            'seq' => $i + 1,
        ];
    }

    /** Keeps what it came to: its tests go to the record, its answers to the proof. */
    public function keep(Person $person, GuidedRun $run): GuidedRun
    {
        return $this->end($person, $run, function (Job $job, Protocol $protocol, Guided $guided) use ($person, $run): array {
            if (!$guided->complete) {
                throw new Refused('not-complete', 'It is not complete: ' . $guided->next(), 409);
            }
            if ($run->revision !== $job->revision) {
                throw new Refused('other-revision', 'The pack was altered since it began: leave it, and begin anew.', 409);
            }
            $outcome = $protocol->outcome($guided->course);
            foreach ($outcome->tests as $test) {
                $errors = FactCheck::errors('test', $test, $job);
                if ($errors !== []) {
                    throw new Refused('not-storable', 'The record does not take it: ' . implode(' ', $errors), 422, $errors);
                }
                $kind = $test['kind'];
                unset($test['kind']);
                BenchTest::query()->create([
                    'id' => (string) Str::uuid7(),
                    'workshop_id' => $job->workshop_id,
                    'job_id' => $job->id,
                    'revision' => $job->revision,
                    'kind' => $kind,
                    'data' => $test,
                    'taken_by' => $person->id,
                    'taken_at' => now(),
                    'received_at' => now(),
                ]);
                EventLog::add($person, $job, EventKind::Test, ['kind' => $kind]);
            }
            foreach ($outcome->proof as $check => $data) {
                (new Prove())->enter($person, $job, Check::from($check), $data);
            }

            return ['outcome' => $outcome->toArray()];
        });
    }

    /** Ends it without an outcome. */
    public function leave(Person $person, GuidedRun $run, string $reason): GuidedRun
    {
        return $this->end($person, $run, fn(): array => ['left_reason' => $reason]);
    }

    /** @param  callable(Job, Protocol, Guided): array<string, mixed>  $with */
    private function end(Person $person, GuidedRun $run, callable $with): GuidedRun
    {
        return DB::transaction(function () use ($person, $run, $with): GuidedRun {
            /** @var Job $job */
            $job = Job::query()->findOrFail($run->job_id);
            Gatekeeper::open(LockJob::now($job));
            $run->refresh();
            if ($run->ended_at !== null) {
                throw new Refused('ended', 'This guided run has ended already.', 409);
            }
            $protocol = GuidedRuns::protocol($run);
            $more = $with($job, $protocol, Guided::of($protocol, GuidedRuns::course($job, $run)));
            $run->update(['ended_at' => now(), 'ended_by' => $person->id, 'next_text' => '', 'waits_until' => null] + $more);
            EventLog::add($person, $job, EventKind::GuidedEnded, [
                'run' => $run->id,
                'title' => $protocol->title(),
                'word' => $more['outcome']['word'] ?? 'left',
                'text' => $more['outcome']['text'] ?? (string) $more['left_reason'],
            ]);

            return $run;
        });
    }

    /** Writes down what it wants next and until when it waits: lists ask for that and for nothing else of it. */
    private static function tell(Job $job, GuidedRun $run): void
    {
        $guided = Guided::of(GuidedRuns::protocol($run), GuidedRuns::course($job, $run));
        $waits = $guided->waits();
        $then = $waits === null || $guided->at === null ? null : $guided->steps[$guided->at + 1]['step'] ?? null;
        $run->update([
            'next_text' => mb_substr($then === null ? $guided->next() : $then->text, 0, self::REASON_LETTERS),
            'waits_until' => $waits === null ? null : CarbonImmutable::createFromTimestampUTC($waits),
        ]);
    }
}
