<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Cell;
use App\Models\CellModel;
use App\Models\Job;
use Heartwood\Core\Cell\DrawerCell;
use Illuminate\Database\Eloquent\Builder;

/** Cells of the drawer as the rules take them. */
final class Drawer
{
    private const MOST = 5000;

    /**
     * @param  bool  $andOwn  those that are in this job already too: a deal of all groups may put them anywhere
     * @return array<string, DrawerCell> accepted and spare cells of a job's chemistry whose figures are known, by code
     */
    public static function accepted(Job $job, bool $andOwn = false): array
    {
        $cells = Cell::query()
            ->where('workshop_id', $job->workshop_id)
            ->where(function (Builder $q) use ($job, $andOwn): void {
                $q->whereIn('state', ['accepted', 'spare']);
                if ($andOwn) {
                    // What was found bad in the build since is as little among them as in the drawer.
                    $q->orWhere(fn(Builder $own): Builder => $own->where('job_id', $job->id)->where('state', 'used'));
                }
            })
            ->where('chemistry', $job->chemistry)
            // A delivery is used once its sample was tested and somebody took it.
            ->where(fn(Builder $q): Builder => $q->where('job_id', $job->id)->orWhereRelation('lot', 'state', 'taken'))
            ->with('lot')
            ->orderBy('code')
            ->limit(self::MOST)
            ->get();
        $out = [];
        $specs = CellModel::specs($job->workshop_id);
        /** @var Cell $c */
        foreach ($cells as $c) {
            $known = $c->forRules($c->lot->name, $specs[$c->model] ?? []);
            if ($known !== null) {
                $out[$known->id] = $known;
            }
        }

        return $out;
    }

    /**
     * Cells of one model, as far as the drawer has enough of one: a pack is built of one kind of cell unless a person wants
     * otherwise.
     *
     * @param  array<string, DrawerCell>  $cells  what the drawer has
     * @param  string|null  $asked  a model by name, empty for cells of any; null when nobody said
     * @param  int  $need  how many cells are wanted
     * @param  list<string>  $and  codes that count whatever they are of: they are in the deal already
     * @return array{string, array<string, DrawerCell>, list<array{model: string, cells: int}>} the model or none, its cells,
     *   and what there is of each
     */
    public static function ofModel(Job $job, array $cells, ?string $asked, int $need, array $and = []): array
    {
        $count = array_count_values(array_map(fn(DrawerCell $c): string => $c->model, $cells));
        ksort($count);
        $enough = array_filter($count, fn(int $n): bool => $n >= $need);
        arsort($enough);
        $said = (string) ($job->pack['cell']['model'] ?? '');
        // Of the one that was said, else of the one that there is most of: one kind in a pack, as long as there is enough of one.
        $model = $asked ?? (isset($enough[$said]) ? $said : (string) (array_key_first($enough) ?? ''));
        $and = array_flip($and);

        return [
            $model,
            $model === '' ? $cells : array_filter($cells, fn(DrawerCell $c): bool => $c->model === $model || isset($and[$c->id])),
            array_map(fn(string $m, int $n): array => ['model' => $m, 'cells' => $n], array_map(strval(...), array_keys($count)), $count),
        ];
    }

    /**
     * Cells that are built into a job.
     *
     * @param  list<int>  $anew  groups whose cells are not kept
     * @return list<list<DrawerCell>> by group, from B-
     */
    public static function kept(Job $job, array $anew): array
    {
        $kept = array_fill(1, $job->series, []);
        $specs = CellModel::specs($job->workshop_id);
        foreach (Cell::query()->where('job_id', $job->id)->where('state', 'used')->with('lot')->get() as $c) {
            $known = $c->forRules($c->lot->name, $specs[$c->model] ?? []);
            if ($known !== null && !in_array((int) $c->group_no, $anew, true)) {
                $kept[(int) $c->group_no][] = $known;
            }
        }

        return array_values($kept);
    }
}
