<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Illuminate\Validation\Rule;

/** Whether a delivery is taken or goes back; and where it came from, said later. */
final class LotBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'state' => ['nullable', Rule::in(['taken', 'refused'])],
            'reason' => 'nullable|string|max:400',
            'supplier' => 'nullable|string|max:120',
            'date_code' => 'nullable|string|max:40',
            'price_cents' => 'nullable|integer|between:0,10000000',
        ];
    }
}
