<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Illuminate\Validation\Rule;

/** Whether a delivery is taken or goes back, and why. */
final class LotBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'state' => ['required', Rule::in(['taken', 'refused'])],
            'reason' => 'nullable|string|max:400',
        ];
    }
}
