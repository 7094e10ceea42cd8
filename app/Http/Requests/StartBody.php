<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A new workshop and its owner. */
final class StartBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'setup_code' => 'required|string|max:40',
            'workshop' => 'required|string|max:120',
            'name' => 'required|string|max:120',
            'email' => 'required|string|email:rfc|max:190',
            'password' => 'required|string|max:1000',
        ];
    }
}
