<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** A check of the way back. */
final class TeardownCheckBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'act' => 'required|in:tug,insulation,count',
            'of' => 'present|nullable|string|max:36',
            'value' => 'nullable|numeric|between:0,100000',
            'note' => 'nullable|string|max:400',
        ];
    }
}
