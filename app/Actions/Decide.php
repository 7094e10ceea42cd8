<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\CellModel;
use App\Models\Decision;
use App\Models\Job;
use App\Models\PackModel;
use App\Models\Person;
use App\Models\Verdict;
use App\Models\WorkStep;
use App\Policies\Rights;
use App\Read\Plans;
use Heartwood\Core\Money\Prices;
use Heartwood\Core\Money\Quote;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Repair\RepairAction;
use Illuminate\Support\Facades\DB;

/** Chooses one option of the latest verdict, with a reason and a quote, and lays out its work. */
final class Decide
{
    /**
     * @param  array{id: int|null}|null  $seen  the decision that whoever decides had before them; null: they do not say
     * @param  list<string>  $with  what is done with it, as one plan
     */
    public function handle(
        Person $person,
        Job $job,
        int $verdictId,
        string $action,
        string $reason,
        ?array $seen = null,
        array $with = [],
    ): Decision {
        return DB::transaction(function () use ($person, $job, $verdictId, $action, $reason, $seen, $with): Decision {
            Gatekeeper::open(LockJob::now($job));
            $last = Decision::query()->where('job_id', $job->id)->with('person')->latest('id')->first();
            if ($last === null && isset($seen['id'])) {
                throw new Refused('no-such-decision', 'Nothing was decided on this job yet.', 422, [
                    'seen' => 'Of this job no decision stands: load the page again, and choose.',
                ]);
            }
            if ($last !== null && $seen !== null && $last->id !== $seen['id']) {
                throw new Refused(
                    'clash',
                    "{$last->person->name} has decided since you opened this. Nothing of yours is lost: see both, and choose.",
                    412,
                    [],
                    [],
                    [
                        'now' => [
                            'action' => (string) ($last->option['title'] ?? ''),
                            'reason' => (string) $last->reason,
                            'by' => (string) $last->person->name,
                        ],
                    ],
                );
            }
            $verdict = Verdict::query()->where('job_id', $job->id)->latest('id')->first();
            if ($verdict === null || $verdict->id !== $verdictId) {
                throw new Refused('stale-verdict', 'The verdict has changed since this screen was drawn: read it again before choosing.');
            }
            $option = Plans::option($job, $verdict, [$action, ...$with]);
            $repair = RepairAction::from((string) $option['action']);
            foreach (array_column($option['parts'] ?? [$option], 'action') as $part) {
                Gatekeeper::pass($job, RepairAction::from($part)->gate(), $person);
                if ($part === RepairAction::RecoverGroup->value && !Rights::allows($person, 'recover')) {
                    throw new Refused('no-right', 'A trainee may not start a recovery.', 403);
                }
            }
            $decision = Decision::query()->create([
                'workshop_id' => $job->workshop_id,
                'job_id' => $job->id,
                'revision' => $job->revision,
                'verdict_id' => $verdict->id,
                'action' => $repair->value,
                'option' => $option,
                'quote' => self::quote($job, $option)->toArray(),
                'reason' => $reason,
                'decided_by' => $person->id,
                'decided_at' => now(),
            ]);
            $steps = Plans::steps($option);
            foreach ($steps as $i => $step) {
                WorkStep::query()->create([
                    'workshop_id' => $job->workshop_id,
                    'job_id' => $job->id,
                    'decision_id' => $decision->id,
                    'position' => $i + 1,
                    'step' => $step,
                    'entry' => '',
                ]);
            }
            $job->update(['stage' => $steps === [] ? 'proof' : 'work']);
            KeepLotFacts::of($job);
            EventLog::add($person, $job, EventKind::Decided, ['action' => $repair->value, 'reason' => $reason]);

            return $decision;
        });
    }

    /** @param  array<string, mixed>  $option with cells, hands_minutes, usable_ah */
    public static function quote(Job $job, array $option): Quote
    {
        return self::price($job, $option, self::prices($job), self::listed($job));
    }

    public static function prices(Job $job): Prices
    {
        return Prices::of($job->workshop->said());
    }

    /** @return array{cell: int|null, pack: int|null} what the price list says of this pack's cell and of a new pack */
    public static function listed(Job $job): array
    {
        return [
            'cell' => CellModel::query()
                ->where('workshop_id', $job->workshop_id)
                ->where('name', $job->pack['cell']['model'] ?? '')
                // A model that came in with its cells has no price until somebody says it.
                ->where('price_cents', '>', 0)
                ->value('price_cents'),
            'pack' => $job->pack_model_id === null ? null : PackModel::query()->where('id', $job->pack_model_id)->value('price_cents'),
        ];
    }

    /**
     * @param  array<string, mixed>  $option
     * @param  array{cell: int|null, pack: int|null}  $listed
     */
    public static function price(Job $job, array $option, Prices $prices, array $listed): Quote
    {
        $pack = PackSpec::from(new Fields($job->pack));
        $volts = $pack->series * $pack->profile()->nominalV;
        $labelAh = $pack->label->float('capacity_ah') ?? $pack->groupCapacityAh();
        $usable = $option['usable_ah'] ?? null;
        $actions = array_column($option['parts'] ?? [$option], 'action');

        return Quote::of(
            $prices,
            (int) ($option['cells'] ?? 0),
            $listed['cell'],
            $pack->cell->float('capacity_ah') ?? ($pack->parallel === null || $labelAh === null ? null : $labelAh / $pack->parallel),
            (int) ($option['hands_minutes'] ?? 0),
            $labelAh === null ? null : $labelAh * $volts,
            $usable === null ? null : $usable * $volts,
            in_array('replace-board', $actions, true),
            array_intersect($actions, ['replace-cell', 'replace-group', 'reweld', 'rebuild', 'build']) !== [],
            $listed['pack'],
            // A new pack is not weighed against a new pack.
            !in_array('build', $actions, true) && RepairAction::tryFrom((string) ($actions[0] ?? ''))?->endsPack() !== true,
        );
    }
}
