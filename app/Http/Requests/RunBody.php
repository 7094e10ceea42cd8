<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Illuminate\Validation\Rule;

/** A run as it is planned. */
final class RunBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'kind' => ['required', Rule::in(['recovery', 'balance', 'bypass', 'charge'])],
            'group' => 'required_if:kind,recovery|nullable|integer|between:1,200',
            'meter_id' => 'nullable|integer',
            'supply_id' => 'nullable|integer',
            'board_id' => 'nullable|integer',
            'thermometer_id' => 'nullable|integer',
            'ammeter_id' => 'nullable|integer',
            'resolution_a' => 'nullable|numeric|between:0.00001,10',
            'time_scale' => 'nullable|numeric|between:1,60',
            'override' => 'nullable|string|max:1000',
            'below_floor_days' => 'nullable|numeric|between:0,10000',
            'ambient_c' => 'nullable|numeric|between:-30,60',
            'resolution_v' => 'nullable|numeric|between:0.00001,0.1',
            'supply_a' => 'nullable|numeric|between:0.01,200',
            'active_a' => 'nullable|numeric|between:0.01,50',
            'held' => 'nullable|boolean',
            'method' => ['nullable', Rule::in(['level', 'single'])],
            'phosphate' => ['nullable', Rule::in(['A', 'B'])],
            'confirm_every_min' => 'nullable|numeric|between:1,60',
            'checks' => 'nullable|array',
        ];
    }
}
