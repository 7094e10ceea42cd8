<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A new password of one's own. */
final class PasswordBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'current' => 'required|string|max:1000',
            'password' => 'required|string|max:1000',
        ];
    }
}
