<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Which way of the plan is quoted. */
final class QuoteBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['action' => 'nullable|string|max:40', 'with' => 'nullable|string|max:240'];
    }
}
