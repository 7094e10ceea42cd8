<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\BenchTest;
use App\Models\Job;
use App\Models\Person;
use App\Models\Photo;
use App\Models\TeardownStep;
use App\Read\Teardowns;
use Carbon\CarbonImmutable;
use Heartwood\Core\Limits\ProofLimits;
use Heartwood\Core\Teardown\Line;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Ramsey\Uuid\Rfc4122\FieldsInterface;
use Ramsey\Uuid\Uuid;

/** The teardown of a pack, step by step as it comes apart, and the way back with its counts and checks. */
final class KeepTeardown
{
    /** Minutes between two steps over which somebody was elsewhere: they are not counted. */
    public const MOST_MINUTES = 20.0;

    /** Steps of one teardown, at most. */
    public const MOST_STEPS = 300;

    /**
     * Each line a step, all of them or none.
     *
     * @param  list<array{id: string, line: string, photo_id?: string|null}>  $lines
     */
    public function take(Person $person, Job $job, array $lines): void
    {
        DB::transaction(function () use ($person, $job, $lines): void {
            LockJob::now($job);
            Gatekeeper::open($job);
            Gatekeeper::pass($job, 'open', $person);
            $last = TeardownStep::query()->where('job_id', $job->id)->orderByDesc('position')->first();
            $position = (int) ($last->position ?? 0);
            if ($position + count($lines) > self::MOST_STEPS) {
                throw new Refused('enough', sprintf('A teardown has %d steps at the most.', self::MOST_STEPS));
            }
            foreach ($lines as $i => $l) {
                $known = TeardownStep::query()->whereKey($l['id'])->value('job_id');
                if ($known === $job->id) {
                    continue;
                }
                if ($known !== null) {
                    throw new Refused('other-job', 'A step of this name belongs to another job.', 422, ["lines.$i.id" => 'Send it anew.']);
                }
                try {
                    $read = Line::read($l['line']);
                } catch (\InvalidArgumentException $e) {
                    throw new Refused('line', $e->getMessage(), 422, ["lines.$i.line" => $e->getMessage()]);
                }
                $at = self::typedAt($l['id'], $last?->taken_at);
                $since = $last === null ? null : $last->taken_at->floatDiffInMinutes($at);
                $last = TeardownStep::query()->create([
                    'id' => $l['id'],
                    'workshop_id' => $job->workshop_id,
                    'job_id' => $job->id,
                    'position' => ++$position,
                    'part' => $read['part'],
                    'count' => $read['count'],
                    'what' => $read['what'],
                    'place' => $read['where'],
                    'tool' => $read['tool'],
                    'lay' => $read['lay'],
                    'remark' => $read['remark'],
                    'hidden' => $read['hidden'],
                    'volts' => $read['volts'],
                    'photo_id' => self::photo($job, $l['photo_id'] ?? null, "lines.$i.photo_id"),
                    'minutes' => $since === null || $since > self::MOST_MINUTES ? null : round($since, 2),
                    'taken_by' => $person->id,
                    'taken_at' => $at,
                ]);
            }
        });
    }

    /**
     * When a line was typed, by the clock of its bench, that its name bears (RFC 9562, version 7): it may have waited for the network.
     * Never before the step that it follows, nor later than now, whatever that clock says.
     */
    private static function typedAt(string $id, ?\DateTimeInterface $last): CarbonImmutable
    {
        $name = Uuid::fromString($id);
        $fields = $name->getFields();
        $at =
            $fields instanceof FieldsInterface && $fields->getVersion() === Uuid::UUID_TYPE_UNIX_TIME
                ? new CarbonImmutable(Uuid::fromBytes($name->getBytes())->getDateTime())
                : CarbonImmutable::now();
        if ($last === null) {
            // Nothing says that this bench's clock is right, and nothing is counted from it yet.
            return CarbonImmutable::now();
        }

        return $at->max($last)->min(CarbonImmutable::now());
    }

    /** @param  array<string, mixed>  $changes  line, photo_id, removed */
    public function change(Person $person, TeardownStep $step, array $changes, ?string $version): void
    {
        DB::transaction(function () use ($person, $step, $changes, $version): void {
            $step = Version::lock($step, $version, array_keys($changes));
            $job = Job::query()->whereKey($step->job_id)->firstOrFail();
            Gatekeeper::open($job);
            EventLog::add($person, $job, EventKind::TeardownChanged, ['step' => $step->forRules()->words(), 'changes' => $changes]);
            if (($changes['removed'] ?? false) === true) {
                $step->delete();

                return;
            }
            if (isset($changes['line'])) {
                try {
                    $read = Line::read((string) $changes['line']);
                } catch (\InvalidArgumentException $e) {
                    throw new Refused('line', $e->getMessage(), 422, ['line' => $e->getMessage()]);
                }
                $step->fill(['place' => $read['where']] + array_diff_key($read, ['where' => 1]));
            }
            if (array_key_exists('photo_id', $changes)) {
                $step->photo_id = self::photo($job, $changes['photo_id'], 'photo_id');
            }
            $step->version++;
            $step->save();
        });
    }

    /** It is back: how many of it, and a word where that is not what came out. */
    public function back(Person $person, TeardownStep $step, int $count, string $note): void
    {
        DB::transaction(function () use ($person, $step, $count, $note): void {
            /** @var TeardownStep $step */
            $step = TeardownStep::query()->whereKey($step->id)->lockForUpdate()->firstOrFail();
            $job = Job::query()->whereKey($step->job_id)->firstOrFail();
            Gatekeeper::open($job);
            Gatekeeper::pass($job, 'open', $person);
            $step->update([
                'back_count' => $count,
                'back_note' => $note,
                'back_by' => $person->id,
                'back_at' => now(),
                'version' => $step->version + 1,
            ]);
        });
    }

    /**
     * A check of the way back: a tug, the insulation with its megohm, the count of all fasteners. Too low an insulation is kept as a test,
     * and closes nothing.
     *
     * @param  'tug'|'insulation'|'count'  $act
     * @param  string  $of  the step that it proves or goes before; empty for what comes last
     */
    public function check(Person $person, Job $job, string $act, string $of, ?float $value, string $note): void
    {
        DB::transaction(function () use ($person, $job, $act, $of, $value, $note): void {
            LockJob::now($job);
            Gatekeeper::open($job);
            Gatekeeper::pass($job, 'open', $person);
            $view = Teardowns::of($job);
            $there = array_filter($view['way_back'], fn(array $s): bool => $s['act'] === $act && $s['of'] === $of);
            if ($there === []) {
                throw new Refused('other-step', 'The way back has changed meanwhile: look at it again.');
            }
            if ($act === 'insulation') {
                if ($value === null) {
                    throw new Refused('no-value', 'The insulation is measured, not told.', 422, [
                        'value' => 'Megohm from the case to the terminals.',
                    ]);
                }
                // It is a test of the pack, and what the proof asks for.
                BenchTest::query()->create([
                    'id' => (string) Str::uuid7(),
                    'workshop_id' => $job->workshop_id,
                    'job_id' => $job->id,
                    'revision' => $job->revision,
                    'kind' => 'insulation',
                    'taken_by' => $person->id,
                    'taken_at' => now(),
                    'received_at' => now(),
                    'data' => ['mohm' => $value],
                ]);
                if ($value <= ProofLimits::INSULATION_MOHM) {
                    // The fact is kept; the case stays open.
                    return;
                }
            }
            if ($act === 'count') {
                $missing = $view['missing'];
                if ($missing !== [] && $note === '') {
                    $said = implode('; ', array_column($missing, 'text'));
                    throw new Refused('count', "The count does not match: $said.", 422, ['note' => "$said. Say where they are."]);
                }
            }
            DB::table('teardown_checks')->updateOrInsert(
                ['job_id' => $job->id, 'act' => $act, 'of' => $of],
                [
                    'workshop_id' => $job->workshop_id,
                    'value' => $value,
                    'note' => $note,
                    'done_by' => $person->id,
                    'done_at' => now()->format('Y-m-d H:i:s.u'),
                ],
            );
        });
    }

    private static function photo(Job $job, ?string $id, string $field): ?string
    {
        if ($id !== null && !Photo::query()->whereKey($id)->where('job_id', $job->id)->exists()) {
            throw new Refused('no-photo', 'That photo is not of this job.', 422, [$field => 'Choose one of this job.']);
        }

        return $id;
    }
}
