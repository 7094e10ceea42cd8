<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Pack\Chemistry;
use Illuminate\Validation\Rule;

/** A tray of cells of one lot. */
final class CellsBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'lot.name' => 'required|string|max:60',
            'lot.supplier' => 'nullable|string|max:120',
            'lot.date_code' => 'nullable|string|max:40',
            'lot.price_cents' => 'nullable|integer|min:0',
            'lot.inspect' => 'nullable|boolean',
            'model' => 'required|string|max:80',
            'chemistry' => ['required', Rule::enum(Chemistry::class)],
            'rated_ah' => 'required|numeric|between:0.01,10000',
            'cells' => 'required|array|min:1|max:500',
            'cells.*.code' => 'nullable|string|max:40',
            'cells.*.capacity_ah' => 'nullable|numeric|between:0,10000',
            'cells.*.mohm' => 'nullable|numeric|between:0.001,100000',
            'cells.*.rest_v' => 'nullable|numeric|between:-5,10',
            'cells.*.leak_percent_month' => 'nullable|numeric|between:-100,1000',
            'cells.*.damaged' => 'nullable|boolean',
            'cells.*.origin' => ['nullable', Rule::in(['new', 'salvaged', 'returned'])],
        ];
    }
}
