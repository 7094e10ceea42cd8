<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Actions\BuildRecord;
use App\Actions\Refused;
use App\Models\Cell;
use App\Models\Job;
use App\Read\Sheets;
use Heartwood\Core\Log\GaugeCheck;
use Heartwood\Core\Record\Fields;
use Heartwood\Core\Record\PackSpec;

/** What is worked out for a build: current budget, layout, plug. Inputs are kept with the job, results worked out anew. */
final class BuildView
{
    /** @return array<string, mixed> */
    public static function all(Job $job): array
    {
        $why = null;
        try {
            $layout = Sheets::layout($job, Sheets::kept($job, 'layout'));
        } catch (Refused $e) {
            $layout = null;
            $why = $e->getMessage();
        }

        return [
            'inputs' => ['budget' => (object) Sheets::kept($job, 'budget'), 'layout' => (object) Sheets::kept($job, 'layout')],
            'budget' => Sheets::budget($job, Sheets::kept($job, 'budget')),
            'layout' => $layout,
            'layout_refused' => $why,
            'groups_v' => Sheets::groups($job),
            'gauge' => self::gauge($job),
        ];
    }

    /**
     * What the gauge holds against what the cells in the job give by their tests; null while either is unknown.
     *
     * @return array{off: float, stale: bool, text: string, relearn: list<string>}|null
     */
    private static function gauge(Job $job): ?array
    {
        $gauge = BuildRecord::live($job->benchTests()->get())
            ->where('kind', 'gauge')
            ->last();
        $cells = Cell::query()->where('job_id', $job->id)->get();
        if (
            $gauge === null ||
            !isset($gauge->data['full_charge_wh']) ||
            $cells->count() !== $job->series * (int) ($job->parallel ?? 1) ||
            $cells->contains('capacity_ah', null)
        ) {
            return null;
        }

        return GaugeCheck::ofCells(
            (float) $gauge->data['full_charge_wh'],
            array_values($cells->map(fn(Cell $c): float => (float) $c->capacity_ah)->all()),
            PackSpec::from(new Fields($job->pack))->profile()->nominalV,
        );
    }
}
