<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** What the simulated bench's hand is told. */
final class HandBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'do' => 'required|string|max:20',
            'from' => 'nullable|integer',
            'to' => 'nullable|integer',
            'group' => 'nullable|integer',
            'tap' => 'nullable|integer',
            'on' => 'nullable|boolean',
            'off' => 'nullable|boolean',
            'which' => 'nullable|string|max:20',
            'v' => 'nullable|numeric',
            's' => 'nullable|numeric',
            'x' => 'nullable|numeric',
            'devices' => 'nullable|array',
            'groups' => 'nullable|array|max:200',
            'chemistry' => 'nullable|string|max:10',
            'capacity_ah' => 'nullable|numeric',
            'scale' => 'nullable|numeric',
        ];
    }
}
