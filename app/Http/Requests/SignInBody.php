<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Name, password and, where it is on, the second factor. */
final class SignInBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'email' => 'required|string|max:190',
            'password' => 'required|string|max:1000',
            'code' => 'nullable|string|max:40',
        ];
    }
}
