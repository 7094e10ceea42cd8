<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** What is looked for. */
final class SearchBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['q' => 'required|string|max:80'];
    }
}
