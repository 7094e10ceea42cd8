<?php

declare(strict_types=1);

namespace App\Actions;

use App\Contract\SchemaCheck;
use App\Models\Event;
use App\Models\Job;
use App\Models\Person;
use App\Models\TrainingAct;
use App\Models\TrainingCase;
use App\Models\TrainingRound;
use App\Read\Training;
use Carbon\CarbonImmutable;
use Heartwood\Core\Limits\TrainerLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\InvalidRecord;
use Heartwood\Core\Trainer\Attempt;
use Heartwood\Core\Trainer\Start;
use Heartwood\Core\Trainer\Told;
use Heartwood\Core\Trainer\Trainer;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

/** Rounds of the trainer: begun, played act by act, answered or left. They touch no job, no figure and no stock. */
final class Train
{
    /** The largest seed that the contract has. */
    private const SEEDS_TO = 2_147_483_647;

    public const DAY_S = 86_400;

    /**
     * @param  int|null  $level  null: the level that is offered
     * @param  int|null  $case  number of a case of the shop; null: a round is drawn
     *
     * @throws Refused there is no such case
     */
    public function begin(Person $person, ?int $level, ?int $case): TrainingRound
    {
        return DB::transaction(function () use ($person, $level, $case): TrainingRound {
            // One at a time: who has one under way goes on with it.
            Person::query()->lockForUpdate()->findOrFail($person->id);
            /** @var TrainingRound|null $open */
            $open = TrainingRound::query()->where('person_id', $person->id)->whereNull('ended_at')->first();
            if ($open !== null) {
                return $open;
            }
            $now = CarbonImmutable::now();
            $row = [
                'id' => (string) Str::uuid7(),
                'workshop_id' => $person->workshop_id,
                'person_id' => $person->id,
                'sitting_at' => Training::sitting($person, $now) ?? $now,
                'started_at' => $now,
            ];
            if ($case !== null) {
                $told =
                    TrainingCase::query()->where('workshop_id', $person->workshop_id)->where('number', $case)->first()->told ??
                    throw new Refused('no-such-case', 'There is no such case any more: choose another.', 422, [
                        'case' => 'Choose one of the list.',
                    ]);

                return TrainingRound::query()->create(
                    [
                        'level' => Told::from(new Fields($told))->level(),
                        'seed' => random_int(0, self::SEEDS_TO),
                        'told' => $told,
                        'case_number' => $case,
                    ] + $row,
                );
            }
            $level ??= Training::progress($person)->level();
            $seeds = array_map(fn(): int => random_int(0, self::SEEDS_TO), range(1, TrainerLimits::SEEDS));

            return TrainingRound::query()->create(
                [
                    'level' => $level,
                    'seed' => Training::spacing($person)->pick($level, self::days($now), $seeds),
                ] + $row,
            );
        });
    }

    /**
     * @param  array<string, mixed>  $act  as the contract has it
     *
     * @throws Refused the act is none, out of turn, or the round is over
     */
    public function act(Person $person, TrainingRound $round, string $id, int $number, array $act): TrainingRound
    {
        $part = $round->answered_after === null ? 'act' : 'workAct';
        $problems = SchemaCheck::problems(json_decode((string) json_encode($act)), 'round.schema.json', $part);
        if ($problems !== []) {
            throw new Refused('not-an-act', $problems[0]['message'], 422, ['act' . $problems[0]['pointer'] => $problems[0]['message']]);
        }

        return DB::transaction(function () use ($person, $round, $id, $number, $act): TrainingRound {
            $this->hold($person, $round);
            $known = TrainingAct::query()->find($id);
            if ($known !== null && $known->training_round_id === $round->id) {
                return $round;
            }
            $this->open($round);
            $next = TrainingAct::query()->where('training_round_id', $round->id)->count() + 1;
            if ($number !== $next || $known !== null) {
                throw new Refused('out-of-turn', 'Something was done in this round from another screen: look at it again.', 409);
            }
            if ($next > TrainerLimits::ACTS) {
                throw new Refused('too-long', 'This round has as many acts as one may have: say what it is, or leave it.', 409);
            }
            TrainingAct::query()->create([
                'id' => $id,
                'training_round_id' => $round->id,
                'number' => $number,
                'act' => $act,
                'at' => now(),
            ]);
            $round->seen = Trainer::screen($round->start(), ...$round->course());

            return $round->seen['unsafe'] === null ? $round : $this->end($round, 'unsafe');
        });
    }

    /**
     * @param  list<array<string, mixed>>  $findings  code, where and probability each; none: nothing is wrong
     * @param  float|null  $nothing  how sure, where nothing is
     * @param  array<string, mixed>|null  $option  what is to be done, and where
     * @param  bool  $carry  whoever answers carries the choice out too, where it can be and is not unsafe in itself
     */
    public function answer(
        Person $person,
        TrainingRound $round,
        array $findings,
        ?float $nothing,
        ?array $option,
        bool $carry = false,
    ): TrainingRound {
        return DB::transaction(function () use ($person, $round, $findings, $nothing, $option, $carry): TrainingRound {
            $this->hold($person, $round);
            $this->open($round);
            if ($round->answered_after !== null) {
                throw new Refused('answered', 'This round has its answer: carry it out, or leave it at that.', 409);
            }
            $answer = ['findings' => $findings, 'option' => $option];
            $problems = SchemaCheck::problems(json_decode((string) json_encode($answer)), 'round.schema.json', 'answer');
            if ($problems !== []) {
                throw new Refused('no-answer', $problems[0]['message'], 422, [
                    ltrim($problems[0]['pointer'], '/') => $problems[0]['message'],
                ]);
            }
            $round->update(['answer' => $answer + ['nothing' => $nothing]]);
            $course = $round->course();
            if (!$carry || !Trainer::isWork($round->start(), $course['acts'], new Fields($answer))) {
                return $this->end($round, 'answer');
            }
            $round->update(['answered_after' => count($course['acts'])]);

            return $round;
        });
    }

    /**
     * The choice is carried out as far as it is going to be.
     *
     * @param  bool|null  $returned  whether the pack goes back to whoever brought it; null: it is left on the bench
     */
    public function finish(Person $person, TrainingRound $round, ?bool $returned): TrainingRound
    {
        return DB::transaction(function () use ($person, $round, $returned): TrainingRound {
            $this->hold($person, $round);
            $this->open($round);
            if ($round->answered_after === null) {
                throw new Refused('not-answered', 'Say first what it is and what is to be done with it.', 409);
            }
            $round->update(['returned' => $returned]);

            return $this->end($round, 'answer');
        });
    }

    /** Given up: what it was is shown, and it comes back as one that was missed; one that has its answer is left on the bench. */
    public function leave(Person $person, TrainingRound $round): TrainingRound
    {
        return DB::transaction(function () use ($person, $round): TrainingRound {
            $this->hold($person, $round);
            $this->open($round);

            return $this->end($round, $round->answered_after === null ? 'left' : 'answer');
        });
    }

    /**
     * A closed job as a round for all of the shop.
     *
     * @throws Refused it is not closed, nobody said what it was, or no simulated pack can have that
     */
    public function makeCase(Person $person, Job $job): TrainingCase
    {
        return DB::transaction(function () use ($person, $job): TrainingCase {
            LockJob::now($job);
            $known = TrainingCase::query()->where('job_id', $job->id)->first();
            if ($known !== null) {
                return $known;
            }
            if ($job->status === 'open') {
                throw new Refused('open', 'A job teaches once it is closed: until then nobody knows what it was.', 409);
            }
            $closed = Event::query()->where('job_id', $job->id)->where('kind', EventKind::Closed)->latest('id')->first();
            try {
                $told = Told::of(BuildRecord::of($job), $closed->data['truth'] ?? null);
            } catch (InvalidRecord $e) {
                throw new Refused('teaches-nothing', $e->problems[0]['message'], 409);
            }
            // Numbers of one shop are given one after another.
            $person->workshop()->lockForUpdate()->first();

            return TrainingCase::query()->create([
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'number' => 1 + (int) TrainingCase::query()->where('workshop_id', $job->workshop_id)->max('number'),
                'told' => $told->toArray(),
                'made_by' => $person->id,
                'made_at' => now(),
            ]);
        });
    }

    /** Out of the list; rounds that were played of it stay. */
    public function dropCase(Job $job): void
    {
        TrainingCase::query()->where('job_id', $job->id)->delete();
    }

    /** A start that nobody plays: for paper. */
    public static function chance(int $level): Start
    {
        return Start::drawn($level, random_int(0, self::SEEDS_TO));
    }

    public static function days(CarbonImmutable $at): float
    {
        return $at->getTimestamp() / self::DAY_S;
    }

    private function hold(Person $person, TrainingRound $round): void
    {
        TrainingRound::query()->lockForUpdate()->findOrFail($round->id);
        $round->refresh();
        if ($round->person_id !== $person->id) {
            throw new Refused('not-yours', 'This round is played by somebody else.', 403);
        }
    }

    private function open(TrainingRound $round): void
    {
        if ($round->ended_at !== null) {
            throw new Refused('ended', 'This round is over: begin another.', 409);
        }
    }

    private function end(TrainingRound $round, string $by): TrainingRound
    {
        $course = $round->course();
        $score = Trainer::judged($round->start(), ...$course);
        $nothing = $round->answer['nothing'] ?? null;
        $now = CarbonImmutable::now();
        $round->update([
            'ended_at' => $now,
            'ended_by' => $by,
            'score' => $score,
            // What was seen stays as it was seen, whatever the rules draw from the same seed later.
            'screen' => $round->seen ?? Trainer::screen($round->start(), ...$course),
            'attempt' => Attempt::of(
                self::days($now),
                $round->start(),
                $score,
                $course['answer'],
                $nothing === null ? null : (float) $nothing,
            )->toArray(),
        ]);

        return $round;
    }
}
