<?php

declare(strict_types=1);

namespace App\Actions;

use App\Instruments\RunFolder;
use App\Instruments\Runner;
use App\Models\BenchTest;
use App\Models\Run;
use App\Models\TestLog;
use Heartwood\Core\Limits\RunLimits;
use Heartwood\Core\Log\SeriesChunk;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Run\ChargeTest;
use Heartwood\Core\Run\Why;
use Heartwood\Core\Work\ClosedBy;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

/** Brings the journals of runs into the database, when it is there: state as it goes, the test and what follows at the end. */
final class FoldRuns
{
    private const SAMPLES = 120;

    /** The end of a run is what ended it: kept sample by sample. */
    private const LAST = 40;

    /** @return int runs closed */
    public function handle(): int
    {
        $closed = 0;
        foreach (Run::query()->whereNull('closed_at')->with('job')->get() as $run) {
            $folder = RunFolder::of($run->id);
            if (!is_file("$folder->path/plan.json")) {
                // The server died between the row and the folder: nothing was ever driven.
                if ($run->started_at->diffInSeconds(now()) > 60) {
                    $this->letGo($run, [
                        'ended_at' => $run->ended_at ?? now(),
                        'outcome' => $run->outcome === '' ? 'never-started' : $run->outcome,
                    ]);
                }

                continue;
            }
            $state = $folder->state();
            if ($state !== [] && $run->ended_at === null) {
                $run->update(['state' => array_diff_key($state, ['wall' => 1])]);
            }
            // What it came to is evidence at once; the watch after it goes on.
            if ($run->ended_at === null && (($state['over'] ?? false) === true || $folder->isClosed())) {
                $this->close($run, $folder);
                $closed++;
            }
            if ($folder->isClosed()) {
                $this->watched($run, $folder);
            }
        }

        return $closed;
    }

    /** The watch after the end is over: the instruments are free, and what it saw counts. */
    private function watched(Run $run, RunFolder $folder): void
    {
        $after = $folder->state()['after'] ?? null;
        DB::transaction(function () use ($run, $after): void {
            $run->update(['state' => ['after' => $after] + $run->state]);
            if (is_array($after) && ($after['quarantine'] ?? null) !== null) {
                $run->loadMissing('person');
                (new AssessSafety())->handle($run->person, $run->job, ['warm_at_rest' => true], null);
                EventLog::ofRun($run, EventKind::RunWatched, ['quarantine' => $after['quarantine']]);
            }
            $this->letGo($run, []);
        });
    }

    /** @param  array<string, mixed>  $more */
    private function letGo(Run $run, array $more): void
    {
        $run->update($more + ['closed_at' => now()]);
        Claims::release($run->id);
    }

    private function close(Run $run, RunFolder $folder): void
    {
        try {
            [$view, $samples] = $this->replayed($folder);
        } catch (\InvalidArgumentException | \TypeError $e) {
            $run->update([
                'outcome' => 'unreadable',
                'ended_at' => now(),
                'state' => ['text' => 'The plan of this run could not be read: ' . $e->getMessage()] + $run->state,
            ]);

            return;
        }
        DB::transaction(function () use ($run, $samples, $view): void {
            $job = $run->job;
            $why = Why::tryFrom((string) ($view['stopped_by'] ?? ''));
            $outcome = $why === null ? 'ended' : $why->value;
            $run->update(['state' => $view, 'outcome' => $outcome, 'ended_at' => now()]);
            // The answer of the group is what it did under the first current and in the rest after it; the proof before is no part of it.
            $driven = array_values(
                array_filter(
                    $samples,
                    fn(array $s): bool => (float) ($s['a'] ?? 0.0) > 0.5 * (float) ($run->plan['plan']['plan_a'] ?? 0.0) &&
                        (float) $s['v'] < Chemistry::from($job->chemistry)->profile()->prechargeV + 0.05,
                ),
            );
            if ($run->kind === 'recovery' && count($driven) >= 2) {
                $every = max(1, intdiv(count($driven), self::SAMPLES));
                $thin = array_values(
                    array_filter($driven, fn(int $i): bool => $i % $every === 0 || $i >= count($driven) - self::LAST, ARRAY_FILTER_USE_KEY),
                );
                $thin = [...$thin, ...$this->rest($samples, (float) $driven[count($driven) - 1]['t'])];
                BenchTest::query()->create([
                    'id' => (string) Str::uuid7(),
                    'workshop_id' => $run->workshop_id,
                    'job_id' => $run->job_id,
                    'revision' => $run->revision,
                    'kind' => 'recovery',
                    'taken_by' => $run->started_by,
                    'taken_at' => now(),
                    'received_at' => now(),
                    'data' => array_filter(
                        [
                            'scope' => ['group' => $run->group_no],
                            'current_a' => $run->plan['plan']['plan_a'] ?? 0,
                            'ambient_c' => $run->plan['plan']['ambient_c'] ?? 20,
                            'below_floor_days' => $run->plan['below_floor_days'] ?? null,
                            'samples' => array_map(
                                fn(array $s): array => array_filter(
                                    ['min' => round($s['t'] / 60, 3), 'v' => $s['v'], 'a' => $s['a'] ?? null, 'c' => $s['c'] ?? null],
                                    fn(mixed $x): bool => $x !== null,
                                ),
                                $thin,
                            ),
                        ],
                        fn(mixed $x): bool => $x !== null,
                    ),
                ]);
            }
            $charge = ChargeTest::of($run->kind, $why, (float) ($view['ah_in'] ?? 0.0), $samples, $job->series);
            if ($charge !== null) {
                BenchTest::query()->create([
                    'id' => (string) Str::uuid7(),
                    'workshop_id' => $run->workshop_id,
                    'job_id' => $run->job_id,
                    'revision' => $run->revision,
                    'kind' => 'charge',
                    'taken_by' => $run->started_by,
                    'taken_at' => now(),
                    'received_at' => now(),
                    'data' => $charge,
                ]);
            }
            // Where a hand typed the amps, what the meter saw in between has none.
            $this->series($run, array_values(array_filter($samples, fn(array $s): bool => isset($s['a']))));
            if (($view['ah_in'] ?? 0) > 0.0) {
                $groups =
                    $run->kind === 'recovery'
                        ? [$run->group_no]
                        : array_column(array_filter($view['items'] ?? [], fn(array $i): bool => $i['ah'] > 0), 'group');
                foreach ($groups as $k) {
                    EventLog::ofRun($run, EventKind::PackEvent, [
                        'at' => now()->toIso8601ZuluString(),
                        'kind' => $run->kind === 'recovery' ? 'group-charged' : 'balanced',
                        'where' => ['group' => $k],
                        'revision' => $run->revision,
                    ]);
                }
            }
            EventLog::ofRun($run, EventKind::RunEnded, [
                'kind' => $run->kind,
                'group' => $run->group_no,
                'outcome' => $outcome,
                'text' => $view['text'] ?? '',
            ]);
            KeepLotFacts::of($job);
            if ($run->kind === 'recovery' && $why?->isGood() === true && $job->status === 'open') {
                // The watch mark is for life; the reminder for the hold test is for now.
                EventLog::ofRun($run, EventKind::Watch, [
                    'group' => $run->group_no,
                    'text' => "Group {$run->group_no} was deep-discharged and recovered: watched for life.",
                ]);
                $work = TickStep::altering($job, ClosedBy::Trial);
                if ($work !== null) {
                    TickStep::turn($run->person, $job, $work);
                }
                $job->update([
                    'waits_until' => now()->addHours(6),
                    'waits_for' => "Hold test of group {$run->group_no}: read all groups at rest, then again after 24 h",
                ]);
            }
        });
    }

    /**
     * @return array{0: array<string, mixed>, 1: list<array<string, mixed>>} how it ended; its samples, of each what follows needs
     *     alone: a run of a day has some 350,000
     */
    private function replayed(RunFolder $folder): array
    {
        $run = Runner::machine($folder->plan());
        $samples = [];
        foreach ($folder->journal() as $e) {
            Runner::move($run, $e);
            if (($e['is'] ?? '') === 'sample' && isset($e['v'])) {
                $samples[] = array_intersect_key($e, ['t' => 1, 'v' => 1, 'a' => 1, 'c' => 1, 'g' => 1]);
            }
        }

        return [$run->view(), $samples];
    }

    /**
     * The rest after the current, a sample a minute and its last ones.
     *
     * @param  list<array<string, mixed>>  $samples
     * @return list<array<string, mixed>>
     */
    private function rest(array $samples, float $from): array
    {
        $out = [];
        $last = $from;
        foreach ($samples as $i => $s) {
            if ((float) $s['t'] <= $from) {
                continue;
            }
            if (abs((float) ($s['a'] ?? 0.0)) > RunLimits::OFF_A) {
                break;
            }
            if ((float) $s['t'] - $last >= 60 || !isset($samples[$i + 1])) {
                $out[] = ['a' => 0.0] + $s;
                $last = (float) $s['t'];
            }
        }

        return $out;
    }

    /**
     * The curve of a run is stored as any tester's log is.
     *
     * @param  list<array<string, mixed>>  $samples
     */
    private function series(Run $run, array $samples): void
    {
        if (count($samples) < 2) {
            return;
        }
        $t = array_map(fn(array $s): float => (float) $s['t'], $samples);
        $v = array_map(fn(array $s): float => (float) $s['v'], $samples);
        $a = array_map(fn(array $s): float => (float) ($s['a'] ?? 0.0), $samples);
        $log = TestLog::query()->create([
            'workshop_id' => $run->workshop_id,
            'name' => "run $run->id",
            'sha256' => hash('sha256', "run $run->id"),
            'bytes' => 0,
            'tester' => 'the runner',
            'mapping' => [],
            'figures' => ['rows' => count($t)],
            'job_id' => $run->job_id,
            'group_no' => $run->group_no ?: null,
            'imported_by' => $run->started_by,
            'imported_at' => now(),
        ]);
        foreach (array_chunk(array_keys($t), 4096) as $position => $keys) {
            [$ct, $cv, $ca] = array_map(fn(array $x): array => array_values(array_intersect_key($x, array_flip($keys))), [$t, $v, $a]);
            if ($ct === [] || $cv === [] || $ca === []) {
                continue;
            }
            DB::table('series_chunks')->insert([
                'log_id' => $log->id,
                'position' => $position,
                'row_count' => count($ct),
                't_from' => $ct[0],
                't_to' => $ct[count($ct) - 1],
                'pyramid' => SeriesChunk::pyramid($ct, $cv, $ca),
                'body' => SeriesChunk::pack($ct, $cv, $ca),
            ]);
        }
    }
}
