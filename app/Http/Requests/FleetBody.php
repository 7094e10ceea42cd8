<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** How the packs of an owner are topped up, and how long a spare takes to come. */
final class FleetBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'kind' => 'nullable|string|max:20',
            'supply_a' => 'nullable|numeric|between:0.01,1000',
            'lead_weeks' => 'nullable|numeric|between:0,520',
            'months' => 'nullable|numeric|between:0.1,1200',
            'boards' => 'nullable|integer|between:0,10000',
            'groups' => 'nullable|integer|between:0,10000',
            'level' => 'nullable|numeric|between:0.5,0.999',
        ];
    }
}
