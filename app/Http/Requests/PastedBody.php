<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** Dated readings as they are pasted, with date and condition of what says none. */
final class PastedBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return [
            'text' => 'required|string|max:200000',
            'date' => 'required|date_format:Y-m-d',
            'condition' => 'required|in:rest,full,charge,discharge',
        ];
    }
}
