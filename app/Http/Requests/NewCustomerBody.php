<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Somebody who is written down before a pack of theirs comes. */
final class NewCustomerBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['name' => 'required|string|max:160', 'contact' => 'nullable|string|max:190'];
    }
}
