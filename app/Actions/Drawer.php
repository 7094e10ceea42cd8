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
