<?php

declare(strict_types=1);

namespace App\Read;

use App\Models\CellModel;
use App\Models\Customer;
use App\Models\Decision;
use App\Models\Job;
use App\Models\Pack;
use App\Models\ServiceReading;
use App\Models\Topping;
use App\Models\Workshop;
use Carbon\CarbonImmutable;
use Heartwood\Core\Fleet\Fleet;
use Heartwood\Core\Fleet\Gain;
use Heartwood\Core\Fleet\InPlace;
use Heartwood\Core\Fleet\Sibling;
use Heartwood\Core\Fleet\Spares;
use Heartwood\Core\Limits\FleetLimits;
use Heartwood\Core\Money\Prices;
use Heartwood\Core\Repair\RepairAction;
use Illuminate\Database\Eloquent\Collection;

/** The packs of one owner that are of one kind, each as it was read last, and what they come to side by side. Computed only. */
final class OwnersFleet
{
    private const PACKS = 200;

    /** Toppings that are told one by one. */
    private const TOPPINGS = 20;

    private const DAY_S = 86_400;

    private const WEEK_D = 7;

    /**
     * @param  array<string, float>  $asked  supply_a; lead_weeks and level of the spares; and of their history what is known outside:
     *   months in service, boards and groups that failed in them
     * @param  string|null  $of  which kind of theirs; null: the one of which they have most
     * @return array<string, mixed>
     */
    public static function of(Customer $customer, array $asked = [], ?string $of = null): array
    {
        [$kinds, $kind, $siblings, $read, $capacities] = self::siblings($customer, $of);
        $fleet = Fleet::of(array_values($siblings), $asked['supply_a'] ?? null);
        $rows = [];
        foreach ($kind as $p) {
            $r = $read[$p->id] ?? null;
            $rows[] = [
                'id' => $p->id,
                'name' => $p->name,
                'code' => Passport::code($p->code),
                'serial' => $p->serial,
                'series' => $p->packSpec()->series,
                'at' => $r?->at->toIso8601ZuluString(),
                'condition' => $r?->condition,
                'soc' => $r?->soc,
                'groups_v' => $r?->groups_v,
                'groups_ah' => $capacities[$p->id]['ah'] ?? null,
                'shift_mv' => isset($siblings[$p->id]) ? $fleet?->shiftMv($siblings[$p->id]) : null,
                'excellent' => $r !== null && Fleet::isExcellent($siblings[$p->id], $r->resolution_v),
                'off_mv' =>
                    $r === null ? null : array_map(fn(?float $v): ?float => $v === null ? null : $fleet?->offMv($v), $r->groups_v ?? []),
            ];
        }
        $spares = self::spares($kind, $asked);

        return [
            'customer' => $customer->name,
            'packs' => $rows,
            'kind' => $kind->isEmpty() ? '' : self::kindOf($kind->first()),
            'kinds' => $kinds,
            'middle_v' => $fleet?->middleV,
            'result' => $fleet?->toArray($spares['boards'] ?? null),
            'in_place' => Fleet::inPlace(),
            'toppings' => self::toppings($kind, $siblings, $read),
            'gains' => $fleet === null ? [] : self::gains($customer, $kind, $siblings, $fleet),
            'spares' => $spares === null ? null : array_map(fn(Spares $s): string => $s->sentence(), $spares),
            'lead_weeks' => $asked['lead_weeks'] ?? FleetLimits::LEAD_WEEKS,
            'level' => $asked['level'] ?? FleetLimits::LEVEL,
            'pack' => $kind->isEmpty() ? null : (object) $kind->first()->spec,
        ];
    }

    /** What packs have in common that stand side by side: chemistry and groups in series. */
    public static function kindOf(Pack $p): string
    {
        return ($p->spec['chemistry'] ?? '') . ' ' . ($p->spec['series'] ?? '');
    }

    /** @return array{Sibling|null, Fleet|null} one pack as it was read last, and the others around it */
    public static function sibling(Customer $customer, Pack $pack): array
    {
        [, , $siblings] = self::siblings($customer, self::kindOf($pack));

        return [$siblings[$pack->id] ?? null, Fleet::of(array_values($siblings))];
    }

    /**
     * The packs of one kind, each as it was read last.
     *
     * @param  string|null  $of  which; null: the one of which they have most
     * @return array{
     *     list<array{kind: string, packs: int}>,
     *     Collection<int, Pack>,
     *     array<int, Sibling>,
     *     array<int, ServiceReading>,
     *     array<int, array{ah: list<float|null>, at: string}>
     * } all kinds; packs of one; by pack: as siblings, readings, what groups hold
     */
    private static function siblings(Customer $customer, ?string $of): array
    {
        $packs = Pack::query()
            ->where('workshop_id', $customer->workshop_id)
            ->where('customer_id', $customer->id)
            // One that was taken apart stands beside nobody any more.
            ->whereNotIn('id', Job::query()->where('workshop_id', $customer->workshop_id)->where('status', 'scrapped')->select('pack_id'))
            ->orderBy('name')
            ->limit(self::PACKS)
            ->get();
        $kinds = $packs->groupBy(self::kindOf(...))->sortByDesc(fn($some): int => $some->count());
        /** @var Collection<int, Pack> $kind */
        $kind = $kinds->get($of ?? '') ?? ($kinds->first() ?? new Collection());
        $names = array_count_values($kind->pluck('name')->all());
        $series = [];
        foreach ($kind as $p) {
            // Two of one name are told apart by their codes.
            $p->name .= $names[$p->name] > 1 ? ' ' . Passport::code($p->code) : '';
            $series[$p->id] = $p->packSpec()->series;
        }
        $read = self::latest(array_keys($series));
        $capacities = GroupCapacities::of($series);
        $siblings = [];
        foreach ($kind as $p) {
            $r = $read[$p->id] ?? null;
            if ($r !== null) {
                $siblings[$p->id] = new Sibling(
                    $p->name,
                    $p->packSpec(),
                    $r->condition,
                    $r->soc,
                    $r->point()->groupsV ?? [],
                    $capacities[$p->id]['ah'] ?? null,
                );
            }
        }

        $counted = array_map(
            fn(mixed $name, $some): array => ['kind' => (string) $name, 'packs' => $some->count()],
            $kinds->keys()->all(),
            $kinds->values()->all(),
        );

        return [$counted, $kind, $siblings, $read, $capacities];
    }

    /**
     * What was topped up in place, the latest first, and whether it helped.
     *
     * @param  Collection<int, Pack>  $kind
     * @param  array<int, Sibling>  $siblings
     * @param  array<int, ServiceReading>  $read
     * @return list<array<string, mixed>>
     */
    private static function toppings(Collection $kind, array $siblings, array $read): array
    {
        $out = [];
        /** @var Collection<int, Topping> $all */
        $all = Topping::query()->whereIn('pack_id', $kind->pluck('id'))->with('begunBy')->orderByDesc('id')->limit(self::TOPPINGS)->get();
        foreach ($all as $t) {
            $r = $read[$t->pack_id] ?? null;
            $before = $t->begun['own_off_mv'] ?? null;
            $after =
                $t->ended_at === null || $r === null || $r->at->lessThanOrEqualTo($t->ended_at)
                    ? null
                    : $siblings[$t->pack_id]->offMv($t->group_no);
            $hours = $t->plan['hours'];
            $out[] = [
                'id' => $t->id,
                'pack_id' => $t->pack_id,
                'pack' => (string) $kind->firstWhere('id', $t->pack_id)?->name,
                'group' => $t->group_no,
                'by' => $t->begunBy->name,
                'begun_at' => $t->begun_at->toIso8601ZuluString(),
                'about_until' =>
                    $hours === null
                        ? null
                        : $t->begun_at->addSeconds((int) (3600 * (is_array($hours) ? $hours[1] : $hours)))->toIso8601ZuluString(),
                'plan' => $t->plan,
                'ended_at' => $t->ended_at?->toIso8601ZuluString(),
                'ended' => $t->ended['text'] ?? null,
                'full' => $t->ended['full'] ?? null,
                'joined_at' => $t->joined_at?->toIso8601ZuluString(),
                'joined' => $t->joined['text'] ?? null,
                'way' => $t->joined['way'] ?? null,
                'helped' => $before === null || $after === null ? null : InPlace::helped($before, $after),
            ];
        }

        return $out;
    }

    /**
     * What replacing the weakest group of each pack brings, and what it costs by the shop's prices.
     *
     * @param  Collection<int, Pack>  $kind
     * @param  array<int, Sibling>  $siblings
     * @return list<array<string, mixed>>
     */
    private static function gains(Customer $customer, Collection $kind, array $siblings, Fleet $fleet): array
    {
        $prices = Prices::of(Workshop::query()->whereKey($customer->workshop_id)->firstOrFail()->said());
        $models = CellModel::query()
            ->where('workshop_id', $customer->workshop_id)
            ->where('price_cents', '>', 0)
            ->pluck('price_cents', 'name');
        $out = [];
        foreach ($fleet->limits() as $l) {
            $id = (int) array_search($l['pack'], $siblings, true);
            $spec = $l['pack']->pack;
            $cell = $kind->firstWhere('id', $id)?->spec['cell']['model'] ?? '';
            $price = isset($models[$cell]) ? (int) $models[$cell] : null;
            $gain = Gain::of($spec, $l['usable_ah'], $l['after_replacing_ah'], $prices, $price);
            $out[] = ['pack_id' => $id, 'pack' => $l['pack']->name, 'group' => $l['group']] + $gain->toArray();
        }
        usort($out, fn(array $a, array $b): int => $b['gain_wh'] <=> $a['gain_wh']);

        return $out;
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
     * From what was replaced in these packs since the first of them was known: boards, and groups of cells.
     *
     * @param  Collection<int, Pack>  $kind
     * @param  array<string, float>  $asked
     * @return array{boards: Spares, groups: Spares}|null
     */
    private static function spares(Collection $kind, array $asked): ?array
    {
        $since = $kind->min('created_at');
        if ($kind->isEmpty() || $since === null) {
            return null;
        }
        $jobs = Job::query()->whereIn('pack_id', $kind->pluck('id'))->whereNotNull('closed_at')->select('id');
        $latest = Decision::query()->selectRaw('max(id)')->whereIn('job_id', $jobs)->groupBy('job_id');
        [$boards, $groups] = [0, 0];
        foreach (
            Decision::query()
                ->whereIn('id', $latest)
                ->get(['id', 'action', 'option'])
            as $d
        ) {
            foreach ($d->option['parts'] ?? [['action' => $d->action] + $d->option] as $p) {
                $boards += $p['action'] === RepairAction::ReplaceBoard->value ? 1 : 0;
                $groups += $p['action'] === RepairAction::ReplaceGroup->value ? max(1, count((array) ($p['where'] ?? []))) : 0;
            }
        }
        $months =
            $asked['months'] ??
            CarbonImmutable::parse((string) $since)->diffInSeconds(now()) / self::DAY_S / self::WEEK_D / FleetLimits::MONTH_WEEKS;
        $of = fn(int $units, float $failures, float $assumed): Spares => Spares::known(
            $units,
            (int) $failures,
            $months * $units,
            $assumed,
            $asked['lead_weeks'] ?? null,
            $asked['level'] ?? null,
        );

        return [
            'boards' => $of($kind->count(), $asked['boards'] ?? $boards, FleetLimits::BOARD_MONTHS),
            'groups' => $of($kind->sum(fn(Pack $p): int => $p->packSpec()->series), $asked['groups'] ?? $groups, FleetLimits::GROUP_MONTHS),
        ];
    }
}
