<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** What the inspection found. */
final class TriageBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'inspection' => 'present|array',
            'symptoms' => 'nullable|array',
            'withdrawn' => 'nullable|array',
            'withdrawn.*' => 'string|max:40',
            'moment' => 'nullable|in:open',
            'second_person' => 'nullable|string|max:120',
        ];
    }
}
