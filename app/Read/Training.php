<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\Train;
use App\Models\Person;
use App\Models\TrainingCase;
use App\Models\TrainingRound;
use App\Policies\Rights;
use Carbon\CarbonImmutable;
use Heartwood\Core\Fault\Faults;
use Heartwood\Core\Limits\TrainerLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\WorkPlan;
use Heartwood\Core\Repair\WorkStep;
use Heartwood\Core\Trainer\Attempt;
use Heartwood\Core\Trainer\Progress;
use Heartwood\Core\Trainer\Sitting;
use Heartwood\Core\Trainer\Spacing;
use Heartwood\Core\Trainer\Told;
use Heartwood\Core\Trainer\Trainer;
use Illuminate\Database\Eloquent\Collection;

/** What the screens of the trainer show: where somebody stands, the round under way, who is ready for what. Computed only. */
final class Training
{
    /** Rounds that are over, as many as are listed. */
    private const SHOWN = 12;

    /** What a right lets somebody do, in words. */
    private const RIGHTS = [
        'recover' => 'charge, recover and balance at a supply',
        'decide' => 'decide what is done with a pack',
        'sign-off' => 'sign a proof off',
        'release' => 'lift a safety state',
    ];

    /** What lists need of a round: not what was seen in it, which is long. */
    private const COLUMNS = ['id', 'person_id', 'level', 'case_number', 'sitting_at', 'started_at', 'ended_at', 'ended_by', 'attempt'];

    /** @return list<Attempt> of one person, in the order in which they ended */
    private static function attempts(Person $person): array
    {
        return self::ended(TrainingRound::query()->where('person_id', $person->id)->get(self::COLUMNS));
    }

    /**
     * @param  Collection<int, TrainingRound>  $rounds
     * @return list<Attempt> of those that are over, in the order in which they ended
     */
    private static function ended(Collection $rounds): array
    {
        return array_values(
            $rounds
                ->whereNotNull('ended_at')
                ->sortBy('ended_at')
                ->map(fn(TrainingRound $r): Attempt => Attempt::from(new Fields((array) $r->attempt)))
                ->all(),
        );
    }

    public static function progress(Person $person): Progress
    {
        return new Progress(self::attempts($person));
    }

    public static function spacing(Person $person): Spacing
    {
        return Spacing::of(self::attempts($person));
    }

    /** When the sitting began that goes on by then; null where none does. */
    public static function sitting(Person $person, CarbonImmutable $now): ?CarbonImmutable
    {
        $began = TrainingRound::query()
            ->where('person_id', $person->id)
            ->orderByDesc('sitting_at')
            ->first(['sitting_at'])?->sitting_at;

        return $began !== null && self::goesOn($began, $now) ? $began : null;
    }

    private static function goesOn(CarbonImmutable $began, CarbonImmutable $now): bool
    {
        return Sitting::goesOn((float) $began->format('U.u'), (float) $now->format('U.u'));
    }

    /** @return array<string, mixed> */
    public static function home(Person $person): array
    {
        $now = CarbonImmutable::now();
        $rounds = TrainingRound::query()->where('person_id', $person->id)->orderByDesc('started_at')->get(self::COLUMNS);
        $attempts = self::ended($rounds);
        $progress = new Progress($attempts);
        $last = $rounds->first()?->sitting_at;
        $sat = $last === null ? collect() : $rounds->filter(fn(TrainingRound $r): bool => $r->sitting_at->eq($last));

        return [
            'level' => $progress->level(),
            'open' => $rounds->first(fn(TrainingRound $r): bool => $r->ended_at === null)?->id,
            'sitting' =>
                $last === null
                    ? null
                    : [
                        'began_at' => $last->toIso8601ZuluString(),
                        'ends_at' => self::iso(Sitting::ends((float) $last->format('U.u'))),
                        'over' => !self::goesOn($last, $now),
                        'rounds' => $sat->whereNotNull('ended_at')->count(),
                        'right' => $sat->filter(fn(TrainingRound $r): bool => ($r->attempt['place_right'] ?? false) === true)->count(),
                        'unsafe' => $sat->filter(fn(TrainingRound $r): bool => ($r->attempt['safe'] ?? true) === false)->count(),
                    ],
            'progress' => self::said($progress),
            'rights' => self::rights($person, $progress),
            'kinds' => array_map(
                fn(array $k): array => [
                    'title' => self::kind($k['kind']),
                    'recall' => round($k['recall'], 3),
                    'due_at' => $k['kind'] === Attempt::NOTHING ? null : self::iso($k['due_days'] * Train::DAY_S),
                    'seen' => $k['seen'],
                    'missed' => $k['missed'],
                ],
                Spacing::of($attempts)->all(Train::days($now)),
            ),
            'cases' => TrainingCase::query()
                ->where('workshop_id', $person->workshop_id)
                ->orderBy('number')
                ->get()
                ->map(
                    fn(TrainingCase $c): array => [
                        'number' => $c->number,
                        'level' => Told::from(new Fields($c->told))->level(),
                        'played' => $rounds->where('case_number', $c->number)->whereNotNull('ended_at')->count(),
                    ],
                )
                ->values()
                ->all(),
            'last' => $rounds
                ->whereNotNull('ended_at')
                ->take(self::SHOWN)
                ->map(
                    fn(TrainingRound $r): array => [
                        'id' => $r->id,
                        'level' => $r->level,
                        'case' => $r->case_number,
                        'ended_at' => $r->ended_at?->toIso8601ZuluString(),
                        'outcome' => self::outcome($r),
                        'kinds' => array_map(self::kind(...), $r->attempt['kinds'] ?? []),
                    ],
                )
                ->values()
                ->all(),
        ];
    }

    private static function iso(float $seconds): string
    {
        return CarbonImmutable::createFromTimestampUTC($seconds)->toIso8601ZuluString();
    }

    /** @return 'right'|'place-wrong'|'wrong'|'unsafe'|'left' */
    private static function outcome(TrainingRound $r): string
    {
        return match (true) {
            ($r->attempt['safe'] ?? true) === false => 'unsafe',
            $r->ended_by === 'left' => 'left',
            ($r->attempt['place_right'] ?? false) === true => 'right',
            ($r->attempt['right'] ?? false) === true => 'place-wrong',
            default => 'wrong',
        };
    }

    private static function kind(string $code): string
    {
        return isset(Faults::all()[$code]) ? Faults::of($code)->words()->anywhere() : 'Nothing was wrong';
    }

    /** @return array<string, mixed> */
    private static function said(Progress $p): array
    {
        return [
            'accuracy' => $p->accuracy(),
            'levels' => array_values(
                array_filter(
                    array_map(
                        fn(int $level): ?array => ($seen = $p->accuracy($level, $level)) === null ? null : ['level' => $level] + $seen,
                        range(1, TrainerLimits::LEVELS),
                    ),
                ),
            ),
            'calibration' => $p->calibration(),
            'gap' => $p->gap(),
            'brier' => $p->brier(),
            'unsafe' => $p->unsafe(),
            'safe_in_a_row' => $p->safeInARow(),
            'pace' => $p->pace(),
            'carried' => $p->carried(),
        ];
    }

    /** @return list<array<string, mixed>> everybody of a workshop, and what their rounds speak for */
    public static function people(int $workshop): array
    {
        $rounds = TrainingRound::query()->where('workshop_id', $workshop)->get(self::COLUMNS)->groupBy('person_id');
        $people = Person::query()
            ->where('workshop_id', $workshop)
            ->where('active', true)
            ->orderBy('name')
            ->get()
            ->map(function (Person $person) use ($rounds): array {
                $p = new Progress(self::ended($rounds[$person->id] ?? new Collection()));

                return [
                    'id' => $person->id,
                    'name' => $person->name,
                    'role' => $person->role,
                    'level' => $p->level(),
                    'progress' => self::said($p),
                    'rights' => self::rights($person, $p),
                ];
            })
            ->all();

        return array_values($people);
    }

    /** @return list<array<string, mixed>> what somebody may, or would be ready for */
    private static function rights(Person $person, Progress $p): array
    {
        return array_map(function (string $right) use ($person, $p): array {
            $missing = $p->missingFor($right);

            return [
                'right' => $right,
                'title' => self::RIGHTS[$right],
                'has' => Rights::allows($person, $right),
                'ready' => $missing === [],
                'missing' => $missing,
            ];
        }, array_keys(TrainerLimits::READY_LEVEL));
    }

    /** @return array<string, mixed> a round as its screens show it; what is wrong only once it is over */
    public static function round(TrainingRound $round): array
    {
        $acts = $round->played();
        $over = $round->ended_at !== null;
        $screen = $over ? $round->screen : $round->seen ?? Trainer::screen($round->start(), ...$round->course());
        /** @var list<array{seconds: int, result: mixed}> $done */
        $done = $screen['acts'];

        return [
            'id' => $round->id,
            'level' => $round->level,
            'case' => $round->case_number,
            'started_at' => $round->started_at->toIso8601ZuluString(),
            'brief' => $screen['brief'],
            'seconds' => $screen['seconds'],
            'plugged' => $screen['plugged'],
            'meter' => array_intersect_key($screen['meter'], ['percent' => 1, 'counts' => 1]),
            'full_v' => $screen['full_v'],
            'check' => $screen['check'],
            'acts' => array_map(
                fn(array $act, array $came, int $i): array => [
                    'act' => $act,
                    'seconds' => $came['seconds'],
                    // Of runs at the supply the last is drawn: the curves of the others stay where they are.
                    'result' =>
                        (object) ($i === count($done) - 1 ? $came['result'] : array_diff_key((array) $came['result'], ['curve' => 1])),
                ],
                array_slice($acts, 0, count($done)),
                $done,
                array_keys($done),
            ),
            'sets' => $screen['sets'],
            'most_wait_h' => TrainerLimits::WAIT_H,
            'work' =>
                $round->answered_after === null
                    ? null
                    : [
                        'after' => $round->answered_after,
                        'chose' => self::chose($round),
                        'action' => $round->answer['option']['action'] ?? null,
                        'where' => $round->answer['option']['where'] ?? [],
                        'steps' => array_map(
                            fn(WorkStep $w): array => ['title' => $w->title, 'caution' => $w->caution],
                            WorkPlan::for(RepairAction::tryFrom($round->answer['option']['action'] ?? '') ?? RepairAction::None),
                        ),
                        'most_level_h' => TrainerLimits::LEVEL_H,
                        'isolated' => $screen['work']['isolated'] ?? false,
                        'checks' => $screen['work']['checks'] ?? [],
                    ],
            'over' => !$over
                ? null
                : [
                    'by' => $round->ended_by,
                    'outcome' => self::outcome($round),
                    'ended_at' => $round->ended_at->toIso8601ZuluString(),
                    'unsafe' => $round->score['unsafe'],
                    'answer' => $round->answer,
                    'score' => $round->score + ['outturn' => null, 'took' => null, 'best_took' => null],
                    'truth' => array_map(fn(array $t): array => $t + ['title' => self::at($t)], $round->score['truth']),
                    'said' => array_map(
                        fn(array $f): array => $f + ['where' => null, 'title' => self::at($f)],
                        $round->answer['findings'] ?? [],
                    ),
                    'chose' => self::chose($round),
                    'left' => array_map(fn(array $t): array => $t + ['title' => self::at($t)], $round->score['outturn']['left'] ?? []),
                    'seed' => $round->told === null ? $round->seed : null,
                ],
        ];
    }

    /** What is to be done, and where, in words. */
    private static function chose(TrainingRound $round): ?string
    {
        $option = $round->answer['option'] ?? null;

        return isset($option['action']) ? RepairAction::from($option['action'])->at($option['where'] ?? []) : null;
    }

    /** @param  array<string, mixed>  $f  code and where */
    private static function at(array $f): string
    {
        if (!isset(Faults::all()[$f['code']])) {
            return (string) $f['code'];
        }
        $words = Faults::of($f['code'])->words();
        $place = array_values($f['where'] ?? [])[0] ?? null;

        return $place === null ? $words->anywhere() : $words->titleAt((int) $place);
    }
}
