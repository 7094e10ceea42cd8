<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A step of the work, done or not, and what was seen. */
final class StepBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['done' => 'required|boolean', 'entry' => 'nullable|string|max:2000'];
    }
}
