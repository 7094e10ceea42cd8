<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Until when a job waits, and for what. */
final class WaitBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['until' => 'nullable|date', 'for' => 'nullable|string|max:200'];
    }
}
