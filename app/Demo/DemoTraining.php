<?php

declare(strict_types=1);

namespace App\Demo;

use App\Actions\BuildRecord;
use App\Actions\Train;
use App\Models\Job;
use App\Models\Person;
use App\Models\TrainingAct;
use App\Models\TrainingCase;
use App\Models\TrainingRound;
use Carbon\Carbon;
use Carbon\CarbonImmutable;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Trainer\CarefulHand;
use Heartwood\Core\Trainer\Rounds;
use Heartwood\Core\Trainer\Told;
use Heartwood\Core\Trainer\Tool;
use Illuminate\Support\Str;

/** Rounds that the people of the invented workshop have played in the last weeks, and one case of its own jobs. */
final readonly class DemoTraining
{
    /** How a round went: told as the tool tells it, a board blamed for it, a charge before anybody had looked. */
    private const TOLD = 'told';

    private const BLAMED = 'blamed';

    private const UNSAFE = 'unsafe';

    /** Told, and carried out as a careful hand does it. */
    private const CARRIED = 'carried';

    /** Whose, days ago, level, seed, how, and how sure. */
    private const ROUNDS = [
        ['trainee', 19, 1, 4, self::UNSAFE, 0.0],
        ['trainee', 19, 1, 9, self::BLAMED, 0.9],
        ['trainee', 17, 1, 12, self::TOLD, 0.7],
        ['trainee', 15, 1, 21, self::TOLD, 0.8],
        ['trainee', 12, 1, 33, self::BLAMED, 0.6],
        ['trainee', 12, 1, 34, self::TOLD, 0.9],
        ['trainee', 8, 1, 41, self::TOLD, 0.95],
        ['trainee', 5, 1, 52, self::CARRIED, 0.9],
        ['trainee', 3, 2, 61, self::CARRIED, 0.75],
        ['technician', 10, 3, 18, self::CARRIED, 0.9],
        ['technician', 6, 3, 27, self::TOLD, 0.85],
    ];

    /** The closed job that became a case. */
    private const CASE = 'Shears 08';

    public function __construct(private CarbonImmutable $now) {}

    /** @param  array<string, Person>  $people  by role */
    public function load(array $people): void
    {
        foreach (self::ROUNDS as $i => [$role, $days, $level, $seed, $how, $sure]) {
            $this->round($people[$role], $this->now->subDays($days)->addMinutes(3 * $i), $level, $seed, $how, $sure);
        }
        $this->at($this->now);
        $job = Job::query()->where('workshop_id', $people['owner']->workshop_id)->where('name', self::CASE)->first();
        if ($job !== null) {
            TrainingCase::query()->create([
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'number' => 1,
                'told' => Told::of(BuildRecord::of($job), [['code' => 'group.undercharged', 'where' => ['group' => 2]]])->toArray(),
                'made_by' => $people['senior']->id,
                'made_at' => $this->now->subDays(2),
            ]);
        }
    }

    private function round(Person $person, CarbonImmutable $at, int $level, int $seed, string $how, float $sure): void
    {
        $this->at($at);
        $round = TrainingRound::query()->create([
            'id' => (string) Str::uuid7($at),
            'workshop_id' => $person->workshop_id,
            'person_id' => $person->id,
            'level' => $level,
            'seed' => $seed,
            'sitting_at' => $at,
            'started_at' => $at,
        ]);
        $train = new Train();
        if ($how === self::UNSAFE) {
            $train->act($person, $round, (string) Str::uuid7($at), 1, ['do' => 'charge', 'current_a' => 2, 'minutes' => 5]);

            return;
        }
        $drawn = Rounds::of($level, $seed);
        $tool = new Tool($drawn);
        $said = Tool::answer($tool->play());
        $this->acts($round, $tool->acts, $at);
        $findings = $how === self::BLAMED ? [['code' => 'bms.output-dead', 'where' => null]] : $said['findings'];
        $this->at($at->addMinutes(4));
        $train->answer(
            $person,
            $round,
            array_map(fn(array $f): array => ['probability' => $sure] + $f, $findings),
            $findings === [] ? $sure : null,
            $how === self::BLAMED ? ['action' => 'replace-board'] : $said['option'],
            $how === self::CARRIED,
        );
        if ($round->answered_after !== null && $said['option'] !== null) {
            $drawn->carryOut(new Fields($said));
            $work = (new CarefulHand($drawn))->carryOut(RepairAction::from($said['option']['action']), $said['option']['where'] ?? []);
            $this->acts($round, array_map(fn(Fields $a): array => $a->all(), $work->acts), $at);
            $train->finish($person, $round, $work->returned);
        }
    }

    /** @param  list<array<string, mixed>>  $acts  that follow those there are */
    private function acts(TrainingRound $round, array $acts, CarbonImmutable $at): void
    {
        $before = $round->acts()->count();
        foreach ($acts as $i => $act) {
            TrainingAct::query()->create([
                'id' => (string) Str::uuid7($at),
                'training_round_id' => $round->id,
                'number' => $before + $i + 1,
                'act' => $act,
                'at' => $at,
            ]);
        }
    }

    private function at(CarbonImmutable $time): void
    {
        Carbon::setTestNow($time);
        CarbonImmutable::setTestNow($time);
    }
}
