<?php

declare(strict_types=1);

namespace App\Http\Views;

use App\Actions\Version;
use App\Models\Cell;

/** Cells as the drawer shows them. */
final class CellView
{
    private const SHOWN = 600;

    /** @return array<string, mixed> */
    public static function row(Cell $c): array
    {
        return [
            'id' => $c->id,
            'version' => Version::tag($c),
            'code' => $c->code,
            'lot' => $c->lot->name,
            'model' => $c->model,
            'chemistry' => $c->chemistry,
            'rated_ah' => $c->rated_ah,
            'state' => $c->state,
            'reason' => $c->reason,
            'origin' => $c->origin,
            'capacity_ah' => $c->capacity_ah,
            'capacity_from' => $c->capacity_from,
            'mohm' => $c->mohm,
            'rest_v' => $c->rest_v,
            'leak_percent_month' => $c->leak_percent_month,
            'damaged' => $c->damaged,
            'job_id' => $c->job_id,
            'group_no' => $c->group_no,
        ];
    }

    /** @return array<string, mixed> what a drawer holds, in a state or by a word, and how many of each state */
    public static function drawer(int $workshop, ?string $state = null, string $term = ''): array
    {
        $q = Cell::query()->where('workshop_id', $workshop)->with('lot');
        if (in_array($state, Cell::STATES, true)) {
            $q->where('state', $state);
        }
        if ($term !== '') {
            $q->where(
                fn($w) => $w
                    ->where('code', 'like', "%$term%")
                    ->orWhere('model', 'like', "%$term%")
                    ->orWhereHas('lot', fn($l) => $l->where('name', 'like', "%$term%")),
            );
        }
        $states = Cell::query()->where('workshop_id', $workshop)->groupBy('state')->selectRaw('state, count(*) as n')->pluck('n', 'state');

        return [
            'cells' => $q->orderBy('code')->limit(self::SHOWN)->get()->map(self::row(...))->all(),
            'states' => (object) $states->all(),
        ];
    }
}
