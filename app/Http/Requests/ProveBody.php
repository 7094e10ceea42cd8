<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The password again, and the second factor where it is on. */
final class ProveBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'password' => 'required|string|max:1000',
            'code' => 'nullable|string|max:40',
        ];
    }
}
