<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Heartwood\Core\Pack\Chemistry;
use Illuminate\Validation\Rule;

/** A cell model as its maker describes it, and what one costs the shop. */
final class CellModelBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'name' => 'required|string|max:80',
            'chemistry' => ['required', Rule::enum(Chemistry::class)],
            'format' => 'nullable|string|max:20',
            'capacity_ah' => 'required|numeric|between:0.01,10000',
            'full_v' => 'nullable|numeric|between:1,5',
            'cutoff_v' => 'nullable|numeric|between:0.5,4',
            'max_continuous_a' => 'nullable|numeric|between:0.001,10000',
            'peak_a' => 'nullable|numeric|between:0.001,20000',
            'max_charge_a' => 'nullable|numeric|between:0.001,10000',
            'resistance_mohm' => 'nullable|numeric|between:0.01,10000',
            'price_cents' => 'required|integer|between:0,10000000',
        ];
    }
}
