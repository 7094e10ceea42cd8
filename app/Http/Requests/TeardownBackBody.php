<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** How many went back, and a word where that is not what came out. */
final class TeardownBackBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'count' => 'required|integer|between:0,500',
            'note' => 'nullable|string|max:400',
        ];
    }
}
