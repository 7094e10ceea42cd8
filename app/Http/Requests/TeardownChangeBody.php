<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A step said better, with its photo, or taken out. */
final class TeardownChangeBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'line' => 'sometimes|required|string|max:400',
            'photo_id' => 'sometimes|nullable|uuid',
            'removed' => 'sometimes|boolean',
        ];
    }
}
