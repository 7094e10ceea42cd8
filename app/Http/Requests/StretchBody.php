<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A stretch of a log, and in how many points. */
final class StretchBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['from' => 'nullable|numeric', 'to' => 'nullable|numeric', 'points' => 'nullable|integer|between:10,4000'];
    }
}
