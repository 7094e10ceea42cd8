<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The last word over a proof. */
final class SignOffBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['reason' => 'nullable|string|max:2000'];
    }
}
