<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Cell;
use App\Models\Job;
use App\Models\Person;
use App\Models\TestLog;
use Heartwood\Core\Log\LogProblem;
use Heartwood\Core\Log\LogReader;
use Heartwood\Core\Log\LogTerms;
use Heartwood\Core\Log\SeriesChunk;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Illuminate\Support\Facades\DB;

/** A tester's file: read, kept under its hash, its figures put to the cell or the group; all of it or nothing. */
final class ImportLog
{
    public static function folder(): string
    {
        $folder = dirname(storage_path()) . '/logs';
        if (!is_dir($folder)) {
            mkdir($folder, 0770, true);
        }

        return $folder;
    }

    /**
     * @param  array<string, mixed>  $corrections  of the guessed mapping
     * @param  array<string, mixed>  $about  tester, cell_id or job_id with group_no; four_wire, lead_mohm, ambient_c, sign
     * @return array{TestLog, bool} the log, and whether it was known already
     */
    public function handle(Person $person, string $path, string $name, array $corrections, array $about): array
    {
        $sha = (string) hash_file('sha256', $path);
        $known = TestLog::query()->where('workshop_id', $person->workshop_id)->where('sha256', $sha)->first();
        if ($known instanceof TestLog) {
            return [$known, true];
        }
        $cell = isset($about['cell_id'])
            ? Cell::query()->where('workshop_id', $person->workshop_id)->whereKey($about['cell_id'])->first()
            : null;
        $job = isset($about['job_id'])
            ? Job::query()->where('workshop_id', $person->workshop_id)->whereKey($about['job_id'])->first()
            : null;
        if ($cell === null && $job === null) {
            throw new Refused('of-what', 'Say which cell, or which group of which job, this log is of.', 422, [
                'cell_id' => 'Choose a cell or a group.',
            ]);
        }
        if ($job !== null) {
            Gatekeeper::open($job);
        }
        if ($job !== null && isset($about['group_no']) && (int) $about['group_no'] > $job->series) {
            throw new Refused('no-such-group', "This pack has {$job->series} groups.", 422, ['group_no' => "From 1 to {$job->series}."]);
        }
        $terms = $this->terms($cell, $job, $about);
        $tester = (string) ($about['tester'] ?? '');
        $stream = fopen($path, 'r');
        if ($stream === false) {
            throw new Refused('unreadable', 'The file cannot be read.', 422);
        }
        try {
            $said = $corrections + (isset($about['sign']) ? ['sign' => $about['sign']] : []) + self::remembered($person, $tester);
            $map = LogReader::mapping($stream, $terms, $said);

            return DB::transaction(function () use (
                $person,
                $path,
                $name,
                $sha,
                $stream,
                $map,
                $terms,
                $cell,
                $job,
                $about,
                $tester,
                $said,
            ): array {
                $log = TestLog::query()->create([
                    'workshop_id' => $person->workshop_id,
                    'name' => mb_substr($name, 0, 190),
                    'sha256' => $sha,
                    'bytes' => (int) filesize($path),
                    'tester' => $tester,
                    'mapping' => $map->toArray(),
                    'figures' => [],
                    'cell_id' => $cell?->id,
                    'job_id' => $job?->id,
                    'group_no' => $job === null ? null : $about['group_no'] ?? null,
                    'imported_by' => $person->id,
                    'imported_at' => now(),
                ]);
                $position = 0;
                $figures = LogReader::figures($stream, $map, $terms, function (array $t, array $v, array $a) use ($log, &$position): void {
                    if ($t !== [] && $v !== [] && $a !== []) {
                        DB::table('series_chunks')->insert([
                            'log_id' => $log->id,
                            'position' => $position++,
                            'row_count' => count($t),
                            't_from' => $t[0],
                            't_to' => $t[count($t) - 1],
                            'pyramid' => SeriesChunk::pyramid($t, $v, $a),
                            'body' => SeriesChunk::pack($t, $v, $a),
                        ]);
                    }
                })->toArray();
                $log->update(['figures' => $figures]);
                if ($tester !== '') {
                    // What a person said of this tester; what was found is found anew in each log.
                    DB::table('log_mappings')->updateOrInsert(
                        ['workshop_id' => $person->workshop_id, 'tester' => $tester],
                        ['mapping' => json_encode((object) $said), 'updated_at' => now(), 'created_at' => now()],
                    );
                }
                (new PutCapacity())->handle($person, $log);
                if ($cell !== null) {
                    $this->toCell($person, $cell, $log, $figures);
                }
                copy($path, self::folder() . "/$sha");

                return [$log, false];
            });
        } catch (LogProblem $e) {
            throw new Refused('log', "$name: " . $e->getMessage(), 422, ['file' => $e->getMessage()]);
        } finally {
            fclose($stream);
        }
    }

    /**
     * What was said of the files of a tester before.
     *
     * @return array<string, mixed>
     */
    public static function remembered(Person $person, string $tester): array
    {
        $known =
            $tester === ''
                ? null
                : DB::table('log_mappings')->where('workshop_id', $person->workshop_id)->where('tester', $tester)->value('mapping');

        return (array) json_decode(is_string($known) ? $known : '{}', true);
    }

    /** @param  array<string, mixed>  $about */
    private function terms(?Cell $cell, ?Job $job, array $about): LogTerms
    {
        $fourWire = (bool) ($about['four_wire'] ?? true);
        $lead = ((float) ($about['lead_mohm'] ?? 0)) / 1000;
        $ambient = isset($about['ambient_c']) ? (float) $about['ambient_c'] : null;
        if ($cell !== null) {
            return LogTerms::of(Chemistry::from($cell->chemistry), (float) $cell->rated_ah, 1, $fourWire, $lead, $ambient);
        }
        $pack = PackSpec::from(new Fields($job->pack ?? []));
        if ($pack->groupCapacityAh() === null) {
            throw new Refused('no-rating', 'Enter the capacity of the label under Intake first: a log is judged against it.', 422, [
                'job_id' => 'The capacity of its label is not known: enter it under Intake.',
            ]);
        }

        return LogTerms::ofPack($pack, isset($about['group_no']) ? (int) $about['group_no'] : null, $fourWire, $lead, $ambient);
    }

    /** @param  array<string, mixed>  $figures */
    private function toCell(Person $person, Cell $cell, TestLog $log, array $figures): void
    {
        $changes = [];
        // A figure counts for the cell only from a log that counts as a capacity test.
        if (($figures['capacity']['counts'] ?? false) === true) {
            $changes['capacity_ah'] = $figures['capacity']['ah'];
        }
        foreach ($figures['resistances'] as $r) {
            // At 1 s where the rows are close enough, else at 10 s: said in the history.
            if (abs($r['from_a']) < 0.05 * abs($r['to_a']) && ($r['mohm_1s'] ?? $r['mohm_10s']) !== null) {
                $changes['mohm'] = $r['mohm_1s'] ?? $r['mohm_10s'];
                $changes['mohm_after_s'] = $r['mohm_1s'] !== null ? 1 : 10;
            }
        }
        $cell->measured(array_diff_key($changes, ['mohm_after_s' => 1]));
        EventLog::ofCell($cell, $person, 'log', ['log' => $log->id] + $changes);
    }
}
