<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Cell;
use App\Models\Lot;
use Heartwood\Core\Log\SampleOfLot;
use Illuminate\Http\JsonResponse;

/** Lots, and what their tested cells tell of the rest. */
final class LotController extends Controller
{
    /** Lots and what their tested cells tell of the whole: which of them disappoint, and whose they were. */
    public function index(): JsonResponse
    {
        $rows = [];
        $cells = Cell::query()
            ->where('workshop_id', $this->person()->workshop_id)
            ->get(['lot_id', 'state', 'capacity_ah'])
            ->groupBy('lot_id');
        foreach (Lot::query()->where('workshop_id', $this->person()->workshop_id)->orderBy('name')->get() as $lot) {
            $mine = $cells[$lot->id] ?? collect();
            // What nobody tested is in no sample, whatever stands beside it.
            $values = array_values(
                array_map(floatval(...), $mine->where('state', '!=', 'untested')->pluck('capacity_ah')->filter()->all()),
            );
            $sample = $values === [] ? null : SampleOfLot::of($values, count($mine));
            $rows[] = [
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
            ];
        }

        return new JsonResponse(['lots' => $rows]);
    }
}
