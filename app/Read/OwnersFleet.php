<?php

declare(strict_types=1);

namespace App\Read;

use App\Models\Customer;
use App\Models\Decision;
use App\Models\Job;
use App\Models\Pack;
use App\Models\ServiceReading;
use Carbon\CarbonImmutable;
use Heartwood\Core\Fleet\Fleet;
use Heartwood\Core\Fleet\Sibling;
use Heartwood\Core\Fleet\Spares;
use Heartwood\Core\Limits\FleetLimits;
use Heartwood\Core\Repair\RepairAction;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Collection;

/** The packs of one owner that are of one kind, each as it was read last, and what they come to side by side. Computed only. */
final class OwnersFleet
{
    private const PACKS = 200;

    private const DAY_S = 86_400;

    private const WEEK_D = 7;

    /** @return array<string, mixed> */
    public static function of(Customer $customer, ?float $supplyA, ?float $leadWeeks, ?float $level): array
    {
        $packs = Pack::query()
            ->where('workshop_id', $customer->workshop_id)
            ->where('customer_id', $customer->id)
            ->orderBy('name')
            ->limit(self::PACKS)
            ->get();
        $kinds = $packs->groupBy(fn(Pack $p): string => ($p->spec['chemistry'] ?? '') . ' ' . ($p->spec['series'] ?? ''));
        /** @var Collection<int, Pack> $kind */
        $kind = $kinds->sortByDesc(fn($of): int => $of->count())->first() ?? new Collection();
        $ids = array_values(array_map(fn(mixed $id): int => (int) $id, $kind->pluck('id')->all()));
        $read = self::latest($ids);
        $siblings = $rows = [];
        foreach ($kind as $p) {
            $r = $read[$p->id] ?? null;
            $rows[] = [
                'id' => $p->id,
                'name' => $p->name,
                'at' => $r?->at->toIso8601ZuluString(),
                'condition' => $r?->condition,
                'soc' => $r?->soc,
                'groups_v' => $r?->groups_v,
            ];
            if ($r !== null) {
                $siblings[] = new Sibling($p->name, $p->packSpec(), $r->condition, $r->soc, $r->point()->groupsV ?? [], null);
            }
        }
        $fleet = Fleet::of($siblings, $supplyA);
        foreach ($rows as &$row) {
            $row['off_mv'] =
                $row['groups_v'] === null
                    ? null
                    : array_map(fn(?float $v): ?float => $v === null ? null : $fleet?->offMv($v), $row['groups_v']);
        }
        unset($row);
        $spares = self::spares($ids, $packs->min('created_at'), $kind->count(), $leadWeeks, $level);

        return [
            'customer' => $customer->name,
            'packs' => $rows,
            'others' => $packs->count() - $kind->count(),
            'middle_v' => $fleet?->middleV,
            'result' => $fleet?->toArray($spares),
            'in_place' => Fleet::inPlace(),
            'spares' => $spares?->sentence(),
            'lead_weeks' => $leadWeeks ?? FleetLimits::LEAD_WEEKS,
            'level' => $level ?? FleetLimits::LEVEL,
        ];
    }

    /**
     * The last reading of every group, by pack.
     *
     * @param  list<int>  $packs
     * @return array<int, ServiceReading>
     */
    private static function latest(array $packs): array
    {
        $taken = ServiceReading::query()->whereIn('pack_id', $packs)->whereNotNull('takes_back_id')->select('takes_back_id');
        $ranked = ServiceReading::query()
            ->selectRaw('id, row_number() over (partition by pack_id order by at desc, id desc) as nth')
            ->whereIn('pack_id', $packs)
            ->whereNull('takes_back_id')
            ->whereNotNull('groups_v')
            ->whereNotIn('id', $taken);
        $out = [];
        /** @var Collection<int, ServiceReading> $last */
        $last = ServiceReading::query()->whereIn('id', fn($q) => $q->fromSub($ranked, 'r')->where('nth', 1)->select('id'))->get();
        foreach ($last as $r) {
            $out[$r->pack_id] = $r;
        }

        return $out;
    }

    /**
     * From the boards that were replaced in these packs since the first of them was known.
     *
     * @param  list<int>  $packs
     */
    private static function spares(array $packs, mixed $since, int $inService, ?float $leadWeeks, ?float $level): ?Spares
    {
        if ($packs === [] || $since === null) {
            return null;
        }
        $board = RepairAction::ReplaceBoard->value;
        $jobs = Job::query()->whereIn('pack_id', $packs)->whereNotNull('closed_at')->select('id');
        $failures = Decision::query()
            ->whereIn('job_id', $jobs)
            ->where(fn(Builder $q) => $q->where('action', $board)->orWhere('option', 'like', "%\"action\":\"$board\"%"))
            ->distinct('job_id')
            ->count('job_id');
        $months = CarbonImmutable::parse((string) $since)->diffInSeconds(now()) / self::DAY_S / self::WEEK_D / FleetLimits::MONTH_WEEKS;

        return Spares::of($inService, $failures, max(1.0, $months * $inService), $leadWeeks, $level);
    }
}
