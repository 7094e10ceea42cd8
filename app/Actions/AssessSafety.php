<?php

declare(strict_types=1);

namespace App\Actions;

use App\Instruments\RunFolder;
use App\Models\Job;
use App\Models\Person;
use App\Models\Run;
use App\Read\Looks;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Safety\LookAgain;
use Heartwood\Core\Safety\SafetyState;
use Heartwood\Core\Safety\Triage;
use Illuminate\Support\Facades\DB;

/**
 * Takes what a person sees or hears about a pack, and sets its safety state by core's triage. Answers are facts: they are
 * merged into the locked job, a "yes" is not undone by somebody else's older "no", and the state comes from all of them.
 */
final class AssessSafety
{
    /**
     * @param  array<string, mixed>  $inspection  answers to add to what is known
     * @param  list<string>|null  $symptoms  reported symptoms to add to those that are known, null for none
     * @param  list<string>  $withdrawn  symptoms that were never meant; those that hold a pack stay until they are taken back as
     *   entered by mistake
     * @param  string|null  $moment  open: a whole look at the open pack, or after a run that was stopped
     * @param  string  $second  who stands by at a pack over the limit of high voltage
     */
    public function handle(
        Person $person,
        Job $job,
        array $inspection,
        ?array $symptoms,
        array $withdrawn = [],
        ?string $moment = null,
        string $second = '',
    ): Job {
        return DB::transaction(function () use ($person, $job, $inspection, $symptoms, $withdrawn, $moment, $second): Job {
            LockJob::now($job);
            $inspection = Triage::measured($inspection);
            if ($moment === 'open') {
                self::whole($job, new Fields($inspection), $second);
            }
            $before = Triage::keys(new Fields($job->inspection ?? []), $job->symptoms ?? []);
            $job->inspection = Triage::merge($job->inspection ?? [], $inspection);
            $job->symptoms = Triage::mergeSymptoms($job->symptoms ?? [], $symptoms ?? [], $withdrawn);
            // Reported again counts again, whatever was decided before.
            $again = array_keys(array_filter($inspection, fn(mixed $v): bool => $v === true));
            $new = array_diff(Triage::keys(new Fields($job->inspection), $job->symptoms), $before);
            $job->safety_released = array_values(array_diff($job->safety_released ?? [], $again, $new));
            self::settle($job);
            $job->save();
            if ($job->safety() !== SafetyState::Clear) {
                self::endRuns($job);
            }
            EventLog::add($person, $job, EventKind::Triage, [
                'inspection' => $inspection,
                'symptoms' => $job->symptoms,
                'state' => $job->safety_state,
                'reasons' => $job->safety_reasons,
                ...$moment === null ? [] : ['moment' => $moment],
                ...$second === '' ? [] : ['second_person' => $second],
            ]);

            return $job;
        });
    }

    /** A look at the open pack answers all that can be seen; at high voltage nobody is alone with it. */
    private static function whole(Job $job, Fields $answers, string $second): void
    {
        if (!LookAgain::isWhole($answers)) {
            $open = LookAgain::unseen($answers, true);
            throw new Refused('not-whole', 'Say yes or no to each of it: ' . implode(', ', $open) . '.', 422, [
                "inspection.$open[0]" => 'Neither yes nor no: look, and say which.',
            ]);
        }
        $due = Looks::due($job);
        if ($due?->secondPerson === true && trim($second) === '' && Triage::keys($answers, []) === []) {
            throw new Refused('alone', 'High voltage: nobody probes it alone.', 422, [
                'second_person' => 'Name who stands by, with gloves and insulated tools on; or leave it closed.',
            ]);
        }
    }

    /** No current through a pack that is held: what runs is ended, by the runner itself, as soon as this is stored. */
    private static function endRuns(Job $job): void
    {
        $ids = Run::query()->where('job_id', $job->id)->whereNull('ended_at')->pluck('id')->all();
        $why =
            'the pack is ' .
            ($job->safety() === SafetyState::Hold ? 'on hold: ' : 'in quarantine: ') .
            implode(', ', $job->safety_reasons ?? []);
        DB::afterCommit(function () use ($ids, $why): void {
            foreach ($ids as $id) {
                if (is_dir(RunFolder::of($id)->path)) {
                    RunFolder::of($id)->say(['do' => 'end', 'why' => $why]);
                }
            }
        });
    }

    public static function triage(Job $job): Triage
    {
        return Triage::assess(
            new Fields($job->inspection ?? []),
            $job->symptoms ?? [],
            PackSpec::from(new Fields($job->pack))->fullVolts(),
            $job->safety_released ?? [],
        );
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
        $job->safety_reasons = $triage->reasons !== [] ? $triage->reasons : ($now === SafetyState::Clear ? [] : $job->safety_reasons ?? []);
    }
}
