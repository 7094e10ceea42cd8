<?php

declare(strict_types=1);

namespace App\Http\Requests;

use Illuminate\Validation\Rule;

/** How cells are dealt into groups. */
final class DealBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'school' => ['nullable', Rule::in(['equal', 'like'])],
            'ratio' => 'nullable|numeric|between:1,10',
            'model' => 'nullable|string|max:80',
            'seed' => 'nullable|integer|min:0',
            'chemistry' => 'nullable|string',
            'groups' => 'nullable|array',
            'groups.*' => 'array',
            'groups.*.*' => 'string',
            'refill' => 'nullable|array',
            'refill.*' => 'integer|between:1,200',
            'rated_ah' => 'nullable|numeric',
        ];
    }
}
