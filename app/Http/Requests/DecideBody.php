<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The option chosen of a verdict, and why. */
final class DecideBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'verdict_id' => 'required|integer',
            'action' => 'required|string|max:24',
            'with' => 'sometimes|list|max:8',
            'with.*' => 'string|max:24',
            'reason' => 'required|string|min:2|max:2000',
            'seen' => 'sometimes|nullable|integer',
        ];
    }
}
