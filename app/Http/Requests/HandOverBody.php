<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Who takes over the bench. */
final class HandOverBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'person_id' => 'required|integer|min:1',
            'code' => 'required|string|max:40',
        ];
    }
}
