<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Illuminate\Validation\Rule;

/** An instrument and its address. */
final class InstrumentBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'name' => 'required|string|max:80',
            'kind' => ['required', Rule::in(['meter', 'supply', 'load', 'board'])],
            'host' => ['required', 'string', 'max:120', 'regex:/^[A-Za-z0-9.:_-]+$/'],
            'port' => 'required|integer|between:1,65535',
            'place' => 'nullable|string|max:80',
            'timeout_s' => 'nullable|numeric|between:0.2,20',
            'channel' => 'nullable|integer|between:1,16',
        ];
    }
}
