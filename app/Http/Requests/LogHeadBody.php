<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The head of a log. */
final class LogHeadBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['head' => 'required|string|max:70000', 'tester' => 'nullable|string|max:80'];
    }
}
