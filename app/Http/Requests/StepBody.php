<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A step of the work: begun, done or not with what was seen, or left with the reason. */
final class StepBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'done' => 'required_without_all:start,skip|boolean',
            'start' => 'sometimes|boolean',
            'skip' => 'sometimes|string|max:400',
            'entry' => 'nullable|string|max:2000',
        ];
    }
}
