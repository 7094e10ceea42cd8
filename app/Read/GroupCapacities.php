<?php

declare(strict_types=1);

namespace App\Read;

use App\Models\BenchTest;
use App\Models\Decision;
use App\Models\Job;
use App\Models\PackCapacity;
use Heartwood\Core\Repair\RepairAction;
use Illuminate\Database\Eloquent\Collection;

/**
 * What each group of some packs holds: tested in their jobs from full, or told in a table; the latest counts, and none from before its
 * group was replaced. Amp-hours. Computed only, by as many questions however many packs there are.
 */
final class GroupCapacities
{
    /** Tables that are looked back at, of all packs together. */
    private const BACK = 4000;

    /**
     * @param  array<int, int>  $series  groups of each pack, by its id
     * @return array<int, array{ah: list<float|null>, at: string}> by pack; none where nothing was measured
     */
    public static function of(array $series): array
    {
        $packs = array_keys($series);
        /** @var Collection<int, Job> $jobs */
        $jobs = Job::query()
            ->whereIn('pack_id', $packs)
            ->get(['id', 'pack_id'])
            ->keyBy('id');
        $replaced = self::replaced($jobs, $series);
        $found = [];
        $keep = function (int $pack, int $group, float $ah, string $at) use (&$found, $replaced): void {
            if ($at > ($replaced[$pack][$group] ?? '') && $at > ($found[$pack][$group]['at'] ?? '')) {
                $found[$pack][$group] = ['ah' => $ah, 'at' => $at];
            }
        };
        /** @var Collection<int, PackCapacity> $told */
        $told = PackCapacity::query()->whereIn('pack_id', $packs)->orderByDesc('at')->limit(self::BACK)->get();
        foreach ($told as $t) {
            foreach ($t->groups_ah as $k => $ah) {
                if ($ah !== null) {
                    $keep($t->pack_id, $k + 1, (float) $ah, $t->at->toIso8601ZuluString());
                }
            }
        }
        /** @var Collection<int, BenchTest> $tests */
        $tests = BenchTest::query()->whereIn('job_id', $jobs->keys())->where('kind', 'capacity')->orderBy('id')->get();
        $gone = $tests->pluck('corrects_id')->filter()->all();
        foreach ($tests as $t) {
            $group = $t->data['scope']['group'] ?? null;
            if ($group === null || ($t->data['started_full'] ?? null) !== true || in_array($t->id, $gone, true)) {
                continue;
            }
            $keep(
                (int) $jobs[$t->job_id]->pack_id,
                (int) $group,
                (float) ($t->data['measured_ah'] ?? 0.0),
                $t->taken_at->toIso8601ZuluString(),
            );
        }
        $out = [];
        foreach ($found as $pack => $groups) {
            $out[$pack] = [
                'ah' => array_map(fn(int $k): ?float => $groups[$k]['ah'] ?? null, range(1, $series[$pack])),
                'at' => max(array_column($groups, 'at')),
            ];
        }

        return $out;
    }

    /**
     * When each group was decided to be replaced last.
     *
     * @param  Collection<int, Job>  $jobs
     * @param  array<int, int>  $series
     * @return array<int, array<int, string>> by pack and group
     */
    private static function replaced(Collection $jobs, array $series): array
    {
        $changes = [RepairAction::ReplaceGroup->value, RepairAction::ReplaceCell->value, RepairAction::Rebuild->value];
        $out = [];
        $latest = Decision::query()->selectRaw('max(id)')->whereIn('job_id', $jobs->keys())->groupBy('job_id');
        /** @var Collection<int, Decision> $decided */
        $decided = Decision::query()->whereIn('id', $latest)->get();
        foreach ($decided as $d) {
            $pack = (int) $jobs[$d->job_id]->pack_id;
            foreach ($d->option['parts'] ?? [['action' => $d->action] + $d->option] as $p) {
                if (!in_array($p['action'], $changes, true)) {
                    continue;
                }
                $groups = array_filter(array_column((array) ($p['where'] ?? []), 'group'));
                foreach ($groups === [] ? range(1, $series[$pack]) : $groups as $g) {
                    $at = $d->decided_at->toIso8601ZuluString();
                    $out[$pack][(int) $g] = max($out[$pack][(int) $g] ?? '', $at);
                }
            }
        }

        return $out;
    }
}
