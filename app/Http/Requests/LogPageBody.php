<?php

declare(strict_types=1);

namespace App\Http\Requests;

/** The page of the security log. */
final class LogPageBody extends Body
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['before' => 'nullable|integer|min:1'];
    }
}
