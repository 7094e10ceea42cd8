<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\Person;
use App\Models\Verdict;
use Heartwood\Core\Diagnosis\Diagnoser;
use Heartwood\Core\Diagnosis\Verdict as CoreVerdict;
use Heartwood\Core\Record\Canonical;
use Heartwood\Core\Record\JobRecord;
use Illuminate\Support\Facades\DB;

/** Issues the verdict on the evidence as it stands; the same evidence, settings, priors and rules give the one already issued. */
final class IssueVerdict
{
    public function handle(Person $person, Job $job): Verdict
    {
        $record = BuildRecord::of($job);
        $hash = self::hash($job, $record);

        return DB::transaction(function () use ($person, $job, $record, $hash): Verdict {
            $known = Verdict::query()->where('job_id', $job->id)->where('hash', $hash)->first();
            if ($known !== null && $known->id === (int) Verdict::query()->where('job_id', $job->id)->max('id')) {
                return $known;
            }
            $verdict = Diagnoser::diagnose(
                JobRecord::fromArray($record),
                Canonical::hash($record),
                ShopPriors::of($job->workshop_id),
                AssessSafety::triage($job),
            );
            $stored =
                $known ??
                Verdict::query()->create([
                    'workshop_id' => $job->workshop_id,
                    'job_id' => $job->id,
                    'revision' => $job->revision,
                    'hash' => $hash,
                    'rules' => CoreVerdict::RULES,
                    'document' => $verdict->toArray(),
                    'detail' => $verdict->detail(),
                    'issued_to' => $person->id,
                    'issued_at' => now(),
                ]);
            KeepLotFacts::of($job);
            EventLog::add($person, $job, EventKind::Verdict, ['id' => $stored->id, 'first' => $verdict->findings[0]->code ?? null]);

            return $stored;
        });
    }

    /** @param  array<string, mixed>  $record */
    public static function hash(Job $job, array $record): string
    {
        return Canonical::hash([
            'record' => $record,
            'priors' => ShopPriors::of($job->workshop_id)->name(),
            'rules' => CoreVerdict::RULES,
            'safety' => [$job->safety_state, $job->safety_released],
        ]);
    }
}
