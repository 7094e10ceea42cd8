<?php

declare(strict_types=1);

namespace App\Read;

use App\Actions\Version;
use App\Models\Cell;
use App\Models\Lot;
use Heartwood\Core\Cell\LotInspection;
use Heartwood\Core\Log\NextOfLot;
use Heartwood\Core\Log\SampleOfLot;
use Illuminate\Support\Collection;

/** Lots and what their tested cells tell of the whole: which of them disappoint, and whose they were. Computed only. */
final class Lots
{
    /** @return array{lots: list<array<string, mixed>>, suppliers: list<array<string, mixed>>} */
    public static function of(int $workshop): array
    {
        $cells = Cell::query()
            ->where('workshop_id', $workshop)
            ->get(['lot_id', 'code', 'state', 'capacity_ah', 'rated_ah', 'damaged', 'mohm', 'rest_v'])
            ->groupBy('lot_id');
        $rows = $from = [];
        /** @var Lot $lot */
        foreach (Lot::query()->where('workshop_id', $workshop)->orderBy('name')->get() as $lot) {
            /** @var Collection<int, Cell> $mine */
            $mine = $cells[$lot->id] ?? collect();
            // What nobody tested is in no sample, whatever stands beside it.
            $tested = $mine->filter(
                fn(Cell $c): bool => $c->state !== 'untested' && $c->capacity_ah !== null && (float) $c->capacity_ah > 0.0,
            );
            $values = array_values($tested->map(fn(Cell $c): float => (float) $c->capacity_ah)->all());
            $sample = $values === [] ? null : SampleOfLot::of($values, count($mine));
            $inspection = self::inspect($mine);
            $rows[] = [
                'id' => $lot->id,
                'version' => Version::tag($lot),
                'name' => $lot->name,
                'supplier' => $lot->supplier,
                'date_code' => $lot->date_code,
                'price_cents' => $lot->price_cents,
                'cells' => count($mine),
                'tested' => count($values),
                'rejected' => $mine->where('state', 'rejected')->count(),
                'mean_ah' => $sample === null ? null : round($sample['mean'], 4),
                'low_ah' => ($sample['low'] ?? null) === null ? null : round((float) $sample['low'], 4),
                'high_ah' => ($sample['high'] ?? null) === null ? null : round((float) $sample['high'], 4),
                'text' => $sample['text'] ?? 'none tested',
                'next' => NextOfLot::of(
                    array_values(
                        $mine
                            ->where('state', 'untested')
                            ->map(fn(Cell $c): array => ['code' => $c->code, 'mohm' => $c->mohm, 'rest_v' => $c->rest_v])
                            ->all(),
                    ),
                    $values,
                ),
                'state' => $lot->state,
                'reason' => $lot->reason,
                'inspection' => ['outcome' => $inspection->outcome, 'wanted' => $inspection->wanted, 'text' => $inspection->text],
            ];
            if ($lot->supplier !== '') {
                $from[$lot->supplier][] = [$lot->state, $mine->count(), $tested->all(), $mine->where('state', 'rejected')->count()];
            }
        }
        ksort($from);

        return ['lots' => $rows, 'suppliers' => array_map(self::supplier(...), array_keys($from), array_values($from))];
    }

    /** @param  Collection<int, Cell>  $cells  of one lot */
    public static function inspect(Collection $cells): LotInspection
    {
        $tested = $cells->filter(
            fn(Cell $c): bool => $c->state !== 'untested' && (float) $c->capacity_ah > 0.0 && (float) $c->rated_ah > 0.0,
        );

        return LotInspection::of(
            array_values($tested->map(fn(Cell $c): float => (float) $c->capacity_ah / (float) $c->rated_ah)->all()),
            $tested->filter(fn(Cell $c): bool => $c->damaged || $c->state === 'rejected')->count(),
            $cells->count(),
        );
    }

    /**
     * @param  list<array{string, int, array<int, Cell>, int}>  $lots
     * @return array<string, mixed>
     */
    private static function supplier(string $name, array $lots): array
    {
        $tested = array_merge(...array_column($lots, 2));
        $shares = array_map(fn(Cell $c): float => (float) $c->rated_ah > 0 ? (float) $c->capacity_ah / (float) $c->rated_ah : 0.0, $tested);

        return [
            'name' => $name,
            'lots' => count($lots),
            'refused' => count(array_filter($lots, fn(array $l): bool => $l[0] === 'refused')),
            'cells' => array_sum(array_column($lots, 1)),
            'tested' => count($tested),
            'rejected' => array_sum(array_column($lots, 3)),
            'mean_of_rated' => $shares === [] ? null : round(array_sum($shares) / count($shares), 4),
        ];
    }
}
