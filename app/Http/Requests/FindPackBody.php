<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A pack that is looked for by its code, serial or name. */
final class FindPackBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['q' => 'nullable|string|max:120', 'due' => 'nullable|boolean', 'customer' => 'nullable|integer'];
    }
}
