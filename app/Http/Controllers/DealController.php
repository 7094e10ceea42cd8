<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Actions\BuildRecord;
use App\Actions\Drawer;
use App\Actions\KeepCells;
use App\Actions\Refused;
use App\Http\Requests\BuildBody;
use App\Http\Requests\DealBody;
use App\Http\Requests\JoinCellsBody;
use App\Models\Decision;
use App\Models\Job;
use Heartwood\Core\Cell\CannotMatch;
use Heartwood\Core\Cell\Deal;
use Heartwood\Core\Cell\DrawerCell;
use Heartwood\Core\Cell\JoinRule;
use Heartwood\Core\Cell\JoinSide;
use Heartwood\Core\Cell\Matcher;
use Heartwood\Core\Cell\Refill;
use Heartwood\Core\Diagnosis\PackEvidence;
use Heartwood\Core\Limits\CellLimits;
use Heartwood\Core\Pack\Chemistry;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\JobRecord;
use Heartwood\Core\Record\PackSpec;
use Heartwood\Core\Repair\RepairAction;
use Illuminate\Http\JsonResponse;

/** Accepted cells dealt into the groups of a job, judged beside others before they are joined. */
final class DealController extends Controller
{
    /** A deal of the accepted cells, by the rules; nothing is stored. An order given by hand is judged by the same figures. */
    public function show(DealBody $request, Job $job): JsonResponse
    {
        $in = $request->validated();
        $refill = array_values(array_map(intval(...), $in['refill'] ?? self::replaced($job)));
        $cells = Drawer::accepted($job, $refill === [] || isset($in['groups']));
        $parallel = (int) ($job->parallel ?? 1);
        [$model, $cells, $models] = Drawer::ofModel(
            $job,
            $cells,
            // An empty name is cells of any model; the request's own trimming makes null of it.
            array_key_exists('model', $in) ? (string) $in['model'] : null,
            $parallel * ($refill === [] ? $job->series : count($refill)),
            array_merge([], ...self::places($in['groups'] ?? [])),
        );
        try {
            if (isset($in['groups'])) {
                $codes = self::places($in['groups']);
                $deal = Deal::byHand($codes, $cells, $job->series, $parallel, $refill !== []);
            } elseif ($refill !== []) {
                $deal = Refill::deal(
                    Drawer::kept($job, $refill),
                    $parallel,
                    array_values($cells),
                    (float) ($in['ratio'] ?? CellLimits::RATIO_IN_GROUP),
                    self::ownAh($job),
                    $refill,
                );
            } else {
                $deal = Matcher::deal(
                    array_values($cells),
                    $job->series,
                    $parallel,
                    (float) ($in['ratio'] ?? CellLimits::RATIO_IN_GROUP),
                    (int) ($in['seed'] ?? 1),
                    $in['school'] ?? 'equal',
                );
            }
        } catch (CannotMatch $e) {
            throw new Refused('cannot-match', $e->getMessage() . ($e->relaxation === null ? '' : " Nearest way: {$e->relaxation}."), 409);
        }
        $hand = Matcher::serpentine(array_values($cells), $job->series, $parallel);

        return new JsonResponse(
            $deal->toArray() + [
                'by_hand' => [
                    'smallest_ah' => round($hand->least(), 4),
                    'gap' => round($hand->gap, 6),
                    'conductance_spread' => round($hand->conductanceSpread, 5),
                    'worst_ratio' => round($hand->worstRatio, 3),
                ],
                'ten_more_ah' => round(Matcher::withTenMore(array_values($cells), $job->series, $parallel), 4),
                'accepted' => count($cells),
                'refill' => $refill,
                'model' => $model,
                'models' => $models,
                // What is in the build now, group by group.
                'kept' => array_map(fn(array $g): array => array_map(fn(DrawerCell $c): string => $c->id, $g), Drawer::kept($job, [])),
                'ratio' => (float) ($in['ratio'] ?? CellLimits::RATIO_IN_GROUP),
                'cells' => array_map(fn(DrawerCell $c): array => ['id' => $c->id, 'capacity_ah' => $c->capacityAh, 'mohm' => $c->mohm], [
                    ...array_values($cells),
                    ...array_filter(array_merge(...$deal->groups), fn(DrawerCell $c): bool => !isset($cells[$c->id])),
                ]),
            ],
        );
    }

    /**
     * The cells of each group in its place: of what was validated, those without cells may be missing, and the order is nobody's.
     *
     * @param  array<int|string, mixed>  $groups
     * @return list<list<string>>
     */
    private static function places(array $groups): array
    {
        $out = [];
        for ($k = 0; $k <= max(-1, -1, ...array_map(intval(...), array_keys($groups))); $k++) {
            $out[] = array_values(array_map(strval(...), (array) ($groups[$k] ?? [])));
        }

        return $out;
    }

    /** @return list<int> groups that the plan of this job replaces; none where it builds anew, or says nothing of them */
    private static function replaced(Job $job): array
    {
        $decision = Decision::query()->where('job_id', $job->id)->latest('id')->first();
        $out = [];
        foreach ($decision === null ? [] : $decision->option['parts'] ?? [['action' => $decision->action] + $decision->option] as $part) {
            if (in_array($part['action'], [RepairAction::ReplaceGroup->value, RepairAction::ReplaceCell->value], true)) {
                array_push($out, ...array_map(fn(array $w): int => (int) ($w['group'] ?? 0), (array) ($part['where'] ?? [])));
            }
        }

        return array_values(array_filter($out));
    }

    /** What a group of the pack holds as it is, Ah: measured, else as new; null where nobody said. */
    private static function ownAh(Job $job): ?float
    {
        $evidence = new PackEvidence(JobRecord::fromArray(BuildRecord::of($job)));

        return $evidence->packCapacityAh ?? PackSpec::from(new Fields($job->pack))->groupCapacityAh();
    }

    /** Two cells, groups or packs before they are put side by side. */
    public function join(JoinCellsBody $request, Job $job): JsonResponse
    {
        $in = $request->validated();
        $side = fn(array $s): JoinSide => new JoinSide(
            (float) $s['v'],
            (float) $s['mohm'] / 1000,
            (float) $s['ah'],
            (float) $s['max_charge_a'],
            Chemistry::from($s['chemistry'] ?? $job->chemistry),
        );

        return new JsonResponse(
            JoinRule::check($side($in['a']), $side($in['b']), $in['whole_pack'] ?? false ? $job->series : 1)->toArray(),
        );
    }

    public function store(BuildBody $request, Job $job, KeepCells $keep): JsonResponse
    {
        $in = $request->validated();
        $ratio = (float) ($in['ratio'] ?? CellLimits::RATIO_IN_GROUP);
        $keep->build($this->person(), $job, self::places($in['groups']), $ratio);

        return new JsonResponse(['kept' => true]);
    }
}
