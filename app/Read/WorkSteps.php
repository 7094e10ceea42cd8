<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\BuildRecord;
use App\Actions\EventKind;
use App\Models\Cell;
use App\Models\CellModel;
use App\Models\Decision;
use App\Models\Event;
use App\Models\Job;
use App\Models\Run;
use App\Models\TeardownStep;
use App\Models\WorkStep;
use Carbon\CarbonImmutable;
use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\Place;
use Heartwood\Core\Record\Places;
use Heartwood\Core\Repair\RepairAction;
use Heartwood\Core\Repair\WorkPlan;
use Heartwood\Core\Repair\WorkStep as Step;
use Heartwood\Core\Run\Why;
use Heartwood\Core\Work\ClosedBy;
use Heartwood\Core\Work\Facts;
use Heartwood\Core\Work\StepProof;
use Heartwood\Core\Work\Work;
use Illuminate\Database\Eloquent\Collection;

/** The steps of what was decided, each with what proves it or what is missing: computed only. */
final class WorkSteps
{
    /** @return list<array<string, mixed>> as the screens and the report show them */
    public static function of(Decision $decision): array
    {
        $steps = self::rows($decision);
        $proofs = self::proofs($decision, $steps);
        $out = [];
        foreach ($steps as $i => $s) {
            $proof = $proofs[$i];
            $action = self::actionOf($decision, $s);
            $at = $proof->at === null ? null : CarbonImmutable::createFromTimestampUTC($proof->at);
            $out[] = [
                'id' => $s->id,
                ...$s->step,
                'places' => Places::words(array_values((array) ($s->step['where'] ?? []))),
                'typed' => $s->entry,
                'skipped' => $s->skipped,
                'closed_by' => $proof->by->value,
                'word' => $proof->by->isWord(),
                'state' => match (true) {
                    $s->skipped !== '' => 'skipped',
                    $proof->closed => 'done',
                    default => 'open',
                },
                'proof' => $s->done_at === null ? $proof->text : '',
                'room' => $proof->by->room($action, (string) $s->step['code']),
                'door' => $proof->by->door((string) $s->step['code']),
                'done_at' => $proof->closed ? $at?->toIso8601ZuluString() : null,
                'by' => $s->person?->name,
                'started_at' => $s->started_at?->toIso8601ZuluString(),
                'minutes' =>
                    $s->started_at === null || $at === null || $at < $s->started_at
                        ? null
                        : round($s->started_at->floatDiffInMinutes($at), 1),
            ];
        }

        return $out;
    }

    /** @return list<array{title: string, room: string, door: string}> how a thing is done, and in which room, before it is decided */
    public static function planned(RepairAction $action): array
    {
        return array_map(function (Step $s) use ($action): array {
            $by = ClosedBy::of($action, $s->code);

            return ['title' => $s->title, 'room' => $by->room($action, $s->code), 'door' => $by->door($s->code)];
        }, WorkPlan::for($action));
    }

    /** @return Collection<int, WorkStep> */
    public static function rows(Decision $decision): Collection
    {
        return WorkStep::query()->where('decision_id', $decision->id)->with('person')->orderBy('position')->get();
    }

    /**
     * @param  Collection<int, WorkStep>  $steps
     * @return list<StepProof>
     */
    public static function proofs(Decision $decision, Collection $steps): array
    {
        return Work::of(...self::asked($decision, $steps));
    }

    /** What stands against doing a step now; null when nothing does. */
    public static function against(Decision $decision, string $code): ?string
    {
        return Work::against(...[...self::asked($decision, self::rows($decision)), $code]);
    }

    /**
     * @param  Collection<int, WorkStep>  $steps
     * @return array{RepairAction, list<Place>, list<array{code: string, alters: bool, word: float|null, skipped: bool,
     *   action: RepairAction, places: list<Place>}>, Facts, float}
     */
    private static function asked(Decision $decision, Collection $steps): array
    {
        /** @var Job $job */
        $job = Job::query()->findOrFail($decision->job_id);

        return [
            RepairAction::from($decision->action),
            self::places((array) ($decision->option['where'] ?? [])),
            array_values(
                $steps
                    ->map(
                        fn(WorkStep $s): array => [
                            'code' => (string) $s->step['code'],
                            'alters' => (bool) $s->step['alters'],
                            'word' => self::seconds($s->done_at),
                            'skipped' => $s->skipped !== '',
                            'action' => self::actionOf($decision, $s),
                            'places' => self::places((array) ($s->step['where'] ?? ($decision->option['where'] ?? []))),
                        ],
                    )
                    ->all(),
            ),
            self::facts($job),
            (float) self::seconds($decision->decided_at),
        ];
    }

    /** The part of the plan that a step belongs to. */
    public static function actionOf(Decision $decision, WorkStep $step): RepairAction
    {
        return RepairAction::from((string) ($step->step['action'] ?? $decision->action));
    }

    /** @return list<RepairAction> all parts of a plan, in the order in which they are done */
    public static function actions(Decision $decision): array
    {
        return array_map(RepairAction::from(...), array_column($decision->option['parts'] ?? [], 'action') ?: [$decision->action]);
    }

    /**
     * @param  array<array-key, mixed>  $where
     * @return list<Place>
     */
    private static function places(array $where): array
    {
        return array_map(fn(array $w): Place => Place::from(new Fields($w)), array_values(array_filter($where, is_array(...))));
    }

    /** All that is on record of a job and may answer a step of its work or of a guided run. */
    public static function facts(Job $job): Facts
    {
        return new Facts(
            JobRecord::fromArray(BuildRecord::of($job)),
            self::teardown($job),
            self::cells($job),
            array_values(
                Run::query()
                    ->where('job_id', $job->id)
                    ->orderBy('started_at')
                    ->get()
                    ->map(
                        fn(Run $r): array => [
                            'kind' => $r->kind,
                            'group' => $r->group_no > 0 ? (int) $r->group_no : null,
                            'started' => (float) self::seconds($r->started_at),
                            'ended' => self::seconds($r->ended_at),
                            'good' => Why::tryFrom($r->outcome)?->isGood() === true,
                            'text' => (string) ($r->state['text'] ?? ''),
                        ],
                    )
                    ->all(),
            ),
            array_values(
                Event::query()
                    ->where('job_id', $job->id)
                    ->where('kind', EventKind::Joint)
                    ->orderBy('id')
                    ->get()
                    ->map(
                        fn(Event $e): array => [
                            'at' => (float) self::seconds($e->at),
                            'tap' => (int) $e->data['tap'],
                            'text' => sprintf('T%d set to %.1f Nm', $e->data['tap'], $e->data['set_nm']),
                        ],
                    )
                    ->all(),
            ),
        );
    }

    /** @return array{steps: int, at: float|null, back: float|null, left: int} */
    private static function teardown(Job $job): array
    {
        $rows = TeardownStep::query()->where('job_id', $job->id)->get();
        if ($rows->isEmpty()) {
            return ['steps' => 0, 'at' => null, 'back' => null, 'left' => 0];
        }
        $left = count(array_filter(Teardowns::of($job)['way_back'], fn(array $s): bool => !$s['done']));

        return [
            'steps' => count($rows),
            'at' => self::seconds($rows->min('taken_at')),
            'back' => self::seconds($rows->max('back_at')),
            'left' => $left,
        ];
    }

    /** @return list<array{at: float, group: int, cells: list<array{code: string, v: float|null, ohm: float, ah: float, max_a: float}>}> */
    private static function cells(Job $job): array
    {
        $specs = CellModel::specs($job->workshop_id);
        $dealt = Event::query()->where('job_id', $job->id)->where('kind', EventKind::CellsDealt)->max('at');
        $out = [];
        foreach (Cell::query()->where('job_id', $job->id)->where('state', 'used')->orderBy('code')->get() as $c) {
            $k = (int) $c->group_no;
            $out[$k] ??= [
                'at' => (float) self::seconds($dealt === null ? null : CarbonImmutable::parse((string) $dealt)),
                'group' => $k,
                'cells' => [],
            ];
            $ah = (float) ($c->capacity_ah ?? $c->rated_ah);
            $out[$k]['cells'][] = [
                'code' => $c->code,
                'v' => $c->rest_v,
                'ohm' => (float) $c->mohm / 1000,
                'ah' => $ah,
                'max_a' => (float) ($specs[$c->model]['max_charge_a'] ?? $ah * CellLimits::CHARGE_C),
            ];
        }

        return array_values($out);
    }

    private static function seconds(?\DateTimeInterface $at): ?float
    {
        return $at === null ? null : (float) $at->format('U.u');
    }
}
