<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A passport as text, and whose the pack is here. */
final class ImportPassportBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['customer' => 'required|string|max:160', 'passport' => 'required|string|max:16777216'];
    }
}
