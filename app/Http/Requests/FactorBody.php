<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A code of the authenticator. */
final class FactorBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'code' => 'required|string|max:40',
        ];
    }
}
