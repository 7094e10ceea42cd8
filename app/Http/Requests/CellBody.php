<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Illuminate\Validation\Rule;

/** What is known of a cell anew. */
final class CellBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'state' => ['sometimes', Rule::in(['untested', 'testing', 'accepted', 'rejected', 'spare'])],
            'reason' => 'nullable|string|max:200',
            'capacity_ah' => 'nullable|numeric|between:0,10000',
            'mohm' => 'nullable|numeric|between:0.001,100000',
            'rest_v' => 'nullable|numeric|between:-5,10',
            'leak_percent_month' => 'nullable|numeric|between:-100,1000',
            'damaged' => 'sometimes|boolean',
        ];
    }
}
