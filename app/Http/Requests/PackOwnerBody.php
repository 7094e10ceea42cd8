<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Whose a pack is from now on. */
final class PackOwnerBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['customer' => 'required|string|max:160'];
    }
}
