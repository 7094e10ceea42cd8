<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Job;
use App\Models\Person;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Safety\Triage;
use Illuminate\Support\Facades\DB;

/** Takes what a person sees or hears about a pack, and sets its safety state by core's triage. */
final class AssessSafety
{
    /**
     * @param  array<string, mixed>  $inspection  answers to add to what is known
     * @param  list<string>|null  $symptoms  all reported symptoms, null to leave them
     */
    public function handle(Person $person, Job $job, array $inspection, ?array $symptoms): Job
    {
        return DB::transaction(function () use ($person, $job, $inspection, $symptoms): Job {
            $before = Triage::keys(new Fields($job->inspection ?? []), $job->symptoms ?? []);
            $job->inspection = array_replace($job->inspection ?? [], $inspection);
            $job->symptoms = array_values(array_unique($symptoms ?? $job->symptoms ?? []));
            // Reported again counts again, whatever was decided before.
            $again = array_keys(array_filter($inspection, fn (mixed $v): bool => $v === true));
            $new = array_diff(Triage::keys(new Fields($job->inspection), $job->symptoms), $before);
            $job->safety_released = array_values(array_diff($job->safety_released ?? [], $again, $new));
            self::settle($job);
            $job->save();
            EventLog::add($person, $job, 'triage', ['inspection' => $inspection, 'symptoms' => $job->symptoms, 'state' => $job->safety_state, 'reasons' => $job->safety_reasons]);

            return $job;
        });
    }

    public static function triage(Job $job): Triage
    {
        return Triage::assess(new Fields($job->inspection ?? []), $job->symptoms ?? [], PackSpec::from(new Fields($job->pack))->fullVolts(), $job->safety_released ?? []);
    }

    /** A state only rises by triage; it falls by one of the recorded ways out. */
    private static function settle(Job $job): void
    {
        $triage = self::triage($job);
        $was = SafetyState::tryFrom((string) $job->safety_state) ?? SafetyState::Clear;
        $now = $triage->state->worse($was);
        if ($now !== $was || $job->held_since === null) {
            $job->held_since = $now === SafetyState::Clear ? null : now();
        }
        $job->safety_state = $now->value;
        $job->safety_reasons = $triage->reasons !== [] ? $triage->reasons : ($now === SafetyState::Clear ? [] : ($job->safety_reasons ?? []));
    }
}
