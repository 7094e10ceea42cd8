<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Two rest voltages and the days between. */
final class CellHoldBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'before_v' => 'required|numeric|between:0.1,6',
            'after_v' => 'required|numeric|between:0.1,6',
            'days' => 'required|numeric|between:0.1,2000',
            'resolution_v' => 'nullable|numeric|between:0.00001,0.1',
        ];
    }
}
