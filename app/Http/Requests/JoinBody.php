<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Who joins, or sets a new password. */
final class JoinBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'secret' => 'required|string|max:40',
            'name' => 'nullable|string|max:120',
            'email' => 'nullable|string|email:rfc|max:190',
            'password' => 'required|string|max:1000',
        ];
    }
}
