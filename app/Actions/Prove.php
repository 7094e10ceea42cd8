<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\Person;
use App\Models\ProofEntry;
use App\Models\SignOff;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Proof\Acceptance;
use Heartwood\Core\Proof\Check;
use Heartwood\Core\Proof\CheckResult;
use Heartwood\Core\Proof\Strictness;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Illuminate\Support\Collection;
use Illuminate\Support\Facades\DB;

/** Entries and sign-off of the proof. The results are core's; a failed check cannot be signed, a missing one is named. */
final class Prove
{
    /** @param  array<string, mixed>  $data by the check's fields */
    public function enter(Person $person, Job $job, Check $check, array $data): ProofEntry
    {
        if ($check->fields() === []) {
            throw new Refused('from-readings', 'This check comes from readings: take them under Probe.', 422);
        }

        return DB::transaction(function () use ($person, $job, $check, $data): ProofEntry {
            Gatekeeper::open(LockJob::now($job));
            EventLog::add($person, $job, EventKind::Proof, ['check' => $check->value, 'data' => $data]);

            return ProofEntry::query()->create([
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'revision' => $job->revision,
                'check_code' => $check->value,
                'data' => $data,
                'entered_by' => $person->id,
                'entered_at' => now(),
            ]);
        });
    }

    public function signOff(Person $person, Job $job, string $reason): SignOff
    {
        return DB::transaction(function () use ($person, $job, $reason): SignOff {
            Gatekeeper::open(LockJob::now($job));
            Gatekeeper::pass($job, 'sign-off', $person);
            $results = self::results(
                $job,
                JobRecord::fromArray(BuildRecord::of($job)),
                ProofEntry::query()->where('job_id', $job->id)->orderBy('id')->get(),
            );
            $failed = array_filter($results, fn(CheckResult $r): bool => $r->status === 'failed');
            if ($failed !== []) {
                throw new Refused(
                    'failed-checks',
                    'Failed: ' .
                        implode(', ', array_map(fn(CheckResult $r): string => $r->check->title(), $failed)) .
                        '. A failed check is mended, not signed.',
                );
            }
            $missing = array_filter($results, fn(CheckResult $r): bool => $r->status === 'missing');
            if ($missing !== [] && trim($reason) === '') {
                throw new Refused(
                    'missing-checks',
                    count($missing) . ' checks are missing. Say in a word why it goes back without them: the report shows it.',
                    422,
                );
            }
            foreach ($missing as $r) {
                if ($r->check === Check::CauseNamed) {
                    throw new Refused('cause', 'After a short circuit the cause must be named before return.');
                }
            }
            if (SignOff::query()->where('job_id', $job->id)->where('revision', $job->revision)->exists()) {
                throw new Refused('signed', 'This revision is signed already.');
            }
            // What is signed is judged on everything that was measured, the proof's own readings included.
            (new IssueVerdict())->handle($person, $job);
            $sign = SignOff::query()->create([
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'revision' => $job->revision,
                'results' => array_map(fn(CheckResult $r): array => $r->toArray(), $results),
                'reason' => $reason,
                'signed_by' => $person->id,
                'signed_at' => now(),
            ]);
            $job->update(['stage' => 'report']);
            EventLog::add($person, $job, EventKind::SignedOff, ['reason' => $reason]);

            return $sign;
        });
    }

    /**
     * @param  Collection<int, ProofEntry>  $entries  oldest first: the latest of a check counts
     * @param  PackEvidence|null  $evidence  of this record, where it has been assembled already
     * @return list<CheckResult>
     */
    public static function results(Job $job, JobRecord $record, Collection $entries, ?PackEvidence $evidence = null): array
    {
        $fields = [];
        foreach ($entries as $e) {
            if ($e->revision === $job->revision) {
                $fields[$e->check_code] = new Fields($e->data);
            }
        }

        return (new Acceptance($record, $fields, strict: Strictness::of($job->workshop->said()), evidence: $evidence))->results();
    }
}
