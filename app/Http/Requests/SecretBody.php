<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** An invitation or reset, as typed or as its link brought it. */
final class SecretBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'secret' => 'required|string|max:40',
        ];
    }
}
